"""Where else a costly branch may hang: each way is a draft of its own."""

import dataclasses
from pathlib import Path

import pytest
from click.testing import CliRunner

from vivid_loom.boat import Boat, ReturnBus, read_boat
from vivid_loom.cli import main
from vivid_loom.demo import DEMO_ORDER, find_boat
from vivid_loom.drafting import Draft, draft
from vivid_loom.drafting.after.net import net_list
from vivid_loom.order import change_loads, change_profile, fit_part, read_order
from vivid_loom.quantities import Gauge
from vivid_loom.standards.conductor import area_mm2
from vivid_loom.workshop.moves import costly, moves


@pytest.fixture(scope="module")
def model() -> Boat:
    return read_boat(find_boat(DEMO_ORDER, "qh-86.boat.json"))


@pytest.fixture(scope="module")
def strict(full: Draft, model: Boat) -> Draft:
    """The pump at the transom held to 3 %: the helm's feeder pays for it."""
    pump = next(x for x in full.aboard.loads.values() if x.name == "Autopilot pump")
    edit = change_loads((dataclasses.replace(pump, drop="critical"),), "drop class")
    return draft(edit[1](read_order(DEMO_ORDER)), model, full.catalogue)


def copper_kg(done: Draft) -> float:
    """Weigh all conductors again: 8.89 g/cm³ (IEC 60028), as long as they are cut."""
    return sum(area_mm2(w.gauge) * w.cut_mm / 1000 * 8.89e-3 for w in done.assembled.wires)


def test_a_move_saves_what_its_own_draft_weighs_less(strict: Draft, model: Boat) -> None:
    assert costly(strict) == ("C32",)
    found = moves(strict, model, "C32")
    assert found and all(move.saved_kg > 0 for move in found)
    by_words = {move.words: move for move in found}
    wide = next(move for words, move in by_words.items() if words.startswith("let drop 10 %"))
    assert not wide.verdict
    after = draft(wide.make("less", "T")[1](strict.aboard.order), model, strict.catalogue)
    assert copper_kg(strict) - copper_kg(after) == pytest.approx(wide.saved_kg)
    helm = [done.circuit("F05") for done in (strict, after)]
    thick, thin = (area_mm2(row.sized.gauge.value) for row in helm if row and row.sized)
    assert thin < thick


def test_what_an_error_speaks_against_comes_last_and_says_so(strict: Draft, model: Boat) -> None:
    found = moves(strict, model, "C32")
    refused = [bool(move.verdict) for move in found]
    assert refused == sorted(refused)
    heavy = [move for move in found if move.words.startswith("fed from Heavy bus")]
    assert heavy and all("maker" in move.verdict for move in heavy)


def test_larger_terminals_let_a_branch_be_thicker_and_the_trunk_thinner(
    strict: Draft, model: Boat
) -> None:
    """10 AWG is the thickest an M4 ring takes; M5 takes more, past the strip, at both ends."""
    order = change_profile("bundling", "off", "bundling")[1](strict.aboard.order)
    capped = draft(order, model, strict.catalogue)
    found = {move.words: move for move in moves(capped, model, "C32")}
    words = "past its strip, M5 ways at Helm fuse block, M5 screws at Main negative bus"
    assert found[words].saved_kg > found["past its strip"].saved_kg > 0
    after = draft(found[words].make("less", "T")[1](order), model, strict.catalogue)
    assert copper_kg(capped) - copper_kg(after) == pytest.approx(found[words].saved_kg)
    before, now = (row for done in (capped, after) if (row := done.circuit("C32")) and row.sized)
    assert before.sized and str(before.sized.gauge.value) == "10 AWG"
    assert now.sized and area_mm2(now.sized.gauge.value) > area_mm2(before.sized.gauge.value)
    ends = {e.place: e.termination.kind for w in now.wires for e in (w.start, w.end)}
    assert "M5" in ends["HFB"] and "M5" in ends["NB0"]
    assert not {s.id for s in after.allocation.strips} & set(ends)
    terminals = {t.id: t for t in net_list(after).terminals}
    way = next(t for t in terminals.values() if t.part == "HFB" and t.kind == "way")
    assert way.form.thickest_mm2 == 25.0
    assert {f.code for f in after.findings if f.severity == "error"} == set()


def test_a_rockers_tab_takes_no_thicker_wire_whatever_its_block_takes(
    full: Draft, model: Boat
) -> None:
    """All on one gauge of 8 AWG, every way and screw M5: what passes a tab stays at 10 AWG."""
    order = change_profile("one_gauge", "8 AWG", "one gauge")[1](read_order(DEMO_ORDER))
    boat = full.aboard.boat
    for part in (*boat.supplies, *boat.return_buses):
        if isinstance(part, ReturnBus):
            order = fit_part(dataclasses.replace(part, screw="M5"))[1](order)
        elif part.ways:
            order = fit_part(dataclasses.replace(part, way_stud="M5"))[1](order)
    order = change_profile("strip_from_loads", 0, "strips")[1](order)
    done = draft(dataclasses.replace(order, accepted=(), overrides=()), model, full.catalogue)
    seen: dict[bool, set[float]] = {True: set(), False: set()}
    for row in done.circuits:
        kinds = {p.kind for leg in row.planned.plan.legs for p in (leg.start, leg.end)}
        if row.sized and kinds & {"tab", "way"} and not any(w.cable for w in row.wires):
            seen["tab" in kinds].add(area_mm2(row.sized.gauge.value))
    assert max(seen[True]) == area_mm2(Gauge("AWG", 10))
    assert max(seen[False]) >= area_mm2(Gauge("AWG", 8))


def test_a_recorded_move_carries_its_reason(strict: Draft, model: Boat) -> None:
    move = next(m for m in moves(strict, model, "C32") if m.words == "fed from Heavy bus")
    order = move.make("nearer", "TW")[1](strict.aboard.order)
    override = order.override("C32", "supply")
    assert override and (override.value, override.reason, override.initials) == (
        "HB",
        "nearer",
        "TW",
    )


def test_the_command_lists_them_and_names_an_unknown_circuit() -> None:
    told = CliRunner().invoke(main, ["moves", str(Path(DEMO_ORDER)), "--circuit", "C34"])
    assert told.exit_code == 0 and "kg of copper" in told.output and "C34" in told.output
    wrong = CliRunner().invoke(main, ["moves", str(DEMO_ORDER), "--circuit", "C99"])
    assert wrong.exit_code == 2 and "expected one of" in wrong.output + (wrong.stderr or "")
