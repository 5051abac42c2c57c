"""Python's cycle collector, at rest while a draft is made."""

import gc
from collections.abc import Iterator
from contextlib import contextmanager

__all__ = ["collector_at_rest"]


@contextmanager
def collector_at_rest() -> Iterator[None]:
    """Collect no cycles meanwhile; where the collector is off already it stays off.

    A draft makes some hundred small records a circuit and no cycle worth collecting; looking
    through them over and over takes as long again as the drafting of a large boat.
    """
    was_on = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if was_on:
            gc.enable()
