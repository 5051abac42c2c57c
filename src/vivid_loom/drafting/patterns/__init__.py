"""Feed patterns. A new one is a module here with a ``PATTERN``; nothing else names it."""

from importlib import import_module
from pkgutil import iter_modules
from typing import Final

from vivid_loom.drafting.patterns.base import Leg, Pattern, Places, Plan, Point, PointKind, held

__all__ = ["PATTERNS", "Leg", "Pattern", "Places", "Plan", "Point", "PointKind", "held"]

PATTERNS: Final[dict[str, Pattern]] = {
    module.PATTERN.name: module.PATTERN
    for info in sorted(iter_modules(__path__), key=lambda info: info.name)
    if hasattr(module := import_module(f"{__name__}.{info.name}"), "PATTERN")
}
