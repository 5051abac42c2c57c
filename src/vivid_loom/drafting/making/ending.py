"""Stage 8, second half: pieces of conductors get their ends, labels and cut lengths."""

from collections.abc import Iterable
from functools import partial
from itertools import pairwise
from typing import Final, NamedTuple

from vivid_loom.boat import SIGNAL_A, SIGNAL_LEADS, Lead, Load, is_harsh
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.kept import Plain
from vivid_loom.drafting.making.cut_lengths import cut_length_mm
from vivid_loom.drafting.making.cutting import POST, CutPart, LegPieces, Meets, Part
from vivid_loom.drafting.making.pieces import Piece
from vivid_loom.drafting.making.terminate import (
    terminate_later,
    terminate_pair,
    terminate_plug,
    terminate_point,
)
from vivid_loom.drafting.making.wire import End, Wire
from vivid_loom.drafting.patterns import Leg, Point
from vivid_loom.quantities import Gauge
from vivid_loom.standards.conductor import area_mm2
from vivid_loom.standards.terminals import Contact, barrel_for_area, contact_for

__all__ = ["BORDER_STUD", "Ending", "stud_of"]

BORDER_STUD: Final = "M10"  # of a post where two harnesses meet; our choice


def stud_of(place: str, name: str, kind: str, aboard: Aboard) -> str:
    """Return the size of the stud, post or screw that a conductor lands on."""
    network = aboard.boat.network
    if place.endswith(POST):
        return BORDER_STUD
    if kind in ("way", "screw"):
        return network.small_thread(place)
    if place in network.batteries:
        return network.batteries[place].stud
    held = network.feeders.get(place.removesuffix(" holder"))
    if held and held.feed:
        return held.feed.stud
    supply = network.supplies.get(place)
    for feed in supply.feeds if supply else ():
        if name == f"feed stud {feed.port}".strip():
            return feed.stud
    return supply.feeds[0].stud if supply and supply.feeds else "M8"


def _lead_of(point: Point, aboard: Aboard) -> Lead | None:
    load = aboard.loads.get(point.place) if point.kind == "lead" else None
    return load.named(point.name) if load else None


def _pair_contact(load: Load, lead: Lead | None, gauge: Gauge, rating_a: float) -> Contact | None:
    """Return the contact of the pair that a device's tail is plugged to; None where it joins."""
    if not load.replaceable or (lead and lead.ending != "tail"):
        return None
    return contact_for(gauge, rating_a) or contact_for(gauge, 0.0)


def _lead_words(lead: Lead | None, function: str) -> str:
    if lead is None:
        return ""
    words = [function, lead.colour, lead.gauge]
    return " ".join(word for word in words if word)


class _Cut(NamedTuple):
    """One piece of a leg with both its ends, about to become a wire."""

    wire: str
    leg: Leg
    piece: Piece
    ends: tuple[End, End]
    gauge: Gauge
    amps: float


class _Stands(NamedTuple):
    """What decides how a wire ends at a point, but for the wire itself.

    Attributes:
        called: what the place is called on labels; None for its own code.
        bare: the conductor that takes the tab itself: all else rides on it.
        forked: two that ride on nothing, side by side on one terminal.
        meeting: gauges of all that meet there, of all circuits: a joint takes them all.
    """

    called: str | None
    bare: str
    forked: bool
    meeting: tuple[Gauge, ...]


