"""Cable glands: what holds and seals a cable that passes a border whole."""

from typing import Final, NamedTuple

from vivid_loom.standards.source import Source

__all__ = ["GLANDS", "GLAND_SOURCE", "Gland", "gland_for"]

GLAND_SOURCE: Final = Source("IEC 62444", "metric threads; clamping ranges generic", "from memory")


class Gland(NamedTuple):
    """A gland by its thread, and the cable it closes around."""

    thread: str
    thinnest_mm: float
    thickest_mm: float


GLANDS: Final = (
    Gland("M12", 3.0, 6.5),
    Gland("M16", 5.0, 10.0),
    Gland("M20", 7.0, 13.0),
    Gland("M25", 11.0, 17.0),
    Gland("M32", 15.0, 22.0),
    Gland("M40", 20.0, 29.0),
)


def gland_for(diameter_mm: float) -> Gland | None:
    """Return the smallest gland that closes around a cable; None where none does."""
    fits = (g for g in GLANDS if g.thinnest_mm <= diameter_mm <= g.thickest_mm)
    return next(fits, None)
