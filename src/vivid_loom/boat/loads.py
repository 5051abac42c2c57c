"""Consumers and the circuits that feed them."""

import dataclasses
from typing import Annotated, Final, Literal

from annotated_types import Ge, Gt, Le

from vivid_loom.boat.supply import DeviceFamily, Level
from vivid_loom.quantities import EachOnce, GaugeText, Id, OptionalGaugeText, Prose, record
from vivid_loom.standards.colours import ColourText

__all__ = [
    "SIGNAL_A",
    "SIGNAL_LEADS",
    "CircuitRequest",
    "ContactRequest",
    "Evidence",
    "LampIntent",
    "Lead",
    "LeadFunction",
    "Light",
    "Load",
    "LoadState",
    "MakerLength",
    "Scenario",
    "SwitchRequest",
    "named_lead",
]

Positive = Annotated[float, Gt(0)]
LeadFunction = Literal[
    "plus",
    "minus",
    "automatic",
    "manual",
    "up",
    "down",
    "sense",
    "control",
    "lamp",
    "unused",
    "unknown",
]
SIGNAL_A: Final = {"sense": 0.1, "control": 0.1, "lamp": 0.3}
"""More than a lead that only tells something draws, or one bulb of an instrument; our choice."""
SIGNAL_LEADS: Final = frozenset(SIGNAL_A)
"""Fed by themselves these draw next to nothing and bring nothing home: their load's minus does."""
Scenario = Literal["under way by day", "under way by night", "at anchor", "moored and left"]
LoadState = Literal["fitted", "wired_for_later", "owner_supplied", "provisional_place"]
Light = Literal["", "side", "masthead", "stern", "all-round white", "tricolour"]
LampIntent = Literal["up", "down", "either", "night", "always", "never"]
"""When a switch's lamp is lit: with a press, with either, with the instrument lights."""


@record
class Lead:
    """One wire or terminal of a load, told by its function, never by its colour.

    Attributes:
        colour: the maker's own, e.g. 'BN/WH'; '' for a terminal.
        gauge: of the maker's lead; '' for a terminal.
        length_mm: of the maker's lead; 0 for a terminal.
        ending: 'tail' (bare end), 'tab' (6.3 mm), 'screw', 'stud M8' and so on.
        fuse_a: of a fuse of its own; a 'control' lead that no circuit feeds taps the load's plus
            and needs one where it is thinner than the device upstream allows.
    """

    function: LeadFunction
    ending: str = "tail"
    colour: ColourText = ""
    gauge: OptionalGaugeText = ""
    length_mm: Annotated[float, Ge(0)] = 0.0
    fuse_a: Positive | None = None


def named_lead(function: LeadFunction, number: int) -> str:
    """Return what a load's lead of a function is called: 'control', 'control 2' and so on."""
    return function if number == 1 else f"{function} {number}"


@record
class Evidence:
    """Where the current came from."""

    kind: Literal["maker", "measured", "estimate", "unknown"]
    note: Prose = ""
    date: str = ""


@record
class MakerLength:
    """A row of a maker's own table: up to this loop length, at least this gauge.

    Makers print lengths one way or there and back; here it is always the whole loop.
    """

    loop_length_m: Positive
    gauge: GaugeText


SEPARATED: Final = {
    "bilge_pump": "bilge",
    "bilge_alarm": "bilge",
    "navigation_light": "navigation",
    "anchor_light": "navigation",
}
"""Words of loads that keep a boat afloat or seen, by their function; our choice."""


