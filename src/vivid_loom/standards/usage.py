"""Hours a day that loads are in use, by what they do: where nobody has said otherwise."""

from typing import Final, NamedTuple

from vivid_loom.standards.source import OUR_CHOICE

__all__ = ["USAGE_SOURCE", "Usage", "usual_hours"]

USAGE_SOURCE: Final = OUR_CHOICE


class Usage(NamedTuple):
    """Hours in use out of 24, by scenario; a day under way counts eight hours of engine."""

    day_h: float
    night_h: float
    anchor_h: float
    left_h: float


USUAL: Final = {
    "navigation_light": Usage(0.0, 8.0, 0.0, 0.0),
    "anchor_light": Usage(0.0, 8.0, 12.0, 0.0),
    "deck_light": Usage(0.0, 2.0, 1.0, 0.0),
    "cabin_light": Usage(0.0, 2.0, 3.0, 0.0),
    "instrument_light": Usage(0.0, 8.0, 0.0, 0.0),
    "searchlight": Usage(0.0, 0.5, 0.0, 0.0),
    "bilge_pump": Usage(0.2, 0.2, 0.2, 0.2),
    "bilge_blower": Usage(0.3, 0.3, 0.1, 0.0),
    "fresh_water_pump": Usage(0.3, 0.2, 0.5, 0.0),
    "circulation_pump": Usage(8.0, 8.0, 24.0, 0.0),
    "electronics": Usage(8.0, 8.0, 2.0, 0.0),
    "instrument": Usage(8.0, 8.0, 0.0, 0.0),
    "radio": Usage(8.0, 8.0, 4.0, 0.0),
    "alarm": Usage(24.0, 24.0, 24.0, 24.0),
    "bilge_alarm": Usage(0.1, 0.1, 0.1, 0.1),  # what it draws is its sounding
    "engine_cut_off": Usage(8.0, 8.0, 0.0, 0.0),
    "refrigerator": Usage(24.0, 24.0, 24.0, 0.0),
    "heater": Usage(2.0, 6.0, 6.0, 0.0),
    "wiper": Usage(1.0, 1.0, 0.0, 0.0),
    "horn": Usage(0.05, 0.05, 0.0, 0.0),
    "socket": Usage(1.0, 1.0, 2.0, 0.0),
    "heavy_motor": Usage(0.3, 0.1, 0.1, 0.0),
    "accessory": Usage(1.0, 1.0, 1.0, 0.0),
    "unknown": Usage(1.0, 1.0, 1.0, 0.0),  # counted as an accessory until somebody says
}

_ORDER: Final = ("under way by day", "under way by night", "at anchor", "moored and left")


def usual_hours(function: str, scenario: str) -> float:
    """Return the usual hours a day in use; an unnamed function counts as an accessory."""
    usage = USUAL.get(function, USUAL["accessory"])
    return usage[_ORDER.index(scenario)]
