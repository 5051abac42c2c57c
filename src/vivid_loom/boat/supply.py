"""Where current comes from and goes home to."""

from typing import Annotated, Literal

from annotated_types import Ge, Gt

from vivid_loom.quantities import record

__all__ = ["Battery", "DeviceFamily", "HelmPanel", "Level", "ReturnBus", "Supply"]

Positive = Annotated[float, Gt(0)]
NotNegative = Annotated[float, Ge(0)]
Level = Literal["battery_direct", "unswitched", "ignition"]
DeviceFamily = Literal[
    "blade fuse", "large blade fuse", "bolt-down fuse", "post fuse", "class T fuse", "breaker"
]


@record
class Battery:
    """A battery or bank.

    Attributes:
        cranking_a: cold-cranking amps; decides the interrupt rating asked for.
        capacity_ah: at the 20-hour rate.
        internal_ohm: of the warm, full battery; None to reckon it from the cranking amps.
    """

    id: str
    name: str
    station: str
    cranking_a: Positive
    capacity_ah: Positive
    internal_ohm: Positive | None = None


@record
class Supply:
    """A place that circuits are fed from, fed itself by one feeder.

    Attributes:
        level: 'battery_direct' is alive with everything off, 'unswitched' stands behind the
            battery switch, 'ignition' behind the key as well.
        fed_from: another supply's or the battery's id.
        ways, way_max_a, total_max_a: capacity of the block; 0 ways for a battery switch.
        family: device that protects each way.
        ways_protected: False on an existing boat whose block is a bare bar.
        way_distance_mm: from the block's bar to the device of a way, along the conductor.
        feed_family: device that protects the feeder; None where nothing does.
        feed_distance_mm: from the terminal it is fed from to that device.
        feed_sheathed: that stretch is sheathed or enclosed all the way.
        feed_stud: size of the stud or post the feeder lands on.
        ingress: what the block stands; None where nobody has looked.
        ignition_protected: may stand in fuel vapour.
    """

    id: str
    name: str
    station: str
    kind: Literal["battery_switch", "fuse_block", "breaker_panel", "bus"]
    level: Level
    fed_from: str
    ways: Annotated[int, Ge(0)] = 0
    way_max_a: Positive = 30.0
    total_max_a: Positive = 100.0
    family: DeviceFamily = "blade fuse"
    ways_protected: bool = True
    way_distance_mm: NotNegative = 0.0
    feed_family: DeviceFamily | None = None
    feed_distance_mm: NotNegative = 0.0
    feed_sheathed: bool = False
    feed_stud: str = "M8"
    ingress: Literal["dry", "spray", "submersible"] | None = None
    ignition_protected: bool = False


@record
class ReturnBus:
    """A negative bus; its conductor home runs beside the feeder of ``paired_with``."""

    id: str
    name: str
    station: str
    paired_with: str
    screws: Annotated[int, Gt(0)]
    max_a: Positive = 100.0


@record
class HelmPanel:
    """The switch panel: numbered positions, the first where a hand finds it in the dark."""

    id: str
    name: str
    station: str
    positions: Annotated[int, Gt(0)]
