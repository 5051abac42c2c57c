"""Stage 7, terminate: what goes on each end of a conductor."""

from collections.abc import Sequence
from functools import lru_cache
from typing import Literal, NamedTuple

from vivid_loom.boat import Lead
from vivid_loom.drafting.patterns import Point
from vivid_loom.quantities import Gauge, figure
from vivid_loom.standards import terminals
from vivid_loom.standards.conductor import area_mm2, size_steps
from vivid_loom.standards.joints import RECIPES, Zone

__all__ = [
    "FORKED",
    "PAIR",
    "Termination",
    "end_steps",
    "terminate_later",
    "terminate_pair",
    "terminate_plug",
    "terminate_point",
    "terminate_stud",
]


Grease = Literal["none", "in_barrel", "at_landing"]


class Termination(NamedTuple):
    """What is crimped on: '' for jaw and strip where nothing is."""

    kind: str
    strip_mm: float
    jaw: str
    why: str


STEPPED = "stepped adhesive butt"
"""A butt whose two barrels are of two colours: the wire's first."""


@lru_cache(maxsize=1024)
def _ring(gauge: Gauge, stud: str) -> Termination:
    barrel = terminals.barrel_for(gauge)
    kind = f"lug {gauge} {stud}" if barrel.colour == "bare" else f"{barrel.colour} ring {stud}"
    return Termination(kind, barrel.strip_mm, barrel.jaw, f"{gauge} takes {barrel.colour}")


def terminate_stud(gauge: Gauge, stud: str) -> Termination:
    """Choose the ring or lug for a stud."""
    return _ring(gauge, stud)


@lru_cache(maxsize=256)
def _push_on(gauge: Gauge, *, piggyback: bool) -> Termination:
    barrel = terminals.barrel_for(gauge)
    kind = "piggyback push-on" if piggyback else "push-on"
    return Termination(
        f"{barrel.colour} {kind} 6.3 mm",
        barrel.strip_mm,
        barrel.jaw,
        f"{gauge} takes {barrel.colour}",
    )


def _forked(meeting: Sequence[Gauge]) -> Termination:
    """Crimp two jumpers into one push-on, whose barrel takes both."""
    total = sum(map(area_mm2, meeting))
    barrel = terminals.barrel_for_area(total)
    assert barrel is not None, "who asks has looked whether a push-on takes both"
    kind = f"{barrel.colour} {FORKED} 6.3 mm"
    return Termination(kind, barrel.strip_mm, barrel.jaw, f"{figure(total)} mm² in one barrel")


def _on_post(gauge: Gauge, why: str, *, sealed: bool) -> Termination:
    ring = _ring(gauge, "M6")
    return ring._replace(kind=f"{ring.kind} on {'sealed' if sealed else 'power'} post", why=why)


def _joint(
    gauge: Gauge, lead: Lead | None, meeting: Sequence[Gauge], *, sealed: bool
) -> Termination:
    """Join to a maker's tail: butt, closed end where the chain goes on, else a post.

    Each side of a butt has the barrel that its own conductor takes, and a closed end that of all
    that meets in it.
    """
    tail = Gauge.parse(lead.gauge) if lead and lead.gauge else gauge
    mine, other = terminals.barrel_for(gauge), terminals.barrel_for(tail)
    if len(meeting) > 1:
        together = sorted((tail, *meeting), key=area_mm2)
        total = sum(map(area_mm2, together))
        whole = terminals.closed_end_for(total)
        if whole is None:
            why = f"{figure(total)} mm²: too much for a closed end"
            return _on_post(gauge, why, sealed=sealed)
        if size_steps(together[0], together[-1]) <= terminals.MAX_JOINT_STEPS:
            kind, why = f"{whole.colour} adhesive closed-end", "chain goes on from here"
            return Termination(kind, whole.strip_mm + 2, whole.jaw, why)
    elif mine.colour == other.colour != "bare":
        kind = f"{mine.colour} adhesive butt"
        return Termination(kind, mine.strip_mm, mine.jaw, f"{tail} tail to {gauge}")
    elif (mine.colour, other.colour) in terminals.STEPPED_BUTTS:
        kind = f"{mine.colour}-{other.colour} {STEPPED}"
        why = f"{tail} tail to {gauge}: each side its own barrel"
        return Termination(kind, mine.strip_mm, mine.jaw, why)
    return _on_post(gauge, f"{tail} tail to {gauge}: too far for a joint", sealed=sealed)


