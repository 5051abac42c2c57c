"""Systems that are recorded, not sized: they take room in bundles, and have labels at both ends.

One that comes with plugs on may be too short, or come apart where harnesses meet: it is continued
by extension tails, with a transition piece at each joint.
"""

from itertools import accumulate, pairwise
from typing import Literal

from vivid_loom.boat import Recorded, Run
from vivid_loom.drafting.errors import DraftError
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.places.route import Path, RouteMap
from vivid_loom.quantities import computed
from vivid_loom.standards.colours import InsulationColour

__all__ = ["DraftedRecord", "RecordPiece", "drafted_records"]

PieceKind = Literal["cut to measure", "as it comes", "extension tail"]


@computed
class RecordPiece:
    """A length of a recorded cable between its ends and joints.

    Attributes:
        start, end: stations.
        length_m: from end to end, a service loop at each included.
    """

    id: str
    kind: PieceKind
    start: str
    end: str
    runs: tuple[Run, ...]
    length_m: float

    @property
    def labels(self) -> tuple[str, str]:
        """Label of each end."""
        return (f"{self.id} {self.start}", f"{self.id} {self.end}")


@computed
class DraftedRecord:
    """A recorded cable with its way; it keeps the colour it comes in.

    Attributes:
        pieces: from its start to its end; a transition piece joins each to the next.
        needs_m: what it would measure in one.
    """

    record: Recorded
    path: Path
    colour: InsulationColour
    pieces: tuple[RecordPiece, ...]
    needs_m: float

    @property
    def id(self) -> str:
        """Id of the cable."""
        return self.record.id

    @property
    def falls_short(self) -> bool:
        """Whether it comes with a length that does not reach."""
        return 0 < self.record.comes_m < self.needs_m


def _joints(record: Recorded, path: Path, loop_m: float) -> list[int]:
    """Return at which stations of its way, by index, a cable is joined."""
    runs = path.runs
    borders = {
        i for i in range(1, len(runs)) if record.parts and runs[i - 1].harness != runs[i].harness
    }
    reach = list(accumulate((run.wire_m for run in runs), initial=0.0))
    along = reach if record.comes_from == "start" else [reach[-1] - m for m in reach]
    inner = range(1, len(runs))
    order = inner if record.comes_from == "start" else reversed(inner)
    first = next((i for i in order if i in borders), None)
    far_m = along[first] if first is not None else reach[-1]
    if 0 < record.comes_m < far_m + 2 * loop_m:
        within = [i for i in inner if along[i] + 2 * loop_m <= record.comes_m]
        if within:  # the furthest it reaches
            borders.add(max(within, key=lambda i: along[i]))
    return sorted(borders)


def _pieces(record: Recorded, path: Path, loop_m: float) -> tuple[RecordPiece, ...]:
    joints = _joints(record, path, loop_m)
    stops = [0, *joints, len(path.runs)]
    own = 0 if record.comes_from == "start" else len(joints)
    made: list[RecordPiece] = []
    for number, (first, last) in enumerate(pairwise(stops)):
        runs = path.runs[first:last]
        kind: PieceKind = "cut to measure" if not record.comes_m else "extension tail"
        length_m = sum(run.wire_m for run in runs) + 2 * loop_m
        if record.comes_m and number == own:
            kind, length_m = "as it comes", record.comes_m
        name = f"{record.id}.{number + 1}" if joints else record.id
        start, end = path.stations[first], path.stations[last]
        made.append(
            RecordPiece(id=name, kind=kind, start=start, end=end, runs=runs, length_m=length_m)
        )
    return tuple(made)


def drafted_records(aboard: Aboard, routes: RouteMap) -> tuple[DraftedRecord, ...]:
    """Route every recorded cable, in id order.

    Raises:
        DraftError: an end that cannot be reached, a colour that is no code.
    """
    made: list[DraftedRecord] = []
    loop_m = aboard.profile.service_loop_mm / 1000
    for item in sorted(aboard.boat.recorded, key=lambda r: r.id):
        try:
            shade = InsulationColour.parse(item.colour)
        except ValueError as error:
            raise DraftError(f"recorded.{item.id}.colour", str(error)) from error
        path = routes.path(item.start, item.end)
        made.append(
            DraftedRecord(
                record=item,
                path=path,
                colour=shade,
                pieces=_pieces(item, path, loop_m),
                needs_m=path.length_m + 2 * loop_m,
            )
        )
    return tuple(made)