class Ending:
    """Ends the wires of circuits that are cut: all that meets at a point is known by then."""

    def __init__(self, aboard: Aboard, cut: Iterable[CutPart]) -> None:
        self.aboard = aboard
        meeting: dict[Point, list[Meets]] = {}
        for leg in (leg for _, pieces in cut for leg in pieces):
            meeting.setdefault(leg.leg.start, []).append(leg.whole)
            meeting.setdefault(leg.leg.end, []).append(leg.whole)
        forks, called = aboard.profile.second_on_a_tab == "forked", aboard.called
        self.stands: dict[Point, _Stands] = {}
        for point, met in meeting.items():
            name = called.get(point.place)
            if len(met) == 1:
                self.stands[point] = _Stands(name, met[0].wire, False, (met[0].gauge,))
                continue
            gauges = tuple([m.gauge for m in met])
            fits = barrel_for_area(sum(map(area_mm2, gauges))) is not None
            forked = forks and fits and point.kind == "tab" and all(m.jumper for m in met)
            self.stands[point] = _Stands(name, min(met).wire, forked, gauges)  # what carries most
        self.studs: dict[Point, str] = {}
        self.harsh = {name: is_harsh(area) for name, area in aboard.boat.area_at.items()}

    def _end(self, point: Point, gauge: Gauge, wire: str, leg: str, rating_a: float) -> End:
        rides = self.aboard.profile.second_on_a_tab != "doubler"
        called, bare, forked, meeting = self.stands[point]
        piggy = rides and bare != leg
        if point not in self.studs:
            self.studs[point] = stud_of(point.place, point.name, point.kind, self.aboard)
        lead = _lead_of(point, self.aboard)
        stud = self.studs[point]
        load = self.aboard.loads.get(point.place) if point.kind == "lead" else None
        alone = load is not None and len(meeting) == 1
        if load and alone and load.state == "wired_for_later":
            done = terminate_later()
        elif load and alone and (contact := _pair_contact(load, lead, gauge, rating_a)):
            done = terminate_pair(contact, home=point.name == "minus")
        else:
            sealed = self.harsh[point.station]
            done = terminate_point(
                point,
                gauge,
                stud,
                lead,
                meeting,
                piggyback=piggy,
                forked=forked,
                sealed=sealed,
            )
        label = f"{wire} {point.place if called is None else called} {point.name}"
        words = _lead_words(lead, point.name)
        shade = lead.colour if lead else ""
        return End(point.place, point.name, point.kind, point.station, done, label, words, shade)

    def _at_post(self, post: Point, gauge: Gauge, wire: str) -> End:
        """Return an end that meets the next harness's on a post."""
        done = terminate_point(post, gauge, BORDER_STUD, None, (gauge,), piggyback=False)
        label = f"{wire} {post.place}"
        return End(post.place, post.name, post.kind, post.station, done, label, "")

    def ended(
        self,
        part: Part,
        pieces: tuple[LegPieces, ...],
        cavities: tuple[tuple[str, int], ...],
    ) -> tuple[Wire, ...]:
        """Return the wires of a circuit whose cavities are known."""
        aboard, sized = self.aboard, part.sized
        at_ends = [self.stands[p] for leg in pieces for p in (leg.leg.start, leg.leg.end)]
        told = Plain((sized.current_a, sized.home_a, cavities, *at_ends))
        made_from = (pieces, told, part.colours, aboard.profile)
        wires = partial(self._wires, part, pieces, cavities)
        return aboard.kept.take("wires", part.planned.id, made_from, wires)

    def _wires(
        self,
        part: Part,
        legs: tuple[LegPieces, ...],
        cavities: tuple[tuple[str, int], ...],
    ) -> tuple[Wire, ...]:
        running = [x.running_a or 0.0 for x in part.planned.drawing(self.aboard.loads)]
        rating = part.sized.protection.value if part.sized.protection else 0.0
        found: list[Wire] = []
        given = iter(cavities)
        for cut in legs:
            leg, (_, _, whole, gauge) = cut.leg, cut.whole
            starts = [self._end(leg.start, gauge, cut.ids[0], whole, rating)]
            ends: list[End] = []
            for border, (one, other) in zip(cut.borders, pairwise(cut.ids), strict=True):
                if isinstance(border, Point):
                    ends.append(self._at_post(border, gauge, one))
                    starts.append(self._at_post(border, gauge, other))
                    continue
                live = leg.live != "return"
                cavity = _Cavity(*next(given), border.contact, border.station)
                ends.append(_plug_end(cavity, one, live_side=live))
                starts.append(_plug_end(cavity, other, live_side=not live))
            ends.append(self._end(leg.end, gauge, cut.ids[-1], whole, rating))
            amps = sum([running[i] for i in leg.carries])
            if leg.lights_lamp or (leg.jumper and leg.lead in SIGNAL_LEADS):
                amps = SIGNAL_A[leg.lead]
            elif not leg.carries:
                amps = part.sized.home_a if leg.live == "return" else part.sized.current_a
            for wire, piece, start, end in zip(cut.ids, cut.pieces, starts, ends, strict=True):
                found.append(self._wire(part, _Cut(wire, leg, piece, (start, end), gauge, amps)))
        return tuple(found)

    def _wire(self, part: Part, cut: _Cut) -> Wire:
        shade, sleeve = part.colours.laid(cut.leg)
        cable, number = "", 0
        jacket: tuple[str, ...] = ()
        core = part.core(cut.leg)
        if core:
            jacket = tuple(run for run in cut.piece.runs if run in core[0].runs)
        if core and jacket:
            laid, number, shade = core
            harnesses = {
                run.harness for path in part.paths for run in path.runs if run.id in laid.runs
            }
            several = len(harnesses) > 1
            cable = f"{laid.id}.{cut.piece.harness}" if several else laid.id
            sleeve = ""
        return Wire(
            id=cut.wire,
            circuit=part.planned.id,
            leg=cut.leg.id,
            jumper=cut.leg.jumper,
            stub=cut.leg.stub,
            harness=cut.piece.harness,
            gauge=cut.gauge,
            colour=shade,
            sleeve=sleeve,
            start=cut.ends[0],
            end=cut.ends[1],
            runs=cut.piece.runs,
            stations=cut.piece.stations,
            routed_m=cut.piece.length_m,
            cut_mm=cut_length_mm(cut.piece.length_m, cut.ends, self.aboard, cut.leg),
            current_a=cut.amps,
            live=cut.leg.live,
            lead=cut.leg.lead,
            cable=cable,
            core=number,
            cable_runs=jacket,
            for_lamp=cut.leg.lights_lamp,
        )


class _Cavity(NamedTuple):
    """A cavity that a wire got."""

    plug: str
    number: int
    contact: Contact
    station: str


def _plug_end(cavity: _Cavity, wire: str, *, live_side: bool) -> End:
    place, number = cavity.plug, cavity.number
    done = terminate_plug(cavity.contact, live_side=live_side)
    label = f"{wire} {place}.{number}"
    return End(place, f"cavity {number}", "plug", cavity.station, done, label, "")
