"""What a draft joins for good, in words: drafts that say the same do the same at every press."""

from collections import defaultdict
from collections.abc import Iterable, Iterator, Mapping
from functools import partial
from itertools import chain

from vivid_loom.boat import Load
from vivid_loom.drafting.drafted import Draft, DraftedCircuit
from vivid_loom.drafting.kept import Plain
from vivid_loom.drafting.patterns import Leg, Plan, Point
from vivid_loom.netlist import Sets

__all__ = ["joined"]


def joined(draft: Draft) -> Plain:
    """Return everything that decides what each press of a draft's switches does.

    Gauges, lengths and stations do not, nor which way, screw or pole of its place a conductor
    lands on, which of several buses that are one, or whether loads hang on a chain or on a star.
    """
    aboard = draft.aboard
    named = tuple(_homes(draft)), tuple(strip.id for strip in draft.allocation.strips)
    homes, strips = shared = aboard.kept.same("homes and strips", "", named)
    told = (
        aboard.kept.take(
            "joined",
            row.id,
            (row.planned.plan, shared),
            partial(_told, row.planned.plan, dict(homes), strips),
        )
        for row in draft.circuits
    )
    return Plain(
        (
            (aboard.boat, aboard.circuits, tuple(told)),
            tuple(_begins(row) for row in draft.rows),
            tuple(_felt(load) for load in aboard.loads.values()),
            tuple((s.request, s.part, s.uses, s.lamps) for s in draft.switches),
        )
    )


def _begins(row: DraftedCircuit) -> tuple[object, ...]:
    """Return where a row begins, whether in a holder of its own, and whether it is cut at all."""
    planned, start = row.planned, row.planned.plan.start
    where = (planned.source, start.place, start.kind, planned.stub_m > 0)
    return (planned.id, *where, row.sized is None)


def _felt(load: Load) -> tuple[object, ...]:
    """Return what of a load a press can tell."""
    return (load.id, load.leads, load.contact_a is None, load.lit_in)


def _homes(draft: Draft) -> Iterator[tuple[str, str]]:
    """Yield the buses and minus posts, each with one that stands for all it is joined to."""
    returns = [leg for f in draft.feeders for leg in f.planned.plan.legs]
    pairs = [(leg.start.place, leg.end.place) for leg in returns if leg.live == "return"]
    alone = [(bus.id, bus.id) for bus in draft.aboard.boat.return_buses]
    for group in _groups((*pairs, *alone)):
        yield from ((place, min(group)) for place in sorted(group))


def _told(plan: Plan, homes: Mapping[str, str], strips: Iterable[str]) -> str:
    """Return the terminals that a circuit's conductors make one, group by group."""

    def node(leg: Leg, point: Point) -> str:
        if point == plan.start and point.kind in ("way", "stud"):
            return "start"
        if leg.live == "return" and point.place in homes:
            return homes[point.place]
        name = point.name.rpartition(" ")[0] if point.place in strips else point.name
        return f"{point.place} {name}"

    groups = _groups((node(leg, leg.start), node(leg, leg.end)) for leg in plan.legs)
    seen = ([n for n in group if n.partition(" pole ")[0] not in strips] for group in groups)
    return "; ".join(sorted(", ".join(sorted(names)) for names in seen))


def _groups(pairs: Iterable[tuple[str, str]]) -> list[set[str]]:
    """Return the names that pairs make one."""
    both = tuple(pairs)
    at = {name: i for i, name in enumerate(dict.fromkeys(chain.from_iterable(both)))}
    sets = Sets(len(at))
    for a, b in both:
        sets.join(at[a], at[b])
    found: dict[int, set[str]] = defaultdict(set)
    for name, i in at.items():
        found[sets.find(i)].add(name)
    return list(found.values())
