"""What every assignment is: a value that can be opened."""

from typing import Generic, NamedTuple, TypeVar

from vivid_loom.order import Override
from vivid_loom.quantities import record
from vivid_loom.standards.source import Source

__all__ = ["Alternative", "Decision", "Step"]

T_co = TypeVar("T_co", covariant=True)


class Step(NamedTuple):
    """One line of the reasoning.

    ``formula`` holds only numbers, + − × / and brackets, so that a pocket calculator (and a
    test) arrives at ``result``; it is '' where a rule decides without arithmetic.
    """

    text: str
    formula: str = ""
    result: float | None = None
    unit: str = ""
    source: Source | None = None


class Alternative(NamedTuple):
    """A neighbour that was not taken, and what would fail or be gained with it."""

    value: str
    verdict: str
    acceptable: bool


@record
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
    steps: tuple[Step, ...] = ()
    alternatives: tuple[Alternative, ...] = ()
    override: Override | None = None
