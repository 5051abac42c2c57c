"""Stage 9, verify: every rule over the whole draft."""

from collections.abc import Callable, Iterator
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
    zones,
)
from vivid_loom.order import Acceptance

__all__ = ["RULES", "kinds", "verify"]

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
    independence,
    cables,
    runs,
)
RULES: Final[tuple[Rule, ...]] = tuple(rule for module in _MODULES for rule in module.RULES)


def verify(draft: Draft) -> tuple[tuple[Finding, ...], tuple[tuple[Finding, Acceptance], ...]]:
    """Return open findings and accepted ones, each errors first, then by code and subject.

    An acceptance holds while the finding says what it said when it was accepted.
    """
    found = [finding for rule in RULES for finding in rule(draft)]
    found.sort(key=lambda f: (GRAVITY.index(f.severity), f.code, f.subjects, f.values))
    by_key = {(a.code, a.subjects): a for a in draft.aboard.order.accepted}
    standing: list[Finding] = []
    accepted: list[tuple[Finding, Acceptance]] = []
    for finding in found:
        answer = by_key.get((finding.code, finding.subjects))
        if answer and answer.sentence == finding.sentence():
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
