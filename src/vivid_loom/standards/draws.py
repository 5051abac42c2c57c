"""How what is aboard draws: its current as the voltage falls, and when it gives up."""

from typing import Final, Literal, NamedTuple

from vivid_loom.standards.source import Source

__all__ = ["DRAW_SOURCE", "Behaviour", "behaviour"]

DRAW_SOURCE: Final = Source("our choice", "how kinds of load draw", "makers differ; measure")


class Behaviour(NamedTuple):
    """How something draws.

    Attributes:
        law: its current follows the voltage, stays, or rises as the voltage falls.
        least: share of its nominal voltage below which it gives up.
        both_ways: it draws turned round as well: a coil, a filament, a motor that runs backwards.
    """

    law: Literal["resistance", "current", "power"]
    least: float
    both_ways: bool


_MOTOR: Final = Behaviour("current", 0.5, both_ways=True)
_REGULATED: Final = Behaviour("power", 0.8, both_ways=False)
_LIGHT: Final = Behaviour("power", 0.75, both_ways=False)  # a lamp of diodes with its driver
_SOUNDER: Final = Behaviour("resistance", 0.6, both_ways=True)
_COIL: Final = Behaviour("resistance", 0.3, both_ways=True)
_SIGNAL_LAMP: Final = Behaviour("current", 0.25, both_ways=False)

_BY_FUNCTION: Final = {
    "navigation_light": _LIGHT,
    "anchor_light": _LIGHT,
    "deck_light": _LIGHT,
    "cabin_light": _LIGHT,
    "instrument_light": _LIGHT,
    "searchlight": _LIGHT,
    "horn": _SOUNDER,
    "alarm": _REGULATED,
    "bilge_alarm": _REGULATED,
    "electronics": _REGULATED,
    "instrument": _REGULATED,
    "radio": _REGULATED,
    "socket": _REGULATED,
    "heater": _MOTOR,  # burning oil: a fan and a pump
}


def behaviour(element: str, function: str) -> Behaviour:
    """Return how an element of the net list draws.

    Args:
        element: its law there: 'draw', 'motor', 'coil' or 'lamp'.
        function: of its load; '' for the lamp of a switch.
    """
    if element == "coil":
        return _COIL
    if element == "lamp":
        return _SIGNAL_LAMP
    if element == "motor":
        return _MOTOR
    return _BY_FUNCTION.get(function, _REGULATED)
