"""What has been proven, as tables: the log, and the certificate with every figure read."""

import json
from collections.abc import Iterable, Iterator, Mapping
from typing import Any, Final, NamedTuple

from vivid_loom.bench.aboard.plan import AlivePlan
from vivid_loom.bench.content import content_problem
from vivid_loom.bench.logbook import Entry
from vivid_loom.bench.record import BOAT, Record
from vivid_loom.bench.ringing.plan import RingPlan
from vivid_loom.drafting import Draft
from vivid_loom.quantities import figure, one_line
from vivid_loom.sheets.paper.table import Table
from vivid_loom.sheets.words.bench_words import alive_words, limits_words, read_words, ring_words

__all__ = [
    "LogRow",
    "ProvenRow",
    "certificate",
    "entry_words",
    "log_json",
    "log_table",
    "record_json",
]


class LogRow(NamedTuple):
    """A record of the log."""

    number: str
    time: str
    who: str
    kind: str
    what: str
    revision_digest: str
    order: str
    instrument: str
    done_on_hull: str
    hash: str


class ProvenRow(NamedTuple):
    """A step that passed, what was read, and by whom."""

    place: str
    turn: str
    subject: str
    red: str
    black: str
    between: str
    read: str
    passed: str
    who: str
    time: str
    entry: str


LONGEST: Final = 200


def entry_words(entry: Entry) -> str:
    """Say what a record says; as it stands where that cannot be understood."""
    w: Mapping[str, Any] = entry.what
    if content_problem(entry):
        return one_line(json.dumps(dict(w), ensure_ascii=False, sort_keys=True), LONGEST)
    if entry.kind == "result":
        read = f", read {w['read']} {w['unit']}" if "read" in w else ""
        read += f" at {w['copper_c']:g} °C" if "copper_c" in w else ""
        return f"{w['place']}: {w['step']} {'passed' if w['passed'] else 'FAILED'}{read}"
    if entry.kind == "rework":
        return f"{w['place']}: made anew {', '.join(w['wires'])}: {w['reason']}"
    if entry.kind == "pull":
        outcome = "bore" if w["passed"] else "FAILED at"
        piece = f"test piece {w['number']} of {w['group']}"
        return f"{piece} {outcome} {w['newton']:g} N, tool {w['tool']}"
    if entry.kind == "remade":
        return f"crimped anew: {', '.join(w['ends'])}"
    if entry.kind == "signed":
        return f"signed: {str(w['state']).replace('_', ' ')}"
    if entry.kind == "correction":
        return f"withdraws record {w['withdraws']}: {w['reason']}"
    if entry.kind == "begun":
        return f"log begun anew after {w['records']} records, last seal {w['seal']}: {w['reason']}"
    if entry.kind == "issued":
        told = f"revision {w['number']} issued: {w['about']}"
        for name, what in (("accepted", "errors answered for"), ("open", "wishes left open")):
            told += f"; {what}: {', '.join(w[name])}" if w[name] else ""
        return told
    if entry.kind == "reopened":
        return f"opened again as {str(w['state']).replace('_', ' ')}: {w['reason']}"
    if entry.kind == "withdrawn":
        return f"revision {w['number']} withdrawn: {w['reason']}"
    if entry.kind == "stopped":
        return f"{w['how']}: {w['reason']}"
    if entry.kind == "taken up":
        return f"work goes on: {w['reason']}"
    if entry.kind == "carried":
        return f"goes on as the log of hull {w['to']}, hull {w['from']} until then"
    return f"deviation {w['number']}, {w['verdict']}: {w['what']}"


def log_table(entries: Iterable[Entry]) -> Table[LogRow]:
    """Return a record a row, in words."""
    rows = tuple(
        LogRow(
            number=str(e.number),
            time=e.time,
            who=e.who,
            kind=e.kind,
            what=entry_words(e),
            revision_digest=e.revision,
            order=e.order,
            instrument=e.instrument,
            done_on_hull=e.hull,
            hash=e.hash,
        )
        for e in entries
    )
    return Table("log", "Log", LogRow, rows)


