"""Rules about the helm: which switch stands where, and what happens at every press."""

from collections.abc import Iterator
from functools import partial

from vivid_loom.catalogue import SwitchPart, instead_of
from vivid_loom.drafting.after.links import link_fates
from vivid_loom.drafting.after.truth import Mismatch, press_rows
from vivid_loom.drafting.drafted import Draft
from vivid_loom.drafting.findings import Finding, FindingKind, words
from vivid_loom.drafting.making.switch import HelmSwitch
from vivid_loom.standards.source import OUR_CHOICE, Source

__all__ = ["INTENTS", "PRESS_CODES", "RULES"]

HALF_DEAD = FindingKind(
    "A08",
    "error",
    "double pole with one pole fed",
    "{legend} is a {arrangement} with only pole {pole} fed: half of it is dead.",
    "Feed the second pole, or fit a single-pole switch.",
    OUR_CHOICE,
)
WRONG_LIGHT = FindingKind(
    "A09",
    "error",
    "light burns in the wrong position",
    "{legend} lever {lever}: {name} is {is_now} and must be {must}.",
    "Correct the throws of its contact.",
    Source("COLREGs 72", "rules 23 and 30"),
)
HIDDEN = FindingKind(
    "A26",
    "judge",
    "emergency switch far from the first position",
    "{legend} is an emergency switch in position {position}, behind {before}.",
    "Put emergency switches first, where a hand finds them in the dark.",
    Source("common practice", "emergency switches first", "no source"),
)
NO_SPARE = FindingKind(
    "A27",
    "note",
    "no spare helm position",
    "All {count} positions of {panel} are taken.",
    "Keep one or two for what comes later.",
    OUR_CHOICE,
)

