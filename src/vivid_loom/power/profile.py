"""Where the volts go: the way a load's current takes, piece by piece, out and home."""

from collections.abc import Collection, Iterator, Mapping
from functools import cached_property
from typing import Literal, NamedTuple

from vivid_loom.network import Source
from vivid_loom.power.powered import Powered

__all__ = ["Losses", "Piece", "Profile", "Profiles", "Way"]

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
    """

    element: str
    source: str
    source_v: float
    load_v: float
    amps: float

    @property
    def lost_v(self) -> float:
        """Everything that is lost on the way."""
        return self.source_v - self.load_v


class Way(NamedTuple):
    """Pieces from the source to a load, and from it home to the source."""

    out: tuple[Piece, ...]
    home: tuple[Piece, ...]


class Losses(NamedTuple):
    """What takes a load's volts: the first three are lost between its source and itself.

    Attributes:
        own_v: copper of its own circuits.
        feeders_v: copper that it shares.
        joints_v: contacts, devices and crimped ends.
        inside_v: within the source itself.
    """

    own_v: float
    feeders_v: float
    joints_v: float
    inside_v: float


Flow = tuple[float, str, str]
"""Amps, what they pass, and the terminal behind it."""


class _Stream:
    """The largest current from terminal to terminal, until it ends.

    It ends: current flows from more to less voltage, so no way comes back to itself.
    """

    def __init__(self, flows: Mapping[str, Flow], ends: Collection[str]) -> None:
        self._flows, self._ends = flows, ends
        self._end_of: dict[str, str] = {}

    def ahead(self, at: str) -> Flow | None:
        """Return what the largest current passes next; None where the way ends."""
        return None if at in self._ends else self._flows.get(at)

    def end_of(self, at: str) -> str:
        """Return the terminal at which the way from another ends; many ways go on alike."""
        passed = []
        while at not in self._end_of:
            passed.append(at)
            if flow := self.ahead(at):
                at = flow[2]
            else:
                self._end_of[at] = at
        end = self._end_of[at]
        self._end_of.update(dict.fromkeys(passed, end))
        return end


class Profiles:
    """Ways of currents in one powered board, followed against the stream and with it."""

    def __init__(self, now: Powered) -> None:
        self.now = now
        self._profiles: dict[str, Profile | None] = {}
        self._pieces: dict[str, Piece] = {}
        self._homes: dict[str, _Stream] = {}

    @cached_property
    def _largest(self) -> dict[str, Flow]:
        """By terminal, the largest current into it."""
        into: dict[str, Flow] = {}
        for at, onward in self._flows:
            if at not in into or onward > into[at]:
                into[at] = onward
        return into

    def _homeward(self, last: str) -> dict[str, Flow]:
        """Return by terminal the largest current out of it that gets to a source's minus."""
        towards: dict[str, list[Flow]] = {}
        for at, flow in self._flows:
            towards.setdefault(at, []).append(flow)
        found: dict[str, Flow] = {}
        waiting, reached = [last], {last}
        while waiting:
            at = waiting.pop()
            for amps, name, start in towards.get(at, ()):
                onward = (amps, name, at)
                if start not in found or onward > found[start]:
                    found[start] = onward
                if start not in reached:
                    reached.add(start)
                    waiting.append(start)
        return found

    @cached_property
    def _flows(self) -> list[tuple[str, Flow]]:
        """Every current worth following: the terminal it flows to, and amps, branch and start."""
        found: list[tuple[str, Flow]] = []
        branches, amps = self.now.board.solver.branches, self.now.point.branch_a.tolist()
        for (name, start, end, _), through in zip(branches, amps, strict=True):
            if -FLOWS_A <= through <= FLOWS_A:
                continue
            a, b = (start, end) if through > 0 else (end, start)
            found.append((b, (abs(through), name, a)))
        return found

    @cached_property
    def _sources(self) -> dict[str, Source]:
        """What gives current, by its plus."""
        given = ((s, self.now.amps.get(s.id, 0.0)) for s in self.now.board.network.sources)
        return {source.plus: source for source, amps in given if amps > FLOWS_A}

    @cached_property
    def _upstream(self) -> _Stream:
        return _Stream(self._largest, self._sources)

    def of(self, element: str) -> Profile | None:
        """Return what is lost on the way of an element's current; None where none flows."""
        if element not in self._profiles:
            self._profiles[element] = self._profile(element)
        return self._profiles[element]

    def _profile(self, element: str) -> Profile | None:
        now = self.now
        if now.amps.get(element, 0.0) <= FLOWS_A:
            return None
        start = self._upstream.end_of(now.board.elements[element].plus)
        source = self._sources.get(start)
        if source is None:
            return None
        volts = now.volts_at(source.id), now.volts_at(element)
        return Profile(element, source.id, *volts, now.amps[element])

    def way(self, profile: Profile) -> Way:
        """Return the pieces that an element's current passes, out and home."""
        ends, source = (self.now.board.elements[e] for e in (profile.element, profile.source))
        last = source.minus  # another source may lie on the way home
        if last not in self._homes:
            self._homes[last] = _Stream(self._homeward(last), (last,))
        out = [*self._followed(ends.plus, self._upstream)]
        return Way(tuple(out[::-1]), tuple(self._followed(ends.minus, self._homes[last])))

    def losses(self, profile: Profile) -> Losses:
        """Tell copper from all else on an element's way, and its own from what it shares."""
        board = self.now.board
        own = self._circuits.get(board.elements[profile.element].part, set())
        copper = {True: 0.0, False: 0.0}
        way = self.way(profile)
        for piece in (*way.out, *way.home):
            if wire := board.conductors.get(piece.id):
                lost_v = piece.amps * wire.length_m * board.ohm_per_m[wire.gauge]
                copper[wire.circuit in own] += min(lost_v, piece.lost_v)
        joints_v = max(0.0, profile.lost_v - sum(copper.values()))
        source = next(s for s in board.network.sources if s.id == profile.source)
        inside_v = max(0.0, source.volts - profile.source_v)
        return Losses(copper[True], copper[False], joints_v, inside_v)

    @cached_property
    def _circuits(self) -> dict[str, set[str]]:
        """By part, the circuits that feed it."""
        found: dict[str, set[str]] = {}
        for row in self.now.board.draft.circuits:
            for part in row.planned.loads:
                found.setdefault(part, set()).add(row.id)
        return found

    def _followed(self, at: str, stream: _Stream) -> Iterator[Piece]:
        """Yield what is passed from a terminal on."""
        while flow := stream.ahead(at):
            through, name, at = flow
            if name not in self._pieces:
                self._pieces[name] = self._piece(name, through)
            yield self._pieces[name]

    def _piece(self, name: str, through_a: float) -> Piece:
        contact = self.now.board.contacts.get(name)
        kind: Literal["wire", "device", "contact"] = "wire"
        if contact is not None:
            kind = "device" if contact.device else "contact"
        return Piece(name, kind, abs(self.now.point.branch_v[name]), through_a)
