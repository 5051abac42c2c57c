"""How the parts of a supply hang on one another in its picture: boxes in columns by depth."""

from collections.abc import Iterable, Iterator
from typing import Final, NamedTuple

from vivid_loom.drafting import Draft, DraftedCircuit
from vivid_loom.sheets.paper.metrics import text_width

__all__ = [
    "BESIDE_NAME",
    "GAP_Y",
    "HEAD_H",
    "LEAST_GAP",
    "NAME_PX",
    "PORT_H",
    "RUNG_H",
    "Box",
    "Columns",
    "Ways",
    "all_boxes",
    "columns",
    "supply_tree",
]

WIDE, WIDEST = 180.0, 236.0  # a ladder of ways, by the longest name on it
BESIDE_NAME: Final = 104.0  # of a rung: its number and rating before the name, its amps behind
NARROW: Final = 122.0
HEAD_H: Final = 46.0
RUNG_H: Final = 17.0
GAP_Y: Final = 26.0
LEAST_GAP: Final = 89.0
NAME_PX: Final = 10.5
PORT_H: Final = 46.0  # between two inputs of a part


class Box(NamedTuple):
    """A part in the tree: what hangs behind it follows it.

    Attributes:
        wide: how wide it is at least; ``wish`` how wide its longest name would have it.
    """

    id: str
    depth: int
    own_h: float
    wide: float
    wish: float
    behind: tuple["Box", ...]

    @property
    def height(self) -> float:
        """Height of the part with all behind it."""
        return max(self.own_h, sum(b.height + GAP_Y for b in self.behind) - GAP_Y)

    @property
    def reach(self) -> int:
        """How many parts stand behind one another from here on."""
        return 1 + max((box.reach for box in self.behind), default=0)


class Ways:
    """What hangs on each part, by way."""

    def __init__(self, draft: Draft) -> None:
        self.rows: dict[str, list[DraftedCircuit]] = {}
        for row in draft.circuits:
            if row.planned.guard is None:  # a sensor hangs on its instrument
                self.rows.setdefault(row.planned.source, []).append(row)
        for rows in self.rows.values():
            rows.sort(key=lambda row: (row.planned.way or 999, row.id))

    def of(self, place: str) -> list[DraftedCircuit]:
        """Return the circuits on a part, by way."""
        return self.rows.get(place, [])


def supply_tree(draft: Draft, ways: Ways) -> tuple[Box, ...]:
    """Hang every part on what feeds it first; parts that nothing feeds stand at the left."""
    network = draft.aboard.boat.network
    children: dict[str, list[str]] = {}
    for supply in network.top_down():
        source = supply.feeds[0].source if supply.feeds else ""
        known = source in network.batteries or source in network.supplies
        children.setdefault(source if known else "", []).append(supply.id)

    def box(name: str, depth: int) -> Box:
        rungs = len(ways.of(name))
        supply = network.supplies.get(name)
        free = 1 if supply and supply.ways > rungs else 0
        own_h = HEAD_H + RUNG_H * (rungs + free) + (6 if rungs or free else 0)
        own_h = max(own_h, PORT_H * len(supply.feeds) if supply else 0.0)
        wide = WIDE if rungs or (supply and supply.ways) else NARROW
        names = (text_width(row.planned.label, NAME_PX) for row in ways.of(name))
        wish = min(max(wide, BESIDE_NAME + 1 + max(names, default=0.0)), WIDEST)
        behind = [box(child, depth + 1) for child in children.get(name, ())]
        behind.sort(key=lambda b: (-b.reach, -b.height, b.id))  # the main path goes straight on
        return Box(name, depth, own_h, wide, wish, tuple(behind))

    roots = [box(name, 0) for name in network.batteries]
    roots += [box(name, 0) for name in children.get("", ())]
    return tuple(roots)


def all_boxes(boxes: Iterable[Box]) -> Iterator[Box]:
    for box in boxes:
        yield box
        yield from all_boxes(box.behind)


class Columns(NamedTuple):
    """Where each depth stands.

    Attributes:
        lefts: left edge of each depth.
        granted: of what parts wish to be wider, the share there is room for.
    """

    lefts: tuple[float, ...]
    granted: float

    def width(self, box: Box) -> float:
        """Return how wide a part is drawn."""
        return box.wide + self.granted * (box.wish - box.wide)


def columns(boxes: Iterable[Box], width: float) -> Columns:
    """Stand each depth in a column, and let names have what room is left."""
    wide: dict[int, float] = {}
    wish: dict[int, float] = {}
    for box in all_boxes(boxes):
        wide[box.depth] = max(wide.get(box.depth, 0.0), box.wide)
        wish[box.depth] = max(wish.get(box.depth, 0.0), box.wish)
    between = max(1, len(wide) - 1)
    room = width - 32 - sum(wide.values())
    more = sum(wish.values()) - sum(wide.values())
    granted = min(1.0, max(0.0, room - between * LEAST_GAP) / more) if more > 0 else 0.0
    gap = max(LEAST_GAP, min(190.0, (room - granted * more) / between))
    lefts, x = [], 16.0
    for depth in range(len(wide)):
        lefts.append(x)
        x += wide[depth] + granted * (wish[depth] - wide[depth]) + gap
    return Columns(tuple(lefts), granted)
