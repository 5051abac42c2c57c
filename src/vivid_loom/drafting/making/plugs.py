"""Sealed plugs where harnesses meet: bodies fill up in circuit order."""

from typing import NamedTuple

from vivid_loom.quantities import Gauge, computed
from vivid_loom.standards import terminals

__all__ = ["Cavity", "CavityAsk", "Plug", "PlugBoard"]

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
        key: keying letter; no two plugs of one shell at one station share it while letters last.
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

    def plugs(self) -> tuple[Plug, ...]:
        """Return all plugs with their final shells and keys."""
        keyed: dict[tuple[str, int, int], int] = {}
        made: list[Plug] = []
        for body in self._all:
            size, station = body.contact.size, body.station
            fits = [w for w in _WAYS[size] if w >= len(body.cavities)]
            spare = [w for w in fits if keyed.get((station, size, w), 0) < len(_KEYS)]
            ways = (spare or fits)[0]  # a larger shell rather than a key used twice
            turn = keyed.get((station, size, ways), 0)
            keyed[station, size, ways] = turn + 1
            made.append(
                Plug(
                    id=body.id,
                    station=body.station,
                    live=body.live,
                    dead=body.dead,
                    contact=body.contact.size,
                    contact_max_a=body.contact.max_a,
                    ways=ways,
                    key=_KEYS[turn % len(_KEYS)],
                    cavities=tuple(body.cavities),
                    safety=tuple(sorted(body.safety)),
                )
            )
        return tuple(made)
