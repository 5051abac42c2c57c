"""Ways, screws, poles and cavities are numbered; what was issued with a number keeps it."""

from collections import defaultdict
from collections.abc import Callable, Iterable

from vivid_loom.order import Landing, LandingKind

__all__ = ["Numbers"]


class Numbers:
    """Hands out the numbers of one kind, place by place: the lowest that is free.

    Args:
        is_aboard: tells whether a subject is still drafted: what was dropped keeps nothing.
    """

    def __init__(
        self, kind: LandingKind, landings: Iterable[Landing], is_aboard: Callable[[str], bool]
    ) -> None:
        mine = [one for one in landings if one.kind == kind and is_aboard(one.subject)]
        self._issued = {one.subject: one for one in mine}
        self._reserved: dict[str, set[int]] = defaultdict(set)
        for one in mine:
            self._reserved[one.place].add(one.number)
        self._taken: dict[str, set[int]] = defaultdict(set)

    def issued(self, subject: str) -> Landing | None:
        """Return what a subject was issued with; None for what is new."""
        return self._issued.get(subject)

    @property
    def places(self) -> frozenset[str]:
        """Places that something aboard was issued with."""
        return frozenset(place for place, numbers in self._reserved.items() if numbers)

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
            free = [n for n in range(1, most + 1) if n not in taken]
            unspoken = (n for n in free if n not in self._reserved[place])
            number = next(unspoken, free[0] if free else 0)
        if number:
            taken.add(number)
        return number
