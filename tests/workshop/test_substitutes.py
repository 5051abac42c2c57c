"""What may go in for a device that is out of stock, and two profiles side by side."""

import pytest

from tests.changes import Setup, drafted, load
from vivid_loom.boat import Boat
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.drafting import Draft, draft
from vivid_loom.order import Order, Override, set_override, use_profile
from vivid_loom.standards.conductor import area_mm2
from vivid_loom.workshop.comparison import compared
from vivid_loom.workshop.effects import figures_of
from vivid_loom.workshop.substitutes import Substitute, missing, substitutes

NO_15 = {"blade fuse": (5.0, 10.0, 20.0)}


def washdown(setup: Setup, amps: float, maker_fuse_a: float) -> dict[str, Substitute]:
    """Return the ways out for the washdown pump, drafted at 15 A."""
    changed = load(
        "washdown", running_a=amps, maker_fuse_a=maker_fuse_a, maker_fuse_best_a=15.0, peak_a=None
    )(setup)
    done = drafted(changed)
    row = done.circuit("C24")
    assert row is not None
    assert row.sized is not None
    assert row.sized.protection is not None
    assert row.sized.protection.value == 15
    ways = substitutes(done, changed.boat, "C24", NO_15)
    return {way.value: way for way in ways if way.field == "protection_a"}


@pytest.fixture(scope="module")
def setup(boat: Boat, order: Order) -> Setup:
    return Setup(boat, order, shipped_catalogue())


def test_up_only_to_the_makers_maximum(setup: Setup) -> None:
    assert not washdown(setup, 7.0, 15.0)["20"].allowed
    assert "maker" in washdown(setup, 7.0, 15.0)["20"].verdict
    assert washdown(setup, 7.0, 20.0)["20"].allowed


def test_down_only_with_room_for_the_load(setup: Setup) -> None:
    assert washdown(setup, 8.0, 15.0)["10"].allowed
    refused = washdown(setup, 8.1, 15.0)["10"]
    assert not refused.allowed and "0.8" in refused.verdict


def test_what_is_out_of_stock_is_named(full: Draft) -> None:
    short = missing(full, NO_15)
    assert short and all(row.sized and row.sized.protection for row in short)
    assert {row.planned.family for row in short} == {"blade fuse"}
    assert not missing(full, {})


def test_a_substitution_is_recorded_and_printed(order: Order, boat: Boat) -> None:
    override = Override(
        subject="C24",
        field="protection_a",
        value="10",
        reason="15 A out of stock",
        initials="TK",
        kind="substitution",
    )
    done = draft(set_override(override)[1](order), boat, shipped_catalogue())
    row = done.circuit("C24")
    assert row is not None
    assert row.sized is not None
    assert row.sized.protection is not None
    assert (row.sized.protection.value, row.sized.protection.drafted) == (10, 15)
    told = next(f for f in done.findings if f.code == "S10" and f.subjects == ("C24",))
    assert "out of stock" in told.sentence() and "TK" in told.sentence()


def test_two_profiles_side_by_side(order: Order, boat: Boat, full: Draft) -> None:
    other = draft(use_profile("iso")[1](order), boat, shipped_catalogue())
    told = compared(full, other)
    sums = {line.what: (line.first, line.second) for line in told.sums}
    first, second = figures_of(full), figures_of(other)
    assert sums["wires"] == (str(first.wires), str(second.wires))
    assert sums["copper, kg"] == (f"{first.copper_kg:.1f}", f"{second.copper_kg:.1f}")
    copper = sum(w.cut_mm * area_mm2(w.gauge) for w in other.assembled.wires) * 8.89e-6
    assert second.copper_kg == pytest.approx(copper)
    horn = next(c for c in told.circuits if c.what.startswith("C01 "))
    gauges = {line.what: (line.first, line.second) for line in horn.figures}["gauge"]
    for done, gauge in zip((full, other), gauges, strict=True):
        row = done.circuit("C01")
        assert row is not None and row.sized is not None
        assert gauge == str(row.sized.gauge.value)
    assert all(line.first != line.second for c in told.circuits for line in c.figures)
    same = compared(full, full)
    assert not same.circuits and not same.findings
