"""Terminal strips, cables, colours told apart, bonding and short-time duty."""

import dataclasses
import math
from collections import Counter

import pytest

from tests.changes import Setup, boat, chained, circuit, drafted, load, profile, run
from vivid_loom.boat import Boat, Bond, Near
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.drafting import Draft, DraftError, draft
from vivid_loom.drafting.places.protect import wanted_rating
from vivid_loom.order import Order
from vivid_loom.sheets import packet_table
from vivid_loom.sheets.lists.loose_lists import caps
from vivid_loom.standards.colours import InsulationColour
from vivid_loom.standards.conductor import area_mm2
from vivid_loom.standards.terminals import STRIP_POLES
from vivid_loom.standards.time_current import holds_s


@pytest.fixture(scope="module")
def setup(boat: Boat, order: Order) -> Setup:
    return Setup(boat, order, shipped_catalogue())


def test_every_pole_is_used_once_and_bears_its_device(any_draft: Draft) -> None:
    taken: Counter[tuple[str, int]] = Counter()
    for strip in any_draft.allocation.strips:
        assert strip.poles == STRIP_POLES[strip.rated_a]
        for pole in strip.used:
            taken[strip.id, pole.number] += 1
            row = any_draft.circuit(pole.circuit)
            assert row is not None
            if row.sized is None:  # its current is unknown: nothing is cut yet
                continue
            ends = [(w.start, w.end) for w in row.wires]
            first, second = ((strip.id, f"pole {pole.number} {side}") for side in ("in", "out"))
            arrives = [b for _, b in ends if (b.place, b.point) == first]
            leaves = [a for a, _ in ends if (a.place, a.point) == second]
            assert len(arrives) == 1 and 1 <= len(leaves) <= 2
            assert arrives[0].termination.kind.endswith("ring M4")
    assert all(count == 1 for count in taken.values())


@pytest.mark.parametrize(("least", "strips"), [(0, False), (1, True), (10, True), (500, False)])
def test_strips_stand_from_so_many_loads(setup: Setup, least: int, strips: bool) -> None:
    done = drafted(profile(strip_from_loads=least)(setup))
    assert bool(done.allocation.strips) is strips


def test_all_leads_of_a_star_leave_by_the_circuits_pole(setup: Setup) -> None:
    """Nothing stays on the switch's tab: what is pulled off the pole is dead to the boat."""
    done = drafted(chained(profile(branching="star"), profile(strip_from_loads=1))(setup))
    poles = {pole.circuit: strip.id for strip in done.allocation.strips for pole in strip.used}
    stars = [c for c in done.circuits if c.id in poles and len(c.planned.loads) > 1]
    assert len(stars) > 2
    for row in stars:
        out = [leg for leg in row.planned.plan.legs if leg.end.name == "plus"]
        assert {leg.start.place for leg in out} == {poles[row.id]}
        assert len(out) == len(row.planned.loads)


def test_test_points_say_what_to_expect(full: Draft) -> None:
    table = packet_table(full, "testpoints")
    used = [row for row in table.rows if row[4]]
    assert len(used) == sum(len(strip.used) for strip in full.allocation.strips)
    by_circuit = {row[4]: row for row in used}
    assert by_circuit["C08"][6:] == ("0", "12")  # behind its switch: dead until it is on


@pytest.mark.parametrize("kind", ["cable", "twisted pair"])
def test_a_cable_is_one_circle_with_its_cores_in_the_cut_list(setup: Setup, kind: str) -> None:
    plain = drafted(circuit("C12", cable="")(setup))
    laid = drafted(circuit("C12", cable=kind)(setup))
    cable = next(c for c in laid.assembled.cables if c.circuit == "C12")
    assert cable.stock.twisted == (kind == "twisted pair")
    for name in cable.runs:
        before = [o for o in plain.occupants[name] if o.circuit == "C12"]
        after = [o for o in laid.occupants[name] if o.circuit == "C12"]
        assert (len(before), len(after)) == (2, 1)
        assert after[0].diameter_mm == cable.stock.diameter_mm
    cores = [w for w in laid.assembled.wires if w.circuit == "C12" and w.cable]
    assert sorted(w.core for w in cores) == [1, 2]
    assert {str(w.colour) for w in cores} == set(cable.stock.core_colours)
    materials = packet_table(laid, "materials")
    assert any(r[0] == "cable" and r[1] == cable.stock.name for r in materials.rows)


