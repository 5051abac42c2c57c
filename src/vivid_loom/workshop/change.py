"""How a built boat is changed: what is freed, moved, drawn out, capped and drawn in, in order."""

from collections.abc import Iterator, Sequence
from typing import Final, Literal, NamedTuple

from vivid_loom.drafting import Draft
from vivid_loom.drafting.after.links import LinkFate, link_fates
from vivid_loom.drafting.beside.existing import Reuse
from vivid_loom.drafting.beside.lying import as_built_beside
from vivid_loom.drafting.making.wire import Wire
from vivid_loom.order import BuiltBeside, BuiltWire

__all__ = ["ChangeKind", "ChangeStep", "change_steps"]

ChangeKind = Literal[
    "dead",
    "free",
    "split",
    "move",
    "relabel",
    "draw out",
    "cap",
    "draw in",
    "again",
    "look",
    "device",
]
ORDER: Final[tuple[ChangeKind, ...]] = (
    "look",
    "dead",
    "free",
    "split",
    "draw out",
    "cap",
    "move",
    "relabel",
    "draw in",
    "again",
    "device",
)


class ChangeStep(NamedTuple):
    """One thing to do aboard.

    Attributes:
        wire: a drafted wire or a conductor that lies there; '' for a circuit made dead.
        ends: where it starts and ends, as 'HFB way 3'.
        about: for a lead that is freed the end that stays where it is, '' for none; for a moved one
            the conductor it is made of; for a joint made anew whatever is freed from it or joins
            it; for what is looked at what nobody knows; for a factory link that is cut the switches
            that go dark by it, and what feeds them from then on; for a device what goes in, and
            what comes out for it.
    """

    kind: ChangeKind
    wire: str
    circuit: str
    gauge: str
    colour: str
    ends: tuple[str, str]
    length_mm: float
    about: str = ""


def _ends(wire: Wire) -> tuple[str, str]:
    return wire.start.words, wire.end.words


def _of_built(kind: ChangeKind, lies: BuiltWire, about: str = "") -> ChangeStep:
    ends = (lies.start, lies.end)
    return ChangeStep(
        kind, lies.id, lies.circuit, lies.gauge, lies.colour, ends, lies.length_mm, about
    )


def _of_wire(kind: ChangeKind, wire: Wire, about: str = "") -> ChangeStep:
    gauge, colour = str(wire.gauge), str(wire.colour)
    return ChangeStep(kind, wire.id, wire.circuit, gauge, colour, _ends(wire), wire.cut_mm, about)


def _beside(draft: Draft, new: frozenset[str]) -> Iterator[ChangeStep]:
    """Yield what is done about bonds and spares, where somebody has recorded what lies there."""
    found = draft.beside
    if not found.is_known:
        return
    for one in found.comes_off:
        if one.kind == "bond":
            yield _of_beside("free", one)
        yield _of_beside(_way_out(draft, one, new), one)
    for made in as_built_beside(found.bonds, found.spares, draft.aboard.boat.bonded_at):
        yield _of_beside("draw in", made)


def _of_beside(kind: ChangeKind, one: BuiltBeside) -> ChangeStep:
    ends = (one.start, one.end)
    return ChangeStep(kind, one.id, "", one.gauge, one.colour, ends, one.length_mm)


def _way_out(draft: Draft, lies: BuiltWire | BuiltBeside, new: frozenset[str]) -> ChangeKind:
    """Tell whether a conductor can come out: from a bundle that stays it is cut and capped."""
    runs = draft.aboard.boat.runs_by_id
    for name in lies.runs:
        stays = [o for o in draft.occupants.get(name, ()) if o.wire not in new]
        if stays and (name not in runs or runs[name].enclosure != "conduit"):
            return "cap"
    return "draw out"


def _again(draft: Draft, new: list[Wire]) -> Iterator[ChangeStep]:
    """Yield wires that stay but whose joint is opened, since something leaves it or joins it."""
    opened: dict[str, str] = {}
    found = draft.reuse
    moved = (wire for wire in new if wire.id in found.moved)
    ends = ((end, wire) for wire in moved for end in (wire.start, wire.end))
    stays = {end.words for end, wire in ends if end not in found.new_ends(wire)}
    for lies in found.freed:
        opened |= {end: lies.id for end in (lies.start, lies.end) if end not in stays}
    for wire in new:
        opened |= {end.words: wire.id for end in found.new_ends(wire) if end.is_joint}
    for wire in draft.assembled.wires:
        if wire.id not in draft.reuse.kept:
            continue
        for end in (wire.start, wire.end):
            if end.is_joint and end.words in opened:
                yield _of_wire("again", wire, f"{end.words}, with {opened[end.words]}")


