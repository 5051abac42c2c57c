"""Orders opened lately, kept between runs."""

import json
from pathlib import Path

from vivid_loom.quantities.atomic import write_atomically

__all__ = ["recent_orders", "remember"]

KEPT = 8


def _file(state: Path) -> Path:
    return state / "recent.json"


def recent_orders(state: Path) -> tuple[Path, ...]:
    """Return the orders opened last that are still there, latest first."""
    try:
        listed = json.loads(_file(state).read_text(encoding="utf-8"))
        paths = [Path(name) for name in listed if isinstance(name, str)]
    except (OSError, ValueError, TypeError):
        return ()  # a list of conveniences: worth no error
    return tuple(path for path in paths if path.exists())


def remember(state: Path, path: Path) -> None:
    """Put an order at the head of the list."""
    kept = [str(path.resolve())]
    kept += [str(p) for p in recent_orders(state) if str(p) != kept[0]]
    state.mkdir(parents=True, exist_ok=True)
    write_atomically(_file(state), json.dumps(kept[:KEPT]).encode())
