"""Boats in which nothing, or next to nothing, draws: everything that is worked out still is."""

import pytest

from tests.drafting.test_supply_shapes import (
    circuit,
    drafted,
    load,
    order,
    post_fuse,
    selector_boat,
)
from tests.launch import bare
from vivid_loom.boat import Boat, ContactRequest, SwitchRequest
from vivid_loom.drafting import DraftError
from vivid_loom.power.energy import energy
from vivid_loom.power.scan import scan_draft
from vivid_loom.sheets.proof import proven

BOATS = {"bare": bare(), "a stud": bare(supplies=(post_fuse("BAT"),)), "selector": selector_boat()}


@pytest.mark.parametrize("boat", BOATS.values(), ids=BOATS)
@pytest.mark.parametrize("loads", [0, 1, 2])
def test_a_boat_with_few_loads_is_scanned(boat: Boat, loads: int) -> None:
    """It ended in an IndexError: what bends was looked up by a number that is none."""
    aboard = [load(f"l{i}", "helm", 2.0) for i in range(loads)]
    source = "PF" if boat is BOATS["a stud"] else boat.batteries[0].id
    circuits = [
        circuit(f"C{i}", "device_switched", f"l{i}", supply=source, level="battery_direct")
        for i in range(loads)
    ]
    done = drafted(order(aboard, circuits), boat)
    rows = scan_draft(done)
    assert all(row.amps >= 0 for row in rows)
    assert bool(rows) >= bool(loads)
    proven(done)
    assert energy(done, "at anchor").drawn_ah >= 0


@pytest.mark.parametrize(
    ("leads", "taken"),
    [
        (("plus", "minus"), True),
        (("up", "down", "minus"), True),
        (("automatic", "manual", "minus"), False),
        (("up", "down"), False),
        (("sense", "minus"), False),
    ],
)
def test_what_has_no_leads_of_a_coil_is_none(leads: tuple[str, ...], taken: bool) -> None:
    """A pump with an automatic lead was taken for a coil, and Bench hung."""
    coil = load("coil", "a1_bilge", 0.5, *leads)
    pair = SwitchRequest(id="k", part="contactor-100", legend="K", station="helm", coil="coil")
    through = circuit("C1", "switched", "l", contact=ContactRequest(switch="k"))
    asked = order([coil, load("l", "helm", 2.0)], [through], pair)
    if taken:
        assert drafted(asked, selector_boat()).circuits
        return
    with pytest.raises(DraftError, match=r"switches.k.coil.*expected a coil"):
        drafted(asked, selector_boat())
