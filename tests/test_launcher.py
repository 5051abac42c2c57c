"""The launcher, as a newcomer types it, from another directory."""

import ast
import importlib.metadata
import os
import re
import subprocess
import sys
from pathlib import Path

import pytest

from vivid_loom.cli import main

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


def test_every_command_is_known_to_the_launcher() -> None:
    known = LAUNCHER.read_text()
    cases = known[known.index("set_up\npy=") :]
    for name in main.commands:
        assert re.search(rf"(^|[\s|]){name}[|)]", cases), name
        assert re.search(rf"^  {name}[ |]", known, re.MULTILINE), f"{name} is not in the help"


def test_no_index_address_is_in_the_lock_file() -> None:
    for name in ("requirements.lock", "requirements-dev.lock"):
        text = (ROOT / name).read_text()
        assert "://" not in text and "--index" not in text
        pinned = [line for line in text.splitlines() if "==" in line]
        assert len(pinned) > 20 and text.count("--hash=sha256:") >= len(pinned)


def test_the_application_needs_no_package_of_the_tests() -> None:
    """What it imports is pinned apart, and all of that is in the lock everybody installs."""
    pinned = re.findall(r"^([\w.-]+)==", (ROOT / "requirements.lock").read_text(), re.MULTILINE)
    kept = {re.sub(r"[-_.]+", "-", name).lower() for name in pinned}
    modules: set[str] = set()
    for path in (ROOT / "src").rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Import):
                modules |= {name.name.partition(".")[0] for name in node.names}
            elif isinstance(node, ast.ImportFrom) and node.module:
                modules.add(node.module.partition(".")[0])
    owners = importlib.metadata.packages_distributions()
    asked = {re.sub(r"[-_.]+", "-", d).lower() for m in modules for d in owners.get(m, ())}
    assert asked <= kept | {"vivid-loom"}
    assert not kept & {"pytest", "mypy", "ruff", "hypothesis"}


def _asked(call: str, **variables: str) -> subprocess.CompletedProcess[str]:
    """Call one of the launcher's own functions."""
    text = LAUNCHER.read_text()
    body = text[text.index("say() {") : text.index("usage() {")]
    body += text[text.index("failed() {") : text.index("pip_install() {")]
    body += text[text.index("# Tell whether a stamp") : text.index("set_up() {")]
    setting = "".join(f"{name}={value}\n" for name, value in variables.items())
    return subprocess.run(
        ["sh", "-c", f"{setting}{body}\n{call}"], capture_output=True, text=True, check=False
    )


def test_an_environment_whose_python_has_gone_is_made_anew(tmp_path: Path) -> None:
    venv = tmp_path / ".venv"
    (venv / "bin").mkdir(parents=True)
    (venv / ".lock-sha").write_text("abc\n")
    python = venv / "bin" / "python"
    python.symlink_to("/no/such/python3")
    assert _asked("stands .lock-sha abc", venv=str(venv)).returncode != 0
    python.unlink()
    python.symlink_to(sys.executable)
    assert _asked("stands .lock-sha abc", venv=str(venv)).returncode == 0
    assert _asked("stands .lock-sha other", venv=str(venv)).returncode != 0


def test_a_folder_that_may_not_be_written_to_says_what_to_do() -> None:
    done = _asked("one_at_a_time", here="/no/such/folder")
    assert done.returncode == 3
    assert "cannot write to /no/such/folder" in done.stderr and "copy the folder" in done.stderr


def test_what_stopped_the_packages_is_shown_whole(tmp_path: Path) -> None:
    log = tmp_path / "set-up.log"
    words = "ERROR: Could not find a version that satisfies the requirement scipy==9.9"
    log.write_text("Collecting a\n" * 30 + words + "\n" + "WARNING: no network\n")
    done = _asked(f"failed {log} 'fetching the packages'", venv=str(tmp_path))
    assert done.returncode == 3 and words in done.stderr and "no network" in done.stderr
    assert f"all of them stand in {log}" in done.stderr


def _packages(*libraries: str) -> str:
    """Ask the launcher's own function which Debian packages hold libraries."""
    text = LAUNCHER.read_text()
    body = text[text.index("packages_of() {") : text.index("apt_install() {")]
    done = subprocess.run(
        ["sh", "-c", f'{body}\npackages_of "$@"', "sh", *libraries],
        capture_output=True,
        text=True,
        check=True,
    )
    return done.stdout.strip()


def test_a_missing_library_is_named_by_its_debian_package() -> None:
    """Debian policy 8.1: the package is named after the library's soname."""
    for library, package in (
        ("libxcb-icccm.so.4", "libxcb-icccm4"),
        ("libxcb-cursor.so.0", "libxcb-cursor0"),
        ("libxkbcommon-x11.so.0", "libxkbcommon-x11-0"),
        ("libX11-xcb.so.1", "libx11-xcb1"),
        ("libEGL.so.1", "libegl1"),
        ("libdbus-1.so.3", "libdbus-1-3"),
        ("libglib-2.0.so.0", "libglib2.0-0"),
        ("libwayland-client.so.0", "libwayland-client0"),
    ):
        assert _packages(library) == package
    assert _packages("libEGL.so.1", "libGL.so.1", "libEGL.so.1") == "libegl1 libgl1"


def test_it_is_plain_sh_and_speaks_to_any_terminal(tmp_path: Path) -> None:
    subprocess.run(["sh", "-n", str(LAUNCHER)], check=True)
    link = tmp_path / "a link"
    link.symlink_to(LAUNCHER)
    done = subprocess.run(
        [str(link), "check", str(DEMO)],
        cwd=tmp_path,
        capture_output=True,
        env={**os.environ, "LC_ALL": "C", "PYTHONUTF8": "0", "PYTHONCOERCECLOCALE": "0"},
        timeout=120,
        check=False,
    )
    assert done.returncode in (0, 1), done.stderr
    assert b"to judge or note" in done.stdout


def test_where_no_window_can_be_opened_run_says_so(tmp_path: Path) -> None:
    bare = {k: v for k, v in os.environ.items() if k not in ("DISPLAY", "WAYLAND_DISPLAY")}
    bare.pop("QT_QPA_PLATFORM", None)
    done = subprocess.run(
        [str(LAUNCHER), "run"], capture_output=True, text=True, env=bare, timeout=120, check=False
    )
    assert done.returncode == 3
    assert "no display" in done.stderr and len(done.stderr.strip().splitlines()) == 1
