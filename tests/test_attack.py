"""A short turn of both attacks; the long ones are ``./vivid-loom fuzz`` and ``hands``."""

import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parent.parent


def _run(*words: str) -> str:
    done = subprocess.run(
        [sys.executable, "-m", *words], cwd=ROOT, capture_output=True, text=True, check=False
    )
    assert done.returncode == 0, done.stderr[-2000:]
    return done.stdout


def test_two_thousand_broken_files_get_a_result_or_one_clear_line() -> None:
    told = _run("benchmarks.fuzz", "--files", "2000", "--seed", "23", "--processes", "1")
    assert "2000 files, 0 failures" in told


def test_random_hands_break_nothing_and_undo_gives_all_back() -> None:
    told = _run("benchmarks.hands", "--actions", "300", "--seed", "5", "--every", "75")
    assert "300 actions" in told and " 0 failures" in told
