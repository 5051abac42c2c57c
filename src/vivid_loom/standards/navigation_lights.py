"""Which lights a vessel shows, by its length and by what drives it."""

from typing import Final

from vivid_loom.standards.source import Source

__all__ = ["LIGHTS_SOURCE", "Lights", "at_anchor", "under_way"]

Lights = frozenset[str]
LIGHTS_SOURCE: Final = Source("COLREGs 72", "rules 21, 23, 25 and 30", "from memory")
_FULL: Final = frozenset({"side", "masthead", "stern"})
_SMALL: Final = frozenset({"side", "all-round white"})
_BOAT: Final = frozenset({"all-round white"})
_SAIL: Final = frozenset({"side", "stern"})
_LANTERN: Final = frozenset({"tricolour"})


def under_way(length_m: float, *, sails: bool) -> tuple[Lights, ...]:
    """Return the sets of lights that a vessel under way may show, the usual one first.

    Power-driven: masthead, side and stern lights (23a); under 12 m an all-round white light and
    side lights instead (23d i); under 7 m an all-round white light alone, where it makes no more
    than 7 knots (23d ii). Sailing: side and stern lights (25a); under 20 m in one lantern (25b).

    Args:
        sails: it may be driven by sail alone.
    """
    allowed = [_FULL]
    if length_m < 12:
        allowed.insert(0, _SMALL)
    if length_m < 7:
        allowed.append(_BOAT)
    if sails:
        allowed.append(_SAIL)
        if length_m < 20:
            allowed.append(_LANTERN)
    return tuple(allowed)


def at_anchor(length_m: float) -> tuple[Lights, ...]:
    """Return the sets a vessel at anchor may show: under 50 m one all-round white light (30b).

    From 50 m up a second one, lower and at the stern (30a), which is the same kind of light.
    Under 7 m it may do without, away from where others pass (30e).
    """
    return (_BOAT, frozenset()) if length_m < 7 else (_BOAT,)
