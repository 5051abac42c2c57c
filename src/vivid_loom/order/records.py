"""The order: only what people decided."""

import dataclasses
from functools import cached_property
from typing import Annotated, Final, Literal

from annotated_types import Ge, Gt

from vivid_loom.boat import Fit, HullChanges, Load
from vivid_loom.order.profile import PROFILES, Profile
from vivid_loom.quantities import DateText, FileName, Id, OptionalGaugeText, Prose, record
from vivid_loom.standards.colours import ColourText

__all__ = [
    "PAST_THE_STRIP",
    "Acceptance",
    "BuiltBeside",
    "BuiltCircuit",
    "BuiltWire",
    "Deviation",
    "HandJumper",
    "Landing",
    "LandingKind",
    "Order",
    "OrderState",
    "Override",
    "OverrideField",
    "Revision",
    "Spare",
    "StatedReason",
    "Stop",
    "Tick",
    "Via",
    "Wish",
]

OrderState = Literal["drafting", "checked", "released", "built", "tested", "handed_over"]
OverrideField = Literal[
    "gauge",
    "protection_a",
    "positive_colour",
    "negative_colour",
    "helm_position",
    "supply",
    "return_bus",
    "strip",
]


PAST_THE_STRIP: Final = "past"
"""The only value of an overruled strip: the circuit is led past it."""


@record
class Override:
    """A value the engineer set against the draft's own.

    Attributes:
        subject: circuit id; for a helm position, the switch id.
        value: as text: '12 AWG', '15', 'BN/YE', '3'; of a strip 'past', to lead it past.
        kind: 'judgement', or 'substitution' where what was drafted was not to be had.
    """

    subject: str
    field: OverrideField
    value: str
    reason: Prose
    initials: str
    time: str = ""
    kind: Literal["judgement", "substitution"] = "judgement"

    @property
    def called(self) -> str:
        """The field in words: 'protection', 'positive colour'."""
        return self.field.removesuffix("_a").replace("_", " ")


@record
class Via:
    """A circuit or feeder that goes by way of stations, in the order met from its source."""

    circuit: str
    stations: tuple[str, ...]


@record
class HandJumper:
    """What somebody decided about a jumper behind a panel, against the draft's own.

    Attributes:
        start, end: tabs, each as switch id and terminal: 's_nav 1U'.
        laid: False where the drafted jumper between them is left out.
    """

    start: str
    end: str
    reason: Prose
    initials: str
    laid: bool = True

    @property
    def ends(self) -> frozenset[str]:
        """Both tabs, whichever way round."""
        return frozenset((self.start, self.end))


@record
class Spare:
    """Spare conductors or a pull line, laid now for what comes later; capped and labelled.

    Attributes:
        start, end: stations.
        gauge: '' for a pull line.
    """

    id: Id
    label: str
    kind: Literal["conductor", "pull line"]
    start: str
    end: str
    count: Annotated[int, Gt(0)] = 1
    gauge: OptionalGaugeText = ""
    colour: ColourText = "WH"


@record
class Wish:
    """Something the customer asked for, and what became of it; '' while it stands open."""

    text: Prose
    answer: Prose = ""


@record
class StatedReason:
    """Why somebody has decided something, who it was, and when.

    Attributes:
        date: ISO date.
    """

    text: Prose
    initials: str
    date: DateText

    def __str__(self) -> str:
        return f"{self.text} ({self.initials}, {self.date})"


@record
class Stop:
    """No work is done on an order for now, or ever."""

    kind: Literal["on hold", "dropped"]
    why: StatedReason


@record
class Revision:
    """One issue of the order's sheets.

    Attributes:
        digest: of the schedule and cut list as issued, so that a later look can tell a change.
        withdrawn: why nobody may build by it any more; None while it stands.
    """

    number: Annotated[int, Gt(0)]
    date: str
    initials: str
    text: Prose
    digest: str
    withdrawn: StatedReason | None = None


LandingKind = Literal[
    "way", "screw", "lamp screw", "strip", "pole", "plug", "shell", "cavity", "position"
]


@record
class Landing:
    """A number that sheets were issued with: what has it keeps it, whatever else is dropped.

    Attributes:
        subject: the circuit; for a cavity the wire on the side that can be live, for lamps' screw
            the wire that brings them home, for a position behind the panels the switch.
        place: block, bus, strip or plug; a strip's or plug's station, a shell's key; '' for a
            position.
        number: of the place; what a strip is rated at, A, the size of a plug's contacts, how many
            ways a shell has.
    """

    kind: LandingKind
    subject: str
    place: str
    number: Annotated[int, Gt(0)]


