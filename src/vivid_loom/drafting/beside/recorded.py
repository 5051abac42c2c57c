"""Systems that are recorded, not sized: they take room in bundles, and have labels at both ends."""

from vivid_loom.boat import Recorded
from vivid_loom.drafting.errors import DraftError
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.places.route import Path, RouteMap
from vivid_loom.quantities import computed
from vivid_loom.standards.colours import InsulationColour

__all__ = ["DraftedRecord", "drafted_records"]


@computed
class DraftedRecord:
    """A recorded cable with its way; it keeps the colour it comes in."""

    record: Recorded
    path: Path
    colour: InsulationColour

    @property
    def id(self) -> str:
        """Id of the cable."""
        return self.record.id

    @property
    def labels(self) -> tuple[str, str]:
        """Label of each end."""
        return (f"{self.id} {self.record.start}", f"{self.id} {self.record.end}")


def drafted_records(aboard: Aboard, routes: RouteMap) -> tuple[DraftedRecord, ...]:
    """Route every recorded cable, in id order.

    Raises:
        DraftError: an end that cannot be reached, a colour that is no code.
    """
    made: list[DraftedRecord] = []
    for item in sorted(aboard.boat.recorded, key=lambda r: r.id):
        try:
            shade = InsulationColour.parse(item.colour)
        except ValueError as error:
            raise DraftError(f"recorded.{item.id}.colour", str(error)) from error
        path = routes.path(item.start, item.end)
        made.append(DraftedRecord(record=item, path=path, colour=shade))
    return tuple(made)
