"""What a mutant is: one mistake in the code, made on purpose."""

from typing import NamedTuple

__all__ = ["Mutant"]


class Mutant(NamedTuple):
    """One mistake: where, what stands there, what would stand there, who must notice."""

    what: str
    file: str
    old: str
    new: str
    tests: str