@record
class BuiltWire:
    """A conductor that lies in the boat, as built.

    Attributes:
        start, end: place and point, e.g. 'HFB way 3'.
        state: 'as drawn', 'differs' where the builder had to depart from the sheet, 'capped'
            where it lies cut and capped, 'removed' where it came out.
        note: what differs, and who says so.
        made_in: hull of the order it was made in; '' where that is not known.
    """

    id: str
    circuit: str
    start: str
    end: str
    gauge: str
    colour: str
    length_mm: Annotated[float, Ge(0)]
    runs: tuple[str, ...] = ()
    state: Literal["as drawn", "differs", "capped", "removed"] = "as drawn"
    note: Prose = ""
    made_in: str = ""

    @property
    def is_connected(self) -> bool:
        """Whether it lies where it was drawn, and not cut or taken out."""
        return self.state in ("as drawn", "differs")


@record
class BuiltBeside:
    """A bonding conductor, spare conductors or pull lines that lie in the boat.

    Attributes:
        gauge, colour: '' of pull lines.
        start, end: stations.
        count: how many of them lie side by side.
    """

    kind: Literal["bond", "conductor", "pull line"]
    id: str
    gauge: OptionalGaugeText
    colour: str
    start: str
    end: str
    length_mm: Annotated[float, Ge(0)]
    runs: tuple[str, ...] = ()
    count: Annotated[int, Gt(0)] = 1

    @property
    def lies(self) -> tuple[str, str, str, str, str, str, tuple[str, ...]]:
        """What it must have in common with one that is drafted for that to be there already."""
        return self.kind, self.id, self.gauge, self.colour, self.start, self.end, self.runs


@record
class BuiltCircuit:
    """What a circuit or feeder was built with.

    Attributes:
        gauge: of its own conductors; '' where nothing of it is sized.
        family, rating_a: of its device; '' and 0 without one.
        colour: of its positive, before what its drum and somebody's hand make of it.
        sleeve: letter codes of the sleeve that tells it by turn; '' for none.
    """

    circuit: str
    gauge: OptionalGaugeText
    family: str = ""
    rating_a: Annotated[float, Ge(0)] = 0.0
    colour: str = ""
    sleeve: str = ""

    @property
    def device(self) -> tuple[str, float]:
        """Family and rating of its device, A; '' and 0 without one."""
        return self.family, self.rating_a


@record
class Tick:
    """A wire cut and finished on the bench; it counts while the draft still asks for that wire.

    Attributes:
        gauge, colour, cut_mm: as it was built.
        start, end: place, point and terminal of each end, as 'HFB way 3, ring M4'; '' in ticks made
            before December 2026, which say nothing of them.
        harness: id of the one it lies in.
        by, date: who has built it, on what ISO date; '' in ticks made before December 2026.
    """

    wire: str
    gauge: str
    colour: str
    cut_mm: Annotated[float, Ge(0)]
    start: str = ""
    end: str = ""
    harness: str = ""
    by: str = ""
    date: str = ""

    @property
    def conductor(self) -> tuple[str, str, float]:
        """Gauge, colour and length."""
        return self.gauge, self.colour, self.cut_mm


@record
class Deviation:
    """What was built otherwise than drawn, and whether somebody answers for it.

    Attributes:
        kind: another rating of a 'device' went in, another 'gauge', another 'way' through the
            boat, or a 'joint' was needed in a run.
        subject: the circuit or feeder; for a joint the wire.
        value: the rating in A, the gauge, the stations it goes by way of joined by ';', or the
            station of the joint.
        verdict: 'signed' makes it part of the order, 'refused' asks for it to be built as drawn.
    """

    number: Annotated[int, Gt(0)]
    kind: Literal["device", "gauge", "way", "joint"]
    subject: str
    value: str
    reason: Prose
    initials: str
    date: str = ""
    verdict: Literal["open", "signed", "refused"] = "open"
    signed_by: str = ""
    answer: Prose = ""


