"""Where the volts go: the way a load's current takes, piece by piece, out and home."""

from collections import defaultdict
from collections.abc import Collection
from functools import cached_property
from typing import Literal, NamedTuple

import numpy as np

from vivid_loom.network import Source
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


Way = tuple[tuple[Piece, ...], str]
"""What is passed, in order, and the terminal at which it ends."""

Flows = dict[str, list[tuple[float, str, str]]]
"""By terminal, amps, what they pass, and the terminal behind it."""


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
        self._profiles: dict[str, Profile | None] = {}
        self._out: dict[str, Way] = {}
        self._home: dict[str, dict[str, Way]] = defaultdict(dict)

    @cached_property
    def _into(self) -> Flows:
        """By terminal, what flows into it: amps, id and the terminal it comes from."""
        found: Flows = defaultdict(list)
        branches, amps = self.now.board.solver.branches, self.now.point.branch_a
        for index in np.flatnonzero(np.abs(amps) > FLOWS_A).tolist():
            branch, through = branches[index], float(amps[index])
            if through > 0:
                found[branch.b].append((through, branch.id, branch.a))
            else:
                found[branch.a].append((-through, branch.id, branch.b))
        return found

    @cached_property
    def _out_of(self) -> Flows:
        found: Flows = defaultdict(list)
        for end, flows in self._into.items():
            for through, name, start in flows:
                found[start].append((through, name, end))
        return found

    @cached_property
    def _sources(self) -> dict[str, Source]:
        """What gives current, by its plus."""
        given = ((s, self.now.amps.get(s.id, 0.0)) for s in self.now.board.network.sources)
        return {source.plus: source for source, amps in given if amps > FLOWS_A}

    def of(self, element: str) -> Profile | None:
        """Return the way of an element's current; None where none flows."""
        if element not in self._profiles:
            self._profiles[element] = self._profile(element)
        return self._profiles[element]

    def _profile(self, element: str) -> Profile | None:
        now = self.now
        ends = now.board.elements[element]
        if now.amps.get(element, 0.0) <= FLOWS_A:
            return None
        out, start = self._followed(ends.plus, self._into, self._sources, self._out)
        source = self._sources.get(start)
        if source is None:
            return None
        last = source.minus  # another source may lie on the way home
        home, _ = self._followed(ends.minus, self._out_of, (last,), self._home[last])
        return Profile(
            element,
            source.id,
            now.volts_at(source.id),
            now.volts_at(element),
            now.amps[element],
            out[::-1],
            home,
        )

    def _followed(self, at: str, flows: Flows, ends: Collection[str], known: dict[str, Way]) -> Way:
        """Return what the largest current passes from a terminal on, and where it ends.

        It ends: current flows from more to less voltage, so no way comes back to itself.

        Args:
            known: what was found before, by terminal; many ways go on alike.
        """
        passed: list[tuple[str, Piece]] = []
        while at not in known:
            ahead = flows.get(at)
            if at in ends or not ahead:
                known[at] = ((), at)
                break
            through, name, other = max(ahead)
            passed.append((at, self._piece(name, through)))
            at = other
        pieces, end = known[at]
        for start, piece in reversed(passed):
            pieces = (piece, *pieces)
            known[start] = (pieces, end)
        return pieces, end

    def _piece(self, name: str, through_a: float) -> Piece:
        contact = self.now.board.contacts.get(name)
        kind: Literal["wire", "device", "contact"] = "wire"
        if contact is not None:
            kind = "device" if contact.device else "contact"
        return Piece(name, kind, abs(self.now.point.branch_v[name]), through_a)
