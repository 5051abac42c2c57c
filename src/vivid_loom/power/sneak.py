"""The sneak proof: over every combination of states, that nothing runs which nobody asked for.

The supply's own switches are taken in every combination. What hangs on its bars falls into
groups of levers and loads that touch one another nowhere else: as long as no group joins two
bars, each can be tried by itself, and the product of all of them needs no trying.
"""

from collections import defaultdict
from collections.abc import Callable, Iterator, Mapping, Sequence
from itertools import product
from math import prod
from typing import Final, Literal, NamedTuple

from vivid_loom.netlist import Actuator, Contact, NetList, Sets, TerminalId, moved_by

__all__ = ["Proof", "Sneak", "SneakKind", "prove"]

MOST_STATES: Final = 1 << 13  # of one group; a larger one is said to be undecided
MOST_SETTLINGS: Final = 8
MOST_KEPT: Final = 40
SneakKind = Literal["joined", "short", "series", "unasked", "tie"]
States = Mapping[str, str]


class Sneak(NamedTuple):
    """Something that nobody asked for, and the fewest levers that bring it about.

    Attributes:
        what: terminals that are joined, or elements that current passes; for a tie the full
            battery, the flat one and the wire between them.
    """

    kind: SneakKind
    states: States
    what: tuple[str, ...]


class Proof(NamedTuple):
    """What was shown.

    Attributes:
        combinations: of every lever with every other; ``examined`` of them stand for all.
        groups: of levers that were tried by themselves; ``largest`` the states of the largest.
        undecided: levers of groups too large to try.
    """

    combinations: int
    examined: int
    groups: int
    largest: int
    sneaks: tuple[Sneak, ...]
    undecided: tuple[tuple[str, ...], ...]

    @property
    def holds(self) -> bool:
        """Whether nothing was found and nothing was left untried."""
        return not self.sneaks and not self.undecided


class _Lever(NamedTuple):
    actuator: Actuator
    contacts: tuple[tuple[int, int, tuple[str, ...]], ...]


class _Load(NamedTuple):
    id: str
    plus: int
    minus: int


class _Group(NamedTuple):
    """Levers and loads that touch nothing else but bars.

    Attributes:
        hand, coils: levers that a hand moves, and those that a coil does.
    """

    hand: tuple[_Lever, ...]
    coils: tuple[_Lever, ...]
    loads: tuple[_Load, ...]


class _Bars(NamedTuple):
    """The bars in one combination of the supply's states.

    Attributes:
        live: those that a source's plus reaches; ``home`` what is a source's minus.
        same: by bar or minus, the one it is joined with.
    """

    states: States
    live: frozenset[int]
    home: frozenset[int]
    same: Mapping[int, int]
    size: int


