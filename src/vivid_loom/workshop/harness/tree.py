"""An assembly as a tree of branches with true lengths, and what breaks out where."""

from collections import Counter, defaultdict, deque
from collections.abc import Collection, Iterable, Iterator
from typing import NamedTuple

from vivid_loom.boat import Assembly, Run
from vivid_loom.drafting import Draft
from vivid_loom.drafting.making.wire import End, Wire
from vivid_loom.quantities import in_reading_order
from vivid_loom.workshop.bundles import Section, section

__all__ = [
    "Branch",
    "Breakout",
    "HarnessTree",
    "WireEnd",
    "harness_trees",
    "is_with_panel",
    "tree_sections",
]


class WireEnd(NamedTuple):
    """One end of a wire, with the wire it belongs to."""

    wire: Wire
    end: End


class Breakout(NamedTuple):
    """Ends that leave the loom at a station.

    Attributes:
        pegs: (mm from the station to where terminals begin, the ends there by place and point):
            tail, and service loop at devices; 0 for leads cut to their exact length.
    """

    station: str
    pegs: tuple[tuple[float, tuple[WireEnd, ...]], ...]

    @property
    def length_mm(self) -> float:
        """How far its longest end reaches."""
        return self.pegs[-1][0]

    @property
    def ends(self) -> tuple[WireEnd, ...]:
        """All its ends, the nearest peg first."""
        return tuple(end for _, ends in self.pegs for end in ends)


class Branch(NamedTuple):
    """A run with the wires of this harness in it.

    Attributes:
        near, far: its stations, seen from the datum.
        start_mm: along the branches from the datum to ``near``.
        length_mm: of wire, the slack of a moving joint included.
        wires: that lie in it.
        closes: another way to ``far`` is laid already; this one is drawn with an open end.
    """

    run: Run
    near: str
    far: str
    start_mm: float
    length_mm: float
    wires: tuple[str, ...]
    closes: bool = False

    @property
    def id(self) -> str:
        """The run's id."""
        return self.run.id


class HarnessTree(NamedTuple):
    """One harness, or a part of it that hangs together.

    Attributes:
        id: the assembly's, with a number where it falls into several.
        datum: the station that lengths are measured from.
        branches: each after the one it leaves.
    """

    id: str
    assembly: Assembly
    datum: str
    branches: tuple[Branch, ...]
    breakouts: tuple[Breakout, ...]
    wires: tuple[Wire, ...]

    @property
    def stations(self) -> tuple[str, ...]:
        """Every station it touches, the datum first."""
        far = (branch.far for branch in self.branches if not branch.closes)
        return (self.datum, *far)

    def distance_mm(self, station: str) -> float:
        """Return how far along the branches a station is from the datum.

        Raises:
            KeyError: none of its stations.
        """
        far = {b.far: b.start_mm + b.length_mm for b in self.branches if not b.closes}
        return {**far, self.datum: 0.0}[station]

    def free_end(self) -> str:
        """Return the station of its trunk's free end: the farthest from the datum."""
        return max(self.stations, key=self.distance_mm)


def is_with_panel(wire: Wire, switches: Collection[str]) -> bool:
    """Tell whether a wire joins switches of a panel: it is cut and built with the panel."""
    return wire.start.place in switches and wire.end.place in switches


def _tail_mm(end: End, wire: Wire, draft: Draft) -> float:
    profile = draft.aboard.profile
    if wire.exact:
        return 0.0
    loop = profile.service_loop_mm if end.kind == "lead" else 0.0
    return float(profile.tail_mm + loop)


def _breakouts(wires: Iterable[Wire], draft: Draft) -> tuple[Breakout, ...]:
    at: dict[str, dict[float, list[WireEnd]]] = defaultdict(lambda: defaultdict(list))
    for wire in wires:
        for end in (wire.start, wire.end):
            at[end.station][_tail_mm(end, wire, draft)].append(WireEnd(wire, end))

    def place(one: WireEnd) -> tuple[object, ...]:
        return (*map(in_reading_order, (one.end.place, one.end.point)), one.wire.id)

    return tuple(
        Breakout(
            station,
            tuple((mm, tuple(sorted(ends, key=place))) for mm, ends in sorted(pegs.items())),
        )
        for station, pegs in at.items()
    )