def test_cores_may_be_18_awg_and_what_is_no_core_may_not(setup: Setup) -> None:
    done = drafted(
        chained(load("sounder", running_a=0.05), circuit("C12", cable="twisted pair"))(setup)
    )
    mine = [w for w in done.assembled.wires if w.circuit == "C12"]
    assert {str(w.gauge) for w in mine if w.cable} == {"18 AWG"}
    assert all(area_mm2(w.gauge) > 1.3 for w in mine if not w.cable)
    assert "S06" not in {f.code for f in done.findings if "C12" in f.subjects}


def test_nearer_a_compass_only_twisted_pairs_go(setup: Setup) -> None:
    """Run H11 carries the washdown pump's circuit alone."""
    passing = chained(
        run("H11", near=(Near(what="compass", distance_mm=300.0),)),
        load("washdown", running_a=0.5, maker_smallest=None, maker_fuse_a=None, peak_a=None),
    )
    for kind, fires in (("", True), ("cable", True), ("twisted pair", False)):
        done = drafted(chained(passing, circuit("C24", cable=kind))(setup))
        found = [(f.code, f.subjects) for f in done.findings]
        assert (("R02", ("H11",)) in found) is fires


def test_under_the_tracer_school_neighbours_differ_while_tracers_last(setup: Setup) -> None:
    done = drafted(profile(alike="tracer")(setup))
    named = {f.subjects for f in done.findings if f.code == "I10"}
    beside: dict[tuple[str, InsulationColour], set[str]] = {}
    for row in done.circuits:
        for name in {r.id for path in row.paths for r in path.runs}:
            beside.setdefault((name, row.colours.positive.value), set()).add(row.id)
    for names in beside.values():
        first = min(names)
        assert all((first, other) in named for other in names - {first})


@pytest.mark.parametrize("scheme", ["one", "sleeves"])
def test_one_colour_leaves_label_and_sleeve_to_tell(setup: Setup, scheme: str) -> None:
    done = drafted(profile(colour_scheme=scheme)(setup))
    plus = [w for w in done.assembled.wires if w.live != "return" and not w.cable]
    assert {w.colour.base for w in plus} == {"RD"}
    assert any(w.sleeve for w in plus if w.circuit == "C08") == (scheme == "sleeves")
    labels = [end.label for w in done.assembled.wires for end in (w.start, w.end)]
    assert len(labels) == len(set(labels))


def test_a_heavy_wire_off_another_drum_is_marked_at_both_ends(full: Draft) -> None:
    row = full.circuit("F05")
    assert row is not None
    home = [w for w in row.wires if w.live == "return"]
    assert {(w.colour.base, w.sleeve) for w in home} == {("BK", "YE")}
    assert "marked YE" in row.colours.negative.steps[-1].text


def test_spare_cores_are_kept_capped_and_labelled(setup: Setup) -> None:
    """Two conductors in a cable of three: the third is capped at both ends, nothing is cut off."""
    done = drafted(circuit("C01", cable="cable", cores=3)(setup))
    (cable,) = (c for c in done.assembled.cables if c.circuit == "C01")
    assert cable.stock.cores == 3 and [n for n, _ in cable.spare] == [2]
    told = [r for r in caps(done).rows if r[1].startswith("spare core 2")]
    assert len(told) == 2 and told[0][2] == "roof_fore" and told[1][2] != "roof_fore"
    assert {r[4] for r in told} == {f"C01-W core 2 spare {r[2]}" for r in told}
    plain = drafted(circuit("C01", cable="cable")(setup))
    assert next(c for c in plain.assembled.cables if c.circuit == "C01").stock.cores == 2
    with pytest.raises(DraftError, match="of 7 cores"):
        drafted(circuit("C01", cable="cable", cores=7)(setup))


