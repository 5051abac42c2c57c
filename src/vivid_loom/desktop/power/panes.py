"""The lists below the Power picture: a fault's course, the chafe scan, energy."""

from collections.abc import Sequence

from vivid_loom.desktop.widgets.text_table import Cell
from vivid_loom.drafting import Draft
from vivid_loom.power.board import Board
from vivid_loom.power.course import Course
from vivid_loom.power.energy import Energy, Mooring
from vivid_loom.power.scan import Tried
from vivid_loom.power.sneak import Proof
from vivid_loom.quantities import figure
from vivid_loom.sheets.words.power_words import (
    PROBES,
    days_words,
    device_words,
    proof_words,
    scanned_words,
    seconds_words,
    sneak_words,
)

__all__ = ["course_rows", "energy_rows", "proof_rows", "scan_rows"]

MOST_SHOWN = 400
Rows = list[tuple[str, tuple[Cell, ...]]]


def course_rows(course: Course) -> Rows:
    """Return what happens, one thing a row."""
    net = course.before.board.net
    rows: Rows = []
    for i, event in enumerate(course.events):
        hot = f"{event.hottest} {event.hottest_c:.0f} °C"
        if not event.opens:
            rows.append((str(i), (Cell("then"), Cell("at rest"), Cell(""), Cell(hot))))
            continue
        what = device_words(net, event.opens)
        if event.or_opens:
            others = ", ".join(device_words(net, name) for name in event.or_opens)
            what += f"; cannot tell: or {others}"
        when = seconds_words(event.early_s, event.late_s)
        rows.append(
            (str(i), (Cell(when), Cell(what, "", True), Cell(f"{figure(event.amps)} A"), Cell(hot)))
        )
    return rows


def scan_rows(board: Board, scanned: Sequence[Tried]) -> Rows:
    """Return the worst of what the scan found."""
    rows: Rows = []
    for row, others in scanned[:MOST_SHOWN]:
        grave = bool(row.burnt[0] or row.flows_on)
        what = scanned_words(board.draft, board.net, row)
        cells = (
            Cell(PROBES[row.probe.kind]),
            Cell(row.probe.at, "", True),
            Cell(f"{row.scenario} + {others}" if others else row.scenario),
            Cell(what, "alarm" if grave else "", grave),
        )
        rows.append((f"{row.scenario} {row.probe.kind} {row.probe.at}", cells))
    return rows


def proof_rows(draft: Draft, proof: Proof) -> Rows:
    """Return what was shown, then every sneak with the levers that bring it about."""
    tone = "" if proof.holds else "alarm"
    first = (Cell("Proven" if proof.holds else "Not proven", tone, True), Cell(proof_words(proof)))
    rows: Rows = [("", first)]
    for i, sneak in enumerate(proof.sneaks):
        told, _, levers = sneak_words(draft, sneak).rpartition(": ")
        rows.append((str(i), (Cell(told, "alarm", True), Cell(levers))))
    return rows


def energy_rows(draft: Draft, days: Sequence[Energy], lies: Mooring) -> Rows:
    """Return each scenario's day, then what draws while the boat is left."""
    rows: Rows = []
    for day in days:
        banks = " · ".join(
            f"{share * day.bank_ah:.0f} Ah {days_words(lasts)}" for share, lasts in day.banks
        )
        charged = f"{day.charged_ah:.0f} Ah" if day.charged_ah else "—"
        cells = (
            Cell(day.scenario, "", True),
            Cell(f"{day.drawn_ah:.0f} Ah"),
            Cell(charged),
            Cell(days_words(day.days)),
            Cell(banks),
        )
        rows.append((day.scenario, cells))
    rate = f"pumps start {lies.starts_per_h:g} times an hour for {lies.seconds:g} s"
    drawn = f"{lies.pump_ah + lies.standing_ah:.1f} Ah"
    owners = ", ".join(
        f"{one.circuit} {draft.aboard.loads[one.load].name} {one.ah:.1f} Ah"
        for one in lies.standing
    )
    rows.append(
        (
            "mooring",
            (
                Cell("on its mooring", "", True),
                Cell(drawn),
                Cell("—"),
                Cell(days_words(lies.days)),
                Cell(f"{rate}; all else: {owners or 'nothing'}"),
            ),
        )
    )
    return rows
