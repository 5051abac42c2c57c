"""Pictures of every main view, from demo data."""

import os
import tempfile
import threading
import time
from collections.abc import Callable
from pathlib import Path

from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget

from vivid_loom.bench.devices.simulated import Flaw
from vivid_loom.bench.devices.tester_stand_in import StandInTester
from vivid_loom.demo import DEMO_FOLDER, DEMO_ORDER
from vivid_loom.desktop.application import open_window
from vivid_loom.desktop.bench.stage import BenchStage
from vivid_loom.desktop.frame.window import (
    BENCH,
    HARNESS,
    HELM,
    LOADS,
    ORDER,
    PACKET,
    POWER,
    RUNS,
    SUPPLY,
    THREADS,
    MainWindow,
)
from vivid_loom.desktop.harness.stage import HarnessStage
from vivid_loom.desktop.harness.wall import WallDialog
from vivid_loom.desktop.helm.stage import HelmStage
from vivid_loom.desktop.order.queue import FILL_MS
from vivid_loom.desktop.order.stage import OrderStage
from vivid_loom.desktop.power.stage import PowerStage
from vivid_loom.desktop.runs.stage import RunsStage
from vivid_loom.desktop.widgets.theme import DARK, LIGHT
from vivid_loom.power.fault import Fault

__all__ = ["take_shots"]


def _stage(name: str) -> Callable[[MainWindow], QWidget | None]:
    return lambda window: window.open_stage(name)


def _threads(circuit: str) -> Callable[[MainWindow], QWidget | None]:
    def show(window: MainWindow) -> None:
        window.open_stage(THREADS)
        window.session.select(circuit)

    return show


def _why(window: MainWindow) -> None:
    window.open_stage(THREADS)
    window.open_why("C08")


def _findings(window: MainWindow) -> None:
    window.open_stage(THREADS)
    for finding in window.session.draft.findings[:1]:  # what would clear the one that is picked
        window.session.remedies.at_once(finding)
    window.toggle_findings()


def _dark(window: MainWindow) -> None:
    window.use_theme(DARK)
    _threads("C07")(window)


def _order(tab: int) -> Callable[[MainWindow], QWidget | None]:
    def show(window: MainWindow) -> None:
        window.open_stage(ORDER)
        stage = window.view
        assert isinstance(stage, OrderStage)
        stage.tabs.setCurrentIndex(tab)
        job = (stage.queue.job, stage.options.job, stage.profile.job)[tab]
        _until(lambda: not job.running)
        QTest.qWait(2 * FILL_MS)  # the table takes its last answers together

    return show


def _until(done: Callable[[], bool]) -> None:
    """Let the window go on until something is done, three minutes at most.

    Asleep, this thread lets the others work; Qt's own wait would keep Python to itself meanwhile.
    """
    for _ in range(7200):
        if done():
            return
        time.sleep(0.025)
        QApplication.processEvents()


def _loads(window: MainWindow) -> None:
    window.open_stage(LOADS)
    window.view.reveal("searchlight")


def _runs_stage(window: MainWindow) -> RunsStage:
    window.open_stage(RUNS)
    stage = window.view
    assert isinstance(stage, RunsStage)
    stage.wait_for_bundles()
    return stage


def _runs(window: MainWindow) -> None:
    stage = _runs_stage(window)
    stage.view.select(station="roof_fore", load="searchlight")
    window.session.select("C29")


def _helm(*, back: bool) -> Callable[[MainWindow], QWidget | None]:
    def show(window: MainWindow) -> None:
        window.open_stage(HELM)
        stage = window.view
        assert isinstance(stage, HelmStage)
        stage.press("s_flood_fore", "up")
        stage.press("s_nav", "down")
        if back:
            stage.turn_over()
            stage.below.setCurrentIndex(1)

    return show


def _power_stage(window: MainWindow) -> PowerStage:
    window.open_stage(POWER)
    stage = window.view
    assert isinstance(stage, PowerStage)
    return stage


def _power(window: MainWindow) -> None:
    stage = _power_stage(window)
    assert stage.reveal("searchlight")
    window.session.select("C29")
    stage.start_scan()
    _until(lambda: not stage.job.running)


def _power_fault(window: MainWindow) -> None:
    stage = _power_stage(window)
    stage.put(Fault("short", "C26-P2b", share=0.6))


def _harness_stage(window: MainWindow) -> HarnessStage:
    QTest.qWait(60)
    window.open_stage(HARNESS)
    stage = window.view
    assert isinstance(stage, HarnessStage)
    stage.wait_for_board()
    return stage