def log_json(entries: Iterable[Entry]) -> bytes:
    """Return all records as one JSON list, as they were written."""
    told = [entry._asdict() for entry in entries]
    text = json.dumps(told, ensure_ascii=False, indent=1, sort_keys=True) + "\n"
    return text.encode("utf-8", "backslashreplace")  # half a character as JSON writes it


def _last(record: Record) -> dict[tuple[str, str], Entry]:
    return {
        (entry.what["place"], entry.what["step"]): entry
        for entry in record.entries
        if entry.kind == "result"
    }


def _rows(
    draft: Draft, record: Record, rings: Iterable[RingPlan], alive: AlivePlan | None
) -> Iterator[ProvenRow]:
    last = _last(record)
    for plan in rings:
        ringing = record.ringing(plan)
        for turn, step in enumerate(plan.steps, 1):
            words = ring_words(draft, plan, step)
            result = ringing.results.get(step.id)
            entry = last.get((plan.specimen.id, step.id)) if result else None
            yield ProvenRow(
                plan.specimen.title,
                str(turn),
                words.title,
                words.red,
                words.black,
                _held_to(entry) or limits_words(step),
                read_words(step, result) if result else "",
                ("passed" if result.passed else "FAILED") if result else "open",
                *(_signed(entry)),
            )
    if alive is None:
        return
    proof = record.alive(alive)
    for turn, one in enumerate(alive.steps, 1):
        words = alive_words(draft, one)
        result = proof.results.get(one.id)
        entry = last.get((BOAT, one.id)) if result else None
        yield ProvenRow(
            "The boat",
            str(turn),
            words.title,
            words.red,
            words.black,
            limits_words(one),
            read_words(one, result) if result else "",
            ("passed" if result.passed else "FAILED") if result else "open",
            *(_signed(entry)),
        )


def _held_to(entry: Entry | None) -> str:
    """Say between what a reading had to lie when it was taken, and how warm the copper was."""
    if entry is None or "copper_c" not in entry.what:
        return ""
    w = entry.what
    return f"{figure(w['low'])} to {figure(w['high'])} {w['unit']} at {w['copper_c']:g} °C"


def _signed(entry: Entry | None) -> tuple[str, str, str]:
    return (entry.who, entry.time[:16].replace("T", " "), str(entry.number)) if entry else ("",) * 3


def certificate(
    draft: Draft, record: Record, rings: Iterable[RingPlan], alive: AlivePlan | None
) -> Table[ProvenRow]:
    """Return every step with what was read, by whom and when."""
    rows = tuple(_rows(draft, record, rings, alive))
    return Table("certificate", "Test certificate", ProvenRow, rows)


def record_json(draft: Draft, record: Record, plan: RingPlan, head: str) -> bytes:
    """Return the record of one harness: what it is made of and what was read in it.

    Args:
        head: hash of the log's last record.
    """
    specimen, order = plan.specimen, draft.aboard.order
    told = {
        "hull": order.hull,
        "model": draft.aboard.boat.name,
        "harness": specimen.id,
        "name": specimen.title,
        "revision": order.revisions[-1].number if order.revisions else 0,
        "log_head": head,
        "wires": [
            {
                "wire": w.wire.id,
                "gauge": str(w.wire.gauge),
                "colour": str(w.wire.colour),
                "cut_mm": w.wire.cut_mm,
                "from": w.wire.start.label,
                "to": w.wire.end.label,
            }
            for w in specimen.wires.values()
        ],
        "plugs": [
            {"plug": h.plug.id, "gender": h.gender, "key": h.plug.key} for h in specimen.plugs
        ],
        "steps": [row._asdict() for row in _rows(draft, record, [plan], None)],
    }
    return (json.dumps(told, ensure_ascii=False, indent=1, sort_keys=True) + "\n").encode()
