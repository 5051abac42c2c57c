"""Sheets to prove a boat by: ringing out, pull tests, making alive; to be ticked and written on."""

from operator import attrgetter
from typing import Final

from vivid_loom.drafting import Draft
from vivid_loom.sheets.bench_lists import (
    AliveRow,
    RingRow,
    alive_table,
    pull_table,
    ring_table,
)
from vivid_loom.sheets.drawing import Page
from vivid_loom.sheets.layout import Column, Printed, Setting, paginate
from vivid_loom.standards.terminals import TENSILE_SOURCE

__all__ = ["alive_pages", "ring_pages"]

BLANK: Final = "______"
PARTS: Final = {
    "before": "Before anything is connected",
    "battery": "Batteries",
    "feeders": "Feeders, from the battery on",
    "circuits": "Circuits one by one: fit, switch, see, read",
    "presses": "Every lever once",
    "rest": "Everything off",
    "after": "After the first run",
}


def _band(row: RingRow | AliveRow) -> str:
    if not row.unit:
        return ""
    return f"{row.low} to {row.high}" if row.high else f"≥ {row.low}"


def ring_pages(draft: Draft, setting: Setting) -> list[Page]:
    """Return every harness's steps in the order of the fewest moves, then the pull tests."""
    columns = (
        Column("", 9, attrgetter("turn"), True),
        Column("", 6, lambda _: "☐"),
        Column("what", 47, attrgetter("subject"), bold=True),
        Column("red probe", 58, attrgetter("red")),
        Column("black probe", 58, attrgetter("black")),
        Column("between", 30, _band, True),
        Column("", 11, attrgetter("unit")),
        Column("read", 20, lambda row: BLANK if row.unit else ""),
    )
    names = {a.id: a.name for a in draft.aboard.boat.assemblies}

    def harness(row: RingRow) -> str:
        assembly, _, panel = row.harness.partition(" ")
        return f"{names.get(assembly, assembly)}{', panel' if panel else ''}"

    steps = Printed(
        columns,
        ring_table(draft).rows,
        note=(
            "At 20 °C, with the meter's own leads taken off (touch the probes together first). For "
            "a net, lift its ends off the common bar; every other end, shields and hull lie on it."
        ),
        size=2.4,
        group=harness,
        remark=lambda row: "" if row.unit else row.asks,
    )
    pulls = Printed(
        (
            Column("terminal", 70, attrgetter("terminal"), bold=True),
            Column("gauge", 24, attrgetter("gauge")),
            Column("jaw", 30, attrgetter("jaw")),
            Column("crimps", 16, attrgetter("crimps"), True),
            Column("bears for 1 min, N", 28, attrgetter("pull_n"), True, True),
            Column("test piece with crimp no.", 60, lambda r: r.samples.replace(";", ", ")),
            Column("tool, N, initials", 40, lambda _: BLANK * 3),
        ),
        pull_table(draft).rows,
        "Pull tests",
        f"A test piece is crimped with the same jaw just before. Forces: {TENSILE_SOURCE}. One "
        "that fails holds back every crimp of its line since the last that passed.",
        size=2.6,
    )
    return paginate("Ringing out", [steps, pulls], setting)


def alive_pages(draft: Draft, setting: Setting) -> list[Page]:
    """Return the list by which a boat is made alive, in safe order."""
    columns = (
        Column("", 9, attrgetter("turn"), True),
        Column("", 6, lambda _: "☐"),
        Column("what", 62, attrgetter("title"), bold=True),
        Column("do and see", 130, attrgetter("asks")),
        Column("between", 28, _band, True),
        Column("", 8, attrgetter("unit")),
        Column("read", 20, lambda row: BLANK if row.unit else ""),
    )
    table = Printed(
        columns,
        alive_table(draft).rows,
        note=(
            "Minus comes off first and on last. One circuit at a time. Volts are those of a full "
            "battery at 12.7 V or the like: add what yours reads above it, take off what it lacks."
        ),
        size=2.4,
        group=lambda row: PARTS[row.part],
    )
    return paginate("Making alive", [table], setting)
