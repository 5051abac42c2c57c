"""The words and figures of a thread's row, laid out. No Qt in here."""

from vivid_loom.drafting import Draft, DraftedCircuit
from vivid_loom.quantities import figure, length_text
from vivid_loom.sheets.drawing import Line, Primitive, Rect, Text
from vivid_loom.sheets.metrics import fitted, text_width
from vivid_loom.sheets.tones import Tones

__all__ = [
    "FIGURES_W",
    "NAMES_W",
    "NARROW_BELOW",
    "figures_of",
    "figures_width",
    "mark",
    "names_of",
]

NAMES_W = 210
FIGURES_W = 404
NARROW_FIGURES_W = 246  # without loop length and reason, when the why drawer takes the width
NARROW_BELOW = 1000


def _subtitle(draft: Draft, row: DraftedCircuit) -> str:
    request = row.planned.request
    if request is None:
        bus = f", return {row.planned.bus}" if row.planned.bus else ""
        return f"from {row.planned.source}{bus}"
    if request.contact:
        return draft.aboard.switches[request.contact.switch].legend
    level = {s.id: s.level for s in draft.aboard.boat.supplies}[row.planned.source]
    if request.pattern == "breaker":
        return "at its breaker"
    return {
        "battery_direct": "always live",
        "ignition": "with the key",
        "unswitched": "on the device",
    }[level]


def figures_width(width: float) -> float:
    """Return the width of the figures in a view so wide."""
    return FIGURES_W if width >= NARROW_BELOW else NARROW_FIGURES_W


def findings_of(draft: Draft, circuit_id: str) -> tuple[str, str]:
    """Return severity and code of a circuit's worst finding, '' for none."""
    for finding in draft.findings:
        if finding.subjects[0] == circuit_id and finding.severity != "note":
            return finding.severity, finding.kind.title
    return "", ""


def mark(x: float, y: float, severity: str, tones: Tones) -> list[Primitive]:
    """Return the shape of a severity: a lozenge for errors, a wedge for judgements."""
    points: tuple[tuple[float, float], ...]
    if severity == "error":
        points = ((x, y - 5), (x + 5, y), (x, y + 5), (x - 5, y), (x, y - 5), (x + 5, y))
        return [Line(points, tones.alarm, 2.6)]
    points = ((x, y - 4), (x + 5, y + 4), (x - 5, y + 4), (x, y - 4), (x + 5, y + 4))
    return [Line(points, tones.warn, 2.4)]


def figures_of(
    draft: Draft, row: DraftedCircuit, width: float, middle: float, tones: Tones
) -> list[Primitive]:
    """Return the figures of a row, right-aligned in their columns, and its margin bar."""
    base = middle + 4
    wide = width >= NARROW_BELOW
    x = width - figures_width(width)
    severity, title = findings_of(draft, row.id)
    words_x = x + 262
    back = 0 if wide else 46  # the loop column's room
    if row.sized is None:
        return [
            *mark(x + 16, middle, "error", tones),
            Text(x + 28, base, "current unknown, not sized", 12, tones.alarm, True),
        ]
    s = row.sized
    over = s.drop_percent > s.drop_limit_percent
    used = min(1.0, s.drop_percent / s.drop_limit_percent)
    bar_x, bar_w = x + 204 - back, 48
    units = draft.aboard.profile.units
    length = length_text(s.loop_length_m, units).split(" ")[0]
    items: list[Primitive] = [
        Text(x + 38, base, figure(s.current_a), 12, tones.ink, False, "end"),
        Text(x + 84, base, length if wide else "", 12, tones.ink, False, "end"),
        Text(x + 148 - back, base, str(s.gauge.value), 12, tones.ink, True, "end"),
        Text(x + 194 - back, base, f"{s.drop_percent:.1f} %", 12,
             tones.alarm if over else tones.ink, over, "end"),
        Rect(bar_x, middle - 3, bar_w, 6, "", tones.rule, 1.0, 3),
        Rect(bar_x, middle - 3, max(3.0, bar_w * used), 6, tones.alarm if over else tones.bar,
             "", 0, 3),
        Line(((bar_x + bar_w, middle - 9), (bar_x + bar_w, middle + 9)), tones.ink, 1.2),
    ]  # fmt: skip
    if s.gauge.override or (s.protection and s.protection.override):
        at = x + 144 - back - text_width(str(s.gauge.value), 12, bold=True)
        items.append(Text(at, base + 2, "*", 14, tones.focus, True, "end"))
    if not wide:
        return items + (mark(width - 16, middle, severity, tones) if severity else [])
    if severity:
        items += mark(words_x + 5, middle, severity, tones)
        colour = tones.alarm if severity == "error" else tones.warn
        text = fitted(title, FIGURES_W - 262 - 24, 11)
        items.append(Text(words_x + 16, base, text, 11, colour))
    else:
        governed = s.gauge.governed_by
        if governed == "drop":
            governed = f"drop {s.drop_limit_percent:g} %"
        items.append(Text(words_x, base, governed, 11, tones.quiet))
    return items


def names_of(
    draft: Draft, row: DraftedCircuit, middle: float, tones: Tones
) -> tuple[Primitive, ...]:
    """Return a row's name, id, colour letters and what switches it."""
    letters = str(row.colours.positive.value)
    under = fitted(_subtitle(draft, row), NAMES_W - 106, 11)
    return (
        Text(14, middle - 4, fitted(row.planned.label, NAMES_W - 22, 12.5, bold=True), 12.5,
             tones.ink, True),
        Text(14, middle + 12, row.id, 11, tones.quiet),
        Text(46, middle + 12, letters, 11, tones.ink),
        Text(92, middle + 12, under, 11, tones.quiet),
    )  # fmt: skip
