"""Where the volts go: the way a load's current takes, piece by piece, out and home."""

from collections import defaultdict
from functools import cached_property
from typing import Literal, NamedTuple

from vivid_loom.power.powered import Powered

__all__ = ["Piece", "Profile", "Profiles"]

FLOWS_A = 1e-4


class Piece(NamedTuple):
    """A wire or contact on the way.

    Attributes:
        id: of the conductor or contact.
        kind: 'wire', 'device' or 'contact'.
        lost_v: over it.
        amps: through it, what others draw included.
    """

    id: str
    kind: Literal["wire", "device", "contact"]
    lost_v: float
    amps: float


class Profile(NamedTuple):
    """A load and what is lost on its way.

    Attributes:
        source: element that its current comes from; ``source_v`` at its terminals.
        load_v: what is left for it.
        out, home: pieces from the source to it, and from it home to the source.
    """

    element: str
    source: str
    source_v: float
    load_v: float
    amps: float
    out: tuple[Piece, ...]
    home: tuple[Piece, ...]

    @property
    def lost_v(self) -> float:
        """Everything that is lost on the way."""
        return self.source_v - self.load_v


class Profiles:
    """Ways of currents in one powered board, each followed against the stream once."""

    def __init__(self, now: Powered) -> None:
        self.now = now
        self._followed_ways: dict[str, Profile | None] = {}
        self._pieces: dict[str, Piece] = {}

    @cached_property
    def _into(self) -> dict[str, list[tuple[float, str, str]]]:
        """By terminal, what flows into it: amps, id and the terminal it comes from."""
        found: dict[str, list[tuple[float, str, str]]] = defaultdict(list)
        board, amps = self.now.board, self.now.amps
        for branch in board.network.branches:
            through = amps.get(branch.id, 0.0)
            if through > FLOWS_A:
                found[branch.b].append((through, branch.id, branch.a))
            elif through < -FLOWS_A:
                found[branch.a].append((-through, branch.id, branch.b))
        return found

    @cached_property
    def _out_of(self) -> dict[str, list[tuple[float, str, str]]]:
        found: dict[str, list[tuple[float, str, str]]] = defaultdict(list)
        for end, flows in self._into.items():
            for through, name, start in flows:
                found[start].append((through, name, end))
        return found

    @cached_property
    def _sources(self) -> tuple[dict[str, str], dict[str, str]]:
        given = [(s, self.now.amps.get(s.id, 0.0)) for s in self.now.board.network.sources]
        plus = {s.plus: s.id for s, amps in given if amps > FLOWS_A}
        minus = {s.minus: s.id for s, amps in given if amps > FLOWS_A}
        return plus, minus

    def of(self, element: str) -> Profile | None:
        """Return the way of an element's current; None where none flows."""
        if element not in self._followed_ways:
            self._followed_ways[element] = self._way(element)
        return self._followed_ways[element]

    def _way(self, element: str) -> Profile | None:
        now = self.now
        ends = now.board.elements[element]
        if now.amps.get(element, 0.0) <= FLOWS_A:
            return None
        plus, minus = self._sources
        out, start = self._followed(ends.plus, self._into, frozenset(plus))
        home, _ = self._followed(ends.minus, self._out_of, frozenset(minus))
        source = plus.get(start, "")
        if not source:
            return None
        return Profile(
            element,
            source,
            now.volts_at(source),
            now.volts_at(element),
            now.amps[element],
            tuple(reversed(out)),
            tuple(home),
        )

    def _followed(
        self, at: str, flows: dict[str, list[tuple[float, str, str]]], ends: frozenset[str]
    ) -> tuple[list[Piece], str]:
        """Return what the largest current passes from a terminal on, and where it ends."""
        found: list[Piece] = []
        seen = {at}
        while at not in ends:
            ahead = [flow for flow in flows.get(at, ()) if flow[2] not in seen]
            if not ahead:
                break
            through, name, other = max(ahead)
            piece = self._pieces.get(name)  # many ways share their first pieces
            if piece is None:
                piece = self._pieces[name] = self._piece(name, (at, other), through)
            found.append(piece)
            seen.add(other)
            at = other
        return found, at

    def _piece(self, name: str, ends: tuple[str, str], through_a: float) -> Piece:
        contact = self.now.board.contacts.get(name)
        kind: Literal["wire", "device", "contact"] = "wire"
        if contact is not None:
            kind = "device" if contact.device else "contact"
        return Piece(name, kind, abs(self.now.point.across(*ends)), through_a)
