"""The schools of the trade as one frozen value; an order names one and may change fields."""

from typing import Annotated, Final, Literal

from annotated_types import Ge, Gt, Le

from vivid_loom.quantities import Series, record

__all__ = ["PROFILES", "Profile"]

Positive = Annotated[float, Gt(0)]


@record
class Profile:
    """What this shop holds to where the trade disagrees.

    Attributes:
        insulation_c: temperature rating of the wire's insulation.
        conductor_c: conductor temperature at which resistance is taken.
        bundling: 'off', 'loaded' (only conductors above 30 % of their ampacity count), 'all'.
        shop_floor: thinnest wire the shop fits.
        one_gauge: one generous gauge for every circuit that can do with it; '' to size each.
        feeder_share: part of the critical drop limit that a feeder may use (our choice, 0.6).
        tolerance: protection 'never_above' ampacity, or 'next_standard' up to 150 %.
        spare_allowance_a: B-load counted for each spare helm position.
        cut_step_mm: cut lengths are rounded up to it.
        tail_mm: allowance at each end for landing and one re-termination.
        service_loop_mm: slack left at each device.
        tie_spacing_mm: between supports, where a run asks for none of its own.
        growth_percent: room kept in loom and conduit for wires to come, by area.
    """

    id: str
    name: str
    school: Literal["ABYC", "ISO"]
    series: Series
    units: Literal["ft", "m"]
    insulation_c: int = 105
    conductor_c: Annotated[float, Ge(-20), Le(200)] = 50.0
    bundling: Literal["off", "loaded", "all"] = "loaded"
    shop_floor: str = "16 AWG"
    one_gauge: str = ""
    critical_drop_percent: Positive = 3.0
    other_drop_percent: Positive = 10.0
    feeder_share: Annotated[float, Gt(0), Le(1)] = 0.6
    tolerance: Literal["never_above", "next_standard"] = "never_above"
    negative_colour: Literal["YE", "BK"] = "YE"
    negatives: Literal["nearest", "main"] = "nearest"
    joint: Literal["crimp", "solder", "crimp_and_solder"] = "crimp"
    shrink: Literal["at_once", "after_power_up"] = "at_once"
    grease: Literal["none", "at_landing"] = "at_landing"
    spare_allowance_a: Annotated[float, Ge(0)] = 5.0
    cut_step_mm: Positive = 10.0
    tail_mm: Annotated[float, Ge(0)] = 80.0
    service_loop_mm: Annotated[float, Ge(0)] = 150.0
    tie_spacing_mm: Positive = 300.0
    growth_percent: Annotated[float, Ge(0), Le(200)] = 25.0


PROFILES: Final[dict[str, Profile]] = {
    "us": Profile(
        id="us", name="US small craft", school="ABYC", series="AWG", units="ft", cut_step_mm=12.7
    ),
    "iso": Profile(
        id="iso",
        name="ISO metric",
        school="ISO",
        series="mm2",
        units="m",
        shop_floor="1.5 mm²",
    ),
    "shop": Profile(id="shop", name="Quillhaven shop", school="ABYC", series="AWG", units="m"),
}
"""The shipped profiles; Quillhaven sizes by AWG and measures in metres."""
