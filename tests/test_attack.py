"""A short turn of the attacks (long: ``./vivid-loom fuzz``, ``hands``), and mutants in place."""

import subprocess
import sys
from pathlib import Path

from benchmarks.mutate import MUTANTS

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


def test_every_mutant_still_finds_its_place_in_the_code_and_its_tests() -> None:
    assert len({m.what for m in MUTANTS}) == len(MUTANTS)
    for mutant in MUTANTS:
        text = (ROOT / "src" / "vivid_loom" / mutant.file).read_text(encoding="utf-8")
        assert mutant.old in text, mutant.what
        assert mutant.old != mutant.new, mutant.what
        assert all((ROOT / words.split("::")[0]).exists() for words in mutant.tests.split())
