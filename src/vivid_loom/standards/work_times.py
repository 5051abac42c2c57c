"""Standard times: minutes for one of each operation on a harness."""

from typing import Final, Literal

__all__ = ["ABOARD", "MINUTES", "Operation"]

Operation = Literal[
    "set up a board",
    "cut and label a wire",
    "lay a metre",
    "crimp a contact",
    "crimp an insulated terminal",
    "crimp and shrink a joint",
    "crimp and shrink a heavy lug",
    "close half a plug",
    "tie and loom a metre of branch",
    "ring out a wire",
    "draw in a metre of branch",
    "fasten a support",
    "mate a plug",
    "land an end",
]

MINUTES: Final[dict[Operation, float]] = {
    "set up a board": 40.0,
    "cut and label a wire": 1.5,
    "lay a metre": 0.4,
    "crimp a contact": 1.0,
    "crimp an insulated terminal": 1.2,
    "crimp and shrink a joint": 2.2,
    "crimp and shrink a heavy lug": 4.5,
    "close half a plug": 2.0,
    "tie and loom a metre of branch": 2.5,
    "ring out a wire": 0.5,
    "draw in a metre of branch": 2.0,
    "fasten a support": 1.0,
    "mate a plug": 1.5,
    "land an end": 1.2,
}
"""Our choice, to be corrected by a shop's own record."""

ABOARD: Final[frozenset[Operation]] = frozenset(
    {"draw in a metre of branch", "fasten a support", "mate a plug", "land an end"}
)
"""Operations of the installer; all others are the bench's."""
