"""Edits that clear findings about panels: jumpers as drafted, another intent, another switch."""

import dataclasses
from collections.abc import Callable, Iterator

from vivid_loom.catalogue import SwitchPart
from vivid_loom.drafting.drafted import Draft
from vivid_loom.drafting.findings import Finding
from vivid_loom.drafting.making.switch import HelmSwitch
from vivid_loom.drafting.rules.edits import Fix, right_throws
from vivid_loom.order import Edit, HandJumper, change_switch, give_back_jumper

__all__ = ["as_drafted", "lamps_by_profile", "named_rightly", "other_switch", "throws_or_jumper"]


def as_drafted(finding: Finding, draft: Draft) -> Edit | None:
    """Have a jumper as drafted again: one that was decided by hand where the finding is."""
    switches = set(_switches_of(finding, draft))
    named = [
        jumper
        for jumper in draft.aboard.order.jumpers
        if switches & {end.rpartition(" ")[0] for end in jumper.ends}
    ]
    return give_back_jumper(named[0]) if named else _cut_chain(finding, draft)


def _cut_chain(finding: Finding, draft: Draft) -> Edit | None:
    """Lay again what was left out of a chain; it concerns every switch along it."""
    cut = sorted((j for j in draft.aboard.order.jumpers if not j.laid), key=_within_one)
    return give_back_jumper(cut[0]) if cut and finding.code in ("A35", "A36") else None


def _within_one(jumper: HandJumper) -> bool:
    """Tell whether a jumper stays on one switch."""
    return len({end.rpartition(" ")[0] for end in jumper.ends}) == 1


def _switches_of(finding: Finding, draft: Draft) -> Iterator[str]:
    """Yield the switches a finding names, or that its circuits and loads go through."""
    for subject in finding.subjects:
        yield subject
        row = draft.circuit(subject)
        fed = [row] if row else [r for r in draft.circuits if subject in r.planned.loads]
        for one in fed:
            if one.planned.request:
                yield from (contact.switch for contact in one.planned.request.contacts)


def throws_or_jumper(finding: Finding, draft: Draft) -> Edit | None:
    """Take back the jumper that lights a lamp, or else correct the throws of its contact."""
    return as_drafted(finding, draft) or right_throws(finding, draft)


def _switch(finding: Finding, draft: Draft) -> HelmSwitch | None:
    return next((s for s in draft.switches if s.request.id in finding.subjects), None)


def lamps_by_profile(finding: Finding, draft: Draft) -> Edit | None:
    """Give both lamps back to the profile; None where it is the profile that asks too much."""
    switch = _switch(finding, draft)
    if switch is None:
        return None
    plain = dataclasses.replace(switch.request, upper_lamp="by_profile", lower_lamp="by_profile")
    return change_switch(plain) if plain != switch.request else None


def named_rightly(finding: Finding, draft: Draft) -> Edit | None:
    """Order a legend that says what the switch feeds."""
    switch = _switch(finding, draft)
    if switch is None or not switch.request.legend_says:
        return None
    return change_switch(dataclasses.replace(switch.request, legend_says=""))


def _no_less(part: SwitchPart, than: SwitchPart) -> bool:
    same = part.breaker == than.breaker
    return same and part.rated_a >= than.rated_a and part.lamps >= than.lamps


def other_switch(
    fits: Callable[[SwitchPart, HelmSwitch, Draft], bool], *, breaker: bool | None = None
) -> Fix:
    """Fit the first part of the same contacts that also fits.

    Args:
        breaker: whether it is to hold a breaker; None for as it does now, with lamps no fewer and
            contacts no weaker.
    """

    def fix(finding: Finding, draft: Draft) -> Edit | None:
        switch = _switch(finding, draft)
        if switch is None:
            return None
        alike = (
            part
            for part in draft.catalogue.switches
            if part.arrangement == switch.part.arrangement
            and part.actuator == switch.part.actuator
            and part.rest == switch.part.rest
            and (part.breaker == breaker or (breaker is None and _no_less(part, switch.part)))
            and fits(part, switch, draft)
        )
        found = next(alike, None)
        if found is None:
            return None
        return change_switch(dataclasses.replace(switch.request, part=found.id))

    return fix
