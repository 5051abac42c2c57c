"""How the loads of one circuit are joined: a tree whose joints stand at loads."""

from collections import Counter
from collections.abc import Sequence

from vivid_loom.drafting.places.route import RouteMap
from vivid_loom.order import Profile

__all__ = ["joined_to"]

MOST_ONWARD = 2  # wires that go on from a load's joint, or leave a tab or way; our choice


def joined_to(
    loads: Sequence[str], start: str, home: str, routes: RouteMap, profile: Profile
) -> tuple[int, ...]:
    """Return per load the load it is joined to, −1 for the circuit's start and home.

    With one gauge to a circuit the least copper is the least length, there and home: a least
    spanning tree from the start, by Prim, with no more wires on from a joint than it takes. Where
    several are as short, the loads keep the order met along the run.

    Args:
        loads: stations of the loads in the order met along the run.
        start, home: stations that the circuit leaves from and comes home to.
    """
    count = len(loads)
    if profile.branching == "star":
        return (-1,) * count
    if profile.branching == "chain" or count < 2:
        return tuple(range(-1, count - 1))
    found = [-1] * count
    onward: Counter[int] = Counter()
    done: list[int] = []

    def metres(parent: int, load: int) -> float:
        if parent >= 0:
            return 2 * routes.distance_m(loads[parent], loads[load])
        return routes.distance_m(start, loads[load]) + routes.distance_m(loads[load], home)

    while len(done) < count:
        open_ends = [at for at in (-1, *done) if onward[at] < MOST_ONWARD] or done[-1:]
        waiting = (i for i in range(count) if i not in done)
        # of equal ways the latest joint and the first load: a chain where nothing is gained
        parent, load = min(
            ((at, i) for i in waiting for at in open_ends),
            key=lambda pair: (round(metres(*pair), 9), pair[1], -pair[0]),
        )
        found[load] = parent
        onward[parent] += 1
        done.append(load)
    return tuple(found)
