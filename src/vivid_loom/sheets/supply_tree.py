"""How the parts of a supply hang on one another in its picture: boxes in columns by depth."""

from collections.abc import Iterable, Iterator
from typing import Final, NamedTuple

from vivid_loom.drafting import Draft, DraftedCircuit

__all__ = [
    "GAP_Y",
    "HEAD_H",
    "LEAST_GAP",
    "PORT_H",
    "RUNG_H",
    "Box",
    "Ways",
    "all_boxes",
    "columns",
    "supply_tree",
]

WIDE: Final = 180.0  # a ladder of ways
NARROW: Final = 122.0
HEAD_H: Final = 46.0
RUNG_H: Final = 17.0
GAP_Y: Final = 26.0
LEAST_GAP: Final = 89.0
PORT_H: Final = 46.0  # between two inputs of a part


class Box(NamedTuple):
    """A part in the tree: what hangs behind it follows it."""

    id: str
    depth: int
    own_h: float
    wide: float
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
        behind = [box(child, depth + 1) for child in children.get(name, ())]
        behind.sort(key=lambda b: (-b.reach, -b.height, b.id))  # the main path goes straight on
        return Box(name, depth, own_h, wide, tuple(behind))

    roots = [box(name, 0) for name in network.batteries]
    roots += [box(name, 0) for name in children.get("", ())]
    return tuple(roots)


def all_boxes(boxes: Iterable[Box]) -> Iterator[Box]:
    for box in boxes:
        yield box
        yield from all_boxes(box.behind)


def columns(boxes: Iterable[Box], width: float) -> list[float]:
    """Return the left edge of each depth's column."""
    wide: dict[int, float] = {}
    for box in all_boxes(boxes):
        wide[box.depth] = max(wide.get(box.depth, 0.0), box.wide)
    count = len(wide)
    room = width - 32 - sum(wide.values())
    gap = max(LEAST_GAP, min(190.0, room / (count - 1))) if count > 1 else 0.0
    found, x = [], 16.0
    for depth in range(count):
        found.append(x)
        x += wide[depth] + gap
    return found
