"""Sealed plugs where harnesses meet: bodies fill up in circuit order.

Two plugs whose halves can reach each other differ in shell, ways or key.
"""

import math
from collections.abc import Iterable
from itertools import count
from typing import NamedTuple

from vivid_loom.boat import Run, Station
from vivid_loom.drafting.places.numbers import Numbers
from vivid_loom.order import Profile
from vivid_loom.quantities import Gauge, computed, in_reading_order
from vivid_loom.standards import terminals

__all__ = ["Cavity", "CavityAsk", "Plug", "PlugBoard", "Reach"]

# generic families: ways per contact size; sizes 8 and 4 in pairs (our choice)
_WAYS = {16: (2, 3, 4, 6, 8, 12), 12: (2, 4), 8: (2,), 4: (2,)}
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
    """

    station: str
    live: str
    dead: str
    contact: terminals.Contact
    safety: str
    circuit: str
    wires: tuple[str, str]


class _Body:
    def __init__(self, name: str, station: str, live: str, dead: str, c: terminals.Contact) -> None:
        self.id, self.station, self.live, self.dead, self.contact = name, station, live, dead, c
        self.cavities: list[Cavity] = []
        self.safety: dict[str, str] = {}

    @property
    def most(self) -> int:
        """Cavities of its largest shell."""
        return _WAYS[self.contact.size][-1]

    def fits(self, ask: CavityAsk) -> bool:
        """Tell whether a wire may pass here."""
        here = (self.station, self.live, self.dead, self.contact.size)
        there = (ask.station, ask.live, ask.dead, ask.contact.size)
        shared = self.safety.get(ask.safety, ask.circuit) == ask.circuit
        return here == there and (not ask.safety or shared)


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


class PlugBoard:
    """Hands out cavities; circuits with the same safety word never share a plug.

    What was issued with a cavity keeps it, as long as it still passes there.
    """

    def __init__(self, cavities: Numbers) -> None:
        self._cavities = cavities
        self._all: dict[str, _Body] = {}

    @staticmethod
    def contact(gauge: Gauge, rating_a: float) -> terminals.Contact | None:
        """Return the contact for a wire, or the largest that takes it however weak; None: gland."""
        return terminals.contact_for(gauge, rating_a) or terminals.contact_for(gauge, 0.0)

    def cavity(self, ask: CavityAsk) -> tuple[str, int]:
        """Take the next free cavity; return plug id and number."""
        body = self._body_for(ask)
        number = self._cavities.take(body.id, ask.wires[0], body.most)
        body.cavities.append(Cavity(number, ask.circuit, ask.wires))
        if ask.safety:
            body.safety[ask.safety] = ask.circuit
        return body.id, number

    def _body_for(self, ask: CavityAsk) -> _Body:
        """Return a plug with room: the one a wire was issued with, else the first there is."""
        issued = self._cavities.issued(ask.wires[0])
        named = [issued.place] if issued else []
        for name in (*named, *self._all):
            body = self._all.get(name)
            if body is None:
                return self._new(name, ask)
            if body.fits(ask) and self._cavities.has_room(name, body.most):
                return body
        known = self._cavities.places | self._all.keys()
        return self._new(next(n for i in count(1) if (n := f"X{i}") not in known), ask)

    def _new(self, name: str, ask: CavityAsk) -> _Body:
        self._all[name] = _Body(name, ask.station, ask.live, ask.dead, ask.contact)
        return self._all[name]

    def plugs(self, reach: Reach) -> tuple[Plug, ...]:
        """Return all plugs with their final shells and keys."""
        made: list[Plug] = []
        for body in sorted(self._all.values(), key=lambda body: in_reading_order(body.id)):
            size = body.contact.size
            near = [p for p in made if p.contact == size and reach.meet(p.station, body.station)]
            cavities = sorted(body.cavities)
            fits = [w for w in _WAYS[size] if w >= cavities[-1].number]
            # a larger shell rather than a key used twice; where all are, the least used one
            ways, key = min(
                ((w, k) for w in fits for k in _KEYS),
                key=lambda shell: sum((p.ways, p.key) == shell for p in near),
            )
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
        return tuple(made)
