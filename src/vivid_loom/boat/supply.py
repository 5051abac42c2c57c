"""Where current comes from and goes home to."""

from typing import Annotated, Final, Literal

from annotated_types import Ge, Gt, Le

from vivid_loom.quantities import GaugeText, Id, OptionalGaugeText, record

__all__ = [
    "WAYED",
    "Battery",
    "DeviceFamily",
    "FactoryLink",
    "Feed",
    "HelmPanel",
    "Home",
    "Level",
    "ReturnBus",
    "Supply",
    "SupplyKind",
]

Positive = Annotated[float, Gt(0)]
NotNegative = Annotated[float, Ge(0)]
Level = Literal["battery_direct", "unswitched", "ignition"]
DeviceFamily = Literal[
    "blade fuse", "large blade fuse", "bolt-down fuse", "post fuse", "class T fuse", "breaker"
]
SupplyKind = Literal[
    "battery_switch",
    "selector",
    "key_switch",
    "relay",
    "contactor",
    "combining_relay",
    "charge_source",
    "converter",
    "stud",
    "bus",
    "fuse_block",
    "breaker_panel",
]


SmallThread = Literal["M4", "M5", "M6", "M8"]
"""Thread of the ways of a block and of the screws of a bus."""

WAYED: Final = frozenset({"bus", "fuse_block", "breaker_panel"})
"""Kinds that circuits hang on by ways; from any other a lead leaves the stud."""


@record
class Battery:
    """A battery or bank.

    Attributes:
        cranking_a: cold-cranking amps; decides the interrupt rating asked for.
        capacity_ah: at the 20-hour rate.
        internal_ohm: of the warm, full battery; None to reckon it from the cranking amps.
        chemistry: the interrupt ratings by cranking amps are not for lithium banks.
        stud: size of its posts.
    """

    id: Id
    name: str
    station: str
    cranking_a: Positive
    capacity_ah: Positive
    internal_ohm: Positive | None = None
    chemistry: Literal["flooded", "AGM", "gel", "lithium"] = "flooded"
    stud: str = "M8"


@record
class Feed:
    """A conductor that brings current to a part, with its protection.

    Attributes:
        source: id of the battery or part it comes from.
        id: 'F03'; '' lets the draft number it.
        port: which of the part's inputs it lands on: '1' or '2' of a selector or a combining
            relay; '' for the only one.
        family: device that protects it; None where nothing does.
        distance_mm: from the terminal it comes from to that device.
        sheathed: that stretch is sheathed or enclosed all the way.
        stud: size of the stud or post it lands on.
        cranking: an engine's starter draws through it: the thinnest that the engine's maker
            allows for that; '' where none does. Such a lead needs no device.
    """

    source: str
    id: Id = ""
    port: str = ""
    family: DeviceFamily | None = None
    distance_mm: NotNegative = 0.0
    sheathed: bool = False
    stud: str = "M8"
    cranking: OptionalGaugeText = ""