RUNS = FindingKind(
    "A32",
    "error",
    "press makes something else run",
    "{at}: {name} runs, and nothing asks for it then.",
    "Take the jumper or contact away that reaches it.",
    OUR_CHOICE,
)
DEAD = FindingKind(
    "A33",
    "error",
    "press does not reach its load",
    "{at}: {name} stays dead and should run.",
    "Lay the jumper that is missing, or correct its contact.",
    OUR_CHOICE,
)
SHORT = FindingKind(
    "A34",
    "error",
    "press joins plus and minus",
    "{at}: a source's plus meets its minus.",
    "Take the jumper away that joins them.",
    OUR_CHOICE,
)
SNEAK = FindingKind(
    "A35",
    "error",
    "fed through another load",
    "{at}: {name} lies in series with something else between plus and minus.",
    "Give it a feed and a way home of its own.",
    OUR_CHOICE,
)
FALSE_LAMP = FindingKind(
    "A36",
    "error",
    "lamp tells what is not so",
    "{at}: {name} is {is_now} and should be {must}.",
    "Feed it from the tab that its intent names.",
    OUR_CHOICE,
)
LAMP_REFUSED = FindingKind(
    "A37",
    "judge",
    "lamp that cannot show what it should",
    "{legend}: its {lamp} lamp is to be {intent}: {why}.",
    "Choose another intent for it, or a switch that can.",
    OUR_CHOICE,
)
NO_TAB = FindingKind(
    "A38",
    "judge",
    "jumper by hand without its tab",
    "A jumper by hand from {start} to {end}: there is no {missing} aboard.",
    "Take the jumper back, or name a tab that is there.",
    OUR_CHOICE,
)
TWO_FEEDS = FindingKind(
    "A39",
    "error",
    "two devices joined",
    "{at}: {circuits} are joined behind their devices: either alone leaves both alive.",
    "Take the jumper away that joins them.",
    OUR_CHOICE,
)
SAYS_OTHERWISE = FindingKind(
    "A40",
    "note",
    "legend says something else",
    "{place}: the legend says {says}, and it feeds {legend}.",
    "Order a legend of its own, or tell the owner and write it on the panel's sheet.",
    OUR_CHOICE,
)
SAME_LEGEND = FindingKind(
    "A41",
    "judge",
    "two switches with one legend",
    "{place} says {says}, as {other} does.",
    "Tell them apart by place or side.",
    OUR_CHOICE,
)
SPRINGS_BACK = FindingKind(
    "A42",
    "judge",
    "momentary switch for what must stay on",
    "{legend} springs back, and {name} has to stay on by itself.",
    "Fit a latching switch.",
    Source("common practice", "momentary for horn, hatch and hauling only", "no source"),
)
STAYS_ON = FindingKind(
    "A43",
    "judge",
    "latching switch for what must not be left on",
    "{legend} stays where it is pressed, and {name} must stop when the hand leaves it.",
    "Fit a momentary switch.",
    Source("common practice", "momentary for horn, hatch and hauling only", "no source"),
)
TOO_DEEP = FindingKind(
    "A44",
    "error",
    "switch deeper than the space behind its panel",
    "{legend} needs {needs} mm behind {panel}, where {free} mm are free.",
    "Fit a shallower switch, or give it another place.",
    OUR_CHOICE,
)
NO_HOLE = FindingKind(
    "A50",
    "error",
    "switch does not fit its panel's cut-outs",
    "{legend} is a {part} for {needs}; {panel} has cut-outs of {has}: {instead}.",
    "Fit one for these cut-outs, or another panel.",
    OUR_CHOICE,
)
SPLIT = FindingKind(
    "A47",
    "note",
    "factory chain is split",
    "{panel} arrives chained: {cut} of {count} links are cut, {reach} of the leads left are long "
    "enough to be fed anew.",
    "Cut them as listed with the ends to cap, before the panel is fitted.",
    OUR_CHOICE,
)
NO_SUCH_TAB = FindingKind(
    "A48",
    "judge",
    "factory link without its tab",
    "A factory link of {panel} names {end}; there is no such terminal.",
    "Write it as position and terminal: 3 1C.",
    OUR_CHOICE,
)
BY_HAND = FindingKind(
    "A49",
    "note",
    "jumper decided by hand",
    "The jumper from {start} to {end} is {done} by {initials}: {reason}.",
    "Look at it again when the circumstances change.",
    OUR_CHOICE,
)
HELD = frozenset({"navigation_light", "anchor_light", "bilge_blower"})
SPRUNG = frozenset({"horn"})
TURNED = frozenset({"two_directions", "reversing"})
INTENTS = {
    "up": "lit when pressed up",
    "down": "lit when pressed down",
    "either": "lit at either press",
    "night": "lit with the instrument lights",
    "always": "always lit",
    "never": "never lit",
}
PRESS_CODES = frozenset({"A08", "A09", *(f"A{number}" for number in range(32, 50))})
"""What is told on the Helm stage."""
_KINDS = {"runs": RUNS, "dark": DEAD, "short": SHORT, "sneak": SNEAK}


def helm_order(draft: Draft) -> Iterator[Finding]:
    """Emergency switches come first on their panel; some positions stay free."""
    placed = sorted((s for s in draft.switches if s.position), key=lambda s: s.position)
    boat = draft.aboard.boat
    for panel in boat.panels:
        here = [s for s in placed if boat.panel_at(s.position) == panel]
        ahead = ""  # the first switch of a lesser rank
        for switch in here:
            if switch.request.rank == 0 and ahead:
                told = words(legend=switch.request.legend, position=switch.position, before=ahead)
                yield Finding(HIDDEN, (switch.request.id,), told)
            elif switch.request.rank > 0:
                ahead = ahead or switch.request.legend
        if len(here) == panel.positions:
            told = words(count=panel.positions, panel=panel.name)
            yield Finding(NO_SPARE, (panel.id,), told)


def poles(draft: Draft) -> Iterator[Finding]:
    """Both poles of a double-pole switch are fed."""
    for switch in draft.switches:
        fed = {use.pole for use in switch.uses}
        if switch.part.poles == 2 and len(fed) == 1:
            yield Finding(
                HALF_DEAD,
                (switch.uses[0].circuit, switch.request.id),
                words(
                    legend=switch.request.legend, arrangement=switch.part.arrangement, pole=min(fed)
                ),
            )


def presses(draft: Draft) -> Iterator[Finding]:
    """At every press exactly that runs which is meant to, and the lamps tell it."""
    switches = {switch.request.id: switch for switch in draft.switches}
    for row in press_rows(draft):
        for wrong in row.wrong:
            yield _mismatch(draft, switches.get(row.switch), row.state, wrong)


