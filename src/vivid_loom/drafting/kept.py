"""What stages made, kept for the draft after the next edit: only what an edit touched is made anew.

A stage names what it depends on. Where that is the same as before, what it made stands; so two
drafts of one order are equal however they came about. The same means the same object, or the same
number or word; records that a stage made again and that say the same are handed on as they were.
What is ``Plain`` is the same if it says the same.
"""

from collections.abc import Callable
from operator import is_
from typing import Any, TypeVar

__all__ = ["Kept", "Plain"]

T = TypeVar("T")
_BY_VALUE = (str, bytes, int, float, bool, type(None))


class Plain(tuple[object, ...]):
    """Words, numbers and records of what people decided: compared at once, by what they say.

    Nothing with reasons belongs in it, for they are written to be compared, and no array.
    """


def _alike(now: object, before: object) -> bool:
    if now is before:
        return True
    if isinstance(now, Plain):
        return now == before
    if isinstance(now, tuple):
        if not isinstance(before, tuple) or len(now) != len(before):
            return False
        if all(map(is_, now, before)):
            return True
        for a, b in zip(now, before, strict=True):  # noqa: SIM110 (asked for every stage)
            if a is not b and not _alike(a, b):
                return False
        return True
    return isinstance(now, _BY_VALUE) and type(now) is type(before) and now == before


_Made = dict[tuple[str, str], tuple[tuple[object, ...], Any]]


class Kept:
    """What the stages of one draft made, each with what it was made from."""

    def __init__(self, before: "Kept | None" = None) -> None:
        self._before: _Made = before._made if before else {}
        self._made: _Made = {}
        self._beyond: _Made = before._beyond if before else {}

    def take(
        self,
        stage: str,
        name: str,
        made_from: tuple[object, ...],
        make: Callable[[], T],
        within: frozenset[str] = frozenset(),
    ) -> T:
        """Return what a stage makes of one thing: as before where it is made from the same.

        Args:
            made_from: everything that ``make`` depends on.
            within: stages that ``make`` asks itself: what they made stands with the whole.
        """
        key = (stage, name)
        for made in (self._made, self._before):
            held = made.get(key)
            if held is not None and _alike(made_from, held[0]):
                if within and made is self._before:
                    self._made.update((k, v) for k, v in made.items() if k[0] in within)
                break
        else:
            held = (made_from, make())
        self._made[key] = held
        found: T = held[1]
        return found

    def take_beyond(
        self, stage: str, name: str, made_from: tuple[object, ...], make: Callable[[], T]
    ) -> T:
        """Return what is made of a whole draft, when anybody asks: as it was last made, for
        whichever draft of the order, where it is made from the same.
        """
        held = self._beyond.get((stage, name))
        if held is None or not _alike(made_from, held[0]):
            held = self._beyond[stage, name] = (made_from, make())
        found: T = held[1]
        return found

    def held(self, stage: str) -> Any:
        """Return what a stage made of everything; None where it made nothing."""
        found = self._made.get((stage, ""))
        return found[1] if found else None

    def same(self, stage: str, name: str, value: T) -> T:
        """Return what was made before where the value equals it, so that it is the same object."""
        held = self._before.get((stage, name))
        if held is not None and (held[1] is value or held[1] == value):
            value = held[1]
        self._made[stage, name] = ((), value)
        return value

    def handed_on(self) -> "Kept":
        """Return what was made, for the next draft, and let go of it here.

        Reasons that are read later hold what their draft was made from, and this with it.
        """
        made = Kept()
        made._made, self._made, self._before = self._made, {}, {}
        made._beyond = self._beyond
        return made
