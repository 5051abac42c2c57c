"""Voltages and currents of every demo order against ngspice's operating point.

ngspice (BSD licence, from Debian) reads the text this package writes and solves it by itself.
"""

import re
import shutil
import subprocess
from collections.abc import Sequence
from pathlib import Path

import numpy as np
import pytest

from vivid_loom.drafting import Draft
from vivid_loom.network import OperatingPoint, spice_text
from vivid_loom.network.spice import node_names
from vivid_loom.power.board import Board
from vivid_loom.power.fault import Fault, faulted
from vivid_loom.power.powered import power_up
from vivid_loom.power.setting import SCENARIOS, Setting, scenario_setting

STATES = 60
RELATIVE = 1e-6
FLOWS_A = 1e-3
HANGS_V = 3e-5  # of what only insulation ties: a nanoampere is a millivolt there


def simulated(points: Sequence[OperatingPoint], folder: Path) -> list[dict[str, float]]:
    """Return ngspice's node voltages for networks, solved one after another."""
    program = shutil.which("ngspice")
    if program is None:
        pytest.fail("ngspice is missing; on Debian: apt-get install ngspice")
    commands = ["* networks", ".control", "set numdgt=15"]
    for number, point in enumerate(points):
        deck = folder / f"network{number}.cir"
        deck.write_text(spice_text(point, "a boat"))
        commands += [
            f"source {deck.name}",
            "op",
            "echo solved",
            "print all",
            "destroy all",
            "remcirc",
        ]
    (folder / "all.cir").write_text("\n".join([*commands, ".endc", ".end", ""]))
    run = subprocess.run(
        [program, "-b", "all.cir"],
        cwd=folder,
        capture_output=True,
        text=True,
        timeout=300,
        check=False,
    )
    told = re.split(r"^solved$", run.stdout, flags=re.M)[1:]
    found = [{m[1]: float(m[2]) for m in re.finditer(r"^(n\d+) = (\S+)", t, re.M)} for t in told]
    assert len(found) == len(points) and all(found), run.stderr[-400:]
    return found


def carrying(point: OperatingPoint) -> np.ndarray:
    """Return which nodes something flows through."""
    flows = np.zeros(len(point.x), dtype=bool)
    for ends, amps in (
        (point.solver.branch_ends, point.branch_a),
        (point.solver.bent_ends, point.bent_a),
    ):
        flows[ends[:, np.abs(amps) > FLOWS_A]] = True
    return flows


def compare(point: OperatingPoint, theirs: dict[str, float]) -> int:
    """Hold an operating point against ngspice's; return how many voltages were held."""
    live, names = np.flatnonzero(point.standing.live), node_names(point.solver)
    assert len(theirs) == len(live)
    x = np.array([theirs[names[i]] for i in live.tolist()])
    ours = point.x[live]
    allowed = np.where(carrying(point)[live], RELATIVE * np.maximum(np.abs(ours), 0.1), HANGS_V)
    off = np.abs(x - ours) / allowed
    worst = int(np.argmax(off))
    assert off[worst] <= 1, (live[worst], x[worst], ours[worst])
    # currents: the drop over each conductor that carries any
    volts = np.zeros(len(point.x))
    volts[live] = x
    solver = point.solver
    their_a = point.standing.siemens * solver.over_branches(volts)
    heavy = np.abs(point.branch_a) > 1.0
    assert np.allclose(their_a[heavy], point.branch_a[heavy], rtol=2e-5), "currents"
    return len(live)


def settings_of(draft: Draft, board: Board, count: int) -> list[Setting]:
    """Return every scenario, and states thrown at random from there."""
    dice = np.random.default_rng(len(board.net.conductors))
    found = [scenario_setting(draft, scenario) for scenario in SCENARIOS]
    by_hand = [a for a in board.net.actuators if not a.coil and not a.id.endswith(" mating")]
    while len(found) < count:
        base = found[int(dice.integers(0, len(SCENARIOS)))]
        some = dice.choice(len(by_hand), size=int(dice.integers(1, 9)))
        found.append(
            base.moved({by_hand[i].id: str(dice.choice(by_hand[i].states)) for i in some.tolist()})
        )
    return found


def test_every_order_in_sixty_states(any_draft: Draft, tmp_path: Path) -> None:
    board = Board(any_draft)
    thrown = settings_of(any_draft, board, STATES - 24)
    points = [power_up(board, setting).point for setting in thrown]
    dice = np.random.default_rng(3)
    wires = [w.id for w in board.net.conductors if w.role != "return"]
    for i, name in enumerate(dice.choice(wires, 24).tolist()):
        kind = ("open", "short", "corroded")[i % 3]
        made = faulted(board, Fault(kind, name, share=float(dice.uniform(0.1, 0.9))))  # type: ignore[arg-type]
        points.append(power_up(made.board, thrown[i % 4], opened=made.opened).point)
    solved = simulated(points, tmp_path)
    assert sum(map(compare, points, solved)) > 60 * 150