@pytest.mark.parametrize("branching", ["chain", "star"])
def test_a_circuit_of_several_loads_has_a_cable_to_each(setup: Setup, branching: str) -> None:
    """C05, both side lights: from the switch or the light before, under a jacket of its own."""
    plain = drafted(setup)
    row = plain.circuit("C05")
    assert row is not None and len(row.planned.loads) > 1
    laid = drafted(chained(profile(branching=branching), circuit("C05", cable="cable"))(setup))
    mine = [c for c in laid.assembled.cables if c.circuit == "C05"]
    loads = laid.circuit("C05").planned.loads  # type: ignore[union-attr]
    assert {c.load for c in mine} == set(loads) and len({c.id for c in mine}) == len(loads)
    stations = {name: load.station for name, load in laid.aboard.loads.items()}
    runs = laid.aboard.boat.runs_by_id
    for cable in mine:
        legs = {leg for leg, _, _ in cable.cores}
        assert len(legs) == 2 and {n for _, n, _ in cable.cores} == {1, 2}
        assert stations[cable.load] in runs[cable.runs[0]].ends  # it starts at its load
        cores = [w for w in laid.assembled.wires if w.circuit == "C05" and w.leg in legs]
        assert all(w.cable.split(".")[0] == cable.id for w in cores if w.cable_runs)
    metres = next(
        float(r[2])
        for r in packet_table(laid, "materials").rows
        if r[:2] == ("cable", mine[0].stock.name)
    )
    assert metres > sum(c.jacket_m for c in mine)
    # next to the panel a star's cables lie beside one another, a chain has one there
    last = mine[0].runs[-1]
    beside = sum(o.circuit == "C05" and o.gauge == mine[0].stock.name for o in laid.occupants[last])
    assert beside == (len(loads) if branching == "star" else 1)


def test_bonding_is_8_awg_green_and_runs_to_the_bus(setup: Setup) -> None:
    bonds = (Bond(id="b1", name="Bracket", station="bracket"),)
    done = drafted(boat(bonds=bonds, bonding_station="alb")(setup))
    (bond,) = done.bonds
    assert str(bond.gauge) == "8 AWG" and bond.colour == ("GN", "YE")
    assert bond.path.stations[0] == "bracket" and bond.path.stations[-1] == "alb"
    assert bond.cut_mm >= 1000 * bond.path.length_m
    (row,) = packet_table(done, "bonding").rows
    assert row.to_station == "alb"
    (row,) = packet_table(drafted(boat(bonds=bonds, bonding_station="")(setup)), "bonding").rows
    assert row.to_station == done.aboard.boat.battery.station


def test_a_short_time_motor_is_rated_and_sized_by_its_duty(setup: Setup) -> None:
    short = {
        "duty_percent": 10.0,
        "longest_on_min": 2.0,
        "maker_fuse_a": None,
        "maker_fuse_best_a": None,
        "maker_smallest": None,
        "peak_a": None,
    }
    hauler = next(
        item for option in setup.boat.options for item in option.adds.loads if item.id == "hauler"
    )
    steady = dataclasses.replace(hauler, **{**short, "longest_on_min": None})
    brief = dataclasses.replace(hauler, **short)
    asked, held = (wanted_rating((item,), "bolt-down fuse") for item in (steady, brief))
    assert asked and held and held.rating_a < asked.rating_a
    assert held.rating_a >= 1.25 * (brief.running_a or 0) * math.sqrt(0.1)
    assert holds_s("bolt-down fuse", held.rating_a, brief.running_a or 0) >= 120


def test_from_part_to_part_is_as_long_as_it_is_measured(boat: Boat, order: Order) -> None:
    """A strip half a metre from its block takes half a metre of wire, not our usual 0.3 m."""

    def leads(metres: float) -> dict[str, float]:
        stations = tuple(
            dataclasses.replace(s, apart_m=metres) if s.id == "dash" else s for s in boat.stations
        )
        done = draft(order, dataclasses.replace(boat, stations=stations), shipped_catalogue())
        return {
            w.id: w.routed_m
            for w in done.assembled.wires
            if not w.runs and w.start.station == "dash" and not w.exact
        }

    usual, measured = leads(0.3), leads(0.5)
    assert len(usual) > 10 and usual.keys() == measured.keys()
    assert set(usual.values()) == {0.3} and set(measured.values()) == {0.5}
