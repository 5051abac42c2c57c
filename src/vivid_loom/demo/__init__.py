"""The demo world that ships: Quillhaven Boats' QH-86 and its orders. Data only."""

from pathlib import Path
from typing import Final

__all__ = ["DEMO_FOLDER", "DEMO_ORDER", "borrowed_boat", "demo_orders", "find_boat", "is_shipped"]

DEMO_FOLDER: Final = Path(__file__).parent / "data"
DEMO_ORDER: Final = DEMO_FOLDER / "hull-0417.loom.json"


def demo_orders() -> tuple[Path, ...]:
    """Return the shipped orders, by file name."""
    return tuple(sorted(DEMO_FOLDER.glob("*.loom.json")))


def is_shipped(order: Path) -> bool:
    """Tell whether an order's file is one of the demo's, which are never written to."""
    return order.resolve().parent == DEMO_FOLDER.resolve()


def borrowed_boat(order: Path, boat: str) -> str:
    """Say that an order without its boat beside it gets the shipped one; '' where it has its own.

    Args:
        boat: the file the order names.
    """
    if is_shipped(order) or (order.parent / boat).exists():
        return ""
    return f"{boat} is not beside {order.name}: the shipped boat of that name is taken."


def find_boat(order_path: Path, boat_name: str) -> Path:
    """Return the boat file an order names: beside the order, else among the shipped boats."""
    beside = order_path.parent / boat_name
    return beside if beside.exists() else DEMO_FOLDER / Path(boat_name).name
