"""The demo world that ships: Quillhaven Boats' QH-86 and its orders. Data only."""

from pathlib import Path
from typing import Final

__all__ = ["DEMO_FOLDER", "DEMO_ORDER", "demo_orders"]

DEMO_FOLDER: Final = Path(__file__).parent / "data"
DEMO_ORDER: Final = DEMO_FOLDER / "hull-0417.loom.json"


def demo_orders() -> tuple[Path, ...]:
    """Return the shipped orders, by file name."""
    return tuple(sorted(DEMO_FOLDER.glob("*.loom.json")))
