"""The launcher, as a newcomer types it, from another directory."""

import subprocess
from pathlib import Path

import pytest

ROOT = Path(__file__).parent.parent
LAUNCHER = ROOT / "vivid-loom"
DEMO = ROOT / "src/vivid_loom/demo/data/hull-0417.loom.json"


def run(*words: str, cwd: Path) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [str(LAUNCHER), *words], cwd=cwd, capture_output=True, text=True, timeout=120, check=False
    )


@pytest.mark.skipif(not (ROOT / ".venv").exists(), reason="not started by the launcher")
def test_it_works_from_any_directory(tmp_path: Path) -> None:
    done = run("draft", str(DEMO), "--out", "packet", "--only", "schedule", cwd=tmp_path)
    assert done.returncode == 0, done.stderr
    assert (tmp_path / "packet" / "schedule.csv").exists()


def test_help_and_unknown_commands(tmp_path: Path) -> None:
    assert "./vivid-loom" in run("help", cwd=tmp_path).stdout


def test_no_index_address_is_in_the_lock_file() -> None:
    text = (ROOT / "requirements.lock").read_text()
    assert "://" not in text and "--index" not in text
    pinned = [line for line in text.splitlines() if "==" in line]
    assert len(pinned) > 30 and text.count("--hash=sha256:") >= len(pinned)
