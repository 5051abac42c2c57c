"""The application as a person starts it: its own process, a real window, a window manager, real
keys. Nothing inside it is touched; what it does is read off the titles of its windows.
"""

import os
import shutil
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest

from vivid_loom.demo import DEMO_ORDER

TOOLS = ("Xvfb", "openbox", "xdotool")
ROOT = Path(__file__).parent.parent.parent
PLATFORMS = (
    Path(sys.prefix)
    / "lib"
    / f"python3.{sys.version_info.minor}"
    / ("site-packages/PySide6/Qt/plugins/platforms")
)


def _lacking() -> str:
    """Say what is not on this machine; the launcher installs it, or names it."""
    missing = [tool for tool in TOOLS if not shutil.which(tool)]
    loader = subprocess.run(
        ["ldd", str(PLATFORMS / "libqxcb.so")], capture_output=True, text=True, check=False
    )
    missing += [line.split()[0] for line in loader.stdout.splitlines() if "not found" in line]
    return ", ".join(missing)


pytestmark = pytest.mark.skipif(bool(_lacking()), reason=f"lacking here: {_lacking()}")


@pytest.fixture(scope="module")
def display() -> Iterator[str]:
    """A virtual display with a window manager on it."""
    read, write = os.pipe()
    server = subprocess.Popen(
        ["Xvfb", "-displayfd", str(write), "-screen", "0", "1400x900x24", "-nolisten", "tcp"],
        pass_fds=(write,),
        stderr=subprocess.DEVNULL,
    )
    os.close(write)
    with os.fdopen(read) as told:
        name = f":{told.readline().strip()}"
    there = {**os.environ, "DISPLAY": name}
    hand = subprocess.Popen(["openbox"], env=there, stderr=subprocess.DEVNULL)
    asked = ["xdotool", "get_desktop"]  # answered where a window manager runs
    end = time.monotonic() + 20
    while subprocess.run(asked, env=there, capture_output=True, check=False).returncode:
        assert time.monotonic() < end, "no window manager came up"
        if hand.poll() is not None:
            hand = subprocess.Popen(["openbox"], env=there, stderr=subprocess.DEVNULL)
        time.sleep(0.1)
    yield name
    for process in (hand, server):
        process.terminate()
        process.wait(10)


class Hand:
    """Types keys and reads the title of the window that has the focus."""

    def __init__(self, display: str, application: subprocess.Popen[str]) -> None:
        self.environment = {**os.environ, "DISPLAY": display}
        self.application = application

    def _xdotool(self, *words: str) -> str:
        done = subprocess.run(
            ["xdotool", *words], env=self.environment, capture_output=True, text=True, check=False
        )
        return done.stdout.strip()

    def title(self) -> str:
        return self._xdotool("getactivewindow", "getwindowname")

    def key(self, *keys: str) -> None:
        self._xdotool("key", "--clearmodifiers", *keys)

    def wait_for(self, holds: Callable[[str], bool], what: str) -> str:
        end = time.monotonic() + 20
        while time.monotonic() < end:
            assert self.application.poll() is None, self.application.stderr
            title = self.title()
            if holds(title):
                return title
            time.sleep(0.05)
        raise AssertionError(f"{what}; the window in front is {self.title()!r}")

    def reach(self, keys: str, stage: str) -> None:
        """Press a stage's key until it is open; the first may come before the window listens."""
        for _ in range(10):
            self.key(keys)
            end = time.monotonic() + 3
            while time.monotonic() < end:
                if self.title().split(" — ")[0].endswith(stage):
                    return
                time.sleep(0.05)
        self.wait_for(lambda title: title.split(" — ")[0].endswith(stage), f"{keys}: {stage}")


@pytest.fixture
def hand(display: str, tmp_path: Path) -> Iterator[Hand]:
    """The application on the demo order, in its own process."""
    order = tmp_path / DEMO_ORDER.name
    order.write_bytes(DEMO_ORDER.read_bytes())
    environment = {**os.environ, "DISPLAY": display, "XDG_STATE_HOME": str(tmp_path / "state")}
    environment["QT_QPA_PLATFORM"] = "xcb"
    environment.pop("WAYLAND_DISPLAY", None)
    command = [sys.executable, "-m", "vivid_loom.cli", "run", str(order)]
    with (tmp_path / "errors.txt").open("w") as errors:
        running = subprocess.Popen(command, env=environment, stderr=errors, text=True, cwd=ROOT)
    yield Hand(display, running)
    if running.poll() is None:
        running.kill()
    running.wait(10)
    said = (tmp_path / "errors.txt").read_text()
    assert said == "", said  # no exception, and no warning of Qt's either


def test_start_every_stage_a_dialog_and_back_then_quit(hand: Hand) -> None:
    hand.wait_for(lambda title: "hull 0417, Threads" in title, "it opens on Threads")
    for keys, stage in (
        ("ctrl+1", "Order"),
        ("ctrl+2", "Loads"),
        ("ctrl+3", "Supply"),
        ("ctrl+4", "Runs"),
        ("ctrl+6", "Helm"),
        ("ctrl+7", "Power"),
        ("ctrl+8", "Harness"),
        ("ctrl+9", "Bench"),
        ("ctrl+0", "Packet"),
        ("ctrl+5", "Threads"),
    ):
        hand.reach(keys, stage)
    hand.key("ctrl+k")
    hand.wait_for(lambda title: title.startswith("Find anything"), "the finder opens")
    hand.key("Escape")
    hand.wait_for(lambda title: "Threads" in title, "focus comes back from the finder")
    hand.key("ctrl+2")
    hand.wait_for(lambda title: "Loads" in title, "keys are alive after the dialog")
    hand.key("Insert")
    hand.wait_for(lambda title: "hull 0417" not in title, "Ins asks for a load")
    hand.key("Escape")
    hand.wait_for(lambda title: "Loads" in title, "focus comes back to Loads")
    hand.key("Insert")
    hand.wait_for(lambda title: "hull 0417" not in title, "Ins works at once again")
    hand.key("Escape")
    hand.wait_for(lambda title: "Loads" in title, "and goes again")
    hand.key("ctrl+3")
    hand.wait_for(lambda title: "Supply" in title, "Supply opens by its key")
    hand.key("Insert")
    hand.wait_for(lambda title: "part of the supply" in title, "Ins asks for a part")
    hand.key("Escape")
    hand.wait_for(lambda title: "Supply" in title and "0417" in title, "focus comes back to Supply")
    hand.key("ctrl+f")
    hand.key("Escape")
    hand.key("ctrl+1")
    hand.wait_for(lambda title: "Order" in title, "keys are alive after the findings")
    hand.key("ctrl+q")
    assert hand.application.wait(20) == 0


def test_the_finder_jumps_by_keys_alone(hand: Hand) -> None:
    hand.wait_for(lambda title: "Threads" in title, "it opens on Threads")
    hand.reach("ctrl+1", "Order")
    hand.key("ctrl+k")
    hand.wait_for(lambda title: title.startswith("Find anything"), "the finder opens")
    hand.key("r", "a", "d", "a", "r", "Return")
    hand.wait_for(lambda title: "Threads" in title, "a circuit found is shown on Threads")
    hand.key("ctrl+q")
    assert hand.application.wait(20) == 0
