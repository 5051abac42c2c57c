"""Which circuits stand in which order: filter, sort and group. No Qt in here."""

from collections.abc import Callable
from typing import NamedTuple

from vivid_loom.drafting import Draft, DraftedCircuit

__all__ = ["GROUPS", "GROUP_H", "ROW_H", "SORTS", "Shown", "arrange"]

GROUP_H = 24
ROW_H = 41

Key = Callable[[DraftedCircuit], tuple[float, str] | tuple[str, str]]


def _spent(row: DraftedCircuit) -> float:
    return row.sized.drop_percent / row.sized.drop_limit_percent if row.sized else 9.0


GROUPS = ("source", "harness", "helm", "none")
SORTS: dict[str, Key] = {
    "circuit": lambda row: (0.0, row.id),
    "name": lambda row: (row.planned.label.lower(), row.id),
    "current": lambda row: (-(row.sized.current_a if row.sized else 1e9), row.id),
    "least margin": lambda row: (-_spent(row), row.id),
    "copper": lambda row: (-(max((w.cut_mm for w in row.wires), default=0.0)), row.id),
}


class Shown(NamedTuple):
    """A row or a group heading at its height; ``circuit`` is None for a heading."""

    top: float
    height: float
    heading: str
    circuit: DraftedCircuit | None


def _group_of(draft: Draft, row: DraftedCircuit, group: str) -> str:
    if group == "none":
        return ""
    if row.planned.feeds:
        return "Feeders"
    if group == "source":
        return draft.aboard.boat.places_by_id[row.planned.source].name
    if group == "helm":
        return "On the helm panel" if row.planned.position else "Not on the helm panel"
    harnesses = sorted({wire.harness for wire in row.wires}) or ["not sized"]
    return " + ".join(harnesses).capitalize()


def arrange(draft: Draft, group: str, sort: str, search: str) -> tuple[Shown, ...]:
    """Filter, sort and group the rows; heights from 0 down."""
    words = search.lower().split()

    def matches(row: DraftedCircuit) -> bool:
        gauge = str(row.sized.gauge.value) if row.sized else "unsized"
        codes = " ".join(f.code for f in draft.findings if row.id in f.subjects)
        text = f"{row.id} {row.planned.label} {gauge} {row.planned.source} {codes}".lower()
        return all(word in text for word in words)

    rows = sorted(filter(matches, draft.rows) if words else draft.rows, key=SORTS[sort])
    if group != "none":
        rows.sort(key=lambda row: (not row.planned.feeds, _group_of(draft, row, group)))
    shown: list[Shown] = []
    y, last = 0.0, ""
    for row in rows:
        heading = _group_of(draft, row, group)
        if heading != last:
            shown.append(Shown(y, GROUP_H, heading, None))
            y += GROUP_H
            last = heading
        shown.append(Shown(y, ROW_H, "", row))
        y += ROW_H
    return tuple(shown)
