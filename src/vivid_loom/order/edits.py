"""Pure edits: each takes an order and returns the next one, with a name for the undo list."""

import dataclasses
from collections.abc import Callable, Iterable, Sequence

from vivid_loom.order.profile import PROFILES
from vivid_loom.order.records import (
    Acceptance,
    Landing,
    Order,
    OrderState,
    Override,
    OverrideField,
    Revision,
    StatedReason,
    Stop,
    Wish,
)

__all__ = [
    "Edit",
    "accept_finding",
    "change_profile",
    "choose_option",
    "choose_options",
    "clear_override",
    "drop_option",
    "issue_revision",
    "reopen_finding",
    "set_heading",
    "set_override",
    "set_state",
    "set_wishes",
    "stop_work",
    "take_up_work",
    "use_profile",
    "withdraw_revision",
]

Edit = tuple[str, Callable[[Order], Order]]


def choose_option(option_id: str, name: str) -> Edit:
    """Tick an option."""

    def apply(order: Order) -> Order:
        return dataclasses.replace(order, options=tuple(sorted({*order.options, option_id})))

    return f"choose {name}", apply


def choose_options(option_ids: Iterable[str], name: str) -> Edit:
    """Tick an option together with all it requires."""
    chosen = set(option_ids)

    def apply(order: Order) -> Order:
        return dataclasses.replace(order, options=tuple(sorted({*order.options, *chosen})))

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


def change_profile(field: str, value: str | float | int, words: str) -> Edit:
    """Depart from the profile in one choice; its own value takes the departure back."""

    def apply(order: Order) -> Order:
        changes = {name: kept for name, kept in order.profile_changes if name != field}
        if value != getattr(PROFILES[order.profile], field):
            changes[field] = value
        return dataclasses.replace(order, profile_changes=tuple(sorted(changes.items())))

    return f"set {words}", apply


def set_heading(*, title: str, customer: str, notes: str, station_date: str) -> Edit:
    """Change what the order is called, for whom and for when."""

    def apply(order: Order) -> Order:
        return dataclasses.replace(
            order, title=title, customer=customer, notes=notes, station_date=station_date
        )

    return "change the order's heading", apply


def set_wishes(wishes: Sequence[Wish], what: str) -> Edit:
    """Change the list of the customer's wishes."""
    return what, lambda order: dataclasses.replace(order, wishes=tuple(wishes))


def issue_revision(revision: Revision, landings: tuple[Landing, ...] = ()) -> Edit:
    """Record that the sheets were issued, and the numbers on them: from now on they stay."""

    def apply(order: Order) -> Order:
        revisions = (*order.revisions, revision)
        return dataclasses.replace(order, revisions=revisions, landings=landings)

    return f"issue revision {revision.number}", apply


def withdraw_revision(number: int, why: StatedReason) -> Edit:
    """Withdraw a revision: nobody may build by its sheets any more."""

    def apply(order: Order) -> Order:
        revisions = (
            dataclasses.replace(one, withdrawn=why) if one.number == number else one
            for one in order.revisions
        )
        return dataclasses.replace(order, revisions=tuple(revisions))

    return f"withdraw revision {number}", apply


def stop_work(stop: Stop) -> Edit:
    """Put an order on hold, or drop it."""
    name = "drop the order" if stop.kind == "dropped" else "put the order on hold"
    return name, lambda order: dataclasses.replace(order, stop=stop)


def take_up_work() -> Edit:
    """Go on with an order that was on hold or dropped."""
    return "take the order up again", lambda order: dataclasses.replace(order, stop=None)


def accept_finding(acceptance: Acceptance) -> Edit:
    """Answer for a finding; an earlier acceptance of the same one is replaced."""
    key = (acceptance.code, acceptance.subjects)

    def apply(order: Order) -> Order:
        kept = [a for a in order.accepted if (a.code, a.subjects) != key]
        made = sorted([*kept, acceptance], key=lambda a: (a.code, a.subjects))
        return dataclasses.replace(order, accepted=tuple(made))

    return f"accept {acceptance.code} on {acceptance.subjects[0]}", apply


def reopen_finding(code: str, subjects: tuple[str, ...]) -> Edit:
    """Take an acceptance back."""

    def apply(order: Order) -> Order:
        kept = tuple(a for a in order.accepted if (a.code, a.subjects) != (code, subjects))
        return dataclasses.replace(order, accepted=kept)

    return f"open {code} on {subjects[0]} again", apply


def set_state(state: OrderState) -> Edit:
    """Take the order a step further, or back."""
    return f"set state to {state.replace('_', ' ')}", lambda order: dataclasses.replace(
        order, state=state
    )
