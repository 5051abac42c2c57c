"""The cells of a form board: how often each is taken, and how far a line may go over them."""

import math
from collections.abc import Sequence
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

    def under(self, x: float, y: float, width: float, height: float) -> Cells:
        """Return the cells under a rectangle."""
        columns = np.arange(
            max(0, math.floor(x / CELL_MM)),
            min(self.columns - 1, math.ceil((x + width) / CELL_MM)) + 1,
        )
        rows = np.arange(
            max(0, math.floor(y / CELL_MM)),
            min(self.rows - 1, math.ceil((y + height) / CELL_MM)) + 1,
        )
        return np.asarray((rows[:, None] * self.columns + columns[None, :]).ravel())

    def around(self, at: Point, reach_mm: float) -> Cells:
        """Return the cells of a square around a point."""
        return self.under(at[0] - reach_mm, at[1] - reach_mm, 2 * reach_mm, 2 * reach_mm)

    def is_free(self, cells: Cells) -> bool:
        return not self.taken[cells].any()

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
        reach = math.ceil(clear_mm / CELL_MM)
        rows, columns = np.divmod(np.unique(cells), self.columns)
        steps = np.array(
            [
                (dr, dc)
                for dr in range(-reach, reach + 1)
                for dc in range(-reach, reach + 1)
                if dr * dr + dc * dc <= reach * reach
            ]
        )
        all_rows = (rows[:, None] + steps[None, :, 0]).ravel()
        all_columns = (columns[:, None] + steps[None, :, 1]).ravel()
        inside = (
            (all_rows >= 0)
            & (all_rows < self.rows)
            & (all_columns >= 0)
            & (all_columns < self.columns)
        )
        return np.unique(all_rows[inside] * self.columns + all_columns[inside])


def _sign(value: float) -> int:
    return (value > 1e-9) - (value < -1e-9)
