"""Stage 8, first half: conductors cut at plugs and posts into pieces."""

from collections.abc import Callable, Iterable
from functools import partial
from itertools import pairwise
from string import ascii_lowercase
from typing import Final, NamedTuple

from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.making.cables import DraftedCable
from vivid_loom.drafting.making.colour import Colours
from vivid_loom.drafting.making.pieces import Lands, Piece, pieces_of
from vivid_loom.drafting.making.plugs import CavityAsk, PlugBoard
from vivid_loom.drafting.patterns import Leg, Point
from vivid_loom.drafting.places.numbers import Numbers
from vivid_loom.drafting.places.planned import Planned
from vivid_loom.drafting.places.route import Path, home_harnesses
from vivid_loom.drafting.sizing.outcome import Sized
from vivid_loom.quantities import Gauge
from vivid_loom.standards.colours import InsulationColour
from vivid_loom.standards.conductor import area_mm2

__all__ = ["POST", "CutPart", "Cutting", "LegPieces", "Meets", "Part"]

POST: Final = " post"


def _drafted(aboard: Aboard) -> Callable[[str], bool]:
    """Return what tells whether a wire is of something that is still drafted."""
    known = {request.id for request in aboard.circuits} | aboard.boat.network.feeders.keys()
    return lambda wire: wire.rpartition("-")[0] in known


class Part(NamedTuple):
    """A sized circuit, ready to be cut.

    Attributes:
        separate: the thinnest that lies by itself.
        lamp: the thinnest that its device protects, for the lamps of its switches.
    """

    planned: Planned
    sized: Sized
    colours: Colours
    paths: tuple[Path, ...]
    cables: tuple[DraftedCable, ...]
    separate: Gauge
    lamp: Gauge

    def gauge(self, leg: Leg) -> Gauge:
        """Return a conductor's gauge: what is no core is never below a separate conductor's."""
        drafted = self.sized.gauge_of(leg.id)
        if leg.lights_lamp:
            return self.lamp
        if leg.fuse_a:  # its own, whatever protects the circuit
            return self.separate
        if not self.cables or self.core(leg):
            return drafted
        return max(drafted, self.separate, key=area_mm2)

    def core(self, leg: Leg) -> tuple[DraftedCable, int, InsulationColour] | None:
        """Return the cable a conductor is a core of, its number and colour; None for a wire."""
        for cable in self.cables:
            if core := cable.core_of(leg.id):
                return (cable, *core)
        return None


class Meets(NamedTuple):
    """A conductor that ends at a point; those that carry most come first in order."""

    lights_lamp: bool
    jumper: bool
    wire: str
    gauge: Gauge


class LegPieces(NamedTuple):
    """A leg cut where it passes from harness to harness; at each cut a cavity or a post."""

    leg: Leg
    whole: Meets
    pieces: tuple[Piece, ...]
    ids: tuple[str, ...]
    borders: tuple[CavityAsk | Point, ...]


CutPart = tuple[Part, tuple[LegPieces, ...]]


class Cutting:
    """Cuts the legs of one circuit after another; plugs fill up on a shared board."""

    def __init__(self, aboard: Aboard) -> None:
        self.aboard = aboard
        self.home_harness = home_harnesses(aboard.boat.runs)
        cavities = Numbers("cavity", aboard.order.landings, _drafted(aboard))
        heavy = aboard.profile.heavy_border == "plug"
        self.board = PlugBoard(cavities, aboard.order.landings, heavy=heavy)
        self.posts: list[Point] = []
        self.cut: dict[tuple[tuple[str, ...], Lands, bool], list[Piece]] = {}

    def cut_all(self, parts: Iterable[Part]) -> list[CutPart]:
        """Cut every leg of all circuits, and book cavities for them."""
        kept = self.aboard.kept
        found: list[CutPart] = []
        asks: list[CavityAsk] = []
        for part in parts:
            legs = partial(self._legs, part)
            pieces = kept.take("pieces", part.planned.id, self._follows_from(part), legs)
            found.append((part, pieces))
            for border in (border for leg in pieces for border in leg.borders):
                if isinstance(border, Point):
                    self.posts.append(border)
                else:
                    asks.append(border)
        self.board.book_all(asks)
        return found

    def _follows_from(self, part: Part) -> tuple[object, ...]:
        """Return everything that a circuit's pieces follow from."""
        aboard, sized = self.aboard, part.sized
        loads = tuple(aboard.loads[name] for name in part.planned.loads)
        rating = sized.protection.value if sized.protection else 0.0
        sizes = (sized.gauge.value, *((t.legs, t.gauge) for t in sized.thinner))
        lies = (part.planned, part.paths, sizes, rating, part.separate, part.lamp, part.cables)
        return (*lies, loads, aboard.boat, aboard.profile.heavy_border)

    def _pieces_of(self, path: Path, harness: str, *, cut: bool) -> list[Piece]:
        """Return a path's pieces; stations tell a path, and many circuits take the same one."""
        if not path.runs:
            return pieces_of(path, harness, cut=cut)
        key = (path.stations, path.lands, cut)
        if key not in self.cut:
            self.cut[key] = pieces_of(path, harness, cut=cut)
        return self.cut[key]

    def _legs(self, part: Part) -> tuple[LegPieces, ...]:
        """Return a circuit's legs in pieces, and the cavities they ask for between them."""
        rating = part.sized.protection.value if part.sized.protection else 0.0
        loads = (self.aboard.loads[name] for name in part.planned.loads)
        safety = next((load.separation for load in loads if load.separation), "")
        found: list[LegPieces] = []
        for leg, path in zip(part.planned.plan.legs, part.paths, strict=True):
            gauge = part.gauge(leg)
            contact = self.board.contact(gauge, rating)
            harness = self.home_harness.get(leg.start.station, "")
            posts = contact is None and self.aboard.profile.heavy_border == "post"
            pieces = tuple(self._pieces_of(path, harness, cut=posts or contact is not None))
            name = f"{part.planned.id}-{leg.id}"
            whole = Meets(leg.lights_lamp, leg.jumper, name, gauge)
            ids: tuple[str, ...] = (name,)
            borders: list[CavityAsk | Point] = []
            if len(pieces) > 1:
                ids = tuple(f"{name}{letter}" for letter in ascii_lowercase[: len(pieces)])
            for i, (before, after) in enumerate(pairwise(pieces)):
                if contact is None:
                    told = f"{name}{POST}" if len(pieces) == 2 else f"{ids[i]}{POST}"
                    borders.append(Point(told, "stud", before.stations[-1], "stud"))
                    continue
                sides = [(before.harness, before.stations[::-1]), (after.harness, after.stations)]
                if leg.live == "return":
                    sides.reverse()
                (live, live_way), (dead, dead_way) = sides
                borders.append(
                    CavityAsk(
                        station=before.stations[-1],
                        live=live,
                        dead=dead,
                        contact=contact,
                        safety=safety,
                        circuit=part.planned.id,
                        wires=(ids[i], ids[i + 1]),
                        ways=(live_way, dead_way),
                    )
                )
            found.append(LegPieces(leg, whole, pieces, ids, tuple(borders)))
        return tuple(found)
