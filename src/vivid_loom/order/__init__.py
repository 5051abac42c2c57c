"""The order document, its profile, its edits, its journal and the shop it stands in."""

from vivid_loom.order.calendar import due_date
from vivid_loom.order.edits import (
    Edit,
    change_profile,
    choose_option,
    choose_options,
    clear_override,
    drop_option,
    issue_revision,
    set_heading,
    set_override,
    set_wishes,
    use_profile,
)
from vivid_loom.order.files import (
    ORDER_FORMAT,
    ORDER_VERSION,
    order_text,
    parse_order,
    read_order,
    write_order,
)
from vivid_loom.order.journal import Journal, Recovered
from vivid_loom.order.lock import OrderLock, OrderLockedError
from vivid_loom.order.profile import PROFILES, Profile
from vivid_loom.order.records import (
    BuiltWire,
    Order,
    Override,
    OverrideField,
    Revision,
    Spare,
    Via,
    Wish,
)
from vivid_loom.order.shop import SHOP_FORMAT, SHOP_VERSION, Shop, read_shop
from vivid_loom.order.store import ChangedOnDiskError, OrderStore

__all__ = [
    "ORDER_FORMAT",
    "ORDER_VERSION",
    "PROFILES",
    "SHOP_FORMAT",
    "SHOP_VERSION",
    "BuiltWire",
    "ChangedOnDiskError",
    "Edit",
    "Journal",
    "Order",
    "OrderLock",
    "OrderLockedError",
    "OrderStore",
    "Override",
    "OverrideField",
    "Profile",
    "Recovered",
    "Revision",
    "Shop",
    "Spare",
    "Via",
    "Wish",
    "change_profile",
    "choose_option",
    "choose_options",
    "clear_override",
    "drop_option",
    "due_date",
    "issue_revision",
    "order_text",
    "parse_order",
    "read_order",
    "read_shop",
    "set_heading",
    "set_override",
    "set_wishes",
    "use_profile",
    "write_order",
]
