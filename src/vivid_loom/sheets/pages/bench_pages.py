"""Sheets to prove a boat by: ringing out, pull tests, making alive; to be ticked and written on."""

from collections.abc import Iterator
from operator import attrgetter
from typing import Final, NamedTuple

from vivid_loom.bench.aboard.plan import alive_plan
from vivid_loom.bench.ringing.plan import INSULATION_V, USUAL_C, RingPlan, ring_plans
from vivid_loom.drafting import Draft
from vivid_loom.sheets.lists.bench_lists import AliveRow, alive_table, pull_table
from vivid_loom.sheets.paper.drawing import Page
from vivid_loom.sheets.paper.layout import Column, Printed, Setting, paginate
from vivid_loom.sheets.words.bench_words import limits_words, pin_code
from vivid_loom.standards.terminals import TENSILE_SOURCE

__all__ = ["alive_pages", "pull_pages", "ring_pages"]

BLANK: Final = "______"
PARTS: Final = {
    "before": "Before anything is connected",
    "bonds": "Bonds, from each metal part to the bonding bus",
    "bolted": "Devices that are bolted in, every minus still off",
    "battery": "Batteries",
    "feeders": "Feeders, from the battery on",
    "circuits": "Circuits one by one: fit, switch, see, read",
    "presses": "Every lever once",
    "rest": "Everything off",
    "after": "After the first run",
}


class _RingLine(NamedTuple):
    """A step as it is printed; the look at a wire's print stands with the wire."""

    harness: str
    turn: str
    what: str
    red: str
    black: str
    between: str
    blank: str


def _ring_lines(plan: RingPlan) -> Iterator[_RingLine]:
    specimen = plan.specimen
    printed = {step.subject for step in plan.steps if step.kind == "print"}
    for turn, step in enumerate(plan.steps, 1):
        if step.kind == "print":
            continue
        red, black = (
            pin_code(specimen.pins[name]) if name in specimen.pins else name
            for name in (step.red, step.black)
        )
        what = step.subject
        if step.kind == "seated":
            half = next(half for half in specimen.plugs if half.plug.id == what)
            what = f"plug {what}, {half.gender} side"
        elif step.kind == "mated":
            what = f"plug {what}, mated"
        elif step.kind == "path":
            what = f"{what} through"
        elif step.kind == "wire" and what in printed:
            what = f"{what} ☐ {specimen.wires[what].wire.gauge}"
        elif step.kind == "net":
            what, black = f"net {what}", "bar"
        elif step.kind == "lamp":
            what = f"{what.removesuffix(' lamp')} lamp, V"
        elif step.kind == "labels":
            what = "read both labels"
        between = limits_words(step).removesuffix(" mΩ").removesuffix(" V").replace("at least", "≥")
        yield _RingLine(
            specimen.title, str(turn), what, red, black, between, "____" if step.is_read else ""
        )


def _band(row: AliveRow) -> str:
    if not row.unit:
        return ""
    if row.low.startswith("-"):  # a meter a little below nought
        return f"≤ {row.high}"
    return f"{row.low} to {row.high}" if row.high else f"≥ {row.low}"


def ring_pages(draft: Draft, setting: Setting) -> list[Page]:
    """Return every harness's steps in the order of the fewest moves."""
    columns = (
        Column("", 9, attrgetter("turn"), True),
        Column("", 5, lambda _: "☐"),
        Column("what", 30, attrgetter("what"), bold=True),
        Column("red probe", 29, attrgetter("red")),
        Column("black probe", 30, attrgetter("black")),
        Column("mΩ or MΩ", 19, attrgetter("between"), True),
        Column("read", 11, attrgetter("blank")),
    )
    steps = Printed(
        columns,
        [line for plan in ring_plans(draft) for line in _ring_lines(plan)],
        note=(
            f"At {USUAL_C:g} °C, with the meter's own leads taken off (touch the probes together "
            "first); 4 % more for every 10 °C above. "
            "Wires in mΩ; where a gauge stands beside the wire its ohms cannot tell: read what is "
            "printed on it. A plug: pull each of its wires lightly; contacts, seals, sealing plugs "
            "and wedge are home. A net: lift its ends off the common bar, on which every other "
            f"end, shields and hull lie; {INSULATION_V:.0f} V. Through: all harnesses plugged "
            "together, from one end of the net to the other over its plugs."
        ),
        size=2.3,
        group=attrgetter("harness"),
    )
    return paginate("Ringing out", [steps], setting, lanes=2)


def pull_pages(draft: Draft, setting: Setting) -> list[Page]:
    """Return which test pieces are crimped and what they bear."""
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
        note=(
            f"A test piece is crimped with the same jaw just before. Forces: {TENSILE_SOURCE}. "
            "One that fails holds back every crimp of its line since the last that passed."
        ),
        size=2.6,
    )
    return paginate("Pull tests", [pulls], setting)


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
    rested = [s.figure for s in alive_plan(draft).steps if s.id.startswith("battery volts")]
    full = " or ".join(f"{volts:.1f} V" for volts in sorted(set(rested)))
    table = Printed(
        columns,
        alive_table(draft).rows,
        note=(
            "Minus comes off first and on last. One circuit at a time. Volts are those of a full "
            f"battery at {full}: add what yours reads above it, take off what it lacks."
        ),
        size=2.4,
        group=lambda row: PARTS[row.part],
    )
    return paginate("Making alive", [table], setting)
