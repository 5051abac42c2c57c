"""Trouble with the call rather than with the boat: nothing can be drafted."""

from vivid_loom.quantities import one_line

__all__ = ["DraftError"]


class DraftError(ValueError):
    """Order and boat do not make one whole; ``place`` is the path in the order or boat file."""

    def __init__(self, place: str, problem: str) -> None:
        place, problem = one_line(place, 300), one_line(problem, 1000)
        super().__init__(f"{place}: {problem}" if place else problem)
        self.place, self.problem = place, problem