def terminate_point(
    point: Point,
    gauge: Gauge,
    stud: str,
    lead: Lead | None,
    meeting: Sequence[Gauge],
    *,
    piggyback: bool,
    forked: bool = False,
    sealed: bool = False,
) -> Termination:
    """Choose the termination at a point.

    Args:
        stud: size of the stud, post or screw where there is one.
        lead: the maker's lead, for a load's point.
        meeting: the harness conductors that meet at the point, this one among them.
        piggyback: this end must offer a second tab.
        forked: all that meet on the tab are jumpers that share one push-on.
        sealed: water, fuel vapour or heat is there: no open post.
    """
    if point.kind == "tab" and forked:
        return _forked(meeting)
    if point.kind == "tab":
        return _push_on(gauge, piggyback=piggyback)
    if point.kind == "tail":
        return _joint(gauge, None, meeting, sealed=sealed)
    if point.kind != "lead":
        return _ring(gauge, stud)
    ending = lead.ending if lead else "tail"
    if ending == "tab":
        return _push_on(gauge, piggyback=piggyback)
    if ending == "screw":
        return _ring(gauge, "M4")
    if ending.startswith("stud"):
        return _ring(gauge, ending.removeprefix("stud").strip() or "M6")
    return _joint(gauge, lead, meeting, sealed=sealed)


def terminate_later() -> Termination:
    """Choose what closes an end whose device is still to come."""
    return Termination("adhesive end cap", 0.0, "", "its device is still to come")


@lru_cache(maxsize=256)
def terminate_plug(contact: terminals.Contact, *, live_side: bool) -> Termination:
    """Choose the contact of a sealed plug; the side that can be live is shrouded."""
    gender = "socket" if live_side else "pin"
    why = "shrouded: live when apart" if live_side else "dead when apart"
    return Termination(
        f"{gender} contact size {contact.size}", contact.strip_mm, f"contact {contact.size}", why
    )


FORKED = "forked push-on"
"""Two jumpers of a panel under one crimp."""

PAIR = "contact of a pair"
"""Of a polarised pair: one plug of one way on each lead, of opposite genders."""


@lru_cache(maxsize=256)
def terminate_pair(contact: terminals.Contact, *, home: bool) -> Termination:
    """Choose the contact with which a harness meets the tail of a device that comes off.

    Apart, its plus is live on the harness, and its minus through the device: each is shrouded
    on that side, so that the two cannot be crossed.

    Args:
        home: it is the lead that current comes home by.
    """
    gender = "pin" if home else "socket"
    why = "dead when apart: the device's minus is shrouded" if home else "shrouded: live when apart"
    kind = f"{gender} {PAIR} size {contact.size}"
    return Termination(kind, contact.strip_mm, f"contact {contact.size}", why)


_JOINED = {
    "crimp": ("crimp", "tug"),
    "crimp_and_solder": ("crimp", "tug", "solder"),
    # solder is never the only means of holding: the wires hold each other before it flows
    "solder_sleeve": (
        "lay the strands into each other",
        "solder sleeve over",
        "melt and cool",
        "tug",
    ),
    "solder": ("twist until it holds by itself", "solder", "support where the solder stops"),
}


def _joining(termination: str, joint: str) -> tuple[str, ...]:
    """Return the steps that hold an end; each side of a stepped butt has the jaw of its barrel."""
    if STEPPED not in termination:
        return _JOINED[joint]
    mine, _, other = termination.partition(" ")[0].partition("-")
    crimp = f"crimp the wire with the {mine} jaw, the tail with the {other} jaw"
    return tuple(crimp if step == "crimp" else step for step in _JOINED[joint])


def end_steps(
    termination: str,
    *,
    grease: Grease,
    shrink_now: bool,
    joint: str = "crimp",
    zone: Zone = "wet",
) -> tuple[str, ...]:
    """Return the steps of one end in the order a builder does them.

    Args:
        grease: the profile's school; at the landing only where the zone's recipe has it.
        joint: the profile's school for joints to a device's tail; rings, tabs and lugs are
            crimped in all of them.
        zone: where the end lives; decides its sleeves.
    """
    recipe = RECIPES[zone]
    if "end cap" in termination:
        return ("label sleeve on", "cap on", "shrink", "coil and tie")
    if "contact" in termination:
        return ("label sleeve on", "strip", "seal on", "crimp", "tug", "push home until it clicks")
    tail = "butt" in termination or "closed-end" in termination
    steps = ["label sleeve on"]
    if recipe.second_sleeve:
        steps.append(f"{recipe.second_sleeve} on")
    steps += [f"{recipe.sleeve} on", "strip"]
    if grease == "in_barrel":
        steps.append("grease in the barrel")
    steps += _joining(termination, joint if tail else "crimp")
    steps.append("shrink" if shrink_now else "shrink after power-up")
    if recipe.second_sleeve:
        steps.append("second sleeve over it")
    ring = "ring" in termination or "lug" in termination
    if grease == "at_landing" and recipe.grease_at_landing and ring:
        steps.append("grease at landing")
    return tuple(steps)