class _Boat:
    """A net list folded into what never moves, its levers sorted into supply and groups."""

    def __init__(self, net: NetList, supply: Sequence[str], sources: Sequence[str]) -> None:
        self.net, self._sources = net, frozenset(sources)
        self.size = len(net.terminals)
        self.node = self._folded()
        by_actuator: dict[str, list[Contact]] = defaultdict(list)
        for contact in net.contacts:
            if contact.actuator and not contact.actuator.endswith(" mating"):
                by_actuator[contact.actuator].append(contact)
        actuators = net.actuators_by_id
        self.levers = {
            name: _Lever(
                actuators[name],
                tuple((self.at(c.ends[0]), self.at(c.ends[1]), c.closed_in) for c in contacts),
            )
            for name, contacts in by_actuator.items()
        }
        self.loads = tuple(
            _Load(e.id, self.at(e.plus), self.at(e.minus))
            for e in net.elements
            if e.law != "source"
        )
        self.supply = [self.levers[name] for name in supply if name in self.levers]
        self._feed_coils()
        supply_now = {lever.actuator.id for lever in self.supply}
        self.home = frozenset(self.at(e.minus) for e in net.elements if e.law == "source")
        plus = {self.at(e.plus) for e in net.elements if e.law == "source"}
        ends = {end for lever in self.supply for a, b, _ in lever.contacts for end in (a, b)}
        self.bars = frozenset((plus | ends) - self.home)
        self.groups = self._grouped([v for k, v in self.levers.items() if k not in supply_now])

    def at(self, terminal: TerminalId) -> int:
        return self.node[terminal]

    def _folded(self) -> dict[TerminalId, int]:
        index = {t.id: i for i, t in enumerate(self.net.terminals)}
        sets = Sets(len(index))
        for conductor in self.net.conductors:
            sets.join(index[conductor.ends[0]], index[conductor.ends[1]])
        for contact in self.net.contacts:
            if not contact.actuator or contact.actuator.endswith(" mating"):
                sets.join(index[contact.ends[0]], index[contact.ends[1]])
        return {name: sets.find(i) for name, i in index.items()}

    def _feed_coils(self) -> None:
        """Count levers that feed the coils of supply relays to the supply: a key, for one."""
        while True:
            known = {lever.actuator.id for lever in self.supply}
            coils = {lever.actuator.coil for lever in self.supply if lever.actuator.coil}
            nodes = {load.plus for load in self.loads if load.id in coils}
            more = [
                lever
                for name, lever in self.levers.items()
                if name not in known
                and any(end in nodes for a, b, _ in lever.contacts for end in (a, b))
            ]
            if not more:
                return
            self.supply += more

    def _grouped(self, levers: Sequence[_Lever]) -> list[_Group]:
        """Return levers and loads by what they touch besides bars and minus."""
        sets, edge = Sets(self.size), self.bars | self.home
        for lever in levers:
            ends = [e for a, b, _ in lever.contacts for e in (a, b) if e not in edge]
            for end in ends:
                sets.join(ends[0], end)
            coil = next((x for x in self.loads if x.id == lever.actuator.coil), None)
            if coil is not None and ends:
                sets.join(ends[0], coil.plus if coil.plus not in edge else ends[0])
        for load in self.loads:
            if load.plus not in edge and load.minus not in edge:
                sets.join(load.plus, load.minus)
        mine: dict[int, tuple[list[_Lever], list[_Load]]] = defaultdict(lambda: ([], []))
        for lever in levers:
            free = next((e for a, b, _ in lever.contacts for e in (a, b) if e not in edge), None)
            key = -1 - len(mine) if free is None else sets.find(free)
            mine[key][0].append(lever)
        for load in self.loads:
            free = next((e for e in (load.plus, load.minus) if e not in edge), None)
            mine[-1_000_000 if free is None else sets.find(free)][1].append(load)
        return [
            _Group(
                tuple(lever for lever in found if not lever.actuator.coil),
                tuple(lever for lever in found if lever.actuator.coil),
                tuple(loads),
            )
            for found, loads in mine.values()
        ]

    def supplies(self) -> Iterator[_Bars]:
        """Yield the bars in every combination of the supply's states, fewest moved first."""
        hand = [lever for lever in self.supply if not lever.actuator.coil]
        coils = [lever for lever in self.supply if lever.actuator.coil]
        for states in _combinations(hand):
            yield self._settled_bars(states, hand, coils)

    def _settled_bars(
        self, states: States, hand: Sequence[_Lever], coils: Sequence[_Lever]
    ) -> _Bars:
        whole = dict(states)
        bars = self._bars(whole, (*hand, *coils))
        for _ in range(MOST_SETTLINGS):
            on = self._coil_on(bars)
            pulled = {v.actuator.id: _pulled(v, whole, on) for v in coils}
            if all(whole.get(k, "") == v for k, v in pulled.items()):
                break
            whole |= pulled
            bars = self._bars(whole, (*hand, *coils))
        return bars

    def _coil_on(self, bars: _Bars) -> Callable[[str], bool]:
        loads = {load.id: load for load in self.loads}

        def on(name: str) -> bool:
            load = loads.get(name)
            if load is None:
                return False
            live = {bars.same.get(b, b) for b in bars.live}
            return bars.same.get(load.plus, load.plus) in live and load.minus in self.home

        return on

    def _bars(self, states: States, levers: Sequence[_Lever]) -> _Bars:
        sets = Sets(self.size)
        for lever in levers:
            state = states.get(lever.actuator.id, lever.actuator.states[0])
            for a, b, closed_in in lever.contacts:
                if state in closed_in:
                    sets.join(a, b)
        live = {sets.find(self.at(e.plus)) for e in self.net.elements if e.id in self._sources}
        inputs = {e.part: e for e in self.net.elements if e.law == "converter"}
        for element in self.net.elements:
            takes = inputs.get(element.part)
            if element.law == "source" and takes and sets.find(self.at(takes.plus)) in live:
                live.add(sets.find(self.at(element.plus)))
        same = {node: sets.find(node) for node in self.bars | self.home}
        return _Bars(
            states,
            frozenset(bar for bar in self.bars if same[bar] in live),
            self.home,
            same,
            self.size,
        )


def _combinations(levers: Sequence[_Lever]) -> Iterator[dict[str, str]]:
    """Yield every combination of states, those with the fewest levers moved first."""
    names = [lever.actuator.id for lever in levers]
    rests = [lever.actuator.states[0] for lever in levers]
    whole = product(*(lever.actuator.states for lever in levers))

    def moved(states: Sequence[str]) -> int:
        return sum(now != rest for now, rest in zip(states, rests, strict=True))

    for states in sorted(whole, key=moved):
        yield {n: s for n, s, r in zip(names, states, rests, strict=True) if s != r}


def _pulled(lever: _Lever, now: States, on: Callable[[str], bool]) -> str:
    """Return what a coil makes of its lever."""
    load = lever.actuator.coil.rpartition(" ")[0]
    states = lever.actuator.states
    live = {state for state in states[1:] if on(f"{load} {state}")}
    if on(f"{load} plus"):
        live.add(states[1])
    return moved_by(states, now.get(lever.actuator.id, states[0]), live)


class _Tried(NamedTuple):
    """A group in one state: where its nodes are, and whose plus and minus they have."""

    find: Callable[[int], int]
    live: frozenset[int]
    dead: frozenset[int]
    home: frozenset[int]
    size: int