def _harness(window: MainWindow) -> None:
    stage = _harness_stage(window)
    stage.reveal("C02-M2b")


def _wall(window: MainWindow) -> QWidget | None:
    stage = _harness_stage(window)
    stage.reveal("C02-A1")
    window.session.who = "IM"
    stage.open_wall()
    wall = stage.findChild(WallDialog)
    assert wall is not None
    wall.resize(1280, 800)
    return wall


def _bench_stage(window: MainWindow, *flaws: Flaw, faults: tuple[Fault, ...] = ()) -> BenchStage:
    """Open the stage on a tester whose harnesses have these flaws, and whose boat these faults."""
    window.open_stage(BENCH)
    stage = window.view
    assert isinstance(stage, BenchStage)
    stage.wait_for_plans()
    stage.who.setText("IM")
    made = StandInTester(window.session.draft, flaws, faults)
    threading.Thread(target=made.serve, daemon=True).start()
    stage.address.setText(f"127.0.0.1:{made.port}")
    stage.connect_tester()
    _until(lambda: stage.link.tester is not None)
    return stage


def _bench(window: MainWindow) -> None:
    """Show a harness being rung out in which two wires are swapped at a plug."""
    stage = _bench_stage(window, Flaw("swap", ("C08-P2b/from", "C09-P2b/from")))
    page = stage.ring
    while page.progress is not None and page.progress.left:
        page.read()
        _until(lambda: not stage.link.busy)
        page.go_to_open()
    page.at = "wire C08-P2b"
    page.refresh()


def _alive(window: MainWindow) -> None:
    """Show a boat being made alive in which volts are lost at one circuit, and where."""
    stage = _bench_stage(window, faults=(Fault("corroded", "C07-P2b", ohm=1.0),))
    stage.tabs.setCurrentWidget(stage.alive)
    page = stage.alive
    while page.at != "volts C07":
        page.read()
        _until(lambda: not stage.link.busy)
        page.go_to_open()
    page.read()
    _until(lambda: not stage.link.busy)
    for _ in range(2):
        page.at = next(s.id for s in page.progress.left if s.part == "find")  # type: ignore[union-attr]
        page.read()
        _until(lambda: not stage.link.busy)
    page.at = next(s.id for s in page.progress.left if s.part == "find")  # type: ignore[union-attr]
    page.refresh()


SHOTS: tuple[tuple[str, Path, Callable[[MainWindow], QWidget | None]], ...] = (
    ("order-queue", DEMO_ORDER, _order(0)),
    ("order-options", DEMO_ORDER, _order(1)),
    ("loads", DEMO_ORDER, _loads),
    ("supply", DEMO_ORDER, _stage(SUPPLY)),
    ("runs", DEMO_ORDER, _runs),
    ("threads", DEMO_ORDER, _threads("C02")),
    ("threads-mistakes", DEMO_FOLDER / "hull-0423.loom.json", _threads("C08")),
    ("threads-dark", DEMO_FOLDER / "hull-0421.loom.json", _dark),
    ("helm", DEMO_ORDER, _helm(back=False)),
    ("helm-back", DEMO_ORDER, _helm(back=True)),
    ("power", DEMO_ORDER, _power),
    ("power-fault", DEMO_ORDER, _power_fault),
    ("harness", DEMO_ORDER, _harness),
    ("harness-wall", DEMO_ORDER, _wall),
    ("bench", DEMO_ORDER, _bench),
    ("bench-alive", DEMO_ORDER, _alive),
    ("why", DEMO_ORDER, _why),
    ("findings", DEMO_FOLDER / "hull-0423.loom.json", _findings),
    ("packet", DEMO_ORDER, _stage(PACKET)),
)


def take_shots(folder: Path) -> list[Path]:
    """Write one PNG per main view at 1280 × 800, dialogs at their own size; return their paths."""
    folder.mkdir(parents=True, exist_ok=True)
    os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp(prefix="vivid-loom-shots-")  # a log of its own
    written: list[Path] = []
    for name, order, prepare in SHOTS:
        window = open_window(order)
        window.use_theme(LIGHT)
        window.resize(1280, 800)
        window.show()
        shown = prepare(window) or window
        QTest.qWait(120)
        path = folder / f"{name}.png"
        shown.grab().save(str(path))
        window.close()
        window.deleteLater()
        written.append(path)
    return written
