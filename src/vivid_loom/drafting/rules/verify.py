"""Stage 9, verify: every rule over the whole draft."""

from collections.abc import Callable, Iterable, Iterator
from typing import Final

from vivid_loom.drafting.drafted import Draft
from vivid_loom.drafting.findings import GRAVITY, Finding, FindingKind
from vivid_loom.drafting.rules import (
    cables,
    colour,
    contacts,
    faults,
    helm,
    independence,
    levers,
    navigation,
    network,
    papers,
    runs,
    safety,
    size,
    sources,
    supply,
    vapour,
    zones,
)
from vivid_loom.order import Acceptance

__all__ = ["RULES", "answered", "kinds", "verify"]

Rule = Callable[[Draft], Iterator[Finding]]

_MODULES: Final = (
    papers,
    size,
    network,
    supply,
    sources,
    faults,
    colour,
    safety,
    contacts,
    helm,
    levers,
    navigation,
    zones,
    vapour,
    independence,
    cables,
    runs,
)
RULES: Final[tuple[Rule, ...]] = tuple(rule for module in _MODULES for rule in module.RULES)


def verify(draft: Draft) -> tuple[tuple[Finding, ...], tuple[tuple[Finding, Acceptance], ...]]:
    """Return open findings and accepted ones, each errors first, then by code and subject.

    An acceptance holds while the finding says what it said when it was accepted; of an error it
    needs the initials of two.
    """
    found = (finding for rule in RULES for finding in rule(draft))
    return answered(found, draft.aboard.order.accepted)


def answered(
    findings: Iterable[Finding], acceptances: Iterable[Acceptance]
) -> tuple[tuple[Finding, ...], tuple[tuple[Finding, Acceptance], ...]]:
    """Return open findings, and those that somebody answers for: for an error two do."""

    def gravity(finding: Finding) -> tuple[object, ...]:
        return GRAVITY.index(finding.severity), finding.code, finding.subjects, finding.values

    found = sorted(findings, key=gravity)
    by_key = {(a.code, a.subjects): a for a in acceptances}
    standing: list[Finding] = []
    accepted: list[tuple[Finding, Acceptance]] = []
    for finding in found:
        answer = by_key.get((finding.code, finding.subjects))
        enough = answer is not None and (finding.severity != "error" or answer.by_two)
        if answer and enough and answer.sentence == finding.sentence():
            accepted.append((finding, answer))
        else:
            standing.append(finding)
    return tuple(standing), tuple(accepted)


def kinds() -> tuple[FindingKind, ...]:
    """Return every rule there is, by code."""
    found: dict[str, FindingKind] = {}
    for module in _MODULES:
        for value in vars(module).values():
            for kind in value.values() if isinstance(value, dict) else (value,):
                if isinstance(kind, FindingKind):
                    found[kind.code] = kind
    return tuple(found[code] for code in sorted(found))
