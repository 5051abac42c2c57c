"""Where things are: areas, stations and the measured runs between them."""

from typing import Annotated, Literal

from annotated_types import Gt

from vivid_loom.quantities import record

__all__ = ["Area", "Enclosure", "Hull", "Run", "Station"]

Positive = Annotated[float, Gt(0)]
Enclosure = Literal["open", "loom", "conduit"]


@record
class Hull:
    """Principal dimensions and the profile drawn in the keel strip.

    Attributes:
        sheer: (x, z) points of the deck edge, aft first, in m above the keel line.
        keel: (x, z) points of the bottom, aft first.
        house: (x, z) points of the wheelhouse or console; empty for an open boat.
    """

    length_m: Positive
    beam_m: Positive
    material: Literal["aluminium", "steel", "grp", "wood"]
    sheer: tuple[tuple[float, float], ...]
    keel: tuple[tuple[float, float], ...]
    house: tuple[tuple[float, float], ...] = ()


@record
class Area:
    """A part of the boat with its zone attributes.

    Attributes:
        from_m, to_m: extent along the boat, from the transom.
        fuel_vapour: only ignition-protected parts may stand here.
        water: what reaches the parts: 'dry', 'spray' or 'submersible'.
        engine_heat: the engine-space factor applies.
        ambient_c: design temperature of the air.
        at_sea: a hand can reach it under way.
        axis: one of the areas the boat is divided into end to end; False for one that lies
            above or below another.
    """

    id: str
    name: str
    from_m: float
    to_m: float
    fuel_vapour: bool = False
    water: Literal["dry", "spray", "submersible"] = "dry"
    engine_heat: bool = False
    ambient_c: float = 30.0
    at_sea: bool = True
    axis: bool = True


@record
class Station:
    """A named point: a load's place, a bulkhead, a panel. Metres from transom, centre, keel."""

    id: str
    name: str
    area: str
    x_m: float
    y_m: float
    z_m: float


@record
class Run:
    """A stretch that wires may take between two stations.

    Attributes:
        length_m: measured along the structure, never the straight line.
        harness: the assembly whose branch runs here; where it changes, a plug stands.
        area: gives heat and water; the run takes its area's zone attributes.
        permitted: False where no wire may go; ``why_not`` says why.
        low: below the level that bilge water reaches.
    """

    id: str
    ends: tuple[str, str]
    length_m: Positive
    harness: str
    area: str
    enclosure: Enclosure = "loom"
    permitted: bool = True
    why_not: str = ""
    low: bool = False
