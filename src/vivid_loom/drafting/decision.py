"""What every assignment is: a value that can be opened."""

from collections.abc import Callable, Iterator, Sequence
from typing import Any, Generic, NamedTuple, TypeVar

from vivid_loom.order import Override
from vivid_loom.quantities import computed
from vivid_loom.quantities.reckoning import Reckoned
from vivid_loom.standards.source import Source

__all__ = ["Alternative", "Decision", "Lazy", "Step"]

T_co = TypeVar("T_co", covariant=True)


class Step(NamedTuple):
    """One line of the reasoning.

    ``reckoned`` is the arithmetic, value and formula in one; None where a rule decides without.
    ``gives`` is the size or rating this step asks for by itself, '' where it asks for none: of
    all steps that ask, the greatest is what was drafted.
    """

    text: str
    reckoned: Reckoned | None = None
    unit: str = ""
    source: Source | None = None
    gives: str = ""

    @property
    def formula(self) -> str:
        """What a pocket calculator is given; '' without arithmetic."""
        return self.reckoned.formula if self.reckoned else ""

    @property
    def result(self) -> float | None:
        """What it then shows."""
        return self.reckoned.value if self.reckoned else None


class Alternative(NamedTuple):
    """A neighbour that was not taken, and what would fail or be gained with it."""

    value: str
    verdict: str
    acceptable: bool


class Lazy(Sequence[T_co]):
    """A tuple made when first looked at: most reasons of a draft are never read."""

    __slots__ = ("_made", "_make")

    def __init__(self, make: Callable[[], tuple[T_co, ...]]) -> None:
        self._make: Callable[[], tuple[T_co, ...]] | None = make
        self._made: tuple[T_co, ...] = ()

    def _tuple(self) -> tuple[T_co, ...]:
        if self._make is not None:
            self._made, self._make = self._make(), None
        return self._made

    def __getitem__(self, index: Any) -> Any:
        return self._tuple()[index]

    def __len__(self) -> int:
        return len(self._tuple())

    def __iter__(self) -> Iterator[T_co]:
        return iter(self._tuple())

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Lazy | tuple) and self._tuple() == tuple(other)

    def __hash__(self) -> int:
        return hash(self._tuple())


@computed
class Decision(Generic[T_co]):
    """A drafted value with its reasons.

    Attributes:
        value: what stands, after any override.
        drafted: what the pipeline chose; equal to ``value`` without an override.
        governed_by: the limit that decided, in one or two words.
    """

    value: T_co
    drafted: T_co
    governed_by: str
    steps: Sequence[Step] = ()
    alternatives: Sequence[Alternative] = ()
    override: Override | None = None