def _split(draft: Draft) -> Iterator[ChangeStep]:
    """Yield the factory links that are cut, and what hangs behind each of them.

    A link whose tab has a feed of its own already was cut when that was drawn in.
    """
    kept = draft.reuse.kept
    cut = [fate for fate in link_fates(draft) if not fate.stays]
    for fate in cut:
        feed = fate.end.feed
        if feed is not None and feed.id in kept:
            continue
        ends = (fate.start.words, fate.end.words)
        told = "; ".join(_behind(cut, fate)) or "nothing"
        link = fate.link
        yield ChangeStep(
            "split", "", "", link.gauge, "", ends, link.length_mm, f"{fate.panel.name}: {told}"
        )


def _behind(cut: Sequence[LinkFate], first: LinkFate) -> Iterator[str]:
    """Yield the switches that a link and those after it in the chain feed."""
    waiting, seen = [first.end], {first.start.words}
    while waiting:
        end = waiting.pop(0)
        if end.words in seen:
            continue
        seen.add(end.words)
        if end.switch:
            on = f"until {end.feed.id} is landed" if end.feed else "for good"
            yield f"{end.switch.request.legend} {on}"
        waiting += [fate.end for fate in cut if fate.start.words == end.words]


def _devices(draft: Draft) -> Iterator[ChangeStep]:
    """Yield the devices that are others than those in the boat, as far as these are known."""
    for row in draft.rows:
        built = draft.aboard.order.built_as(row.id)
        if built is None or row.device == built.device:
            continue
        words = (
            f"{family} {rating_a:g} A" if family else "none"
            for family, rating_a in (row.device, built.device)
        )
        yield ChangeStep("device", "", row.id, "", "", ("", ""), 0.0, " for ".join(words))


def change_steps(draft: Draft) -> tuple[ChangeStep, ...]:
    """Return how a built boat becomes what is drafted, in the order of work.

    What is not known is looked at first; circuits that are touched are made dead; factory links are
    cut; leads are freed, drawn out or capped; freed ones that reach their new place are moved; new
    ones drawn in; joints that were opened are made anew; devices changed. () for a boat that is not
    built.
    """
    if not draft.aboard.order.built:
        return ()
    found = draft.reuse
    new = [wire for wire in draft.assembled.wires if wire.id not in found.kept]
    names = frozenset(wire.id for wire in new)
    names |= {bond.id for bond in draft.beside.bonds} | {one.id for one in draft.beside.spares}
    again, devices = tuple(_again(draft, new)), tuple(_devices(draft))
    touched = (
        {step.circuit for step in (*again, *devices)}
        | {w.circuit for w in new}
        | {b.circuit for b in found.freed}
    )
    moved = {wire.id: wire for wire in new if wire.id in found.moved}
    landed = {name: wire for name, wire in moved.items() if found.new_ends(wire)}
    steps = [
        *(_of_built("look", lies, _unknown(lies)) for lies in found.unknown),
        *(ChangeStep("dead", "", c, "", "", ("", ""), 0.0) for c in sorted(touched)),
        *(_of_built("free", lies) for lies in found.comes_off),
        *(_of_built("free", found.moved[w], _stays(wire, found)) for w, wire in landed.items()),
        *_split(draft),
        *(_of_built(_way_out(draft, lies, names), lies) for lies in found.comes_off),
        *(
            _of_wire("move" if w in landed else "relabel", wire, found.moved[w].id)
            for w, wire in moved.items()
        ),
        *(_of_wire("draw in", wire) for wire in new if wire.id not in moved),
        *_beside(draft, names),
        *again,
        *devices,
    ]
    return tuple(sorted(steps, key=lambda step: ORDER.index(step.kind)))


def _stays(wire: Wire, found: Reuse) -> str:
    """Return the end of a moved lead that stays where it is; '' where both are made anew."""
    new = found.new_ends(wire)
    return next((end.words for end in (wire.start, wire.end) if end not in new), "")


def _unknown(lies: BuiltWire) -> str:
    """Say what nobody knows of a conductor."""
    told = {"gauge": lies.gauge, "colour": lies.colour, "length": lies.length_mm, "way": lies.runs}
    return ", ".join(name for name, value in told.items() if not value)
