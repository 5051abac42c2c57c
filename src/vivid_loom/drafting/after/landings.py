"""The numbers that a draft's sheets show: what an issued revision holds fast."""

from collections.abc import Iterator

from vivid_loom.drafting.drafted import Draft, DraftedCircuit
from vivid_loom.order import Landing

__all__ = ["landings_of"]


def _screw(row: DraftedCircuit) -> int:
    """Return the screw of its bus that a circuit comes home to; 0 for none."""
    for wire in row.wires:
        for end in (wire.start, wire.end):
            if end.place == row.planned.bus and end.point.startswith("screw "):
                return int(end.point.removeprefix("screw "))
    return 0


def _landings(draft: Draft) -> Iterator[Landing]:
    for row in draft.rows:
        if row.planned.way and not row.planned.signals:
            yield Landing(
                kind="way", subject=row.id, place=row.planned.source, number=row.planned.way
            )
        screw = _screw(row)
        if screw:
            yield Landing(kind="screw", subject=row.id, place=row.planned.bus, number=screw)
    for strip in draft.allocation.strips:
        for pole in strip.used:
            yield Landing(kind="pole", subject=pole.circuit, place=strip.id, number=pole.number)
    for plug in draft.assembled.plugs:
        for cavity in plug.cavities:
            yield Landing(
                kind="cavity", subject=cavity.wires[0], place=plug.id, number=cavity.number
            )
    for switch, position in sorted(draft.allocation.positions.items()):
        if position:
            yield Landing(kind="position", subject=switch, place="", number=position)


def landings_of(draft: Draft) -> tuple[Landing, ...]:
    """Return ways, screws, poles, cavities and positions behind the panels, by what has them."""
    return tuple(_landings(draft))