@record
class Load:
    """A consumer.

    Attributes:
        function: 'unknown' while nobody has said what it is.
        running_a: continuous current in A; None while nobody has looked it up.
        peak_a: starting or short-time peak.
        locked_rotor_a: with the shaft held, at nominal voltage.
        self_protected: the motor outlasts a stall by itself (thermal cut-out).
        contact_a: rating of the contact inside it (float, thermostat, pressure); it bears
            what its device lets through.
        heat_c: surroundings it stands, in °C; None where its maker says nothing.
        maker_fuse_a: the maker's single figure, which is a maximum.
        maker_fuse_best_a: what the maker recommends below that maximum.
        fuse_families: kinds of device the maker allows; () for any.
        maker_lengths: the maker's own length → gauge table.
        duty_percent: share of the time it draws its running current while it is in use.
        longest_on_min: a short-time motor may run this long at a stretch; None for continuous.
        output_w, efficiency_percent: of a converter; its running current is drawn on top of
            the loss.
        hours: hours a day in use, by scenario, where the function's usual figure does not fit.
        maker_smallest: the thinnest wire the maker allows.
        demand: 'A' runs when it must, 'B' now and then.
        drop: 'critical' (3 %) or 'other' (10 %).
        motor: its switch is derated.
        return_path: 'wire' or 'hull'; a hull is never a return.
        ingress: what it stands: 'dry', 'spray' or 'submersible'.
        ignition_protected: may stand in fuel vapour.
        safety: loads of the same word must not share a device, e.g. 'bilge'; '' for what its
            function says, see ``separation``.
        shows: of a navigation light, which of a vessel's lights it is; a bicolour is 'side'.
        lit_in: for lamps on a lever, the lever positions in which it must burn.
        lead_of: id of the part of the supply that it is a lead of, as a charger's sense lead: it
            comes home by that part's negative; '' for a load by itself.
        replaceable: it comes off by itself: its tails end at a polarised pair of plugs.
        role_note: where its function and what comes with it were taken from, if not stated.
    """

    id: Id
    name: str
    station: str
    function: str
    running_a: Annotated[float, Gt(0)] | None
    evidence: Evidence
    leads: tuple[Lead, ...]
    peak_a: Positive | None = None
    locked_rotor_a: Positive | None = None
    self_protected: bool = False
    contact_a: Positive | None = None
    heat_c: float | None = None
    maker_fuse_a: Positive | None = None
    maker_fuse_best_a: Positive | None = None
    fuse_families: tuple[DeviceFamily, ...] = ()
    maker_lengths: tuple[MakerLength, ...] = ()
    maker_smallest: GaugeText | None = None
    demand: Literal["A", "B"] = "B"
    drop: Literal["critical", "other"] = "other"
    motor: bool = False
    state: LoadState = "fitted"
    return_path: Literal["wire", "hull"] = "wire"
    ingress: Literal["dry", "spray", "submersible"] = "spray"
    ignition_protected: bool = False
    safety: str = ""
    shows: Light = ""
    lit_in: tuple[Literal["up", "down"], ...] = ()
    duty_percent: Annotated[float, Gt(0), Le(100)] = 100.0
    longest_on_min: Positive | None = None
    output_w: Positive | None = None
    efficiency_percent: Annotated[float, Gt(0), Le(100)] | None = None
    hours: tuple[tuple[Scenario, Annotated[float, Ge(0), Le(24)]], ...] = ()
    lead_of: str = ""
    replaceable: bool = False
    role_note: Prose = ""

    @property
    def short_time(self) -> bool:
        """Whether it runs for a limited stretch only, with rests between."""
        return self.longest_on_min is not None and self.duty_percent < 100

    def allows(self, family: DeviceFamily) -> bool:
        """Tell whether the maker allows a kind of device; any where he names none."""
        return not self.fuse_families or family in self.fuse_families

    def fed_by(self, function: LeadFunction, number: int = 1) -> "Load":
        """Return the load as one of its leads draws: next to nothing by a signal lead."""
        if function not in SIGNAL_LEADS:
            return self
        lead = self.named(named_lead(function, number))
        return dataclasses.replace(
            self,
            running_a=SIGNAL_A[function],
            peak_a=None,
            locked_rotor_a=None,
            motor=False,
            contact_a=None,
            maker_fuse_a=lead.fuse_a if lead else None,
            maker_fuse_best_a=None,
            fuse_families=(),
            maker_lengths=(),
            maker_smallest=None,
            drop="other",
            duty_percent=100.0,
            longest_on_min=None,
        )

    @property
    def separation(self) -> str:
        """The word of loads that must not share a device: as was said, or by its function."""
        return self.safety or SEPARATED.get(self.function, "")

    @property
    def is_a_coil(self) -> bool:
        """Whether it may pull a relay or contactor: a coil has a plus, or an up and a down."""
        fed = self.lead("plus") or (self.lead("up") and self.lead("down"))
        return bool(fed and self.lead("minus"))

    def lead(self, function: LeadFunction) -> Lead | None:
        """Return the first lead of this function."""
        return next((lead for lead in self.leads if lead.function == function), None)

    def names(self, function: LeadFunction) -> tuple[str, ...]:
        """Return what its leads of a function are called: 'control', 'control 2' and so on."""
        count = sum(lead.function == function for lead in self.leads)
        return tuple(named_lead(function, n) for n in range(1, count + 1))

    def named(self, name: str) -> Lead | None:
        """Return the lead of a name that ``names`` gives."""
        function, _, number = name.partition(" ")
        same = [lead for lead in self.leads if lead.function == function]
        index = int(number or 1) - 1
        return same[index] if index < len(same) else None