def _mismatch(draft: Draft, switch: HelmSwitch | None, state: str, wrong: Mismatch) -> Finding:
    subjects, at, legend = _at(draft, switch, state)
    if wrong.wrong in ("lamp dark", "lamp lit"):
        name, is_now = _name(draft, wrong.what[0]), wrong.wrong.split()[1]
        told = words(at=at, name=name, is_now=is_now, must=_OTHER[is_now])
        return Finding(FALSE_LAMP, subjects[:1], told)
    if wrong.wrong == "two feeds":
        told = words(at=at, circuits=" and ".join(wrong.what))
        return Finding(TWO_FEEDS, (*subjects, *wrong.what), told)
    load = draft.aboard.loads.get(wrong.what[0].rpartition(" ")[0]) if wrong.what else None
    if load and load.lit_in and wrong.wrong in ("dark", "runs"):
        is_now = "dark" if wrong.wrong == "dark" else "lit"
        told = words(
            legend=legend, lever=state or "off", name=load.name, is_now=is_now, must=_OTHER[is_now]
        )
        return Finding(WRONG_LIGHT, _feeding(draft, load.id, switch), told)
    names = [_name(draft, element) for element in wrong.what]
    more = f" and {len(names) - 3} more" if len(names) > 3 else ""
    told = words(at=at, name=", ".join(names[:3]) + more)
    return Finding(_KINDS[wrong.wrong], (*subjects, *([load.id] if load else [])), told)


def _at(draft: Draft, switch: HelmSwitch | None, state: str) -> tuple[tuple[str, ...], str, str]:
    """Return the subjects of a state, what it is called, and its switch's legend."""
    if switch is None:
        boat = draft.aboard.boat
        here = boat.panels[0].id if boat.panels else boat.battery.id
        return (here,), "With every lever at rest", "Every switch"
    request = switch.request
    at = f"{request.legend}, lever {state}" if state != "off" else f"{request.legend}, lever off"
    return (request.id, *_circuits(switch)), at, request.legend


def _name(draft: Draft, element: str) -> str:
    """Return what a load, or a lamp of a switch, is called."""
    place, _, lead = element.rpartition(" ")
    load = draft.aboard.loads.get(place)
    if load or not place:
        return load.name if load else element
    where, _, side = place.rpartition(" ")
    return f"the {side} {lead} of {where}"


_OTHER = {"lit": "dark", "dark": "lit"}


def _circuits(switch: HelmSwitch) -> tuple[str, ...]:
    return tuple(dict.fromkeys(use.circuit for use in switch.uses))


def _feeding(draft: Draft, load_id: str, switch: HelmSwitch | None) -> tuple[str, ...]:
    """Return the circuit that feeds a load, by way of a switch if it can be, and the switch."""
    fed = [row.id for row in draft.circuits if load_id in row.planned.loads]
    if switch is None:
        return tuple(fed[:1])
    through = _circuits(switch)
    return (next((name for name in fed if name in through), fed[0]), switch.request.id)


def lamps(draft: Draft) -> Iterator[Finding]:
    """Every lamp can show what it is to show."""
    for switch in draft.switches:
        for use in switch.lamps:
            if use.refused:
                told = words(
                    legend=switch.request.legend,
                    lamp=use.name,
                    intent=INTENTS[use.intent],
                    why=use.refused,
                )
                yield Finding(LAMP_REFUSED, (switch.request.id,), told)


def by_hand(draft: Draft) -> Iterator[Finding]:
    """Jumpers laid or left out by hand are printed, always, and find their tabs."""
    if not draft.aboard.order.jumpers:
        return
    known = {
        f"{switch.request.id} {tab}" for switch in draft.switches for tab in switch.part.terminals
    }
    for wish in draft.aboard.order.jumpers:
        done = "laid" if wish.laid else "left out"
        told = words(
            start=wish.start, end=wish.end, done=done, initials=wish.initials, reason=wish.reason
        )
        named = (end.rpartition(" ")[0] for end in (wish.start, wish.end))
        yield Finding(BY_HAND, tuple(dict.fromkeys(named)), told)
        missing = sorted({wish.start, wish.end} - known)
        if missing:
            told = words(start=wish.start, end=wish.end, missing=" and ".join(missing))
            yield Finding(NO_TAB, (missing[0].rpartition(" ")[0],), told)


