"""The cells of a form board: how often each is taken, and how far a line may go over them."""

import math
from collections.abc import Sequence
from functools import cache
from itertools import pairwise
from typing import Final

import numpy as np
from numpy.typing import NDArray

__all__ = ["CELL_MM", "COURSES", "MARGIN_MM", "Cells", "Grid", "Point"]

Point = tuple[float, float]
Cells = NDArray[np.int64]

CELL_MM: Final = 12.0
MARGIN_MM: Final = 40.0  # to the edge of the board
_DIAGONAL: Final = math.sqrt(0.5)
COURSES: Final = tuple(
    (x * (_DIAGONAL if x and y else 1.0), y * (_DIAGONAL if x and y else 1.0))
    for x, y in ((1, 0), (1, 1), (0, 1), (-1, 1), (-1, 0), (-1, -1), (0, -1), (1, -1))
)
"""The eight ways a branch may go; neighbours differ by 45°."""


class Grid:
    """How often each cell is taken: by what lies there, and by the clearance around it."""

    def __init__(self, width_mm: float, height_mm: float) -> None:
        self.width, self.height = width_mm, height_mm
        self.columns = math.ceil(width_mm / CELL_MM) + 1
        self.rows = math.ceil(height_mm / CELL_MM) + 1
        self.taken = np.zeros(self.columns * self.rows, dtype=np.int16)
        self._flat = self.taken.reshape(self.rows, self.columns)

    def inside(self, x: float, y: float) -> bool:
        return (
            MARGIN_MM <= x <= self.width - MARGIN_MM and MARGIN_MM <= y <= self.height - MARGIN_MM
        )

    def along(self, points: Sequence[Point], skip_mm: float = 0.0) -> Cells:
        """Return the cells under a polyline but for its first ``skip_mm``."""
        parts: list[Cells] = []
        left = skip_mm
        for (ax, ay), (bx, by) in pairwise(points):
            length = math.hypot(bx - ax, by - ay)
            if left >= length:
                left -= length
                continue
            steps = max(2, math.ceil((length - left) / (CELL_MM * 0.5)) + 1)
            t = np.linspace(left / length, 1.0, steps)
            left = 0.0
            columns = np.rint((ax + t * (bx - ax)) / CELL_MM).astype(np.int64)
            rows = np.rint((ay + t * (by - ay)) / CELL_MM).astype(np.int64)
            parts.append(rows * self.columns + columns)
        return np.concatenate(parts) if parts else np.zeros(0, dtype=np.int64)

    def _rectangle(self, x: float, y: float, width: float, height: float) -> tuple[slice, slice]:
        """Return the rows and columns under a rectangle."""
        left, top = max(0, math.floor(x / CELL_MM)), max(0, math.floor(y / CELL_MM))
        right = min(self.columns - 1, math.ceil((x + width) / CELL_MM)) + 1
        low = min(self.rows - 1, math.ceil((y + height) / CELL_MM)) + 1
        return slice(top, max(top, low)), slice(left, max(left, right))

    def under(self, x: float, y: float, width: float, height: float) -> Cells:
        """Return the cells under a rectangle."""
        rows, columns = (np.arange(s.start, s.stop) for s in self._rectangle(x, y, width, height))
        return np.asarray((rows[:, None] * self.columns + columns[None, :]).ravel())

    def around(self, at: Point, reach_mm: float) -> Cells:
        """Return the cells of a square around a point."""
        return self.under(at[0] - reach_mm, at[1] - reach_mm, 2 * reach_mm, 2 * reach_mm)

    def is_free(self, cells: Cells) -> bool:
        """Tell whether nothing lies on some cells."""
        return not self.taken[cells].any()

    def is_free_under(self, x: float, y: float, width: float, height: float) -> bool:
        """Tell whether nothing lies under a rectangle."""
        return not self._flat[self._rectangle(x, y, width, height)].any()

    def is_free_around(self, at: Point, reach_mm: float) -> bool:
        """Tell whether nothing lies on a square around a point."""
        return self.is_free_under(at[0] - reach_mm, at[1] - reach_mm, 2 * reach_mm, 2 * reach_mm)

    def each_once(self, *cells: Cells) -> Cells:
        """Return cells in their order, each once."""
        marked = np.zeros(len(self.taken), dtype=bool)
        for some in cells:
            marked[some] = True
        return np.flatnonzero(marked)

    def free_mm(self, start: Point, course: int, length_mm: float, skip_mm: float) -> float:
        """Return how far a line may go on a course before it meets something taken."""
        dx, dy = COURSES[course]
        step_mm = CELL_MM * (math.sqrt(2) if course % 2 else 1.0)
        x, y = start[0] + dx * skip_mm, start[1] + dy * skip_mm
        first = round(y / CELL_MM) * self.columns + round(x / CELL_MM)
        stride = _sign(dy) * self.columns + _sign(dx)
        count = math.ceil((length_mm - skip_mm) / step_mm) + 1
        last = first + count * stride
        met = self.taken[first : last if last >= 0 else None : stride]
        at = int((met > 0).argmax())
        if not met[at]:
            return length_mm
        return max(0.0, skip_mm + at * step_mm - CELL_MM)

    def spread(self, cells: Cells, clear_mm: float) -> Cells:
        """Return cells and all within a clearance of them, each once."""
        rows, columns = np.divmod(self.each_once(cells), self.columns)
        steps = _disc(math.ceil(clear_mm / CELL_MM))
        all_rows = (rows[:, None] + steps[None, :, 0]).ravel()
        all_columns = (columns[:, None] + steps[None, :, 1]).ravel()
        inside = (
            (all_rows >= 0)
            & (all_rows < self.rows)
            & (all_columns >= 0)
            & (all_columns < self.columns)
        )
        return self.each_once(all_rows[inside] * self.columns + all_columns[inside])


@cache
def _disc(reach: int) -> Cells:
    """Return the steps, down and across, to all cells within reach."""
    across = range(-reach, reach + 1)
    return np.array([(r, c) for r in across for c in across if r * r + c * c <= reach * reach])


def _sign(value: float) -> int:
    return (value > 1e-9) - (value < -1e-9)
