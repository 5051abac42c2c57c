"""What clears a finding, drafted before it is offered: it goes, and nothing as grave comes."""

from collections import Counter

from vivid_loom.boat import Boat
from vivid_loom.drafting.drafted import Draft
from vivid_loom.drafting.errors import DraftError
from vivid_loom.drafting.findings import GRAVITY, Finding, Severity
from vivid_loom.drafting.pipeline import draft
from vivid_loom.drafting.rules.fixes import fixes_of
from vivid_loom.order import Edit
from vivid_loom.quantities import LimitError

__all__ = ["clears", "remedy"]


def remedy(finding: Finding, standing: Draft, model: Boat) -> Edit | None:
    """Return the first edit that clears a finding and brings none as grave; None without one.

    Every edit leaves fewer errors, or as many and fewer overruled values, or as many of both and
    fewer findings of its gravity, so that no row of them leads back to where it began.

    Args:
        model: the boat as its model has it, which the order is drafted on.
    """
    for edit in fixes_of(finding, standing):
        order = edit[1](standing.aboard.order)
        if order == standing.aboard.order:
            continue
        try:
            after = draft(order, model, standing.catalogue, standing)
        except (DraftError, LimitError):
            continue
        if clears(finding, standing, after):
            return edit
    return None


def clears(finding: Finding, before: Draft, after: Draft) -> bool:
    """Tell whether a draft lacks a finding of another, and has nowhere more of any as grave.

    What stands at one place under one code counts as one trouble, however its words differ. A
    value given back to the draft may bring what is to be judged: it was hidden by it.
    """
    if any(f.code == finding.code and f.subjects == finding.subjects for f in after.findings):
        return False
    overruled = len(before.aboard.order.overrides) - len(after.aboard.order.overrides)
    grave = "error" if overruled > 0 else finding.severity
    was, is_now = (_troubles(d, grave) for d in (before, after))
    fewer = is_now.total() < was.total() or (overruled > 0 and is_now.total() == was.total())
    return fewer and overruled >= 0 and not is_now - was


def _troubles(draft_: Draft, severity: Severity) -> Counter[tuple[str, str]]:
    """Return how often each code is told of each place, in findings of a gravity and greater."""
    grave = GRAVITY[: GRAVITY.index(severity) + 1]
    return Counter((f.code, f.subjects[0]) for f in draft_.findings if f.severity in grave)
