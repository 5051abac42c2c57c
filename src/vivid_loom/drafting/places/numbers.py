"""Ways, screws, poles and cavities are numbered; what was issued with a number keeps it."""

from collections import defaultdict
from collections.abc import Callable, Iterable, Sequence
from typing import TypeVar

from vivid_loom.order import Landing, LandingKind

__all__ = ["Numbers"]

T = TypeVar("T")


class Numbers:
    """Hands out the numbers of one kind, place by place: the lowest that is free.

    Args:
        is_aboard: tells whether a subject is still drafted: what was dropped keeps nothing.

    Attributes:
        places: those that something aboard was issued with.
    """

    def __init__(
        self, kind: LandingKind, landings: Iterable[Landing], is_aboard: Callable[[str], bool]
    ) -> None:
        mine = [one for one in landings if one.kind == kind and is_aboard(one.subject)]
        self._issued = {one.subject: one for one in mine}
        self._reserved: dict[str, set[int]] = defaultdict(set)
        for one in mine:
            self._reserved[one.place].add(one.number)
        self.places = frozenset(self._reserved)
        self._taken: dict[str, set[int]] = defaultdict(set)
        self._lowest: dict[str, int] = defaultdict(lambda: 1)

    def issued(self, subject: str) -> Landing | None:
        """Return what a subject was issued with; None for what is new."""
        return self._issued.get(subject)

    def reserve(self, landings: Iterable[Landing]) -> None:
        """Leave numbers that something else has in the same places to it."""
        for one in landings:
            self._taken[one.place].add(one.number)

    def where_issued(self, subject: str, places: Sequence[T], named: Callable[[T], str]) -> list[T]:
        """Return places with the one that a subject was issued in first, if it is among them."""
        issued = self._issued.get(subject)
        return sorted(places, key=lambda place: issued is None or named(place) != issued.place)

    def has_room(self, place: str, most: int) -> bool:
        """Tell whether a place has a number left, of so many."""
        return len(self._taken[place]) < most

    def take(self, place: str, subject: str, most: int) -> int:
        """Return a number of a place: the one it was issued with, else the lowest; 0 for none."""
        taken = self._taken[place]
        issued = self._issued.get(subject)
        number = 0
        if issued is not None and issued.place == place:
            number = issued.number if issued.number <= most else 0
        if not number or number in taken:
            number = self._free(place, most)
        if number:
            taken.add(number)
        return number

    def _free(self, place: str, most: int) -> int:
        """Return the lowest number that is free, one nobody is to come back to if there is one."""
        taken, reserved = self._taken[place], self._reserved[place]
        while self._lowest[place] in taken:
            self._lowest[place] += 1
        lowest = self._lowest[place]
        if lowest <= most and lowest not in reserved:
            return lowest
        free = (n for n in range(lowest, most + 1) if n not in taken and n not in reserved)
        return next(free, lowest if lowest <= most else 0)