def _tried(group: _Group, bars: _Bars, states: States) -> _Tried:
    sets = Sets(bars.size)
    for bar, other in bars.same.items():
        sets.join(bar, other)
    for lever in (*group.hand, *group.coils):
        state = states.get(lever.actuator.id, lever.actuator.states[0])
        for a, b, closed_in in lever.contacts:
            if state in closed_in:
                sets.join(a, b)
    live = frozenset(sets.find(bar) for bar in bars.live)
    home = frozenset(sets.find(node) for node in bars.home)
    return _Tried(
        sets.find,
        live,
        frozenset(sets.find(bar) for bar in bars.same) - live - home,
        home,
        bars.size,
    )


def _settled(group: _Group, bars: _Bars, hand: States) -> tuple[States, _Tried]:
    """Return a group's states once its coils have pulled."""
    states = dict(hand)
    tried = _tried(group, bars, states)
    for _ in range(MOST_SETTLINGS if group.coils else 0):
        on = {
            load.id
            for load in group.loads
            if tried.find(load.plus) in tried.live and tried.find(load.minus) in tried.home
        }
        pulled = {v.actuator.id: _pulled(v, states, on.__contains__) for v in group.coils}
        if all(states.get(k, "") == v for k, v in pulled.items()):
            break
        states |= pulled
        tried = _tried(group, bars, states)
    return states, tried


def _wrong(
    group: _Group, bars: _Bars, states: States, tried: _Tried, meant: Callable[[str, States], bool]
) -> Iterator[tuple[SneakKind, tuple[str, ...]]]:
    """Yield what nobody asked for in one state."""
    find = tried.find
    touched = {e for v in (*group.hand, *group.coils) for a, b, _ in v.contacts for e in (a, b)}
    grounded = {bars.same[node] for node in bars.home}
    mine = [b for b in bars.same if b in touched and bars.same[b] not in grounded]
    if tried.live & tried.home:
        yield "short", ()
        return
    roots = {bars.same[bar] for bar in mine}
    ends = {find(root) for root in roots}
    if len(ends) < len(roots) or ends & tried.home:
        yield "joined", tuple(sorted(v.actuator.id for v in (*group.hand, *group.coils)))
        return
    series = _series(group, tried)
    if series:
        yield "series", series
    whole = {**bars.states, **states}
    for load in group.loads:
        on = find(load.plus) in tried.live and find(load.minus) in tried.home
        if on and not meant(load.id, whole):
            yield "unasked", (load.id,)


def _series(group: _Group, tried: _Tried) -> tuple[str, ...]:
    """Return the loads that current passes one after another, or on its way to a dead bar."""
    find, known = tried.find, tried.live | tried.dead | tried.home
    sets, found = Sets(tried.size), []
    ends = [(load.id, find(load.plus), find(load.minus)) for load in group.loads]
    for name, a, b in ends:
        if a not in known and b not in known:
            sets.join(a, b)
        if (a in tried.live and b in tried.dead) or (b in tried.live and a in tried.dead):
            found.append(name)
    hot: set[int] = set()
    sink: set[int] = set()
    for _, a, b in ends:
        for one, other in ((a, b), (b, a)):
            if one in known and other not in known:
                (hot if one in tried.live else sink).add(sets.find(other))
    through = hot & sink
    found += [
        name
        for name, a, b in ends
        if any(end not in known and sets.find(end) in through for end in (a, b)) and a != b
    ]
    return tuple(sorted(found))


def prove(
    net: NetList,
    supply: Sequence[str],
    sources: Sequence[str],
    meant: Callable[[str, States], bool],
) -> Proof:
    """Try every combination of states, as far as one depends on another.

    Args:
        supply: ids of the levers that the supply consists of.
        sources: ids of the elements that always give: the batteries.
        meant: tells whether an element may run in these states.
    """
    boat = _Boat(net, supply, sources)
    every = [lever.actuator for lever in boat.levers.values() if not lever.actuator.coil]
    examined, largest, found = 0, 0, dict[tuple[SneakKind, tuple[str, ...]], Sneak]()
    undecided: list[tuple[str, ...]] = []
    by_hand = [g for g in boat.groups if g.hand or g.coils]
    for group in boat.groups:
        count = prod(len(lever.actuator.states) for lever in group.hand)
        largest = max(largest, count)
        if count > MOST_STATES:
            undecided.append(tuple(lever.actuator.id for lever in group.hand))
    for bars in boat.supplies():
        for group in boat.groups:
            if prod(len(lever.actuator.states) for lever in group.hand) > MOST_STATES:
                continue
            for hand in _combinations(group.hand):
                examined += 1
                states, tried = _settled(group, bars, hand)
                for kind, what in _wrong(group, bars, states, tried, meant):
                    if len(found) < MOST_KEPT:
                        whole = {**bars.states, **states}
                        found.setdefault((kind, what), Sneak(kind, whole, what))
    return Proof(
        prod(len(actuator.states) for actuator in every),
        examined,
        len(by_hand),
        largest,
        tuple(found.values()),
        tuple(undecided),
    )
