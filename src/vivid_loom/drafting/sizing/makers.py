"""What makers' papers ask of a circuit: their length → gauge table."""

from collections.abc import Sequence
from typing import NamedTuple

from vivid_loom.boat import Load
from vivid_loom.drafting.places.planned import Planned
from vivid_loom.drafting.places.route import Path

__all__ = ["TableRow", "loop_to_m", "table_row"]


class TableRow(NamedTuple):
    """What a maker's table asks for; ``beyond`` where the loop is longer than its last row."""

    gauge: str
    beyond: bool


def loop_to_m(planned: Planned, paths: Sequence[Path], load_id: str) -> float:
    """Return the length there and back to a load, its longest way, in m."""
    index = planned.loads.index(load_id)
    return max(
        sum(paths[leg].length_m for leg in legs) for i, legs in planned.plan.paths if i == index
    )


def table_row(load: Load, loop_m: float) -> TableRow | None:
    """Return what the maker's table asks for at a loop length; None where he prints none."""
    rows = sorted(load.maker_lengths, key=lambda row: row.loop_length_m)
    if not rows:
        return None
    fitting = next((row for row in rows if row.loop_length_m >= loop_m - 1e-9), None)
    return TableRow((fitting or rows[-1]).gauge, fitting is None)
