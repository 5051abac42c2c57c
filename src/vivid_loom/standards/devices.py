"""Kinds of protective device as sold: ratings, what they break, when they open."""

import math
from collections.abc import Mapping
from functools import cached_property
from pathlib import Path
from typing import Annotated, Final

from annotated_types import Gt

from vivid_loom.quantities import record
from vivid_loom.quantities.document import read_document
from vivid_loom.standards.source import Source

__all__ = ["DEVICES", "GENERIC_SOURCE", "Device", "Gate"]

GENERIC_SOURCE: Final = Source("generic catalogue band", "", "from memory; look up the maker's")

Positive = Annotated[float, Gt(0)]
Edge = tuple[tuple[float, float], ...]
"""(multiple of the rating, time in s), rising."""


@record
class Gate:
    """At this multiple of its rating a device holds so long, and has opened by then.

    Attributes:
        opens_s: None where nothing is promised.
    """

    multiple: Positive
    holds_s: Positive
    opens_s: Positive | None = None


@record
class Device:
    """A kind of device.

    Attributes:
        ratings_a: standard ratings, rising; generic stock lists, the blade's that of ISO 8820-3.
        interrupt_a: the current it breaks; typical, from memory.
        max_v: the voltage it is made for; typical, from memory.
        gates: its time–current band, rising.
        parts_in_s: the least time its contacts take to part, at best and at worst.
        bolted: a spanner holds it on a stud.
        source, place, note: of its band; see ``Source``.
    """

    name: str
    ratings_a: tuple[Positive, ...]
    interrupt_a: Positive
    max_v: Positive
    gates: tuple[Gate, ...]
    source: str
    place: str = ""
    note: str = ""
    parts_in_s: tuple[float, float] = (0.0, 0.0)
    bolted: bool = False

    @property
    def band_source(self) -> Source:
        """Where its band comes from."""
        return Source(self.source, self.place, self.note)

    @cached_property
    def early(self) -> Edge:
        """Until when it holds for certain."""
        return tuple((gate.multiple, gate.holds_s) for gate in self.gates)

    @cached_property
    def late(self) -> Edge:
        """By when it has opened for certain; inf where nothing is promised."""
        return tuple((gate.multiple, gate.opens_s or math.inf) for gate in self.gates)


@record
class _Devices:
    families: tuple[Device, ...]


def _read() -> Mapping[str, Device]:
    path = Path(__file__).parent / "data" / "device_families.json"
    found = read_document(path, _Devices, "vivid-loom-devices", 1)
    return {device.name: device for device in found.families}


DEVICES: Final = _read()
