"""Which switches could stand in for one that cannot do what is asked of it."""

from collections.abc import Callable
from typing import Final

from vivid_loom.catalogue.records import Catalogue, SwitchPart

__all__ = ["instead_of"]

MOST_NAMED: Final = 3


def instead_of(part: SwitchPart, catalogue: Catalogue, does: Callable[[SwitchPart], bool]) -> str:
    """Say which entries would do instead: of the same kind, with no fewer contacts, same action.

    One that holds a breaker stands in for its like only.

    Args:
        does: tells whether an entry can do what this one cannot.
    """
    others = [
        other
        for other in catalogue.switches
        if other.id != part.id
        and other.actuator == part.actuator
        and other.action == part.action
        and other.breaker == part.breaker
        and other.is_pair == part.is_pair
        and other.poles >= part.poles
        and other.throws >= part.throws
        and does(other)
    ]
    others.sort(key=lambda other: (other.poles, other.throws, other.rated_a, other.id))
    names = list(dict.fromkeys(other.name for other in others))[:MOST_NAMED]
    if not names:
        return "no switch kept would do"
    return f"{' or '.join(names)} would do"