def legends(draft: Draft) -> Iterator[Finding]:
    """What a legend says is what its switch feeds, and no two say the same."""
    seen: dict[str, str] = {}
    for switch in draft.switches:
        request = switch.request
        if not switch.position:
            continue
        says = request.legend_says or request.legend
        if request.legend_says and request.legend_says.upper() != request.legend.upper():
            told = words(says=request.legend_says, legend=request.legend, place=switch.place)
            yield Finding(SAYS_OTHERWISE, (request.id,), told)
        if says.upper() in seen:
            told = words(says=says, place=switch.place, other=seen[says.upper()])
            yield Finding(SAME_LEGEND, (request.id,), told)
        seen.setdefault(says.upper(), switch.place)


def actions(draft: Draft) -> Iterator[Finding]:
    """What must stay on stays on by itself, and what must not be left on springs back."""
    for switch in draft.switches:
        if switch.part.actuator != "lever":
            continue
        for use in switch.uses:
            row = draft.circuit(use.circuit)
            for name in row.planned.loads if row else ():
                load = draft.aboard.loads[name]
                told = words(legend=switch.request.legend, name=load.name)
                stays = not all(map(switch.part.springs_back, use.throws))
                if load.function in HELD and not stays:
                    yield Finding(SPRINGS_BACK, (switch.request.id, use.circuit), told)
                turned = row is not None and row.planned.pattern in TURNED
                if stays and (turned or load.function in SPRUNG):
                    yield Finding(STAYS_ON, (switch.request.id, use.circuit), told)


def depth(draft: Draft) -> Iterator[Finding]:
    """A switch fits into the space behind its panel."""
    boat = draft.aboard.boat
    for switch in draft.switches:
        panel = boat.panel_at(switch.position)
        if panel and panel.depth_mm and switch.part.depth_mm > panel.depth_mm:
            told = words(
                legend=switch.request.legend,
                needs=f"{switch.part.depth_mm:g}",
                panel=panel.name,
                free=f"{panel.depth_mm:g}",
            )
            yield Finding(TOO_DEEP, (switch.request.id,), told)


def _fits_hole(cut_out: str, part: SwitchPart) -> bool:
    return part.cut_out == cut_out


def cut_outs(draft: Draft) -> Iterator[Finding]:
    """A switch fits the holes of its panel, where both are known."""
    boat = draft.aboard.boat
    for switch in draft.switches:
        panel, part = boat.panel_at(switch.position), switch.part
        if panel is None or panel.takes(part.cut_out):
            continue
        fits = instead_of(part, draft.catalogue, partial(_fits_hole, panel.cut_out))
        told = words(
            legend=switch.request.legend,
            part=part.name,
            needs=part.cut_out,
            panel=panel.name,
            has=panel.cut_out,
            instead=fits,
        )
        yield Finding(NO_HOLE, (switch.request.id,), told)


def chains(draft: Draft) -> Iterator[Finding]:
    """What a panel's maker has chained is split, and its tabs are there."""
    fates = [*link_fates(draft)]
    for fate in fates:
        for end in (fate.start, fate.end):
            free = end.switch is None and 0 < end.position <= draft.aboard.boat.positions
            if not free and (end.switch is None or end.tab not in end.switch.part.terminals):
                told = words(panel=fate.panel.name, end=end.words)
                yield Finding(NO_SUCH_TAB, (fate.panel.id,), told)
    for panel in draft.aboard.boat.panels:
        mine = [fate for fate in fates if fate.panel.id == panel.id]
        cut = [fate for fate in mine if not fate.stays]
        if cut:
            reach = sum(fate.reaches for fate in cut)
            told = words(panel=panel.name, cut=len(cut), count=len(mine), reach=reach)
            yield Finding(SPLIT, (panel.id,), told)


RULES = (helm_order, poles, presses, lamps, by_hand, legends, actions, depth, cut_outs, chains)
