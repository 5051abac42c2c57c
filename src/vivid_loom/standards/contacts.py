"""What contacts, devices and crimped ends add to a wire's own resistance."""

from typing import Final

from vivid_loom.standards.source import Source

__all__ = ["BOTH", "CONTACT_SOURCE", "DROP_OUT", "PULL_IN", "contact_ohm", "device_ohm", "end_ohm"]

CONTACT_SOURCE: Final = Source("our choice", "usual figures of new parts", "from memory")

_CONTACT_MILLIOHM: Final = {
    "lever": 8.0,
    "key": 5.0,
    "key_switch": 5.0,
    "float": 20.0,
    "pressure": 20.0,
    "thermostat": 20.0,
    "load": 20.0,  # the float inside it
    "coil": 0.3,
    "contactor": 0.3,
    "relay": 1.0,
    "combining_relay": 0.5,
    "battery_switch": 0.1,
    "selector": 0.15,
    "strip": 1.0,
}
_BAR_MILLIOHM: Final = 0.05  # a screw, stud or way on a bar, a link
_PLUG_MILLIOHM: Final = {"20": 8.0, "16": 5.0, "12": 2.0, "8": 0.8, "4": 0.4, "2": 0.2, "0": 0.1}

_DEVICE_MV: Final = {
    "blade fuse": 80.0,
    "large blade fuse": 70.0,
    "bolt-down fuse": 60.0,
    "post fuse": 60.0,
    "class T fuse": 60.0,
    "breaker": 120.0,
}
"""Millivolts over a cold device at its rated current; a hot one drops half as much again."""

_END_MILLIOHM_MM2: Final = 1.0  # one crimp and its landing, of a wire of 1 mm²
_END_MILLIOHM: Final = 0.02

BOTH: Final = "both"
"""State of a pair of contactors, the coils of which have both pulled."""

PULL_IN: Final = 0.7
"""Share of its voltage at which a coil pulls; from memory, our choice among makers' figures."""

DROP_OUT: Final = 0.3
"""Share of its voltage below which a coil lets go; from memory, our choice."""


def contact_ohm(kind: str, size: str = "") -> float:
    """Return the resistance of a closed contact in a part of some kind, in Ω.

    Args:
        size: of a plug's contacts: '20', '16', '12', '8', '4', '2' or '0'.
    """
    if kind == "plug":
        return _PLUG_MILLIOHM.get(size, 5.0) / 1000
    return _CONTACT_MILLIOHM.get(kind, _BAR_MILLIOHM) / 1000


def device_ohm(family: str, rating_a: float) -> float:
    """Return the cold resistance of a fuse or breaker, in Ω."""
    return _DEVICE_MV[family] / 1000 / rating_a


def end_ohm(area_mm2: float) -> float:
    """Return the resistance of a crimped end on its terminal, in Ω."""
    return (_END_MILLIOHM_MM2 / area_mm2 + _END_MILLIOHM) / 1000
