"""Pure edits: each takes an order and returns the next one, with a name for the undo list."""

import dataclasses
from collections.abc import Callable

from vivid_loom.order.profile import PROFILES
from vivid_loom.order.records import Order, Override, OverrideField

__all__ = ["Edit", "choose_option", "clear_override", "drop_option", "set_override", "use_profile"]

Edit = tuple[str, Callable[[Order], Order]]


def choose_option(option_id: str, name: str) -> Edit:
    """Tick an option."""

    def apply(order: Order) -> Order:
        return dataclasses.replace(order, options=tuple(sorted({*order.options, option_id})))

    return f"choose {name}", apply


def drop_option(option_id: str, name: str) -> Edit:
    """Untick an option."""

    def apply(order: Order) -> Order:
        kept = tuple(o for o in order.options if o != option_id)
        return dataclasses.replace(order, options=kept)

    return f"drop {name}", apply


def _without(order: Order, subject: str, field: OverrideField) -> tuple[Override, ...]:
    return tuple(o for o in order.overrides if (o.subject, o.field) != (subject, field))


def set_override(override: Override) -> Edit:
    """Set a value against the draft's own; it replaces an earlier one of the same value."""

    def apply(order: Order) -> Order:
        kept = _without(order, override.subject, override.field)
        new = sorted((*kept, override), key=lambda o: (o.subject, o.field))
        return dataclasses.replace(order, overrides=tuple(new))

    field = override.field.replace("_a", "").replace("_", " ")
    return f"set {field} of {override.subject} to {override.value}", apply


def clear_override(subject: str, field: OverrideField) -> Edit:
    """Go back to the drafted value."""

    def apply(order: Order) -> Order:
        return dataclasses.replace(order, overrides=_without(order, subject, field))

    return f"clear {field.replace('_a', '').replace('_', ' ')} of {subject}", apply


def use_profile(profile_id: str) -> Edit:
    """Change the school the order is drafted under."""

    def apply(order: Order) -> Order:
        return dataclasses.replace(order, profile=profile_id, profile_changes=())

    return f"draft under {PROFILES[profile_id].name}", apply
