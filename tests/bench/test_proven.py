"""What is proven decides how far an order has come; deviations; rework; the papers."""

import dataclasses
import datetime
import json
from functools import partial
from pathlib import Path

import pytest

from tests.bench.flaws import shown
from vivid_loom.bench.aboard.plan import alive_plan
from vivid_loom.bench.deviations import joint_judged, judgement
from vivid_loom.bench.devices.simulated import BuiltHarness
from vivid_loom.bench.logbook import Entry, Logbook
from vivid_loom.bench.progress import Result
from vivid_loom.bench.proven import STATES, Proofs, missing_for, reached
from vivid_loom.bench.pulls import Pull
from vivid_loom.bench.record import (
    BOAT,
    Record,
    pull_words,
    remade_words,
    result_words,
    rework_words,
)
from vivid_loom.bench.ringing.plan import ring_plans
from vivid_loom.boat import read_boat
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.drafting import Draft, draft
from vivid_loom.order import (
    Deviation,
    Order,
    Revision,
    drafted_as_built,
    note_deviation,
    read_order,
    refuse_deviation,
    sign_deviation,
    tick_wire,
)
from vivid_loom.sheets.lists.bench_lists import draft_crimps
from vivid_loom.sheets.lists.label_lists import labels, record_name
from vivid_loom.sheets.lists.proof_lists import certificate, entry_words, log_table
from vivid_loom.sheets.packet import sheets_digest
from vivid_loom.sheets.pages.hand_over import hand_over_files, hand_over_pages
from vivid_loom.sheets.proof import standing_errors
from vivid_loom.workshop.harness.built import tick_of

NOW = datetime.datetime(2026, 12, 1, 12, 0, tzinfo=datetime.UTC)
BOAT_FILE = read_boat(DEMO_FOLDER / "qh-62.boat.json")


def drafted_order(order: Order) -> Draft:
    return draft(order, BOAT_FILE, shipped_catalogue())


@pytest.fixture(scope="module")
def plain() -> Draft:
    """Draft of hull 0611, the smallest order."""
    return drafted_order(read_order(DEMO_FOLDER / "hull-0611.loom.json"))


def log_of(folder: Path) -> Logbook:
    return Logbook(folder / "hull-0611.loom.json")


def add(log: Logbook, kind: str, what: dict[str, object]) -> None:
    log.append(kind, "IM", what, revision="r", now=lambda: NOW)


def issued(order: Order, done: Draft) -> Order:
    revision = Revision(
        number=1, date="2026-11-30", initials="IM", text="first", digest=sheets_digest(done)
    )
    return dataclasses.replace(order, revisions=(revision,))


def proofs_of(done: Draft, log: Logbook) -> Proofs:
    record, digest = Record(log.entries), sheets_digest(done)
    return Proofs(done, record, digest, draft_crimps(done), partial(standing_errors, done))


def prove(done: Draft, log: Logbook) -> None:
    """Ring every harness out, pull every sample, make the boat alive."""
    for plan in ring_plans(done):
        built = BuiltHarness(plan.specimen)
        for step in plan.steps:
            result = Record(()).ringing(plan).judged(step, shown(plan, step, built))
            add(log, "result", result_words(plan.specimen.id, step, result))
    for group in draft_crimps(done):
        for number in group.samples:
            add(log, "pull", pull_words(Pull(group.id, number, group.newton + 1, "T1", True)))
    for one in alive_plan(done).steps:
        value = one.figure if one.is_read else 1.0
        add(log, "result", result_words(BOAT, one, Result(one.id, value, True, one.signature)))