@record
class Supply:
    """A part that current passes on its way to the loads.

    Attributes:
        level: what it is meant to be: 'battery_direct' is alive with everything off,
            'unswitched' stands behind a battery switch, 'ignition' behind the key as well.
            Whether it is follows from what stands on its way.
        feeds: what brings it current; several for a selector or a combining relay.
        ways, way_max_a, total_max_a: capacity of a block; 0 ways for a switch or a relay, whose
            ``total_max_a`` is the rating of its contact, of a charge source its output.
        family: device that protects each way, or a lead straight from its stud.
        ways_protected: False on an existing boat whose block is a bare bar.
        way_stud: thread of a way's terminal: how thick a wire it takes.
        way_distance_mm: from the block's bar to the device of a way, along the conductor.
        ingress: what the block stands; None where nobody has looked.
        ignition_protected: may stand in fuel vapour.
        coil: id of the load that pulls a relay or contactor; '' for one that works by itself.
        output_v: of a converter: what stands behind it has this voltage.
        efficiency_percent: of a converter.
        charges_by: of a charge source: when it gives anything.
        case_on: of a charge source whose case is its minus: the return bus that it is bolted to,
            an engine's block; '' for one with a minus lead of its own.
    """

    id: Id
    name: str
    station: str
    kind: SupplyKind
    level: Level
    feeds: tuple[Feed, ...] = ()
    ways: Annotated[int, Ge(0)] = 0
    way_max_a: Positive = 30.0
    total_max_a: Positive = 100.0
    family: DeviceFamily = "blade fuse"
    ways_protected: bool = True
    way_stud: SmallThread = "M4"
    way_distance_mm: NotNegative = 0.0
    ingress: Literal["dry", "spray", "submersible"] | None = None
    ignition_protected: bool = False
    coil: str = ""
    output_v: Positive | None = None
    efficiency_percent: Annotated[float, Gt(0), Le(100)] = 90.0
    charges_by: Literal["engine", "shore", "sun"] = "engine"
    case_on: str = ""

    @property
    def lead_max_a(self) -> float:
        """What one lead from it may be fused at: a way's rating, or its own where it has none."""
        return self.way_max_a if self.ways else self.total_max_a


@record
class Home:
    """A conductor that takes a return bus's current home.

    Attributes:
        to: id of the bus or battery it goes to; '' for the next bus on the way back, or else
            the battery.
        beside: id of the supply beside whose feeder it runs, as its pair; '' for one by itself.
        id: of a conductor by itself; '' lets the draft number it.
        gauge: the thinnest its maker allows, as an engine's maker for cranking; '' for none stated.
    """

    to: str = ""
    beside: str = ""
    id: Id = ""
    gauge: OptionalGaugeText = ""


@record
class ReturnBus:
    """A negative bus with its conductors home.

    Attributes:
        screw: thread of its screws: how thick a wire they take.
    """

    id: Id
    name: str
    station: str
    screws: Annotated[int, Gt(0)]
    homes: tuple[Home, ...] = ()
    max_a: Positive = 100.0
    screw: SmallThread = "M4"


@record
class FactoryLink:
    """A conductor that a panel arrives with, from tab to tab behind its positions.

    Attributes:
        from_tab, to_tab: position on the panel and terminal: '3 1C'.
    """

    from_tab: str
    to_tab: str
    gauge: GaugeText = "14 AWG"
    length_mm: Positive = 80.0


@record
class HelmPanel:
    """A switch panel: numbered positions, the first where a hand finds it in the dark.

    Attributes:
        rows: of positions, counted from the top left as seen from the front.
        pitch_mm, row_pitch_mm: from position to position, across and down.
        depth_mm: free behind it; 0 where nobody has measured.
        cut_out: the holes of its positions, as '37 × 21 mm'; '' where nobody has looked.
        links: what its maker has chained behind it.
        gasket: it has one behind its plate.
    """

    id: Id
    name: str
    station: str
    positions: Annotated[int, Gt(0)]
    rows: Annotated[int, Gt(0)] = 2
    pitch_mm: Positive = 26.0
    row_pitch_mm: Positive = 62.0
    depth_mm: NotNegative = 0.0
    cut_out: str = ""
    links: tuple[FactoryLink, ...] = ()
    gasket: bool = True

    @property
    def columns(self) -> int:
        """Positions in a row; the last row may be shorter."""
        return -(-self.positions // self.rows)

    def takes(self, cut_out: str) -> bool:
        """Tell whether a switch's body fits the holes, as far as both are known."""
        return not (self.cut_out and cut_out) or self.cut_out == cut_out

    def place_mm(self, number: int) -> tuple[float, float]:
        """Return where a position's middle is: right and down of the first, as seen from front.

        Args:
            number: on this panel, from 1.
        """
        row, column = divmod(number - 1, self.columns)
        return column * self.pitch_mm, row * self.row_pitch_mm
