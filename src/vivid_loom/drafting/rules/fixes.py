"""What would clear a finding, where one undoable edit can: by the rule's code."""

from collections.abc import Iterator
from typing import Final, get_args

from vivid_loom.boat import DeviceFamily
from vivid_loom.catalogue import SwitchPart
from vivid_loom.drafting.drafted import Draft
from vivid_loom.drafting.findings import Finding
from vivid_loom.drafting.making.switch import HelmSwitch
from vivid_loom.drafting.rules.edits import (
    Fix,
    circuits_family,
    clear,
    closer,
    control_fuse,
    family,
    feed_it,
    feed_otherwise,
    feed_supply,
    fit_supply,
    give_back,
    interlocked,
    nearer,
    one_point,
    own_circuit,
    proposed_role,
    shortest_way,
    single_pole,
    stronger_family,
    stronger_switch,
    stud,
    use_school,
    wider,
)
from vivid_loom.drafting.rules.helm_edits import (
    as_drafted,
    lamps_by_profile,
    named_rightly,
    other_switch,
    throws_or_jumper,
)
from vivid_loom.order import Edit

__all__ = ["can_fix", "fixes_of"]

_GAUGE = clear("gauge")
_RATING = clear("protection_a")
_BOTH = clear("protection_a", "gauge")
_COLOUR = clear("positive_colour", "negative_colour")
_ALWAYS_LIVE = feed_otherwise("always live", level="battery_direct", supply="")


def _shallow(part: SwitchPart, switch: HelmSwitch, draft: Draft) -> bool:
    panel = draft.aboard.boat.panel_at(switch.position)
    room = panel is not None and part.depth_mm <= panel.depth_mm
    return room and part.action == switch.part.action


def _fitting(part: SwitchPart, switch: HelmSwitch, draft: Draft) -> bool:
    panel = draft.aboard.boat.panel_at(switch.position)
    fits = panel is not None and part.cut_out == panel.cut_out
    return fits and part.action == switch.part.action


def _strong_enough(part: SwitchPart, switch: HelmSwitch, draft: Draft) -> bool:
    rows = [draft.circuit(use.circuit) for use in switch.uses]
    held = [row.sized.protection for row in rows if row and row.sized]
    strong = all(part.rated_a >= device.value for device in held if device)
    return strong and part.action == switch.part.action


_FIXES: Final[dict[str, Fix]] = {
    "S01": _GAUGE,
    "S05": _GAUGE,
    "S06": _GAUGE,
    "S11": _GAUGE,
    "S12": _GAUGE,
    "S16": _GAUGE,
    "S17": _GAUGE,
    "K01": _GAUGE,
    "P08": _GAUGE,
    "P16": _GAUGE,
    "S02": _BOTH,
    "K02": _BOTH,
    "S07": _BOTH,
    "K15": _BOTH,
    "S03": _RATING,
    "S04": _RATING,
    "K05": _RATING,
    "K06": _RATING,
    "K19": _RATING,
    "K08": _RATING,
    "K09": _RATING,
    "K14": _RATING,
    "P04": _RATING,
    "P13": _RATING,
    "P15": _RATING,
    "P17": _RATING,
    "P29": _RATING,
    "P24": _RATING,
    "P26": _GAUGE,
    "P30": _GAUGE,
    "S10": give_back,
    "S08": stronger_switch,
    "S18": stronger_switch,
    "I01": _COLOUR,
    "I02": _COLOUR,
    "I03": _COLOUR,
    "I06": _COLOUR,
    "I07": _COLOUR,
    "I11": _COLOUR,
    "I04": use_school("negative_colour", "YE", "DC negative to yellow"),
    "P01": feed_supply("protect the feeder", stronger_family),
    "P02": feed_supply("move the device nearer the source", nearer),
    "P06": feed_supply("fit a stronger family to the feeder", stronger_family),
    "K03": feed_supply("fit a stronger family to the feeder", stronger_family),
    "K13": feed_supply("fit a family for the voltage to the feeder", stronger_family),
    "P10": fit_supply("protect the ways", lambda supply, draft: {"ways_protected": True}),
    "P11": fit_supply("put devices on the bar", lambda supply, draft: {"way_distance_mm": 0.0}),
    "P14": feed_supply("fit a larger feed stud", stud),
    "A01": _ALWAYS_LIVE,
    "A25": _ALWAYS_LIVE,
    "A04": feed_otherwise("behind the battery switch", level="unswitched", supply=""),
    "A02": one_point,
    "A03": one_point,
    "A05": feed_it,
    "A08": single_pole,
    "A09": throws_or_jumper,
    "A12": own_circuit,
    "A20": own_circuit,
    "A22": use_school("pump_switch", "always_live", "pump switch to always live"),
    "A23": use_school("helm_protection", "as_fitted", "protection at the helm to each circuit"),
    "A26": clear("helm_position"),
    "A32": as_drafted,
    "A33": as_drafted,
    "A34": as_drafted,
    "A35": as_drafted,
    "A36": as_drafted,
    "A37": lamps_by_profile,
    "A38": as_drafted,
    "A39": as_drafted,
    "A49": as_drafted,
    "A40": named_rightly,
    "A42": other_switch(lambda part, switch, draft: part.action == "latching"),
    "A43": other_switch(lambda part, switch, draft: part.action == "momentary"),
    "A44": other_switch(_shallow),
    "A50": other_switch(_fitting),
    "A51": other_switch(_strong_enough, breaker=True),
    "A52": other_switch(_strong_enough, breaker=False),
    "A54": other_switch(_strong_enough),
    "P38": interlocked,
    "K10": control_fuse,
    "K11": control_fuse,
    "L07": proposed_role,
    "R03": wider,
    "R04": wider,
    "R05": shortest_way,
    "R07": closer(300.0),
    "R08": closer(300.0),
    "Z04": use_school("insulation_c", 105, "insulation to 105 °C"),
    "Z06": use_school("grease", "at_landing", "grease to the landing"),
    "Z12": use_school("negative_to_hull", "one_point", "negative to one point of the hull"),
    "Z13": use_school("negative_to_hull", "isolated", "negative isolated from the hull"),
}

_FAMILIES: Final[tuple[Fix, ...]] = tuple(
    feed_supply(f"fit a {name} to the feeder", family(name)) for name in get_args(DeviceFamily)
)
_OR_ELSE: Final[dict[str, tuple[Fix, ...]]] = {
    "P01": _FAMILIES,
    "P06": _FAMILIES,
    "K03": (circuits_family, *_FAMILIES),
    "K13": _FAMILIES,
}


def can_fix(code: str) -> bool:
    """Tell whether findings of a rule can be cleared by one edit at all."""
    return code in _FIXES


def fixes_of(finding: Finding, draft: Draft) -> Iterator[Edit]:
    """Yield the edits that may clear a finding, those that need no judgement, the likeliest first.

    What each of them does must be drafted: see ``vivid_loom.drafting.remedy``.
    """
    first = _FIXES.get(finding.code)
    for fix in (*((first,) if first else ()), *_OR_ELSE.get(finding.code, ())):
        if edit := fix(finding, draft):
            yield edit
