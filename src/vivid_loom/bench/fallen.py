"""What an edit does to the state of an order: no state stands on what is no longer so."""

from vivid_loom.drafting import Draft
from vivid_loom.order import OrderState
from vivid_loom.workshop.harness.built import lying_wires, ticked_wires

__all__ = ["fallen"]


def _work(draft: Draft) -> tuple[object, ...]:
    """Return what an order asks a yard to make, fit and prove."""
    made, devices = draft.assembled, tuple((row.id, row.device) for row in draft.rows)
    return (
        (made.wires, made.plugs, made.cables, made.posts, devices),
        tuple((s.place, s.part, s.request.legend) for s in draft.switches),
        (draft.spares, draft.bonds, draft.recorded, draft.allocation.strips),
    )


def _errors(draft: Draft) -> set[tuple[object, ...]]:
    return {(f.code, f.subjects) for f in draft.findings if f.severity == "error"}


def _undone(before: Draft, after: Draft) -> bool:
    """Tell whether a wire that was built, or lay there, is to be made now."""
    was = ticked_wires(before) | lying_wires(before)
    return not was <= ticked_wires(after) | lying_wires(after)


def _withdrawn(before: Draft, after: Draft) -> bool:
    """Tell whether what an order is built by has just been withdrawn."""
    was, now = before.aboard.order.revisions, after.aboard.order.revisions
    return bool(was and now and now[-1].withdrawn and not was[-1].withdrawn)


def fallen(before: Draft, after: Draft) -> OrderState:
    """Return the state that an order still has after an edit, as called or lower.

    Other work makes a draft of it again, as an error does that nobody answers for. A wire that is
    no longer built takes it back to what is released, an open deviation to what is tested,
    a revision that is withdrawn to what is checked.

    Args:
        before: as it stood, in the state it was called.
    """
    state = after.aboard.order.state
    if state != before.aboard.order.state or state == "drafting":
        return state  # called so just now, by what is proven
    if _errors(after) - _errors(before) or _work(before) != _work(after):
        return "drafting"
    if state != "checked" and _withdrawn(before, after):
        return "checked"
    if state in ("built", "tested", "handed_over") and _undone(before, after):
        return "released"
    if state == "handed_over" and any(d.verdict == "open" for d in after.aboard.order.deviations):
        return "tested"
    return state