def test_every_state_wants_its_proof(plain: Draft, tmp_path: Path) -> None:
    log = log_of(tmp_path)
    order = plain.aboard.order
    assert reached(proofs_of(plain, log)) == "checked"
    order = issued(order, plain)
    assert reached(proofs_of(drafted_order(order), log)) == "released"
    for wire in plain.assembled.wires:
        order = tick_wire(tick_of(wire))[1](order)
    built = drafted_order(order)
    assert reached(proofs_of(built, log)) == "built"
    missing = list(missing_for("handed_over", proofs_of(built, log)))
    assert any("is not rung out" in text for text in missing)
    assert any("pull tests are left" in text for text in missing)
    assert any("made alive" in text for text in missing)
    prove(built, log)
    assert reached(proofs_of(built, log)) == "handed_over"
    assert not list(missing_for("handed_over", proofs_of(built, log)))
    # whatever is taken away, the order is called that no more
    (group,) = draft_crimps(built)[:1]
    add(log, "pull", pull_words(Pull(group.id, 1, 3.0, "T1", False)))
    assert reached(proofs_of(built, log)) == "built"
    add(log, "correction", {"withdraws": len(log.entries), "reason": "the wrong line"})
    assert reached(proofs_of(built, log)) == "handed_over"
    log.path.write_bytes(log.path.read_bytes().replace(b'"who":"IM"', b'"who":"XX"', 1))
    changed = log_of(tmp_path)
    told = Record(changed.entries, is_whole=changed.is_whole)
    held = Proofs(built, told, sheets_digest(built), draft_crimps(built), lambda: 0)
    assert list(missing_for("tested", held)) == ["the log is not as it was written"]
    log.path.write_bytes(log.path.read_bytes().replace(b'"who":"XX"', b'"who":"IM"', 1))
    noted = Deviation(
        number=1, kind="device", subject="N11", value="5", reason="stock", initials="IM"
    )
    waiting = drafted_order(note_deviation(noted)[1](order))
    assert reached(proofs_of(waiting, log)) == "tested"
    assert list(missing_for("handed_over", proofs_of(waiting, log))) == [
        "1 deviation waits for an answer"
    ]


def test_errors_and_moved_sheets_hold_an_order_back(
    mistakes: Draft, plain: Draft, tmp_path: Path
) -> None:
    assert reached(proofs_of(mistakes, log_of(tmp_path))) == "drafting"
    order = issued(plain.aboard.order, plain)
    moved = dataclasses.replace(order, profile="us", profile_changes=())
    told = list(missing_for("released", proofs_of(drafted_order(moved), log_of(tmp_path))))
    assert told == ["the sheets have changed since the last revision"]
    assert STATES[0] == "drafting"


def test_rework_asks_again_for_what_it_touches_and_nothing_else(
    plain: Draft, tmp_path: Path
) -> None:
    log = log_of(tmp_path)
    prove(plain, log)
    plan = next(p for p in ring_plans(plain) if p.specimen.id == "hull")
    specimen = plan.specimen
    wire = next(
        w for w in specimen.wires.values() if any(specimen.pins[p].cavity for p in (w.start, w.end))
    )
    add(log, "rework", rework_words("hull", [wire.id], "crimped anew"))
    left = {step.id for step in Record(log.entries).ringing(plan).left}
    plug = next(
        specimen.pins[p].connector for p in (wire.start, wire.end) if specimen.pins[p].cavity
    )
    expected = {f"wire {wire.id}", f"seated {plug}", f"net {specimen.net_of[wire.start].id}"}
    assert expected <= left <= expected | {f"print {wire.id}"}
    for other in ring_plans(plain):
        ringing = Record(log.entries).ringing(other)
        if other.specimen.mates:  # the wire leads into a plug: what goes through it as well
            left = {step.id.split()[0] for step in ringing.left}
            assert left == {"mated", "path", "net"} and len(ringing.left) == 3
        elif other.specimen.id != "hull":
            assert ringing.proven


def aboard_left(plain: Draft, log: Logbook) -> set[str]:
    return {step.id for step in Record(log.entries).alive(alive_plan(plain)).left}


def rung_left(plain: Draft, log: Logbook) -> dict[str, set[str]]:
    read = Record(log.entries)
    return {p.specimen.id: {s.id for s in read.ringing(p).left} for p in ring_plans(plain)}


def test_a_wire_made_anew_asks_for_its_steps_aboard_too(plain: Draft, tmp_path: Path) -> None:
    """A wire remade after the boat was alive kept everything that was read of it aboard."""
    log = log_of(tmp_path)
    prove(plain, log)
    assert not aboard_left(plain, log)
    row = next(r for r in plain.circuits if r.planned.loads and r.wires and r.sized)
    wire = row.wires[0]
    add(log, "rework", rework_words(wire.harness, [wire.id], "chafed through"))
    left = aboard_left(plain, log)
    assert f"circuits {row.id}" in left
    assert {step for step in left if step.startswith("before no short")}
    others = {other.id for other in plain.circuits if other.id != row.id}
    assert not left & {f"circuits {name}" for name in others}
    assert f"wire {wire.id}" in rung_left(plain, log)[wire.harness]


