"""How a load may be fed: the pattern, the level and the helm switch of every way."""

from typing import Final, Literal, NamedTuple

from vivid_loom.boat import LeadFunction, Level
from vivid_loom.boat.generic_loads import Feeding

__all__ = ["BOTH", "FEEDINGS", "Way"]


class Way(NamedTuple):
    """How a way of feeding is built.

    Attributes:
        switch: catalogue id of its helm switch; '' without one.
        also: catalogue id of the contact at the load beside it; '' without one.
        throws: of its contacts.
        leads: of a load that it feeds, and what brings the current home.
        alone: takes one load, so that one fault stops one.
        both_poles: goes through both poles of its switch.
        at_battery: hangs on a battery's post, with its device in line.
        pair: how the catalogue ids of the contactor pairs begin that work it; the switch, and
            the contact beside it, then work their coils, on a circuit of their own.
    """

    pattern: str
    level: Level
    switch: str = ""
    also: str = ""
    throws: tuple[Literal["up", "down"], ...] = ("up",)
    leads: tuple[LeadFunction, ...] = ("plus", "minus")
    alone: bool = False
    both_poles: bool = False
    at_battery: bool = False
    pair: str = ""


BOTH: Final = ("up", "down")
_TURNS: Final = Way(
    "two_directions",
    "unswitched",
    "rocker-spdt-momentary",
    throws=BOTH,
    leads=("up", "down", "minus"),
    alone=True,
)
_TWICE: Final = _TURNS._replace(also="toggle-spdt-momentary")
_EACH_WAY: Final = "contactor-each-way-interlock"
_REVERSING: Final = "contactor-reversing"
_PUMP: Final = Way(
    "pump_auto_manual",
    "battery_direct",
    "rocker-spst",
    leads=("automatic", "manual", "minus"),
    alone=True,
)
FEEDINGS: Final[dict[Feeding, Way]] = {
    "own switch": Way("device_switched", "unswitched"),
    "helm switch": Way("switched", "unswitched", "rocker-spst"),
    "helm button": Way("switched", "unswitched", "rocker-momentary"),
    "helm switch and float": Way("either_contact", "battery_direct", "rocker-spst", "float-switch"),
    "helm and second station": Way(
        "either_contact", "unswitched", "rocker-momentary", "push-momentary"
    ),
    "two directions": _TURNS,
    "two directions, two stations": _TWICE,
    "two directions by contactors": _TURNS._replace(pair=_EACH_WAY),
    "two directions by contactors, two stations": _TWICE._replace(pair=_EACH_WAY),
    "reversed motor": _TURNS._replace(
        pattern="reversing", switch="rocker-dpdt-momentary", leads=BOTH, both_poles=True
    ),
    "reversed by contactors": _TURNS._replace(pattern="reversing", leads=BOTH, pair=_REVERSING),
    "reversed by contactors, two stations": _TWICE._replace(
        pattern="reversing", leads=BOTH, pair=_REVERSING
    ),
    "automatic pump": _PUMP,
    "three-position pump": _PUMP._replace(
        pattern="pump_three_position", switch="rocker-spdt", throws=BOTH
    ),
    "breaker as switch": Way("breaker", "unswitched"),
    "breaker on a panel": Way("breaker", "unswitched", "breaker-toggle"),
    "always live": Way("device_switched", "battery_direct"),
    "at the battery": Way("device_switched", "battery_direct", at_battery=True),
    "ignition": Way("device_switched", "ignition"),
}
