"""Sealed plugs where harnesses meet: bodies fill up in circuit order.

Two plugs whose halves can reach each other differ in shell, ways or key.
"""

import math
from collections.abc import Iterable
from typing import NamedTuple

from vivid_loom.boat import Run, Station
from vivid_loom.order import Profile
from vivid_loom.quantities import Gauge, computed
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

    def takes(self, safety: str, circuit: str) -> bool:
        return not safety or self.safety.get(safety, circuit) == circuit


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
    """Hands out cavities; circuits with the same safety word never share a plug."""

    def __init__(self) -> None:
        self._open: dict[tuple[str, str, str, int], list[_Body]] = {}
        self._all: list[_Body] = []

    @staticmethod
    def contact(gauge: Gauge, rating_a: float) -> terminals.Contact | None:
        """Return the contact for a wire, or the largest that takes it however weak; None: gland."""
        return terminals.contact_for(gauge, rating_a) or terminals.contact_for(gauge, 0.0)

    def cavity(self, ask: CavityAsk) -> tuple[str, int]:
        """Take the next free cavity; return plug id and number."""
        contact, safety, circuit = ask.contact, ask.safety, ask.circuit
        bodies = self._open.setdefault((ask.station, ask.live, ask.dead, contact.size), [])
        body = next((b for b in bodies if b.takes(safety, circuit)), None)
        if body is None:
            body = _Body(f"X{len(self._all) + 1}", ask.station, ask.live, ask.dead, contact)
            bodies.append(body)
            self._all.append(body)
        number = len(body.cavities) + 1
        body.cavities.append(Cavity(number, circuit, ask.wires))
        if safety:
            body.safety[safety] = circuit
        if number == _WAYS[contact.size][-1]:
            bodies.remove(body)
        return body.id, number

    def plugs(self, reach: Reach) -> tuple[Plug, ...]:
        """Return all plugs with their final shells and keys."""
        made: list[Plug] = []
        for body in self._all:
            size = body.contact.size
            near = [p for p in made if p.contact == size and reach.meet(p.station, body.station)]
            fits = [w for w in _WAYS[size] if w >= len(body.cavities)]
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
                    cavities=tuple(body.cavities),
                    safety=tuple(sorted(body.safety)),
                )
            )
        return tuple(made)
