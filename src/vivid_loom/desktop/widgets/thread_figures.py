"""The words and figures of a thread's row, laid out."""

from typing import Final, NamedTuple

from vivid_loom.desktop.widgets.marks import mark
from vivid_loom.drafting import Draft, DraftedCircuit
from vivid_loom.quantities import figure, length_text, percent_text
from vivid_loom.sheets.paper.drawing import Line, Primitive, Rect, Text
from vivid_loom.sheets.paper.metrics import fitted, text_width
from vivid_loom.sheets.paper.tones import Tones

__all__ = [
    "NAMES_W",
    "Columns",
    "columns_for",
    "figures_of",
    "figures_width",
    "names_of",
]

NAMES_W = 210
BAR_W = 48


class Columns(NamedTuple):
    """Where the figures stand from the left of their block; None for what there is no room for.

    Attributes:
        amps, loop, gauge, drop: right edges.
        bar, why: left edges.
    """

    width: float
    amps: float | None
    loop: float | None
    gauge: float
    drop: float
    bar: float | None
    why: float | None


WIDE: Final = Columns(413, 38, 84, 148, 203, 213, 271)
NARROW: Final = Columns(255, 38, None, 102, 157, 167, None)  # the why drawer takes the width
TIGHT: Final = Columns(141, None, None, 62, 117, None, None)  # and the screen is small as well


def columns_for(width: float) -> Columns:
    """Return the figures that a view so wide has room for."""
    return WIDE if width >= 1000 else NARROW if width >= 700 else TIGHT


def _subtitle(draft: Draft, row: DraftedCircuit) -> str:
    request = row.planned.request
    if request is None:
        bus = f", return {row.planned.bus}" if row.planned.bus else ""
        return f"from {row.planned.source}{bus}"
    if request.contact:
        return draft.aboard.switches[request.contact.switch].legend
    level = draft.aboard.levels[row.planned.source]
    if request.pattern == "breaker":
        return "at its breaker"
    return {
        "battery_direct": "always live",
        "ignition": "with the key",
        "unswitched": "on the device",
    }[level]


def figures_width(width: float) -> float:
    """Return the width of the figures in a view so wide."""
    return columns_for(width).width


def findings_of(draft: Draft, circuit_id: str) -> tuple[str, str]:
    """Return severity and code of a circuit's worst finding, '' for none."""
    for finding in draft.findings:
        if finding.subjects[0] == circuit_id and finding.severity != "note":
            return finding.severity, finding.kind.title
    return "", ""


def figures_of(
    draft: Draft, row: DraftedCircuit, width: float, middle: float, tones: Tones
) -> list[Primitive]:
    """Return the figures of a row, right-aligned in their columns, and its margin bar."""
    base, at = middle + 4, columns_for(width)
    x = width - at.width
    severity, title = findings_of(draft, row.id)
    if row.sized is None:
        told = "current unknown, not sized" if at.amps else "not sized"
        return [
            *mark(x + 16, middle, "error", tones),
            Text(x + 28, base, told, 12, tones.alarm, True),
        ]
    s = row.sized
    over = s.drop_percent > s.drop_limit_percent
    length = length_text(s.loop_length_m, draft.aboard.profile.units).split(" ")[0]
    items: list[Primitive] = [
        Text(x + at.gauge, base, str(s.gauge.value), 12, tones.ink, True, "end"),
        Text(
            x + at.drop,
            base,
            f"{percent_text(s.drop_percent)} %",
            12,
            tones.alarm if over else tones.ink,
            over,
            "end",
        ),
    ]
    if at.amps:
        items.append(Text(x + at.amps, base, figure(s.current_a), 12, tones.ink, False, "end"))
    if at.loop:
        items.append(Text(x + at.loop, base, length, 12, tones.ink, False, "end"))
    if at.bar:
        used = min(1.0, s.drop_percent / s.drop_limit_percent)
        items += _margin_bar(x + at.bar, middle, used, tones, over=over)
    if s.gauge.override or (s.protection and s.protection.override):
        star_x = x + at.gauge - 4 - text_width(str(s.gauge.value), 12, bold=True)
        items.append(Text(star_x, base + 2, "*", 14, tones.focus, True, "end"))
    if at.why is None:
        return items + (mark(width - 16, middle, severity, tones) if severity else [])
    return items + _why_words(row, (severity, title), x + at.why, base, tones)


def _margin_bar(
    x: float, middle: float, used: float, tones: Tones, *, over: bool
) -> list[Primitive]:
    """Draw how much of its limit a circuit uses."""
    fill = tones.alarm if over else tones.bar
    return [
        Rect(x, middle - 3, BAR_W, 6, "", tones.rule, 1.0, 3),
        Rect(x, middle - 3, max(3.0, BAR_W * used), 6, fill, "", 0, 3),
        Line(((x + BAR_W, middle - 9), (x + BAR_W, middle + 9)), tones.ink, 1.2),
    ]


def _why_words(
    row: DraftedCircuit, finding: tuple[str, str], x: float, base: float, tones: Tones
) -> list[Primitive]:
    """Say what is wrong, or else what governed."""
    severity, title = finding
    assert row.sized is not None
    if severity:
        colour = tones.alarm if severity == "error" else tones.warn
        text = fitted(title, WIDE.width - 262 - 24, 11)
        return [*mark(x + 5, base - 4, severity, tones), Text(x + 16, base, text, 11, colour)]
    governed = row.sized.gauge.governed_by
    if governed == "drop":
        governed = f"drop {row.sized.drop_limit_percent:g} %"
    return [Text(x, base, governed, 11, tones.quiet)]


def names_of(
    draft: Draft, row: DraftedCircuit, middle: float, tones: Tones
) -> tuple[Primitive, ...]:
    """Return a row's name, id, colour letters and what switches it."""
    plus, minus = row.letters
    letters = plus or minus
    under = fitted(_subtitle(draft, row), NAMES_W - 106, 11)
    return (
        Text(
            14,
            middle - 4,
            fitted(row.planned.label, NAMES_W - 22, 12.5, bold=True),
            12.5,
            tones.ink,
            True,
        ),
        Text(14, middle + 12, row.id, 11, tones.quiet),
        Text(46, middle + 12, letters, 11, tones.ink),
        Text(92, middle + 12, under, 11, tones.quiet),
    )
