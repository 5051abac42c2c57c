"""What counts as a bundle: loaded conductors that stay together for more than 0.61 m."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.checker import lies_with
from vivid_loom.boat import Run
from vivid_loom.drafting.places.route import Path
from vivid_loom.drafting.sizing.stretches import Lying, incidence, lying

KINDS = st.sampled_from(["loom", "conduit", "open"])
RUNS = st.lists(st.tuples(st.integers(1, 90), KINDS), min_size=1, max_size=8)


def path(first: int, measured: list[tuple[int, str]]) -> Path:
    """Return a way along runs of so many centimetres, numbered from one on."""
    runs = tuple(
        Run(
            id=f"R{i}",
            ends=(f"s{i}", f"s{i + 1}"),
            length_m=cm / 100,
            harness="hull",
            area="bilge",
            enclosure=kind,  # type: ignore[arg-type]
        )
        for i, (cm, kind) in enumerate(measured, start=first)
    )
    stations = tuple(f"s{i}" for i in range(first, first + len(runs) + 1))
    return Path(stations, runs, sum(run.length_m for run in runs))


def closed_m(ways: list[Path]) -> dict[str, float]:
    return {r.id: r.length_m for way in ways for r in way.runs if r.enclosure != "open"}


def lain(way: Path) -> Lying:
    return lying([way], {run.id: i for i, run in enumerate(way.runs) if run.enclosure != "open"})


@pytest.mark.parametrize(
    ("measured", "in_run", "together"),
    [
        ([(300, "loom")], [9], 9),
        ([(61, "loom")], [9], 0),  # 24 in and no more
        ([(200, "loom"), (30, "loom"), (200, "loom")], [2, 9, 2], 2),  # a short thick spot
        ([(200, "loom"), (30, "loom"), (40, "conduit")], [2, 9, 7], 7),  # thick spots that adjoin
        ([(40, "loom"), (10, "open"), (40, "loom")], [9, 0, 9], 0),  # apart in the open between
        ([(30, "loom")] * 6, [4, 9, 4, 9, 4, 9], 4),  # no two thick ones adjoin
    ],
)
def test_a_bundle_counts_over_adjoining_runs(
    measured: list[tuple[int, str]], in_run: list[int], together: int
) -> None:
    """NEC 310.15(C)(1), from memory: more than 24 in without keeping apart."""
    assert lain(path(0, measured)).together(np.array(in_run, dtype=float)) == together


@given(st.lists(RUNS, min_size=1, max_size=4), st.data())
def test_every_way_is_counted_as_by_hand(
    boats: list[list[tuple[int, str]]], data: st.DataObject
) -> None:
    """By thresholds from the greatest number down, which is another route than ours."""
    ways, first = [], 0
    for measured in boats:
        ways.append(path(first, measured))
        first += len(measured)
    numbers = data.draw(st.lists(st.integers(0, 30), min_size=first, max_size=first))
    in_run = np.array(numbers, dtype=float)
    inside = {r.id: int(r.id[1:]) for way in ways for r in way.runs if r.enclosure != "open"}
    found = [lying([way], inside) for way in ways]
    named = {f"R{i}": number for i, number in enumerate(numbers)}
    expected = [lies_with([[r.id for r in w.runs]], named, closed_m(ways)) for w in ways]
    assert [one.together(in_run) for one in found] == expected
    assert incidence(found, first).together(in_run).tolist() == expected
    both = lying(ways, inside)
    assert both.together(in_run) == max(expected)
