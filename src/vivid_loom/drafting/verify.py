"""Stage 9, verify: every rule over the whole draft."""

from collections.abc import Callable, Iterator
from typing import Final

from vivid_loom.drafting import (
    rules_cables,
    rules_colour,
    rules_faults,
    rules_runs,
    rules_safety,
    rules_size,
    rules_supply,
    rules_zones,
)
from vivid_loom.drafting.drafted import Draft
from vivid_loom.drafting.findings import Finding
from vivid_loom.order import Acceptance

__all__ = ["RULES", "verify"]

Rule = Callable[[Draft], Iterator[Finding]]

RULES: Final[tuple[Rule, ...]] = (
    *rules_size.RULES, *rules_supply.RULES, *rules_faults.RULES, *rules_colour.RULES,
    *rules_safety.RULES, *rules_zones.RULES, *rules_cables.RULES,
    *rules_runs.RULES,
)  # fmt: skip

_ORDER = {"error": 0, "judge": 1, "note": 2}


def verify(draft: Draft) -> tuple[tuple[Finding, ...], tuple[tuple[Finding, Acceptance], ...]]:
    """Return open findings and accepted ones, each errors first, then by code and subject.

    An acceptance holds while the finding says what it said when it was accepted.
    """
    found = [finding for rule in RULES for finding in rule(draft)]
    found.sort(key=lambda f: (_ORDER[f.severity], f.code, f.subjects, f.values))
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
