"""Stage 8, assemble: conductors cut at plugs into wires, with labels and cut lengths."""

from collections.abc import Iterable

from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.making.cables import DraftedCable
from vivid_loom.drafting.making.common_lengths import in_few_lengths
from vivid_loom.drafting.making.cutting import Cutting, Part
from vivid_loom.drafting.making.ending import Ending
from vivid_loom.drafting.making.plugs import Plug, Reach
from vivid_loom.drafting.making.wire import Wire
from vivid_loom.drafting.patterns import Point
from vivid_loom.quantities import computed

__all__ = ["Assembled", "assemble"]


@computed
class Assembled:
    """All wires by id, what stands between harnesses, and the cables some wires are cores of.

    Attributes:
        posts: insulated studs at which heavy conductors of two harnesses meet, one for each.
    """

    wires: tuple[Wire, ...]
    plugs: tuple[Plug, ...]
    cables: tuple[DraftedCable, ...] = ()
    posts: tuple[Point, ...] = ()


def assemble(parts: Iterable[Part], aboard: Aboard) -> Assembled:
    """Cut all sized circuits into wires; order in, order out."""
    cutting = Cutting(aboard)
    cut = cutting.cut_all(parts)
    numbered = cutting.board.numbered()
    ending = Ending(aboard, cut)
    wires: list[Wire] = []
    for part, pieces in cut:
        borders = (border for leg in pieces for border in leg.borders)
        cavities = (numbered[b.wires[0]] for b in borders if not isinstance(b, Point))
        wires += ending.ended(part, pieces, tuple(cavities))
    boat = aboard.boat
    return Assembled(
        wires=in_few_lengths(wires, aboard.profile),
        plugs=cutting.board.plugs(Reach(boat.stations, boat.runs, aboard.profile)),
        cables=tuple(cable for part, _ in cut for cable in part.cables),
        posts=tuple(cutting.posts),
    )
