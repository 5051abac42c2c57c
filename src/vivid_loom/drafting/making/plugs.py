"""Sealed plugs where harnesses meet: bodies fill up in circuit order, cavities by few crossings.

Two plugs whose halves can reach each other differ in shell, ways or key.
"""

import math
from collections import Counter, defaultdict
from collections.abc import Iterable, Sequence
from functools import partial
from itertools import count
from typing import NamedTuple

from vivid_loom.boat import Run, Station
from vivid_loom.drafting.making.cavities import Passing, Way, best_order, in_rows
from vivid_loom.drafting.places.numbers import Numbers
from vivid_loom.order import Landing, Profile
from vivid_loom.quantities import Gauge, computed, in_reading_order
from vivid_loom.standards import terminals

__all__ = ["Cavity", "CavityAsk", "Plug", "PlugBoard", "Reach"]

# generic families: ways per contact size; 8 and 4 in pairs, heavier alone (our choice)
_WAYS = {16: (2, 3, 4, 6, 8, 12), 12: (2, 4), 8: (2,), 4: (2,), 2: (1,), 0: (1,)}
_KEYS = "ABCD"


class Cavity(NamedTuple):
    """One way of a plug: the wire on the live side's harness and the one that goes on."""

    number: int
    circuit: str
    wires: tuple[str, str]


@computed
class Plug:
    """A mated pair of sealed plugs.

    Attributes:
        live, dead: harness that can be live when apart (sockets) and the other (pins).
        key: keying letter; no two plugs of one shell within reach share it while letters last.
    """

    id: str
    station: str
    live: str
    dead: str
    contact: int
    contact_max_a: float
    ways: int
    key: str
    cavities: tuple[Cavity, ...]
    safety: tuple[str, ...] = ()


class CavityAsk(NamedTuple):
    """What a wire that passes a plug asks for.

    Attributes:
        live, dead: harness on the side that can be live when apart, and on the other.
        safety: circuits of one word never share a plug; '' for one that may.
        wires: what meets in the cavity, the one from the source first.
        ways: stations that they pass from the plug on, on the live side and on the dead.
    """

    station: str
    live: str
    dead: str
    contact: terminals.Contact
    safety: str
    circuit: str
    wires: tuple[str, str]
    ways: tuple[Way, Way] = ((), ())


_Kind = tuple[str, str, str, int]


def _kind(ask: CavityAsk) -> _Kind:
    return (ask.station, ask.live, ask.dead, ask.contact.size)


class _Body:
    def __init__(self, name: str, station: str, live: str, dead: str, c: terminals.Contact) -> None:
        self.id, self.station, self.live, self.dead, self.contact = name, station, live, dead, c
        self.cavities: list[Cavity] = []
        self.asks: list[CavityAsk] = []
        self.safety: dict[str, str] = {}

    @property
    def most(self) -> int:
        """Cavities of its largest shell."""
        return _WAYS[self.contact.size][-1]

    @property
    def kind(self) -> "_Kind":
        """What a wire that passes here must ask for."""
        return (self.station, self.live, self.dead, self.contact.size)

    def fits(self, ask: CavityAsk) -> bool:
        """Tell whether a wire may pass here."""
        shared = self.safety.get(ask.safety, ask.circuit) == ask.circuit
        return self.kind == _kind(ask) and (not ask.safety or shared)


class Reach:
    """Which plugs' halves can be brought together, by how far their branches are free.

    A branch is free from its last support, as far away as supports are apart, and by its tail.
    """

    def __init__(self, stations: Iterable[Station], runs: Iterable[Run], profile: Profile) -> None:
        self._at = {s.id: (s.x_m, s.y_m, s.z_m) for s in stations}
        spacing: dict[str, float] = {}
        for run in runs:
            for end in run.ends:
                apart_mm = run.support_mm or profile.tie_spacing_mm
                spacing[end] = max(spacing.get(end, 0.0), apart_mm)
        self._free_mm = {
            name: spacing.get(name, profile.tie_spacing_mm) + profile.tail_mm for name in self._at
        }

    def meet(self, first: str, second: str) -> bool:
        """Tell whether halves at two stations can be brought together."""
        apart_mm = 1000 * math.dist(self._at[first], self._at[second])
        return apart_mm <= self._free_mm[first] + self._free_mm[second]


def _near(reach: Reach, stations: Iterable[str]) -> dict[str, list[str]]:
    """Return the stations that each one's halves can be brought to."""
    names = list(stations)
    return {name: [other for other in names if reach.meet(other, name)] for name in names}


