"""Reading and writing order files."""

import dataclasses
from pathlib import Path
from typing import Any, Final

from vivid_loom.boat import fed_supply
from vivid_loom.order.profile import PROFILES
from vivid_loom.order.records import Order
from vivid_loom.quantities import LimitError
from vivid_loom.quantities.atomic import write_atomically
from vivid_loom.quantities.document import (
    DocumentError,
    document_text,
    parsed_document,
    read_document,
)

__all__ = [
    "ORDER_FORMAT",
    "ORDER_VERSION",
    "order_text",
    "parse_order",
    "read_order",
    "write_order",
]

ORDER_FORMAT: Final = "vivid-loom-order"
ORDER_VERSION: Final = 3


def _from_1(body: dict[str, Any]) -> dict[str, Any]:
    """Version 1 called the order's own loads ``extra`` and kept a bare revision number."""
    body = dict(body)
    body.pop("revision", None)
    if "extra" in body:
        body["added"] = body.pop("extra")
    return body


def _from_2(body: dict[str, Any]) -> dict[str, Any]:
    """Version 2 knew one feed a supply."""
    changes = body.get("hull_changes")
    if not changes or "supplies" not in changes:
        return body
    fed = [fed_supply(supply) for supply in changes["supplies"]]
    return {**body, "hull_changes": {**changes, "supplies": fed}}


MIGRATIONS: Final = {1: _from_1, 2: _from_2}


def _checked(path: Path, order: Order) -> Order:
    """Return the order if its profile stands with its changes, each taken by itself."""
    if order.profile not in PROFILES:
        raise DocumentError(
            path, "profile", f"found {order.profile!r}, expected one of {', '.join(PROFILES)}"
        )
    base = PROFILES[order.profile]
    for index, (name, value) in enumerate(order.profile_changes):
        place = f"profile_changes[{index}]"
        known = [field.name for field in dataclasses.fields(base)]
        if name not in known:
            raise DocumentError(path, place, f"found {name!r}, expected one of {', '.join(known)}")
        try:
            dataclasses.replace(base, **{name: value})  # type: ignore[arg-type]
        except LimitError as error:
            raise DocumentError(path, place, str(error)) from error
    return order


def parse_order(path: Path, text: str) -> Order:
    """Return the order that ``text`` holds; ``path`` is for the error only.

    Raises:
        DocumentError: see ``parsed_document``; also a bad date, profile or profile change.
    """
    order = parsed_document(path, text, Order, ORDER_FORMAT, ORDER_VERSION, MIGRATIONS)
    return _checked(path, order)


def read_order(path: Path) -> Order:
    """Read an order file; an older version is brought up to this one.

    Raises:
        DocumentError: see ``read_document``; also a bad date, profile or profile change.
    """
    order = read_document(path, Order, ORDER_FORMAT, ORDER_VERSION, MIGRATIONS)
    return _checked(path, order)


def order_text(order: Order) -> str:
    """Return the text of an order file."""
    return document_text(order, ORDER_FORMAT, ORDER_VERSION)


def write_order(path: Path, order: Order) -> None:
    """Write an order file, atomically."""
    write_atomically(path, order_text(order).encode())
