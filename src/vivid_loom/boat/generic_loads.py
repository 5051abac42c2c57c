"""Generic loads to draw from: typical figures, to be replaced by the maker's own."""

from functools import cache
from pathlib import Path
from typing import Annotated, Final, Literal

from annotated_types import Ge, Gt, Le

from vivid_loom.boat.boat import duplicates
from vivid_loom.boat.loads import Evidence, Lead, Light, Load
from vivid_loom.quantities import Id, record
from vivid_loom.quantities.document import DocumentError, read_document

__all__ = [
    "LOADS_FORMAT",
    "LOADS_VERSION",
    "Feeding",
    "GenericLoad",
    "GenericLoads",
    "generic_loads",
    "read_generic_loads",
]

LOADS_FORMAT: Final = "vivid-loom-loads"
LOADS_VERSION: Final = 1

Feeding = Literal[
    "own switch",
    "helm switch",
    "helm button",
    "helm switch and float",
    "helm and second station",
    "two directions",
    "two directions, two stations",
    "two directions by contactors",
    "two directions by contactors, two stations",
    "reversed motor",
    "reversed by contactors",
    "reversed by contactors, two stations",
    "automatic pump",
    "three-position pump",
    "breaker as switch",
    "breaker on a panel",
    "always live",
    "at the battery",
    "ignition",
]
"""How a load usually gets its current; see ``vivid_loom.order.new_loads``."""

_LEADS: Final[dict[str, tuple[Lead, ...]]] = {
    "tails": tuple(
        Lead(function=f, ending="tail", gauge="16 AWG", length_mm=300.0) for f in ("plus", "minus")
    ),
    "tabs": tuple(Lead(function=f, ending="tab") for f in ("plus", "minus")),
    "studs": tuple(Lead(function=f, ending="stud M8") for f in ("plus", "minus")),
    "pump_three_lead": tuple(
        Lead(function=f, ending="tail", gauge="16 AWG", length_mm=900.0)
        for f in ("automatic", "manual", "minus")
    ),
    "two_directions": tuple(
        Lead(function=f, ending="tail", gauge="12 AWG", length_mm=300.0)
        for f in ("up", "down", "minus")
    ),
    "reversed": tuple(
        Lead(function=f, ending="tail", gauge="12 AWG", length_mm=300.0) for f in ("up", "down")
    ),
    "reversed_studs": tuple(Lead(function=f, ending="stud M8") for f in ("up", "down")),
    "sensor": tuple(
        Lead(function=f, ending="tail", gauge="18 AWG", length_mm=300.0) for f in ("sense", "minus")
    ),
}


@record
class GenericLoad:
    """A kind of load with typical figures.

    Attributes:
        watts: drawn at nominal voltage, a converter's loss with it.
        peak_ratio: starting over running current; 1 where none is known.
        leads: 'tails', 'tabs', 'studs', or what they are for; their colours
            are the maker's and unknown.
        rank: of the helm switch that comes with it; see ``SwitchRequest``.
        also: words a load list may call it by, beside its name.
    """

    id: Id
    name: str
    group: str
    function: str
    watts: Annotated[float, Gt(0)]
    peak_ratio: Annotated[float, Ge(1)] = 1.0
    leads: Literal[
        "tails",
        "tabs",
        "studs",
        "pump_three_lead",
        "two_directions",
        "reversed",
        "reversed_studs",
        "sensor",
    ] = "tails"
    feeding: Feeding = "helm switch"
    rank: Annotated[int, Ge(0), Le(3)] = 2
    demand: Literal["A", "B"] = "B"
    drop: Literal["critical", "other"] = "other"
    motor: bool = False
    ingress: Literal["dry", "spray", "submersible"] = "spray"
    ignition_protected: bool = False
    safety: str = ""
    shows: Light = ""
    duty_percent: Annotated[float, Gt(0), Le(100)] = 100.0
    longest_on_min: Annotated[float, Gt(0)] | None = None
    output_w: Annotated[float, Gt(0)] | None = None
    efficiency_percent: Annotated[float, Gt(0), Le(100)] | None = None
    also: tuple[str, ...] = ()

    def load(self, load_id: str, name: str, station: str, nominal_v: float) -> Load:
        """Return a load of this kind; its current is an estimate until it is looked up."""
        amps = round(self.watts / nominal_v, 3)
        note = f"typical {self.watts:g} W at {nominal_v:g} V; look up the maker's figure"
        return Load(
            id=load_id,
            name=name,
            station=station,
            function=self.function,
            running_a=amps,
            evidence=Evidence(kind="estimate", note=note),
            leads=_LEADS[self.leads],
            peak_a=round(amps * self.peak_ratio, 3) if self.peak_ratio > 1 else None,
            demand=self.demand,
            drop=self.drop,
            motor=self.motor,
            ingress=self.ingress,
            ignition_protected=self.ignition_protected,
            safety=self.safety,
            shows=self.shows,
            duty_percent=self.duty_percent,
            longest_on_min=self.longest_on_min,
            output_w=self.output_w,
            efficiency_percent=self.efficiency_percent,
        )


@record
class GenericLoads:
    """A file of generic loads."""

    loads: tuple[GenericLoad, ...]


def read_generic_loads(path: Path) -> tuple[GenericLoad, ...]:
    """Read a file of generic loads.

    Raises:
        DocumentError: see ``read_document``; also an id used twice.
    """
    found = read_document(path, GenericLoads, LOADS_FORMAT, LOADS_VERSION).loads
    for twice in duplicates(load.id for load in found):
        raise DocumentError(path, "loads", f"found id {twice!r} twice, expected every id once")
    return found


@cache
def generic_loads() -> tuple[GenericLoad, ...]:
    """Return the generic loads that ship, by group and name."""
    found = read_generic_loads(Path(__file__).parent / "data" / "generic.loads.json")
    return tuple(sorted(found, key=lambda load: (load.group, load.name)))
