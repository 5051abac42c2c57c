"""What a conductor is cut into where it passes from harness to harness."""

from collections.abc import Iterable
from itertools import groupby
from typing import NamedTuple

from vivid_loom.boat import Run
from vivid_loom.drafting.places.route import Beyond, Path

__all__ = ["Lands", "Piece", "pieces_of"]

Lands = tuple[Beyond | None, Beyond | None]


class Piece(NamedTuple):
    """Part of a leg in one harness; ends are a point or a plug cavity."""

    harness: str
    runs: tuple[str, ...]
    stations: tuple[str, ...]
    length_m: float


def _ids(runs: Iterable[Run]) -> tuple[str, ...]:
    return tuple([run.id for run in runs])


def pieces_of(path: Path, default_harness: str, *, cut: bool) -> list[Piece]:
    if not path.runs:
        return [Piece(default_harness, (), path.stations, path.length_m)]
    if not cut:
        return [Piece(path.runs[0].harness, _ids(path.runs), path.stations, path.length_m)]
    pieces: list[Piece] = []
    at = 0
    for harness, group in groupby(path.runs, key=lambda run: run.harness):
        runs = tuple(group)
        stations = path.stations[at : at + len(runs) + 1]
        pieces.append(Piece(harness, _ids(runs), stations, sum(run.wire_m for run in runs)))
        at += len(runs)
    first, last = path.lands
    before = [Piece(first.harness, (), path.stations[:1], first.length_m)] if first else []
    after = [Piece(last.harness, (), path.stations[-1:], last.length_m)] if last else []
    return [*before, *pieces, *after]