@record
class ContactRequest:
    """Which contact of which switch a circuit goes through.

    Attributes:
        pole: 1 or 2.
        throws: lever positions in which the circuit is live, at least one.
    """

    switch: str
    pole: Annotated[int, Ge(1)] = 1
    throws: Annotated[tuple[Literal["up", "down"], ...], EachOnce()] = ("up",)


@record
class CircuitRequest:
    """One protected feed to be drafted.

    Attributes:
        pattern: how it is fed; see ``vivid_loom.drafting.patterns``.
        loads: on one circuit, chained in the order met along the run.
        level: which of the three levels of 'on' it hangs on.
        supply: a named block; '' lets the draft choose.
        contact: the switch it goes through, where the pattern has one.
        also: further contacts beside it: a second station, a loose float.
        cable: what ends on its one load lies under a jacket, or is a twisted pair; '' for wires.
        cores: of its cable at least so many; those it does not need are spare. 0 for as few as it
            needs.
        lead: which lead of its loads it feeds, where the pattern leaves it open.
        lead_number: which of several of that function, as they come: a meter has a sense lead for
            every battery.
        instrument: id of the load that reads its sensor; '' where it is fed from a supply.
        family: of its device, on a post or stud; '' for what bears it. In a way it is the block's.
    """

    id: Id
    label: str
    pattern: str
    loads: tuple[str, ...]
    level: Level = "unswitched"
    supply: str = ""
    contact: ContactRequest | None = None
    also: tuple[ContactRequest, ...] = ()
    cable: Literal["", "cable", "twisted pair"] = ""
    cores: Annotated[int, Ge(0), Le(19)] = 0
    lead: LeadFunction = "plus"
    lead_number: Annotated[int, Ge(1)] = 1
    instrument: str = ""
    family: DeviceFamily | Literal[""] = ""

    @property
    def contacts(self) -> tuple[ContactRequest, ...]:
        """Every contact it goes through."""
        return (self.contact, *self.also) if self.contact else self.also

    @property
    def fed_lead(self) -> LeadFunction:
        """The lead it feeds: a sensor's sense lead, or the one that was named."""
        return "sense" if self.instrument else self.lead

    @property
    def lead_name(self) -> str:
        """What its loads call the lead it feeds, as ``Load.names`` has it."""
        return named_lead(self.fed_lead, self.lead_number)


@record
class SwitchRequest:
    """A switch, float, key or contactor that circuits go through.

    Attributes:
        part: catalogue id.
        rank: 0 emergency, 1 navigation, 2 working, 3 comfort; lower comes first.
        panel: id of the panel it stands on; '' for the first with room.
        station: where it stands by itself, on no panel; '' for one on a panel.
        coil: id of the load that pulls it, for a contactor.
        upper_lamp, lower_lamp: when each of its lamps is lit, as far as it has them.
        legend_says: what the legend fitted says, where it is from stock and says something else.
    """

    id: Id
    part: str
    legend: str
    rank: Annotated[int, Ge(0)] = 2
    panel: str = ""
    station: str = ""
    coil: str = ""
    upper_lamp: LampIntent | Literal["by_profile"] = "by_profile"
    lower_lamp: LampIntent | Literal["by_profile"] = "by_profile"
    legend_says: str = ""
