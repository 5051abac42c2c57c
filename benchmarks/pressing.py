"""A press on a panel of 24 double-pole switches: the frame that shows it beside a bare repaint.

Both are of the same window in one run, so the ratio holds on any machine.
"""

import dataclasses
import os
import statistics
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.setdefault("XDG_STATE_HOME", tempfile.mkdtemp(prefix="vivid-loom-bench-"))

from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from vivid_loom.boat import CircuitRequest, ContactRequest, Evidence, Fit, Lead, Load, SwitchRequest
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.desktop.frame.window import HELM, MainWindow
from vivid_loom.desktop.helm.stage import HelmStage
from vivid_loom.desktop.work.session import Session
from vivid_loom.order import read_order, write_order

SWITCHES, FRAMES = 24, 40


def _lamp(name: str, station: str) -> Load:
    return Load(
        id=name,
        name=f"Lamp {name}",
        station=station,
        function="deck_light",
        running_a=0.5,
        evidence=Evidence(kind="maker", note="bench", date="2026-11-01"),
        leads=(Lead(function="plus"), Lead(function="minus")),
    )


def double_poles(folder: Path) -> Path:
    """Write an order of 24 double-pole switches with a circuit a pole; return its path."""
    order = read_order(DEMO_FOLDER / "hull-1104.loom.json")
    loads, circuits, switches = [], [], []
    for number in range(1, SWITCHES + 1):
        lever = f"b{number:02d}"
        switches.append(SwitchRequest(id=lever, part="rocker-dpdt", legend=f"LAMPS {number}"))
        for pole in (1, 2):
            name = f"{lever}_{pole}"
            loads.append(_lamp(name, "dash"))
            contact = ContactRequest(switch=lever, pole=pole, throws=("up", "down"))
            circuits.append(
                CircuitRequest(
                    id=f"B{number:02d}{pole}",
                    label=f"Lamps {number}, pole {pole}",
                    pattern="switched",
                    loads=(name,),
                    contact=contact,
                )
            )
    fit = Fit(loads=tuple(loads), circuits=tuple(circuits), switches=tuple(switches))
    (folder / order.boat).write_bytes((DEMO_FOLDER / order.boat).read_bytes())
    path = folder / "bench.loom.json"
    write_order(path, dataclasses.replace(order, added=fit, overrides=(), accepted=()))
    return path


def _median_ms(frame: Callable[[], None]) -> float:
    spent = []
    for _ in range(FRAMES):
        start = time.perf_counter()
        frame()
        spent.append(1000 * (time.perf_counter() - start))
    return statistics.median(spent)


def main() -> int:
    QApplication.instance() or QApplication(sys.argv[:1])
    window = MainWindow(Session(double_poles(Path(tempfile.mkdtemp()))))
    window.resize(1280, 800)
    window.show()
    window.open_stage(HELM)
    stage = window.view
    assert isinstance(stage, HelmStage)
    QTest.qWait(100)
    placed = [s.request.id for s in stage.session.draft.switches if s.position][:SWITCHES]
    turn = iter(placed * FRAMES)

    def pressed() -> None:
        stage.press(next(turn), "")
        window.grab()

    for side in ("face", "back"):
        bare = _median_ms(lambda: window.grab() and None)
        with_press = _median_ms(pressed)
        print(
            f"press on {len(placed)} switches, {side}: {with_press:.1f} ms to the frame that shows "
            f"it, {with_press / bare:.2f} × a bare repaint ({bare:.1f} ms)"
        )
        stage.turn_over()
    return 0


if __name__ == "__main__":
    sys.exit(main())
