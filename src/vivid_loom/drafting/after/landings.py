"""The numbers that a draft's sheets show: what an issued revision holds fast."""

from collections.abc import Iterator

from vivid_loom.drafting.drafted import Draft, DraftedCircuit
from vivid_loom.order import Landing

__all__ = ["landings_of"]


def _homes(row: DraftedCircuit) -> Iterator[Landing]:
    """Yield the screws or studs that a circuit and the lamps of its switches come home to."""
    for leg in row.planned.plan.legs:
        if leg.live != "return" or leg.end.kind not in ("screw", "stud"):
            continue
        number = int(leg.end.name.split()[-1])
        if not number:  # its bus is full, which a rule says: it has no screw yet
            continue
        if leg.lights_lamp:
            wire = f"{row.id}-{leg.id}"
            yield Landing(kind="lamp screw", subject=wire, place=leg.end.place, number=number)
        elif leg.end.place == row.planned.bus:
            yield Landing(kind="screw", subject=row.id, place=leg.end.place, number=number)


def _landings(draft: Draft) -> Iterator[Landing]:
    for row in draft.rows:
        if row.planned.way:
            yield Landing(
                kind="way", subject=row.id, place=row.planned.source, number=row.planned.way
            )
    for row in draft.circuits:
        yield from dict.fromkeys(_homes(row))
    for strip in draft.allocation.strips:
        rated_a = round(strip.rated_a)
        yield Landing(kind="strip", subject=strip.id, place=strip.station, number=rated_a)
        for pole in strip.used:
            yield Landing(kind="pole", subject=pole.circuit, place=strip.id, number=pole.number)
    for plug in draft.assembled.plugs:
        yield Landing(kind="plug", subject=plug.id, place=plug.station, number=plug.contact)
        yield Landing(kind="shell", subject=plug.id, place=plug.key, number=plug.ways)
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
