"""Stage 3, route: shortest permitted path along measured runs."""

import heapq
import itertools
from collections.abc import Iterable
from typing import NamedTuple

from vivid_loom.boat import Run, Station
from vivid_loom.drafting.errors import DraftError
from vivid_loom.drafting.patterns import Leg, Plan

__all__ = ["JUMPER_M", "Beyond", "Path", "RouteMap", "home_harnesses", "routed"]

JUMPER_M = 0.06  # between neighbouring tabs of one switch; our choice


class Beyond(NamedTuple):
    """What lies beyond the plug at an end of a path: the harness of the part there."""

    harness: str
    length_m: float


class Path(NamedTuple):
    """A way through the boat.

    Attributes:
        stations: from first to last.
        runs: between them, one fewer.
        length_m: sum of the runs' measured lengths; from part to part within one station.
        lands: at its start and at its end, where the part is of another harness than the run.
    """

    stations: tuple[str, ...]
    runs: tuple[Run, ...]
    length_m: float
    lands: tuple[Beyond | None, Beyond | None] = (None, None)

    @property
    def crosses_plug(self) -> bool:
        """Whether it passes from one harness into another."""
        return any(self.lands) or len({run.harness for run in self.runs}) > 1


def home_harnesses(runs: Iterable[Run]) -> dict[str, str]:
    """Return the harness that stands at each station: of the first run that touches it."""
    home: dict[str, str] = {}
    for run in runs:
        for end in run.ends:
            home.setdefault(end, run.harness)
    return home


class RouteMap:
    """Shortest permitted paths of one boat, found per starting station and kept.

    Stations and runs are immutable, so what was found stays true.
    """

    def __init__(self, stations: tuple[Station, ...], runs: tuple[Run, ...]) -> None:
        self.home = home_harnesses(runs)
        self.apart_m = {station.id: station.apart_m for station in stations}
        self._names = tuple(station.id for station in stations)
        self._index = {name: i for i, name in enumerate(self._names)}
        self._runs: dict[tuple[int, int], Run] = {}
        self._beside: list[list[tuple[int, float]]] = [[] for _ in self._names]
        for run in runs:
            if run.permitted:
                i, j = (self._index[end] for end in run.ends)
                for key in ((i, j), (j, i)):
                    kept = self._runs.get(key)
                    if kept is None or run.wire_m < kept.wire_m:
                        self._runs[key] = run
        for (i, j), run in self._runs.items():
            self._beside[i].append((j, run.wire_m))
        self._from: dict[int, tuple[list[float], list[int]]] = {}
        self._paths: dict[tuple[str, str], Path] = {}

    def _search(self, start: int) -> tuple[list[float], list[int]]:
        """Return every station's distance from one, and the station before it on the way.

        Dijkstra 1959, with a heap; of two equal ways the one found first stands.
        """
        if start not in self._from:
            distance, before = [float("inf")] * len(self._names), [-1] * len(self._names)
            distance[start] = 0.0
            reached = [(0.0, start)]
            while reached:
                so_far, at = heapq.heappop(reached)
                if so_far > distance[at]:
                    continue
                for other, run_m in self._beside[at]:
                    if so_far + run_m < distance[other]:
                        distance[other], before[other] = so_far + run_m, at
                        heapq.heappush(reached, (so_far + run_m, other))
            self._from[start] = (distance, before)
        return self._from[start]

    def distance_m(self, start: str, end: str) -> float:
        """Return the length of the shortest permitted path, inf where there is none."""
        return self._search(self._index[start])[0][self._index[end]]

    def path(self, start: str, end: str) -> Path:
        """Return the shortest permitted path.

        Raises:
            DraftError: ``end`` cannot be reached along permitted runs.
        """
        key = (start, end)
        if key not in self._paths:
            self._paths[key] = self._trace(start, end)
        return self._paths[key]

    def _trace(self, start: str, end: str) -> Path:
        if start == end:
            return Path((start,), (), self.apart_m[start])
        first, at = self._index[start], self._index[end]
        distance, before = self._search(first)
        if distance[at] == float("inf"):
            raise DraftError(
                f"stations.{end}",
                f"cannot be reached from {start!r} along permitted runs; add or permit a run",
            )
        trail = [at]
        while trail[-1] != first:
            trail.append(before[trail[-1]])
        trail.reverse()
        runs = tuple(self._runs[pair] for pair in itertools.pairwise(trail))
        return Path(tuple(self._names[i] for i in trail), runs, sum(r.wire_m for r in runs))


def _by_way(start: str, end: str, via: tuple[str, ...], routes: RouteMap) -> Path:
    """Return the shortest path that calls at ``via`` in order."""
    calls = [start, *(station for station in via if station not in (start, end)), end]
    parts = [routes.path(a, b) for a, b in itertools.pairwise(calls)]
    stations = (start, *(name for part in parts for name in part.stations[1:]))
    return Path(
        stations,
        tuple(run for part in parts for run in part.runs),
        sum(part.length_m for part in parts),
    )


def _is_sent(leg: Leg, loads: bool) -> bool:
    """Tell whether a leg follows its circuit's way: those that join the loads to the rest.

    Leads from way to switch and from load to load keep the short way; a feeder goes whole.
    """
    if not loads:
        return True
    return (leg.start.kind == "lead") != (leg.end.kind == "lead")


def routed(
    plan: Plan, routes: RouteMap, via: tuple[str, ...] = (), stub_m: float = 0.0
) -> tuple[Path, ...]:
    """Return the path of every leg of a circuit, in the order of its plan.

    Args:
        via: stations the circuit is sent by way of, in the order met from its source; plus and
            return take them alike, so that they can share a loom.
        stub_m: along the conductor from the source's terminal to a device in its holder.

    Raises:
        DraftError: an end cannot be reached.
    """
    loads = any("lead" in (leg.start.kind, leg.end.kind) for leg in plan.legs)
    paths = _ways(plan, routes, via, stub_m, loads=loads)
    if not loads:
        return tuple(paths)
    return tuple(_landed(leg, path, routes) for leg, path in zip(plan.legs, paths, strict=True))


def _landed(leg: Leg, path: Path, routes: RouteMap) -> Path:
    """Return a path with what lies beyond the plugs at its ends.

    A load's leads belong to the harness that comes to it; blocks, buses, strips and switches to
    the one that stands at their station, which stays when the other is lifted off.
    """
    if not path.runs:
        return path
    beside = ((leg.start, path.runs[0]), (leg.end, path.runs[-1]))
    lands = tuple(
        None
        if point.kind in ("lead", "tail") or home == run.harness
        else Beyond(home, routes.apart_m[point.station])
        for point, run in beside
        for home in (routes.home[point.station],)
    )
    more_m = sum(beyond.length_m for beyond in lands if beyond)
    return path._replace(length_m=path.length_m + more_m, lands=(lands[0], lands[1]))


def _ways(
    plan: Plan, routes: RouteMap, via: tuple[str, ...], stub_m: float, *, loads: bool
) -> list[Path]:
    """Return the way of every leg from station to station."""
    paths: list[Path] = []
    for leg in plan.legs:
        if leg.jumper:
            paths.append(Path((leg.start.station,), (), leg.jumper_m or JUMPER_M))
        elif leg.stub:
            paths.append(Path((leg.start.station,), (), stub_m))
        elif via and _is_sent(leg, loads):
            order = via[::-1] if leg.live == "return" else via
            paths.append(_by_way(leg.start.station, leg.end.station, order, routes))
        else:
            paths.append(routes.path(leg.start.station, leg.end.station))
    return paths
