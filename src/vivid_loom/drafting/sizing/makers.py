"""What makers' papers ask of a circuit: their length → gauge table."""

from collections.abc import Mapping, Sequence
from typing import NamedTuple

from vivid_loom.boat import Load, Network
from vivid_loom.drafting.places.planned import Planned
from vivid_loom.drafting.places.route import Path

__all__ = ["TableRow", "feeder_lengths_m", "loop_to_m", "shared_m", "table_row"]


class TableRow(NamedTuple):
    """What a maker's table asks for; ``beyond`` where the loop is longer than its last row."""

    gauge: str
    beyond: bool


def feeder_lengths_m(planned: Planned, paths: Sequence[Path]) -> tuple[float, float]:
    """Return the length of a feeder's positive and of its return, 0 for what it has not."""
    out_m = home_m = 0.0
    for leg, path in zip(planned.plan.legs, paths, strict=True):
        if leg.live == "return":
            home_m += path.length_m
        else:
            out_m += path.length_m
    return out_m, home_m


def shared_m(
    source: str, bus: str, network: Network, lengths_m: Mapping[str, tuple[float, float]]
) -> float:
    """Return what the feeders ahead of a circuit add to its loop, there and back, in m.

    Args:
        lengths_m: of every feeder's positive and return, by its id.
    """
    loops = (
        sum([*(lengths_m[n][0] for n in chain), *(lengths_m[n][1] for n in back)])
        for chain, back in network.loops(source, bus)
    )
    return max(loops, default=0.0)


def loop_to_m(planned: Planned, paths: Sequence[Path], load_id: str, ahead_m: float = 0.0) -> float:
    """Return the length there and back to a load, its longest way, in m.

    Makers print it from where the current comes from: the battery, or a converter.

    Args:
        ahead_m: of the feeders it shares; see ``shared_m``.
    """
    index = planned.loads.index(load_id)
    return ahead_m + max(
        sum(paths[leg].length_m for leg in legs) for i, legs in planned.plan.paths if i == index
    )


def table_row(load: Load, loop_m: float) -> TableRow | None:
    """Return what the maker's table asks for at a loop length; None where he prints none."""
    rows = sorted(load.maker_lengths, key=lambda row: row.loop_length_m)
    if not rows:
        return None
    fitting = next((row for row in rows if row.loop_length_m >= loop_m - 1e-9), None)
    return TableRow((fitting or rows[-1]).gauge, fitting is None)