def test_a_repair_aboard_asks_for_ringing_out_and_a_feeder_for_all_behind_it(
    plain: Draft, tmp_path: Path
) -> None:
    log = log_of(tmp_path)
    prove(plain, log)
    feeder = next(row for row in plain.feeders if row.wires)
    wire = feeder.wires[0]
    add(log, "rework", rework_words(BOAT, [wire.id], "new lug"))
    behind = {
        f"circuits {row.id}"
        for row in plain.circuits
        if row.planned.loads and feeder.id in plain.aboard.boat.network.upstream(row.planned.source)
    }
    left = aboard_left(plain, log)
    assert behind and behind & {step.id for step in alive_plan(plain).steps} <= left
    touching = {
        step.id for plan in ring_plans(plain) for step in plan.steps if wire.id in step.touches
    }
    again = {name for names in rung_left(plain, log).values() for name in names}
    assert touching and again == touching


def test_crimps_made_anew_are_rung_out_again(plain: Draft, tmp_path: Path) -> None:
    log = log_of(tmp_path)
    prove(plain, log)
    row = next(r for r in plain.circuits if any(w.harness == "hull" and w.runs for w in r.wires))
    wire = next(w for w in row.wires if w.harness == "hull" and w.runs)
    add(log, "remade", remade_words([f"{wire.id}/to"]))
    assert f"wire {wire.id}" in rung_left(plain, log)["hull"]
    assert f"circuits {wire.circuit}" in aboard_left(plain, log)


def test_a_withdrawn_record_counts_no_more(plain: Draft, tmp_path: Path) -> None:
    log = log_of(tmp_path)
    plan = ring_plans(plain)[0]
    step = plan.steps[0]
    add(
        log,
        "result",
        result_words(plan.specimen.id, step, Result(step.id, 1.0, True, step.signature)),
    )
    assert step.id in Record(log.entries).ringing(plan).results
    add(log, "correction", {"withdraws": 1, "reason": "the wrong plug"})
    assert not Record(log.entries).ringing(plan).results
    assert len(log.entries) == 2  # it stays in the log


def test_over_range_reads_back_as_open(plain: Draft, tmp_path: Path) -> None:
    log = log_of(tmp_path)
    plan = ring_plans(plain)[0]
    step = next(s for s in plan.steps if s.kind == "wire")
    judged = Record(()).ringing(plan).judged(step, float("inf"))
    add(log, "result", result_words(plan.specimen.id, step, judged))
    json.loads(log.path.read_text())  # no figure that JSON does not know
    assert [c.kind for c in Record(log.entries).ringing(plan).causes] == ["open"]


def test_a_deviation_is_judged_by_drafting_it(plain: Draft) -> None:
    order = plain.aboard.order
    big = Deviation(number=1, kind="device", subject="N11", value="30", reason="x", initials="IM")
    judged = judgement(plain, drafted_order(drafted_as_built(big)[1](order)))
    assert not judged.is_safe
    assert {f.severity for f in judged.opens} >= {"error"}
    same = judgement(plain, plain)
    assert same == ((), (), "")
    assert same.is_safe


def test_a_signed_deviation_is_drafted_a_refused_one_is_not(plain: Draft) -> None:
    order = plain.aboard.order
    other = Deviation(
        number=1, kind="gauge", subject="N10", value="2.5 mm²", reason="left over", initials="IM"
    )
    noted = note_deviation(other)[1](order)
    (waiting,) = noted.deviations
    assert drafted_order(noted).circuit("N10") == plain.circuit("N10")
    signed = sign_deviation(waiting, signed_by="TW", answer="fine")[1](noted)
    row = drafted_order(signed).circuit("N10")
    assert row is not None and row.sized is not None
    assert str(row.sized.gauge.value) == "2.5 mm²"
    assert signed.overrides[0].kind == "substitution"
    refused = refuse_deviation(waiting, signed_by="TW", answer="no")[1](noted)
    assert drafted_order(refused).circuit("N10") == plain.circuit("N10")
    assert [d.verdict for d in (*signed.deviations, *refused.deviations)] == ["signed", "refused"]
    way = dataclasses.replace(other, kind="way", value="console_trunk;dash")
    assert drafted_as_built(way)[1](order).way("N10") == ("console_trunk", "dash")
    shortest = dataclasses.replace(other, kind="way", value="")
    assert not drafted_as_built(shortest)[1](order).ways


