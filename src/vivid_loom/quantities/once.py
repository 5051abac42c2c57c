"""What is asked of the same thing again and again is worked out once."""

import weakref
from collections.abc import Callable, Hashable
from functools import wraps
from typing import Any, TypeVar

__all__ = ["once"]

T = TypeVar("T")


def once(function: Callable[..., T]) -> Callable[..., T]:
    """Keep what a function makes of its first argument for as long as that lives.

    The argument counts by identity: two drafts are never compared. What is made must not hold it,
    or neither would ever go.
    """
    kept: dict[tuple[int, Hashable], tuple[weakref.ref[Any], T]] = {}

    @wraps(function)
    def asked(subject: Any, *others: Hashable) -> T:
        key = (id(subject), others)
        found = kept.get(key)
        if found is not None and found[0]() is subject:
            return found[1]
        made = function(subject, *others)
        kept[key] = (weakref.ref(subject, lambda _: kept.pop(key, None)), made)
        return made

    return asked
