"""Cavities by few crossings: the order is the best there is, and pairs stand side by side."""

import itertools

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import drafted
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.demo.free_shapes import free_shape
from vivid_loom.drafting import Draft, draft
from vivid_loom.drafting.making.cavities import Passing, best_order, crossings, in_rows
from vivid_loom.drafting.making.plugs import Plug
from vivid_loom.drafting.making.wire import Wire
from vivid_loom.standards.terminals import cavity_rows

WAYS = st.lists(st.sampled_from("abc"), min_size=1, max_size=3).map(tuple)


@st.composite
def plugs(draw: st.DrawFn) -> tuple[Passing, ...]:
    """Up to five circuits of one to three wires."""
    made: list[Passing] = []
    for circuit in range(draw(st.integers(1, 4))):
        for wire in range(draw(st.integers(1, 2))):
            name = f"C{circuit}"
            made.append(Passing(name, f"{name}-{wire}", draw(WAYS), draw(WAYS)))
    return tuple(made)


def together(order: tuple[Passing, ...]) -> bool:
    runs = [circuit for circuit, _ in itertools.groupby(order, key=lambda w: w.circuit)]
    return len(runs) == len(set(runs))


@given(plugs())
def test_no_order_that_keeps_circuits_together_has_fewer_crossings(
    wires: tuple[Passing, ...],
) -> None:
    done = best_order(wires)
    assert sorted(done) == sorted(wires) and together(done)
    units = {w.circuit: [v for v in wires if v.circuit == w.circuit] for w in wires}
    inner = [list(itertools.permutations(unit)) for unit in units.values()]
    least = min(
        crossings([w for unit in order for w in unit])
        for chosen in itertools.product(*inner)
        for order in itertools.permutations(chosen)
    )
    assert crossings(done) == least


def test_of_many_circuits_no_two_neighbours_are_better_changed() -> None:
    wires = tuple(
        Passing(f"C{i}", f"C{i}", (f"{i * 7 % 11}",), (f"{i * 5 % 11}",)) for i in range(11)
    )
    done = best_order(wires)
    assert sorted(done) == sorted(wires)
    # of single wires none can be better than the pairs that cross either way round
    both = sum((a.live < b.live) != (a.dead < b.dead) for a, b in itertools.combinations(wires, 2))
    assert crossings(done) == both


@pytest.mark.parametrize(("circuits", "parted"), [("AABBCCD", 0), ("ABBCCDD", 0), ("AABBCC", 1)])
def test_a_single_wire_fills_the_end_of_a_row(circuits: str, parted: int) -> None:
    """Eight ways stand four and four, six stand three and three."""
    wires = [Passing(c, f"{c}{i}", (), ()) for i, c in enumerate(circuits)]
    ways = 8 if len(wires) > 6 else 6
    row, _ = cavity_rows(ways)
    done = in_rows(wires, ways)
    assert sorted(done) == wires
    left, right = done[len(row) - 1], done[len(row)]
    assert (left.circuit == right.circuit) == bool(parted)


def _passing(draft: Draft, plug: Plug) -> list[Passing]:
    """Return a plug's wires by cavity, with their ways read from the drafted wires."""
    wires = {w.id: w for w in draft.assembled.wires}
    runs = {run.id: run for run in draft.aboard.boat.runs}

    def way(wire: Wire) -> tuple[str, ...]:
        at, found = plug.station, [plug.station]
        path = list(wire.runs)
        if path and at not in runs[path[0]].ends:
            path.reverse()
        for name in path:
            at = next(end for end in runs[name].ends if end != at)
            found.append(at)
        return tuple(found)

    made: list[Passing] = []
    for cavity in plug.cavities:
        halves = {wires[name].harness: wires[name] for name in cavity.wires}
        ends = [way(halves[side]) for side in (plug.live, plug.dead)]
        made.append(Passing(cavity.circuit, cavity.wires[0], *ends))
    return made


def test_every_demo_plug_has_the_fewest_crossings_and_its_pairs_together() -> None:
    seen = 0
    for hull in ("0417", "0609", "1102"):
        done = drafted(DEMO_FOLDER / f"hull-{hull}.loom.json")
        for plug in done.assembled.plugs:
            order = tuple(_passing(done, plug))
            assert together(order), plug.id
            best = in_rows(best_order(tuple(sorted(order))), plug.ways)
            assert crossings(order) <= crossings(best), (hull, plug.id)
            seen += len(order) > 3
    assert seen > 3


def test_the_fullest_plug_is_filled_from_its_first_cavity(full: Draft) -> None:
    plug = max(full.assembled.plugs, key=lambda p: len(p.cavities))
    numbers = [cavity.number for cavity in plug.cavities]
    assert numbers == list(range(1, len(numbers) + 1))


@pytest.mark.parametrize("seed", range(10))
def test_plugs_of_any_boat_keep_circuits_together_and_fill_from_the_first(seed: int) -> None:
    order, boat = free_shape(seed)
    done = draft(order, boat, shipped_catalogue())
    for plug in done.assembled.plugs:
        cavities = [cavity.number for cavity in plug.cavities]
        assert cavities == list(range(1, len(cavities) + 1))
        wires = tuple(_passing(done, plug))
        singles = [w for w in wires if sum(v.circuit == w.circuit for v in wires) == 1]
        assert together(wires) or singles  # a single wire may fill the end of a row
        best = in_rows(best_order(tuple(sorted(wires))), plug.ways)
        assert crossings(wires) <= crossings(best)