def test_a_joint_in_a_run_is_told_by_what_it_costs(full: Draft) -> None:
    wire = next(w for w in full.assembled.wires if w.id == "C26-P2b")
    wet = next(
        s for s in full.aboard.boat.stations if full.aboard.boat.area_at[s.id].water != "dry"
    )
    deviation = Deviation(
        number=1, kind="joint", subject=wire.id, value=wet.id, reason="x", initials="IM"
    )
    words = joint_judged(full, deviation).words
    # 16 AWG is 1.309 mm²: two ends of 1 mΩ·mm² and 0.02 mΩ each
    assert f"{2 * (1 / 1.3087 + 0.02):.2f} mΩ" in words
    assert "above the water" in words
    with pytest.raises(KeyError):
        joint_judged(full, dataclasses.replace(deviation, subject="nothing"))


def test_papers_say_what_was_read_and_what_is_missing(plain: Draft, tmp_path: Path) -> None:
    log = log_of(tmp_path)
    text = _text(hand_over_pages(proofs_of(plain, log), log.head))
    assert "NOT HANDED OVER" in text
    prove(plain, log)
    proofs = proofs_of(plain, log)
    rows = certificate(plain, proofs.record, proofs.rings, proofs.alive).rows
    assert len(rows) == sum(len(p.steps) for p in proofs.rings) + len(proofs.alive.steps)
    assert {row.passed for row in rows} == {"passed"}
    assert all(row.who == "IM" and row.entry for row in rows)
    text = _text(hand_over_pages(proofs, log.head))
    assert log.head[:32] in text
    for wire in plain.assembled.wires:
        assert wire.id in text
    for load in plain.aboard.loads.values():
        assert load.name.split()[0] in text
    files = dict(hand_over_files(proofs, log.head))
    tags = {row.qr.rpartition("record=")[2] for row in labels(plain).rows if row.qr}
    assert tags <= set(files)
    for name in tags:
        told = json.loads(files[name])
        assert told["log_head"] == log.head
        assert name == record_name("0611", told["harness"])
    assert len(log_table(log.entries).rows) == len(log.entries)


def _text(pages: list) -> str:  # type: ignore[type-arg]
    return " ".join(item.text for page in pages for item in page.items if hasattr(item, "text"))


@pytest.mark.parametrize(
    ("kind", "what", "words"),
    [
        (
            "result",
            {
                "place": "deck",
                "step": "4",
                "passed": True,
                "signature": "s",
                "read": 3.2,
                "unit": "mΩ",
            },
            "deck: 4 passed, read 3.2 mΩ",
        ),
        (
            "result",
            {"place": "deck", "step": "4", "passed": False, "signature": "s", "copper_c": 18.5},
            "deck: 4 FAILED at 18.5 °C",
        ),
        (
            "rework",
            {"place": "deck", "wires": ["C01-P1", "C01-P2"], "reason": "swapped"},
            "deck: made anew C01-P1, C01-P2: swapped",
        ),
        (
            "pull",
            {"passed": True, "number": 2, "group": "A", "newton": 180.0, "tool": "T1"},
            "test piece 2 of A bore 180 N, tool T1",
        ),
        (
            "pull",
            {"passed": False, "number": 2, "group": "A", "newton": 90.5, "tool": "T1"},
            "test piece 2 of A FAILED at 90.5 N, tool T1",
        ),
        ("remade", {"ends": ["C01-P1.1"]}, "crimped anew: C01-P1.1"),
        ("signed", {"state": "handed_over"}, "signed: handed over"),
        ("correction", {"withdraws": 7, "reason": "typed"}, "withdraws record 7: typed"),
        (
            "deviation",
            {"number": 1, "verdict": "refused", "what": "a joint in C26-P2b"},
            "deviation 1, refused: a joint in C26-P2b",
        ),
        (
            "begun",
            {"reason": "disk died", "records": 7, "seal": "ab", "kept": ""},
            "log begun anew after 7 records, last seal ab: disk died",
        ),
        (
            "carried",
            {"from": "0417", "to": "0417-2"},
            "goes on as the log of hull 0417-2, hull 0417 until then",
        ),
        ("signed", {"state": 7}, '{"state": 7}'),
        ("of a later version", {"b": 1, "a": "é"}, '{"a": "é", "b": 1}'),
    ],
)
def test_a_record_of_every_kind_is_told_in_words(
    kind: str, what: dict[str, object], words: str
) -> None:
    assert entry_words(Entry(1, "", "IM", kind, "", what, "", "")) == words
