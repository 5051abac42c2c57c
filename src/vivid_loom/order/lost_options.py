"""Options that an order has chosen and its model offers no more: dropped, replaced, or kept."""

import dataclasses
from collections.abc import Mapping

from vivid_loom.boat import Boat, Option, offering
from vivid_loom.order.edits import Edit
from vivid_loom.order.records import Order

__all__ = ["lost_options", "mend_options"]


def lost_options(order: Order, model: Boat) -> tuple[str, ...]:
    """Return the ids of options that are chosen and that neither model nor hull offers."""
    offered = {option.id for option in offering(model, order.hull_changes).options}
    return tuple(name for name in order.options if name not in offered)


def mend_options(answers: Mapping[str, str | Option]) -> Edit:
    """Say what becomes of options that were lost.

    Args:
        answers: by lost id, the id of what takes its place, '' to drop it, or the option as it was,
            which the hull keeps as its own.
    """

    def apply(order: Order) -> Order:
        chosen = {name for name in order.options if name not in answers}
        kept = tuple(answer for answer in answers.values() if isinstance(answer, Option))
        chosen |= {answer for answer in answers.values() if isinstance(answer, str) and answer}
        chosen |= {option.id for option in kept}
        changes = order.hull_changes
        return dataclasses.replace(
            order,
            options=tuple(sorted(chosen)),
            hull_changes=dataclasses.replace(changes, options=(*changes.options, *kept)),
        )

    return f"mend {', '.join(answers)}", apply
