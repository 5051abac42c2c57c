"""The order of the wires in a plug: those of a circuit side by side, few crossing on either side.

Two wires cross on a side where they lie in the plug the other way round than they leave it there:
a tree without crossings leaves branch by branch, so that its ends come in the order of their ways.
"""

from collections.abc import Iterable, Sequence
from functools import lru_cache
from typing import Final, NamedTuple

from vivid_loom.standards.terminals import cavity_rows

__all__ = ["Passing", "best_order", "crossings", "in_rows"]

MOST_TRIED: Final = 9  # circuits whose every order is weighed; beyond, neighbours change places

Way = tuple[str, ...]


class Passing(NamedTuple):
    """A wire that passes a plug.

    Attributes:
        wire: id of its piece from the source.
        live, dead: stations it passes from the plug on, on either side.
    """

    circuit: str
    wire: str
    live: Way
    dead: Way

    @property
    def ways(self) -> tuple[Way, Way]:
        """Its way on both sides."""
        return self.live, self.dead


def crossings(wires: Sequence[Passing]) -> int:
    """Count the crossings of wires that lie in a plug in this order, both sides together."""
    return sum(_between((one,), wires[i + 1 :]) for i, one in enumerate(wires))


def _sides(one: Passing, other: Passing) -> Iterable[tuple[Way, Way]]:
    return zip(one.ways, other.ways, strict=True)


@lru_cache(maxsize=1024)
def best_order(wires: tuple[Passing, ...]) -> tuple[Passing, ...]:
    """Return wires in the order of fewest crossings in which each circuit's stand together."""
    by_circuit: dict[str, list[Passing]] = {}
    for wire in sorted(wires, key=lambda w: (w.ways, w.wire)):
        by_circuit.setdefault(wire.circuit, []).append(wire)
    units = list(by_circuit.values())
    cost = [[_between(a, b) for b in units] for a in units]
    order = _exact(cost) if len(units) <= MOST_TRIED else _by_neighbours(cost)
    return tuple(wire for index in order for wire in units[index])


def _between(first: Sequence[Passing], then: Sequence[Passing]) -> int:
    """Count the crossings of two circuits of which one lies before the other."""
    return sum(a > b for one in first for other in then for a, b in _sides(one, other))


def _exact(cost: Sequence[Sequence[int]]) -> tuple[int, ...]:
    """Return the order of least cost: the best of each set of those placed (Held and Karp)."""
    count = len(cost)
    best: dict[int, tuple[int, tuple[int, ...]]] = {0: (0, ())}
    for placed in range(1 << count):
        spent, order = best[placed]
        for index in range(count):
            if placed >> index & 1:
                continue
            more = spent + sum(cost[before][index] for before in order)
            now = (more, (*order, index))
            key = placed | 1 << index
            if key not in best or now < best[key]:
                best[key] = now
    return best[(1 << count) - 1][1]


def _by_neighbours(cost: Sequence[Sequence[int]]) -> tuple[int, ...]:
    """Return an order that no change of places between neighbours betters."""
    order = list(range(len(cost)))
    changed = True
    while changed:
        changed = False
        for i in range(len(order) - 1):
            a, b = order[i], order[i + 1]
            if cost[b][a] < cost[a][b]:
                order[i], order[i + 1] = b, a
                changed = True
    return tuple(order)


def in_rows(wires: Sequence[Passing], ways: int) -> tuple[Passing, ...]:
    """Return wires so that no pair is parted by the end of a row, where one stands alone.

    The nearest that does changes its place: from before to the row that begins, or the other way.

    Args:
        ways: of the shell.
    """
    order = list(wires)
    for row in cavity_rows(ways)[:-1]:
        end = row[-1]
        if end >= len(order) or order[end - 1].circuit != order[end].circuit:
            continue
        single = [i for i, wire in enumerate(order) if _alone(wire, wires)]
        if single:
            nearest = min(single, key=lambda i: abs(i - end))
            order.insert(end if nearest < end else end - 1, order.pop(nearest))
    return tuple(order)


def _alone(wire: Passing, among: Iterable[Passing]) -> bool:
    return sum(other.circuit == wire.circuit for other in among) == 1
