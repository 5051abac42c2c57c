"""The schools of the trade as one frozen value; an order names one and may change fields."""

from typing import Annotated, Final, Literal

from annotated_types import Ge, Gt, Le

from vivid_loom.quantities import GaugeText, OptionalGaugeText, Series, record

__all__ = ["PROFILES", "SHOP", "Profile"]

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
        bilge_pump_drop: drop class of bilge pumps, whatever their load says: 'other' with wire no
            thinner than ``standards.smallest.PUMP_FLOOR``, or 'critical'.
        pump_leads: leads of a pump in one size, or the automatic and the manual each 'by_length'.
        feeder_share: part of the critical drop limit that a feeder may use (our choice, 0.6).
        tolerance: protection 'never_above' ampacity, or 'next_standard' up to 150 %.
        spare_allowance_a: B-load counted for each spare helm position.
        strip_from_loads: so many loads leaving the panel go over terminal strips; 0 for never.
        helm_protection: 'one_fuse' (of ``one_fuse_a``) only describes an existing boat.
        branching: how the loads of one circuit are joined: by the least copper, each to the one
            before it, or each home by itself.
        automatic_pump: where the leads of a three-lead pump are fed from.
        pump_switch: automatic always live beside a manual switch, or auto – off – manual.
        backlights: own protected way, off the navigation lights' output, or a switch of its own.
        second_lamp: what the second lamp of a rocker shows; 'by_action' is an indicator on
            latching switches and a backlight on momentary ones.
        colour_scheme: how circuits are told apart; the schemes are data of ``standards``.
        alike: circuits of one colour in one bundle are told by 'label', or by 'tracer' as well.
        cut_step_mm: cut lengths are rounded up to it.
        tail_mm: allowance at each end for landing and one re-termination.
        service_loop_mm: slack left at each device.
        tie_spacing_mm: between supports, where a run asks for none of its own.
        switches_together: what stands side by side on a panel, among switches of one rank: those
            for one kind of load, or for loads in one area.
        heavy_border: what is too thick for a sealed plug of several ways passes from harness to
            harness whole, through a 'gland', or ends there at a heavy 'plug' of one way, or at a
            'post' of its own, insulated and under a boot.
        second_on_a_tab: a second conductor rides on the first one's 'piggyback', or both sit on a
            'doubler' that is pushed onto the tab; 'forked': two jumpers share one push-on, any
            other second conductor rides.
        jumper_lengths: jumpers of one gauge and colour are cut to no more different lengths; 0 for
            each to its own.
        feed_lengths: wires of one gauge that lead to a panel's tabs are cut to no more different
            lengths; 0 for each to its own.
        pull_every: a test piece is pulled with the first crimp of a setting, with every so many,
            and with the last.
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
    shop_floor: GaugeText = "16 AWG"
    one_gauge: OptionalGaugeText = ""
    critical_drop_percent: Positive = 3.0
    other_drop_percent: Positive = 10.0
    bilge_pump_drop: Literal["other", "critical"] = "other"
    pump_leads: Literal["one_size", "by_length"] = "one_size"
    feeder_share: Annotated[float, Gt(0), Le(1)] = 0.6
    tolerance: Literal["never_above", "next_standard"] = "never_above"
    negative_colour: Literal["YE", "BK"] = "YE"
    colour_scheme: Literal["function", "iso", "one", "sleeves"] = "function"
    alike: Literal["label", "tracer"] = "label"
    strip_from_loads: Annotated[int, Ge(0)] = 10
    helm_protection: Literal["as_fitted", "fuse_block", "breaker_panel", "one_fuse"] = "as_fitted"
    one_fuse_a: Positive = 20.0
    branching: Literal["least_copper", "chain", "star"] = "least_copper"
    automatic_pump: Literal["one_point", "helm_manual", "automatic_only", "manual_only"] = (
        "one_point"
    )
    pump_switch: Literal["always_live", "three_position"] = "always_live"
    backlights: Literal["own_way", "navigation_output", "own_switch"] = "own_way"
    second_lamp: Literal["by_action", "own_side", "either_side", "backlight"] = "by_action"
    negatives: Literal["nearest", "main"] = "nearest"
    switches_together: Literal["use", "area"] = "use"
    heavy_border: Literal["gland", "plug", "post"] = "gland"
    second_on_a_tab: Literal["piggyback", "doubler", "forked"] = "piggyback"
    joint: Literal["crimp", "solder", "crimp_and_solder", "solder_sleeve"] = "crimp"
    shrink: Literal["at_once", "after_power_up"] = "at_once"
    grease: Literal["none", "in_barrel", "at_landing"] = "at_landing"
    negative_to_hull: Literal["isolated", "one_point"] = "isolated"
    spare_allowance_a: Annotated[float, Ge(0)] = 5.0
    cut_step_mm: Positive = 10.0
    tail_mm: Annotated[float, Ge(0)] = 80.0
    service_loop_mm: Annotated[float, Ge(0)] = 150.0
    tie_spacing_mm: Positive = 300.0
    jumper_lengths: Annotated[int, Ge(0), Le(20)] = 0
    feed_lengths: Annotated[int, Ge(0), Le(20)] = 0
    pull_every: Annotated[int, Ge(1)] = 50
    growth_percent: Annotated[float, Ge(0), Le(200)] = 25.0


SHOP: Final = "shop"
"""The profile of the yard of the demo, which is not another yard's."""

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
        colour_scheme="iso",
    ),
    SHOP: Profile(id=SHOP, name="Quillhaven shop", school="ABYC", series="AWG", units="m"),
}
"""The shipped profiles; Quillhaven sizes by AWG and measures in metres."""