def _parts(runs: Iterable[Run], lone: Iterable[str]) -> Iterator[tuple[list[Run], set[str]]]:
    """Yield runs that hang together, with their stations; stations without a run by themselves."""
    beside: dict[str, list[Run]] = defaultdict(list)
    for run in runs:
        for end in run.ends:
            beside[end].append(run)
    left = dict.fromkeys([*beside, *lone])
    while left:
        reached, waiting = set[str](), [next(iter(left))]
        inside: dict[str, Run] = {}
        while waiting:
            at = waiting.pop()
            if at in reached:
                continue
            reached.add(at)
            for run in beside.get(at, ()):
                inside[run.id] = run
                waiting += run.ends
        for station in reached:
            left.pop(station, None)
        yield [*inside.values()], reached


def _datum(ends: Counter[str], stations: Iterable[str]) -> str:
    """Return where lengths are measured from: the station with the most ends, a panel as a rule."""
    return max(sorted(stations), key=lambda station: ends[station])


def _branches(
    datum: str, runs: list[Run], inside: dict[str, tuple[str, ...]]
) -> tuple[Branch, ...]:
    beside: dict[str, list[Run]] = defaultdict(list)
    for run in runs:
        for end in run.ends:
            beside[end].append(run)
    at_mm = {datum: 0.0}
    found: list[Branch] = []
    waiting, taken = deque([datum]), set[str]()
    while waiting:
        here = waiting.popleft()
        for run in sorted(beside[here], key=lambda r: (-len(inside[r.id]), r.id)):
            if run.id in taken:
                continue
            taken.add(run.id)
            first, last = run.ends
            far = last if here == first else first
            length_mm = run.wire_m * 1000
            closes = far in at_mm
            found.append(Branch(run, here, far, at_mm[here], length_mm, inside[run.id], closes))
            if not closes:
                at_mm[far] = at_mm[here] + length_mm
                waiting.append(far)
    return tuple(found)


def harness_trees(draft: Draft, assembly: Assembly) -> tuple[HarnessTree, ...]:
    """Return an assembly's harness as a tree; several where its runs do not hang together.

    What joins switches of one panel is left out: it is built with the panel.
    """
    switches = frozenset(switch.place for switch in draft.switches)
    wires = [
        wire
        for wire in draft.assembled.wires
        if wire.harness == assembly.id and not is_with_panel(wire, switches)
    ]
    inside: dict[str, list[str]] = defaultdict(list)
    for wire in wires:
        for run in wire.runs:
            inside[run].append(wire.id)
    known = {name: tuple(names) for name, names in inside.items()}
    by_id = draft.aboard.boat.runs_by_id
    ends = Counter(end.station for wire in wires for end in (wire.start, wire.end))
    parts = [*_parts([by_id[name] for name in known], ends)]
    found: list[HarnessTree] = []
    for number, (runs, stations) in enumerate(parts, 1):
        here = tuple(wire for wire in wires if wire.start.station in stations)
        datum = _datum(ends, stations)
        found.append(
            HarnessTree(
                f"{assembly.id}-{number}" if len(parts) > 1 else assembly.id,
                assembly,
                datum,
                _branches(datum, runs, known),
                _breakouts(here, draft),
                here,
            )
        )
    return tuple(found)


def tree_sections(draft: Draft, tree: HarnessTree) -> dict[str, Section]:
    """Return what each branch looks like cut across, by run: this harness's wires alone."""
    lies_here = {wire.id for wire in tree.wires} | {
        wire.cable.partition(".")[0] for wire in tree.wires
    }
    return {
        branch.id: section(
            draft,
            branch.run,
            tuple(o for o in draft.occupants[branch.id] if o.wire in lies_here),
        )
        for branch in tree.branches
    }
