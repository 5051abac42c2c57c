"""The demo world that ships: Quillhaven Boats' QH-86 and its orders. Data only."""

from pathlib import Path
from typing import Final

__all__ = ["DEMO_FOLDER", "DEMO_ORDER", "demo_orders", "find_boat", "taken_from_shipped"]

DEMO_FOLDER: Final = Path(__file__).parent / "data"
DEMO_ORDER: Final = DEMO_FOLDER / "hull-0417.loom.json"


def demo_orders() -> tuple[Path, ...]:
    """Return the shipped orders, by file name."""
    return tuple(sorted(DEMO_FOLDER.glob("*.loom.json")))


def taken_from_shipped(order_path: Path, boat_name: str) -> bool:
    """Tell whether an order that is not shipped has no boat beside it, and gets a shipped one."""
    is_shipped = order_path.resolve().parent == DEMO_FOLDER.resolve()
    return not is_shipped and not (order_path.parent / boat_name).exists()


def find_boat(order_path: Path, boat_name: str) -> Path:
    """Return the boat file an order names: beside the order, else among the shipped boats."""
    beside = order_path.parent / boat_name
    return beside if beside.exists() else DEMO_FOLDER / Path(boat_name).name
