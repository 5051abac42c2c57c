"""The order document, its profile and its edits."""

from vivid_loom.order.calendar import due_date
from vivid_loom.order.edits import (
    Edit,
    choose_option,
    clear_override,
    drop_option,
    set_override,
    use_profile,
)
from vivid_loom.order.files import ORDER_FORMAT, ORDER_VERSION, read_order, write_order
from vivid_loom.order.profile import PROFILES, Profile
from vivid_loom.order.records import Order, Override, OverrideField

__all__ = [
    "ORDER_FORMAT",
    "ORDER_VERSION",
    "PROFILES",
    "Edit",
    "Order",
    "Override",
    "OverrideField",
    "Profile",
    "choose_option",
    "clear_override",
    "drop_option",
    "due_date",
    "read_order",
    "set_override",
    "use_profile",
    "write_order",
]
