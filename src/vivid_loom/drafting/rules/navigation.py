"""Rules about the lights that a vessel shows: what each press lights is a whole set of them."""

from collections.abc import Iterator
from itertools import product

from vivid_loom.drafting.after.truth import press_rows
from vivid_loom.drafting.drafted import Draft
from vivid_loom.drafting.findings import Finding, FindingKind, words
from vivid_loom.standards.navigation_lights import LIGHTS_SOURCE, Lights, at_anchor, under_way

__all__ = ["RULES"]

NO_SUCH_SET = FindingKind(
    "A45",
    "judge",
    "press shows lights that no such vessel shows",
    "{legend}, lever {lever}: it shows {shown}; a vessel of {length} m shows {allowed}.",
    "Light what is missing by the same press, or fit the light that is.",
    LIGHTS_SOURCE,
)
NEVER_SHOWN = FindingKind(
    "A46",
    "judge",
    "no press shows the lights a vessel has to show",
    "{when} it has to show {allowed}; no lever shows that.",
    "Fit the lights that are missing, and feed them through one press.",
    LIGHTS_SOURCE,
)


def _said(lights: Lights) -> str:
    return " and ".join(f"{light} light{'s' * (light == 'side')}" for light in sorted(lights))


def _either(sets: tuple[Lights, ...]) -> str:
    return ", or ".join(_said(lights) for lights in sets if lights)


def shown_lights(draft: Draft) -> Iterator[Finding]:
    """Every press shows a whole set; under way and at anchor there is one that does."""
    loads, hull = draft.aboard.loads, draft.aboard.boat.hull
    if not any(load.shows for load in loads.values()):
        return
    sailing, lying = under_way(hull.length_m, sails=hull.sails), at_anchor(hull.length_m)
    switches = {switch.request.id: switch for switch in draft.switches}
    by_switch: dict[str, list[Lights]] = {}
    for row in press_rows(draft):
        burning = (loads.get(element.rpartition(" ")[0]) for element in row.runs)
        lights = frozenset(load.shows for load in burning if load and load.shows)
        if not lights:
            continue
        by_switch.setdefault(row.switch, [frozenset()]).append(lights)
        if lights not in (*sailing, *lying):
            told = words(
                legend=switches[row.switch].request.legend,
                lever=row.state,
                shown=_said(lights),
                length=f"{hull.length_m:g}",
                allowed=_either(tuple(dict.fromkeys((*sailing, *lying)))),
            )
            yield Finding(NO_SUCH_SET, (row.switch,), told)
    together = {frozenset().union(*sets) for sets in product(*by_switch.values())}
    here = draft.aboard.boat.panels[0].id if draft.aboard.boat.panels else draft.aboard.boat.id
    for when, sets in (("Under way", sailing), ("At anchor", lying)):
        if together and not together & set(sets):
            yield Finding(NEVER_SHOWN, (here,), words(when=when, allowed=_either(sets)))


RULES = (shown_lights,)
