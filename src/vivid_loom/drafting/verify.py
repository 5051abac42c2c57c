"""Stage 9, verify: every rule over the whole draft."""

from collections.abc import Callable, Iterator
from typing import Final

from vivid_loom.drafting import rules_runs, rules_safety, rules_size, rules_supply
from vivid_loom.drafting.drafted import Draft
from vivid_loom.drafting.findings import Finding

__all__ = ["RULES", "verify"]

Rule = Callable[[Draft], Iterator[Finding]]

RULES: Final[tuple[Rule, ...]] = (
    *rules_size.RULES, *rules_supply.RULES, *rules_safety.RULES, *rules_runs.RULES,
)  # fmt: skip

_ORDER = {"error": 0, "judge": 1, "note": 2}


def verify(draft: Draft) -> tuple[Finding, ...]:
    """Return all findings, errors first, then by code and subject."""
    found = [finding for rule in RULES for finding in rule(draft)]
    return tuple(sorted(found, key=lambda f: (_ORDER[f.severity], f.code, f.subjects, f.values)))