class PlugBoard:
    """Hands out cavities; circuits with the same safety word never share a plug.

    What was issued with a cavity keeps it, as long as it still passes there.

    Args:
        landings: plugs and shells that were issued.
        heavy: conductors too thick for a sealed plug of several ways get one each.
    """

    def __init__(
        self, cavities: Numbers, landings: Iterable[Landing] = (), *, heavy: bool = False
    ) -> None:
        self._cavities = cavities
        self._plugs = {one.subject: one for one in landings if one.kind == "plug"}
        self._shells = {one.subject: one for one in landings if one.kind == "shell"}
        self._heavy = heavy
        self._all: dict[str, _Body] = {}
        self._with_room: dict[_Kind, dict[str, _Body]] = defaultdict(dict)
        self._new_names = (f"X{i}" for i in count(1))
        self._issued: dict[str, _Kind] = {}
        """What most of the wires that were issued in a plug ask for now, by plug."""

    def contact(self, gauge: Gauge, rating_a: float) -> terminals.Contact | None:
        """Return the contact for a wire, or the largest that takes it however weak.

        None for a wire that passes whole, through a gland.
        """
        takes = partial(terminals.contact_for, gauge, heavy=self._heavy)
        return takes(rating_a) or takes(0.0)

    def book_all(self, asks: Sequence[CavityAsk]) -> None:
        """Find a plug for everything that passes; what is new takes what the others leave."""
        passing: dict[str, Counter[_Kind]] = defaultdict(Counter)
        for ask in asks:
            issued = self._cavities.issued(ask.wires[0])
            plug = self._plugs.get(issued.place) if issued else None
            now = (ask.station, ask.contact.size)
            if issued and (plug is None or (plug.place, plug.number) == now):
                passing[issued.place][_kind(ask)] += 1
        self._issued = {name: kinds.most_common(1)[0][0] for name, kinds in passing.items()}
        for ask in sorted(asks, key=lambda ask: self._issued_in(ask) is None):
            self._book(ask)

    def _issued_in(self, ask: CavityAsk) -> str | None:
        """Return the plug a wire was issued in; None for what is new, or goes another way now."""
        issued = self._cavities.issued(ask.wires[0])
        return issued.place if issued and self._issued.get(issued.place) == _kind(ask) else None

    def _book(self, ask: CavityAsk) -> None:
        body = self._body_for(ask)
        body.asks.append(ask)
        if ask.safety:
            body.safety[ask.safety] = ask.circuit
        if len(body.asks) == body.most:
            del self._with_room[body.kind][body.id]

    def numbered(self) -> dict[str, tuple[str, int]]:
        """Give everything booked its cavity: plug id and number, by the wire from the source."""
        found: dict[str, tuple[str, int]] = {}
        for body in self._all.values():
            asks = {ask.wires[0]: ask for ask in body.asks}
            issued = [w for w in asks if (at := self._cavities.issued(w)) and at.place == body.id]
            fresh = tuple(
                Passing(ask.circuit, wire, *ask.ways)
                for wire, ask in asks.items()
                if wire not in issued
            )
            ways = next(w for w in _WAYS[body.contact.size] if w >= len(asks))
            ordered = in_rows(best_order(fresh), ways)
            for wire in (*issued, *(passing.wire for passing in ordered)):
                number = self._cavities.take(body.id, wire, body.most)
                body.cavities.append(Cavity(number, asks[wire].circuit, asks[wire].wires))
                found[wire] = (body.id, number)
        return found

    def _body_for(self, ask: CavityAsk) -> _Body:
        """Return a plug with room: the one a wire was issued with, else the first there is."""
        issued = self._issued_in(ask)
        if issued and issued not in self._all:
            return self._new(issued, ask)
        named = [self._all[issued]] if issued else []
        for body in (*named, *self._with_room[_kind(ask)].values()):
            if body.fits(ask) and len(body.asks) < body.most:
                return body
        known = self._cavities.places | self._all.keys()
        return self._new(next(name for name in self._new_names if name not in known), ask)

    def _new(self, name: str, ask: CavityAsk) -> _Body:
        body = _Body(name, ask.station, ask.live, ask.dead, ask.contact)
        self._all[name] = self._with_room[body.kind][name] = body
        return body

    def plugs(self, reach: Reach) -> tuple[Plug, ...]:
        """Return all plugs with their final shells and keys."""
        made: list[Plug] = []
        shells: dict[tuple[int, str], Counter[tuple[int, str]]] = defaultdict(Counter)
        near = _near(reach, dict.fromkeys(body.station for body in self._all.values()))
        bodies = sorted(self._all.values(), key=lambda body: in_reading_order(body.id))
        for body in sorted(bodies, key=lambda body: self._issued_shell(body) is None):
            size = body.contact.size
            cavities = sorted(body.cavities)
            fits = [w for w in _WAYS[size] if w >= cavities[-1].number]
            # a larger shell rather than a key used twice; where all are, the least used one
            ways, key = self._issued_shell(body) or min(
                ((w, k) for w in fits for k in _KEYS),
                key=lambda shell: sum(shells[size, at][shell] for at in near[body.station]),
            )
            shells[size, body.station][ways, key] += 1
            made.append(
                Plug(
                    id=body.id,
                    station=body.station,
                    live=body.live,
                    dead=body.dead,
                    contact=body.contact.size,
                    contact_max_a=body.contact.max_a,
                    ways=ways,
                    key=key,
                    cavities=tuple(cavities),
                    safety=tuple(sorted(body.safety)),
                )
            )
        return tuple(sorted(made, key=lambda plug: in_reading_order(plug.id)))

    def _issued_shell(self, body: _Body) -> tuple[int, str] | None:
        """Return ways and key that a plug was issued with, while all that passes fits in."""
        one = self._shells.get(body.id)
        most = max(cavity.number for cavity in body.cavities)
        if one is None or one.number not in _WAYS[body.contact.size] or one.number < most:
            return None
        return one.number, one.place
