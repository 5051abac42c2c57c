"""Where things are: areas, stations and the measured runs between them."""

import math
from typing import Annotated, Literal

from annotated_types import Ge, Gt, Le

from vivid_loom.quantities import Id, Prose, record

__all__ = ["Area", "Enclosure", "Hazard", "Hull", "Near", "Run", "Station", "Swing", "is_harsh"]

Positive = Annotated[float, Gt(0)]
NotNegative = Annotated[float, Ge(0)]
Enclosure = Literal["open", "loom", "conduit"]
Hazard = Literal[
    "wet exhaust", "dry exhaust", "fuel line", "bilge water", "moving cable", "compass"
]


@record
class Hull:
    """Principal dimensions, the profile drawn in the keel strip and the shape of the plan.

    Attributes:
        transom_share: width of the transom, as a share of the beam; see ``plan_outline``.
        widest_at: where the hull reaches its beam, as a share of the length from the transom.
        bow_fullness: 1 for a straight-sided bow, 2 for a full one, more for a blunt one.
        sails: it may be driven by sail alone, and shows a sailing vessel's lights then.
        thrust_n: static thrust of its engines together; None where nobody has said.
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
    transom_share: Annotated[float, Gt(0), Le(1)] = 0.86
    widest_at: Annotated[float, Gt(0), Le(0.9)] = 0.4
    bow_fullness: Annotated[float, Ge(1), Le(6)] = 2.2
    sails: bool = False
    thrust_n: Annotated[float, Ge(0)] | None = None


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

    id: Id
    name: str
    from_m: float
    to_m: float
    fuel_vapour: bool = False
    water: Literal["dry", "spray", "submersible"] = "dry"
    engine_heat: bool = False
    ambient_c: float = 30.0
    at_sea: bool = True
    axis: bool = True


def is_harsh(area: Area) -> bool:
    """Tell whether an open joint has no place there: water, heat or fuel vapour."""
    return area.water != "dry" or area.engine_heat or area.fuel_vapour


@record
class Station:
    """A named point: a load's place, a bulkhead, a panel. Metres from transom, centre, keel.

    Attributes:
        apart_m: of wire from one part that stands there to another; our choice until measured.
    """

    id: Id
    name: str
    area: str
    x_m: float
    y_m: float
    z_m: float
    apart_m: Annotated[float, Gt(0), Le(10)] = 0.3


@record
class Near:
    """Something a run passes that wires must keep clear of, and how close it comes."""

    what: Hazard
    distance_mm: NotNegative


@record
class Swing:
    """A joint that moves, such as an outboard engine on its bracket.

    The wires are held at one clip on the hull and one on the moving part; seen from the pivot
    the clips stand ``rest_deg`` apart when the part is amidships.

    Attributes:
        fixed_m, moving_m: from the pivot to the clip on the hull, and on the moving part.
        sweep_deg: whole angle from hard over to hard over, half to each side.
    """

    fixed_m: Positive
    moving_m: Positive
    sweep_deg: Annotated[float, Gt(0), Le(360)]
    rest_deg: Annotated[float, Ge(0), Le(180)] = 120.0

    def span_m(self, turned_deg: float) -> float:
        """Return the straight distance between the clips with the part turned, in m.

        References: law of cosines.
        """
        a, b = self.fixed_m, self.moving_m
        angle = math.radians(self.rest_deg + turned_deg)
        return math.sqrt(max(0.0, a * a + b * b - 2 * a * b * math.cos(angle)))

    @property
    def slack_m(self) -> float:
        """Wire needed beyond the amidships span so that nothing is pulled at any angle, in m."""
        half = self.sweep_deg / 2
        turns = [-half, half]
        if abs(180.0 - self.rest_deg) <= half:  # the clips stand opposite each other on the way
            turns.append(180.0 - self.rest_deg)
        return max(0.0, max(map(self.span_m, turns)) - self.span_m(0.0))


@record
class Run:
    """A stretch that wires may take between two stations.

    Attributes:
        length_m: measured along the structure, never the straight line; across a moving
            joint, with the part amidships.
        harness: the assembly whose branch runs here; where it changes, a plug stands.
        area: gives heat and water; the run takes its area's zone attributes.
        permitted: False where no wire may go; ``why_not`` says why.
        low: below the level that bilge water reaches.
        bore_mm: inner diameter of the conduit or loom that is fitted; None while none is chosen.
        support_mm: spacing of supports; None for the profile's.
        near: what it passes.
        swing: the moving joint it crosses.
    """

    id: Id
    ends: tuple[str, str]
    length_m: Positive
    harness: str
    area: str
    enclosure: Enclosure = "loom"
    permitted: bool = True
    why_not: Prose = ""
    low: bool = False
    bore_mm: Positive | None = None
    support_mm: Positive | None = None
    near: tuple[Near, ...] = ()
    swing: Swing | None = None

    @property
    def wire_m(self) -> float:
        """Length of wire the run takes: measured length and the slack of a moving joint."""
        return self.length_m + (self.swing.slack_m if self.swing else 0.0)