@record
class Acceptance:
    """A finding somebody answers for. It stands only while the finding says the same.

    Attributes:
        sentence: the finding in words when it was accepted: its circumstances. A draft that words
            it otherwise opens it again.
        second: initials of the one who answers with the first; an error needs both.
    """

    code: str
    subjects: tuple[str, ...]
    sentence: Prose
    reason: Prose
    initials: str
    date: str = ""
    second: str = ""

    @property
    def by_two(self) -> bool:
        """Whether two people answer for it."""
        first, second = self.initials.strip().upper(), self.second.strip().upper()
        return bool(first and second) and first != second

    @property
    def signed(self) -> str:
        """The initials of all who answer for it."""
        return f"{self.initials} and {self.second}" if self.second else self.initials


@record
class Order:
    """A customer order for one hull.

    Attributes:
        boat: file name of the boat, beside the order, or of a shipped demo boat.
        station_date: ISO date on which the hull reaches its wiring station.
        profile: id of a shipped profile.
        landings: numbers that the last revision was issued with.
        profile_changes: fields in which this order departs from it.
        added: loads, circuits and switches of this order alone.
        changed_loads: the model's or an option's loads with this order's figures or place;
            they count only while they are aboard.
        removed: ids of standard loads, circuits or switches left out.
        hull_changes: runs measured on this hull, its own stations and blocks.
        ways: circuits that do not take the shortest way.
        jumpers: behind the panels, laid or left out by hand.
        based_on: hull whose as-built wires this order changes; '' for a new boat.
        built: conductors that lie in the boat. Empty while the order is only designed.
        built_beside: bonding and spare conductors that lie in the boat; None where nobody has
            recorded them, as before December 2026.
        built_with: sizes and devices of circuits and feeders that are in the boat.
        ticks: wires that are finished on the bench, in the order they were built.
        deviations: what was built otherwise than drawn.
        stop: why no work is done on it; None while it goes on.
    """

    hull: str
    title: str
    boat: FileName
    station_date: DateText
    customer: str = ""
    notes: Prose = ""
    state: OrderState = "drafting"
    profile: str = "shop"
    profile_changes: tuple[tuple[str, str | float | int], ...] = ()
    options: tuple[str, ...] = ()
    wishes: tuple[Wish, ...] = ()
    revisions: tuple[Revision, ...] = ()
    landings: tuple[Landing, ...] = ()
    added: Fit = Fit()
    changed_loads: tuple[Load, ...] = ()
    removed: tuple[str, ...] = ()
    overrides: tuple[Override, ...] = ()
    hull_changes: HullChanges = HullChanges()
    accepted: tuple[Acceptance, ...] = ()
    ways: tuple[Via, ...] = ()
    jumpers: tuple[HandJumper, ...] = ()
    spares: tuple[Spare, ...] = ()
    based_on: str = ""
    built: tuple[BuiltWire, ...] = ()
    built_beside: tuple[BuiltBeside, ...] | None = None
    built_with: tuple[BuiltCircuit, ...] = ()
    ticks: tuple[Tick, ...] = ()
    deviations: tuple[Deviation, ...] = ()
    stop: Stop | None = None

    @property
    def revision(self) -> int:
        """Number of the revision being worked on: one more than the last issued."""
        return self.revisions[-1].number + 1 if self.revisions else 1

    def way(self, circuit_id: str) -> tuple[str, ...]:
        """Return the stations a circuit was sent by way of."""
        return self._ways.get(circuit_id, ())

    def effective_profile(self) -> Profile:
        """Return the named profile with this order's changes."""
        return dataclasses.replace(PROFILES[self.profile], **dict(self.profile_changes))  # type: ignore[arg-type]

    def override(self, subject: str, field: OverrideField) -> Override | None:
        """Return the standing override of one value."""
        return self._overrides.get((subject, field))

    def landing(self, kind: LandingKind, subject: str) -> Landing | None:
        """Return the number that something was issued with."""
        return self._landings.get((kind, subject))

    def built_as(self, circuit: str) -> BuiltCircuit | None:
        """Return what a circuit or feeder was built with; None where none is in the boat."""
        return self._built_with.get(circuit)

    @cached_property
    def _built_with(self) -> dict[str, BuiltCircuit]:
        return {one.circuit: one for one in self.built_with}

    @cached_property
    def _landings(self) -> dict[tuple[str, str], Landing]:
        return {(one.kind, one.subject): one for one in self.landings}

    @cached_property
    def _overrides(self) -> dict[tuple[str, str], Override]:
        return {(o.subject, o.field): o for o in reversed(self.overrides)}

    @cached_property
    def _ways(self) -> dict[str, tuple[str, ...]]:
        return {via.circuit: via.stations for via in reversed(self.ways)}
