"""Powering a boat up, as ratios side by side in one run: a state, the scan, the proof.

A state by itself against the factorisation of its own matrix; states at once, those of the chafe
scan's faults, against ngspice as a process, one each; the scan against each of its faults solved
afresh, from a sample; a lever's frame on the Power stage.
"""

import os
import shutil
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Sequence
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.setdefault("XDG_STATE_HOME", tempfile.mkdtemp(prefix="vivid-loom-bench-"))

from vivid_loom.boat import Scenario
from vivid_loom.demo import DEMO_ORDER, demo_orders
from vivid_loom.network import Change, spice_text
from vivid_loom.network.changed import Changed
from vivid_loom.opening import open_draft
from vivid_loom.power.board import Board
from vivid_loom.power.course import course
from vivid_loom.power.powered import power_up
from vivid_loom.power.scan import Scan, probes_of, scan_scenario
from vivid_loom.power.setting import SCENARIOS, scenario_setting
from vivid_loom.power.sneak_boat import prove_draft

ROUNDS, SAMPLE = 15, 60


def _median_ms(work: Callable[[], object], rounds: int = ROUNDS) -> float:
    spent = []
    for _ in range(rounds):
        start = time.perf_counter()
        work()
        spent.append(1000 * (time.perf_counter() - start))
    return statistics.median(spent)


def _paired_ms(*works: Callable[[], object]) -> list[float]:
    """Return the medians of several, timed in turn, as the machine's own speed varies."""
    rounds = [[_median_ms(work, 1) for work in works] for _ in range(10 * ROUNDS)]
    return [statistics.median(each) for each in zip(*rounds, strict=True)]


def _states(board: Board) -> None:
    from scipy.sparse.linalg import splu

    for scenario in SCENARIOS:
        now = power_up(board, scenario_setting(board.draft, scenario))
        standing = now.point.standing
        matrix = board.solver.matrix(standing, standing.slopes)
        state, factor = _paired_ms(
            lambda s=standing: board.solver.point_of(s),  # type: ignore[misc]
            lambda m=matrix: splu(m),  # type: ignore[misc]
        )
        outside = _ngspice_ms(spice_text(now.point, scenario))
        states, at_once = _at_once(board, scenario)
        print(
            f"  {scenario:20} {state:6.2f} ms = {state / factor:4.2f} × its factorisation,"
            f" {outside / state:5.1f} × faster than ngspice;"
            f" {states} at once {at_once:5.2f} ms each, {outside / at_once:5.1f} × faster"
        )


def _ngspice_ms(text: str) -> float:
    """Return what ngspice takes as a process; nan where there is none."""
    program = shutil.which("ngspice")
    if not program:
        return float("nan")
    deck = Path(tempfile.mkdtemp()) / "network.cir"
    deck.write_text(text)
    return _median_ms(lambda: subprocess.run([program, "-b", deck], capture_output=True), 5)


def _at_once(board: Board, scenario: Scenario) -> tuple[int, float]:
    """Return how many states a chafe scan asks for, and the time of each in ms."""
    scan = Scan(board, scenario)
    solve = scan.changes.of
    states, spent = 0, 0.0

    def timed(sets: Sequence[Sequence[Change]]) -> Changed:
        nonlocal states, spent
        start = time.perf_counter()
        found = solve(sets)
        spent += time.perf_counter() - start
        states += len(sets)
        return found

    scan.changes.of = timed  # type: ignore[method-assign]
    scan.run(probes_of(board))
    return states, 1000 * spent / states


def _scan(board: Board) -> None:
    scenario = SCENARIOS[1]
    setting = scenario_setting(board.draft, scenario)
    start = time.perf_counter()
    rows = scan_scenario(board, scenario)
    whole = time.perf_counter() - start
    sample = rows[:: max(1, len(rows) // SAMPLE)]
    start = time.perf_counter()
    for row in sample:
        course(board, setting, row.probe.fault)
    afresh = (time.perf_counter() - start) / len(sample) * len(rows)
    print(
        f"  chafe scan, {scenario}: {len(rows)} faults in {whole:.2f} s,"
        f" {afresh / whole:.1f} × faster than each afresh"
    )


def _frame() -> None:
    from PySide6.QtTest import QTest

    from vivid_loom.desktop.application import open_window
    from vivid_loom.desktop.frame.window import POWER
    from vivid_loom.desktop.power.stage import PowerStage

    window = open_window(DEMO_ORDER)
    window.open_stage(POWER)
    QTest.qWait(50)
    stage = window.view
    assert isinstance(stage, PowerStage)

    def press() -> None:
        stage.move_lever("s_demister")
        stage.view.grab()

    pressed, bare = _median_ms(press), _median_ms(stage.view.grab)
    print(f"  a lever to its frame {pressed:.1f} ms = {pressed / bare:.1f} × a bare repaint")


def main() -> int:
    from PySide6.QtWidgets import QApplication

    QApplication.instance() or QApplication(sys.argv[:1])
    board = Board(open_draft(DEMO_ORDER))
    print(f"hull 0417: {board.solver.size} nodes, {len(board.solver.branches)} branches")
    _states(board)
    _scan(board)
    for path in demo_orders():
        draft = open_draft(path)
        net = Board(draft).net
        start = time.perf_counter()
        proof = prove_draft(draft, net)
        spent = 1000 * (time.perf_counter() - start)
        told = f"{proof.examined} states stand for {proof.combinations:.1e}"
        print(f"  sneak proof {path.name[:9]} {spent:6.1f} ms: {told}")
    _frame()
    return 0


if __name__ == "__main__":
    code = main()
    sys.stdout.flush()
    os._exit(code)
