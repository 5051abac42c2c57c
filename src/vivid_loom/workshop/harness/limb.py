"""What is laid on a board: branches, and the words that stand beside them."""

from typing import NamedTuple

__all__ = ["Limb", "Note"]


class Note(NamedTuple):
    """A block of words that stands beside something: its size on the board."""

    id: str
    width_mm: float
    height_mm: float


class Limb(NamedTuple):
    """What is laid: a branch between stations, or a breakout at the end of one.

    Attributes:
        near, far: nodes; ``far`` is new.
        end_note: stands at the far node; None for none.
        side_note: stands beside the limb.
        straight: it is not folded.
    """

    id: str
    near: str
    far: str
    length_mm: float
    end_note: Note | None = None
    side_note: Note | None = None
    straight: bool = False
