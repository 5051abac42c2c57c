"""Leads of one pump in two sizes: the shorter way as thin as the longer one allows."""

import csv
import dataclasses
import io
from collections.abc import Callable

import pytest

from tests.outside.test_conductors import ASTM_CIRCULAR_MILS
from tests.outside.test_every_row import FREE_AIR_A
from tests.outside.test_nodal import Row, ohm
from vivid_loom.boat import read_boat
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo import DEMO_FOLDER, find_boat
from vivid_loom.drafting import Draft, draft
from vivid_loom.drafting.sizing import stage
from vivid_loom.drafting.sizing.outcome import Thinner
from vivid_loom.drafting.sizing.shorter_ways import shorter_ways
from vivid_loom.order import read_order
from vivid_loom.quantities import Gauge
from vivid_loom.sheets import packet_files
from vivid_loom.standards.conductor import is_thinner

WHOLE = {"C02": "10 AWG", "C03": "12 AWG"}
AWG = ("16 AWG", "14 AWG", "12 AWG", "10 AWG", "8 AWG")


def critical(order_file: str, *more: tuple[str, object]) -> Draft:
    """Draft a demo order with pumps on the critical limit and each lead by its own length."""
    path = DEMO_FOLDER / f"{order_file}.loom.json"
    order = read_order(path)
    asked = {"bilge_pump_drop": "critical", "pump_leads": "by_length", **dict(more)}
    changes = tuple({**dict(order.profile_changes), **asked}.items())
    order = dataclasses.replace(order, profile_changes=changes)
    return draft(order, read_boat(find_boat(path, order.boat)), shipped_catalogue())


@pytest.fixture(scope="module")
def by_length() -> Draft:
    return critical("hull-0417")


def rows_of(done: Draft, name: str) -> list[Row]:
    text = packet_files(done, frozenset({name}))[f"{name}.csv"].decode()
    return list(csv.DictReader(io.StringIO(text)))


def legs(wires: list[Row], circuit: str, *names: str) -> list[Row]:
    """Return the pieces of legs on the cut list: a leg cut at a plug has letters behind it."""
    wanted = {f"{circuit}-{name}" for name in names}
    return [w for w in wires if w["wire_id"].rstrip("abcdefgh") in wanted]


def test_each_lead_goes_by_its_own_length(by_length: Draft) -> None:
    wires = rows_of(by_length, "cutlist")
    told = {r["circuit_id"]: r for r in rows_of(by_length, "schedule")}
    assert {c: r["thinner_leads"] for c, r in told.items() if r["thinner_leads"]} == {
        "C02": "A1 12 AWG",
        "C03": "A1 16 AWG",
    }
    for circuit in ("C02", "C03"):
        automatic = legs(wires, circuit, "A1")
        manual = legs(wires, circuit, "M1", "M2s", "M2", "N1")
        home = legs(wires, circuit, "N1")
        assert {w["gauge"] for w in manual} == {told[circuit]["gauge"]} == {WHOLE[circuit]}
        (thin,) = {w["gauge"] for w in automatic}
        warm = by_length.aboard.profile.conductor_c
        longest = sum(ohm(w, warm) for w in manual)
        assert sum(ohm(w, warm) for w in (*automatic, *home)) <= longest
        thinner = AWG[AWG.index(thin) - 1] if thin != AWG[0] else None
        if thinner:  # one size less would drop more than the longest way does
            now, less = (ASTM_CIRCULAR_MILS[int(g.split()[0])] for g in (thin, thinner))
            share = now / less
            more = sum(ohm(w, warm) * share for w in automatic) + sum(ohm(w, warm) for w in home)
            assert more > longest


def test_the_volts_at_the_pump_are_no_worse_than_with_one_size(by_length: Draft) -> None:
    for circuit in ("C02", "C03"):
        row = by_length.circuit(circuit)
        assert row.sized
        rating = row.sized.protection.value if row.sized.protection else 0.0
        for gauge in row.sized.gauges:
            assert FREE_AIR_A[str(gauge)] >= rating
        assert row.sized.drop_percent <= row.sized.drop_limit_percent
        assert row.sized.gauge.steps[-1].gives == str(row.sized.thinner[0].gauge)
    assert not [
        f for f in by_length.findings if {"C02", "C03"} & set(f.subjects) and f.severity == "error"
    ]


def test_a_lead_as_long_as_the_other_keeps_its_size(by_length: Draft) -> None:
    assert not by_length.circuit("C38").sized.thinner  # type: ignore[union-attr]


@pytest.mark.parametrize(
    "more", [("pump_leads", "one_size"), ("one_gauge", "12 AWG"), ("shop_floor", "12 AWG")]
)
def test_one_size_where_the_shop_has_one(more: tuple[str, object]) -> None:
    done = critical("hull-0417", more)
    thinner = [t.gauge for row in done.rows if row.sized for t in row.sized.thinner]
    if more == ("pump_leads", "one_size"):
        assert not thinner
    assert not any(is_thinner(gauge, Gauge.parse("12 AWG")) for gauge in thinner)


def test_a_wire_that_its_fuse_would_burn_is_not_taken(monkeypatch: pytest.MonkeyPatch) -> None:
    """A shorter way must bear whatever the device lets pass, as any other."""
    done = critical("hull-0609", ("shop_floor", "18 AWG"))
    sized, fault = done.circuit("N01").sized, done.circuit("N01").fault
    assert sized and fault and sized.thinner
    thin, whole = (ASTM_CIRCULAR_MILS[int(str(g).split()[0])] for g in reversed(sized.gauges))
    bears_a2s = fault.withstand_a2s * (thin / whole) ** 2
    assert fault.let_through_a2s <= bears_a2s

    def passing(a2s: float) -> Callable[..., dict[str, tuple[Thinner, ...]]]:
        return lambda settled, paths, broken: shorter_ways(
            settled, paths, {n: f._replace(let_through_a2s=a2s) for n, f in broken.items()}
        )

    for more, thinner in ((0.99, True), (1.01, False)):
        monkeypatch.setattr(stage, "shorter_ways", passing(bears_a2s * more))
        again = critical("hull-0609", ("shop_floor", "18 AWG")).circuit("N01").sized
        assert (
            again and bool(again.thinner and again.thinner[0].gauge == sized.gauges[1]) == thinner
        )
