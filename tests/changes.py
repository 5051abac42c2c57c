"""Small changes to a boat, its order and the catalogue, for tests that need one thing otherwise."""

import dataclasses
from collections.abc import Callable
from typing import Any, NamedTuple

from vivid_loom.boat import Boat
from vivid_loom.catalogue import Catalogue, shipped_catalogue
from vivid_loom.drafting import Draft, draft
from vivid_loom.order import HandJumper, Order, Override

__all__ = [
    "Change",
    "Setup",
    "area",
    "battery",
    "boat",
    "bus",
    "by_hand",
    "catalogue",
    "chained",
    "circuit",
    "drafted",
    "load",
    "nothing",
    "override",
    "profile",
    "run",
    "supply",
    "switch",
]


class Setup(NamedTuple):
    """What a draft is made from."""

    boat: Boat
    order: Order
    catalogue: Catalogue = shipped_catalogue()


Change = Callable[[Setup], Setup]


def drafted(setup: Setup, before: Draft | None = None) -> Draft:
    """Draft a setup, from a draft that it differs from in little: which only saves time."""
    return draft(setup.order, setup.boat, setup.catalogue, before)


def nothing(setup: Setup) -> Setup:
    """Change nothing."""
    return setup


def chained(*changes: Change) -> Change:
    """Make several changes, one after another."""

    def apply(setup: Setup) -> Setup:
        for change in changes:
            setup = change(setup)
        return setup

    return apply


def boat(**fields: Any) -> Change:
    """Change fields of the boat."""
    return lambda s: s._replace(boat=dataclasses.replace(s.boat, **fields))


def _listed(field: str, item_id: str, fields: dict[str, Any]) -> Change:
    def apply(setup: Setup) -> Setup:
        items = getattr(setup.boat, field)
        assert any(item.id == item_id for item in items), item_id
        changed = tuple(
            dataclasses.replace(item, **fields) if item.id == item_id else item for item in items
        )
        return boat(**{field: changed})(setup)

    return apply


def _fitted(field: str, item_id: str, fields: dict[str, Any]) -> Change:
    def apply(setup: Setup) -> Setup:
        items = getattr(setup.boat.fit, field)
        assert any(item.id == item_id for item in items), item_id
        changed = tuple(
            dataclasses.replace(item, **fields) if item.id == item_id else item for item in items
        )
        return boat(fit=dataclasses.replace(setup.boat.fit, **{field: changed}))(setup)

    return apply


def load(item_id: str, **fields: Any) -> Change:
    """Change a standard load."""
    return _fitted("loads", item_id, fields)


def circuit(item_id: str, **fields: Any) -> Change:
    """Change a standard circuit."""
    return _fitted("circuits", item_id, fields)


def switch(item_id: str, **fields: Any) -> Change:
    """Change a standard switch."""
    return _fitted("switches", item_id, fields)


def by_hand(start: str, end: str, *, laid: bool = True) -> Change:
    """Lay a jumper behind the panels, or leave the drafted one out."""

    def apply(setup: Setup) -> Setup:
        made = HandJumper(start=start, end=end, laid=laid, reason="r", initials="i")
        order = dataclasses.replace(setup.order, jumpers=(*setup.order.jumpers, made))
        return setup._replace(order=order)

    return apply


def supply(item_id: str, **fields: Any) -> Change:
    """Change a supply."""
    return _listed("supplies", item_id, fields)


def feed(item_id: str, **fields: Any) -> Change:
    """Change the first feed of a supply."""

    def apply(setup: Setup) -> Setup:
        fed = setup.boat.supplies_by_id[item_id]
        first = dataclasses.replace(fed.feeds[0], **fields)
        return supply(item_id, feeds=(first, *fed.feeds[1:]))(setup)

    return apply


def bus(item_id: str, **fields: Any) -> Change:
    """Change a negative bus."""
    return _listed("return_buses", item_id, fields)


def area(item_id: str, **fields: Any) -> Change:
    """Change an area."""
    return _listed("areas", item_id, fields)


def run(item_id: str, **fields: Any) -> Change:
    """Change a run."""
    return _listed("runs", item_id, fields)


def battery(**fields: Any) -> Change:
    """Change every battery."""
    return lambda s: boat(
        batteries=tuple(dataclasses.replace(b, **fields) for b in s.boat.batteries)
    )(s)


def profile(**fields: Any) -> Change:
    """Depart from the profile."""

    def apply(setup: Setup) -> Setup:
        changes = tuple(sorted({**dict(setup.order.profile_changes), **fields}.items()))
        return setup._replace(order=dataclasses.replace(setup.order, profile_changes=changes))

    return apply


def override(subject: str, kind: str = "judgement", **values: str) -> Change:
    """Overrule values of a circuit, feeder or switch."""

    def apply(setup: Setup) -> Setup:
        made = tuple(
            Override(subject=subject, field=field, value=value, reason="r", initials="i", kind=kind)  # type: ignore[arg-type]
            for field, value in values.items()
        )
        order = dataclasses.replace(setup.order, overrides=(*setup.order.overrides, *made))
        return setup._replace(order=order)

    return apply


def catalogue(**fields: Any) -> Change:
    """Change the catalogue."""
    return lambda s: s._replace(catalogue=dataclasses.replace(s.catalogue, **fields))
