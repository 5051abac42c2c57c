"""Many changes at once give what each gives by itself."""

import numpy as np
import pytest

from vivid_loom.drafting import Draft
from vivid_loom.network import Change
from vivid_loom.network.changed import Changes
from vivid_loom.power.board import Board
from vivid_loom.power.powered import power_up
from vivid_loom.power.setting import SCENARIOS, scenario_setting

DICE = np.random.default_rng(7)


@pytest.mark.parametrize("scenario", SCENARIOS[:3])
def test_side_by_side_is_one_by_one(full: Draft, scenario: str) -> None:
    board = Board(full)
    base = power_up(board, scenario_setting(full, scenario)).point  # type: ignore[arg-type]
    names = DICE.choice(board.solver.branch_ids, 36, replace=False)
    wires = DICE.choice(list(board.conductors), 18, replace=False)
    sets = [(Change(0.0, branch=str(name)),) for name in names[:24]]
    sets += [(Change(3.0, branch=str(name)),) for name in names[24:]]
    home = board.network.reference
    sets += [(Change(900.0, a=board.conductors[str(n)].ends[0], b=home),) for n in wires]
    device = board.devices[3].id
    sets += [(*each, Change(0.0, branch=device)) for each in sets[40:48]]
    changes = Changes(base)
    found = changes.of(sets)
    assert found.afresh <= len(sets) / 6, "most are told by products alone"
    together = board.solver.over_bent(found.x)
    alone = board.solver.over_bent(np.array([changes.afresh(each) for each in sets]).T)
    nominal = np.array([board.volts[name] for name in board.solver.bent.ids])[:, None]
    alive = (np.abs(alone) > 0.06 * nominal) | (np.abs(together) > 0.06 * nominal)
    assert alive.sum() > 1000
    assert float(np.abs(together - alone)[alive].max()) < 1e-6


def test_breaks_one_behind_another_are_told_by_products(full: Draft) -> None:
    """A contact whose feed has opened carries nothing: breaking it too asks for no solve afresh."""
    board = Board(full)
    base = power_up(board, scenario_setting(full, "under way by night")).point
    changes = Changes(base)
    wires = {end: wire.id for wire in board.net.conductors for end in wire.ends}
    pairs = [(d.id, wires[end]) for d in board.devices for end in d.ends if end in wires]
    carrying = [p for p in pairs if all(abs(base.amps.get(name, 0.0)) > 0.05 for name in p)]
    sets = [tuple(Change(0.0, branch=name) for name in pair) for pair in carrying]
    assert len(sets) > 20
    found = changes.of(sets)
    assert found.afresh <= len(sets) / 8
    together = board.solver.over_bent(found.x)
    alone = board.solver.over_bent(np.array([changes.afresh(each) for each in sets]).T)
    assert float(np.abs(together - alone)[np.abs(alone) > 1.0].max()) < 1e-6
    runs = (np.abs(together) > 6.0) == (np.abs(alone) > 6.0)
    assert runs.all()


def test_nothing_asked_is_nothing_done(full: Draft) -> None:
    base = power_up(Board(full), scenario_setting(full, "at anchor")).point
    assert Changes(base).of([]).x.shape[1] == 0
