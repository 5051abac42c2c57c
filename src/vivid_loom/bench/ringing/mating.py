"""What ringing out all harnesses together has shown: plugs not home, crossed, contacts pushed back.

Every wire has been rung out in its own harness before, so that what fails lies in the plugs.
"""

from collections import defaultdict
from collections.abc import Iterable, Iterator
from functools import cached_property
from itertools import combinations

from vivid_loom.bench.ringing.plan import Step, cross_step
from vivid_loom.bench.ringing.results import Cause, Ringing, is_open
from vivid_loom.bench.ringing.specimen import Mate

__all__ = ["Mating"]


class Mating(Ringing):
    """How far the harnesses have been rung out together."""

    @cached_property
    def _over(self) -> dict[str, tuple[Mate, ...]]:
        """The contacts on the way of every path, by its step."""
        return {
            step.id: tuple(_on_the_way(self, step))
            for step in self.plan.steps
            if step.kind == "path"
        }

    @cached_property
    def _by_plug(self) -> dict[str, list[Step]]:
        found: dict[str, list[Step]] = defaultdict(list)
        for step in self.plan.steps:
            for plug in dict.fromkeys(mate.plug.id for mate in self._over.get(step.id, ())):
                found[plug].append(step)
        return found

    @cached_property
    def _dark(self) -> list[str]:
        """Plugs over which nothing is joined."""
        results = self.results

        def dark(step: Step) -> bool:
            return step.id in results and is_open(results[step.id])

        return [plug for plug, steps in self._by_plug.items() if all(map(dark, steps))]

    def _further(self) -> Iterator[Step]:
        asked: dict[str, Step] = {}
        for one, other in combinations(self._by_plug, 2):
            for step in self._crosswise(one, other):
                asked.setdefault(step.id, step)
        for a, b in combinations(self._failed("net"), 2):
            step = cross_step(self.plan.specimen, a.red, b.red)
            asked.setdefault(step.id, step)
        yield from asked.values()

    def _open_at(self, plug: str) -> dict[int, Step]:
        """Return the ways through a plug that are open, by its cavities."""
        return {
            mate.cavity: step
            for step in self._by_plug[plug]
            if step.id in self.results and is_open(self.results[step.id])
            for mate in self._over[step.id]
            if mate.plug.id == plug
        }

    def _crosswise(self, one: str, other: str) -> list[Step]:
        """Return what tells whether two plugs are in one another's other half."""
        at, there = self._open_at(one), self._open_at(other)
        both = at.keys() & there.keys()
        shared = sorted(n for n in both if at[n].subject != there[n].subject)  # else joined anyway
        if not shared:
            return []
        a, b = at[shared[0]], there[shared[0]]
        pins = ((a.red, b.black), (a.black, b.red), (a.red, b.red), (a.black, b.black))
        return [cross_step(self.plan.specimen, *pair) for pair in pins]

    @cached_property
    def causes(self) -> tuple[Cause, ...]:
        """What is wrong, as far as the results tell."""
        found: dict[Cause, None] = {Cause("leads", ()): None for _ in self._failed("zero")}
        explained: set[str] = set()
        for one, other in combinations(self._by_plug, 2):
            if any(self._joined(s.red, s.black) for s in self._crosswise(one, other)):
                found[Cause("crossed", (one, other))] = None
                explained |= self._explains((one, other))
        looked = {step.subject for step in self._failed("mated")}
        for plug in self._unmated(looked, explained):
            found[Cause("unmated", (plug,))] = None
            explained |= self._explains((plug,))
        failed = [step for step in self._failed("path") if step.id not in explained]
        for cause in sorted(map(self._path_cause, failed), key=lambda cause: len(cause.at)):
            known = {name for other in found if other.kind == cause.kind for name in other.at}
            if known.isdisjoint(cause.at):  # else what is named already explains it
                found[cause] = None
        leaking = [step for step in self._failed("net") if step.id not in explained]
        found |= dict.fromkeys(self._leaks(leaking))
        return tuple(found)

    def _explains(self, plugs: Iterable[str]) -> set[str]:
        """Return the steps that fail where plugs are not as they should be."""
        steps = [step for plug in plugs for step in self._by_plug[plug]]
        return {s.id for s in steps} | {f"net {s.subject}" for s in steps}

    def _unmated(self, looked: set[str], explained: set[str]) -> Iterator[str]:
        """Yield plugs that are not home: as was seen, or as nothing else over several contacts."""
        yield from (plug for plug in self._by_plug if plug in looked)
        left = set(explained).union(*(self._explains((plug,)) for plug in looked))
        for plug in sorted(self._dark, key=lambda plug: -len(self._by_plug[plug])):
            open_now = [step for step in self._by_plug[plug] if step.id not in left]
            if len(open_now) > 1:
                yield plug
                left |= self._explains((plug,))

    def _path_cause(self, step: Step) -> Cause:
        """Return the contacts that may be at fault: none that another path has passed over."""
        sound = {
            mate.id for name, over in self._over.items() for mate in over if self._is_sound(name)
        }
        over = tuple(mate.id for mate in self._over[step.id])
        suspected = tuple(name for name in over if name not in sound) or over
        result = self.results[step.id]
        if is_open(result):
            return Cause("pushed", suspected)
        return Cause("worn" if result.value > step.high else "thicker", suspected)

    def _is_sound(self, step: str) -> bool:
        return step in self.results and self.results[step].passed


def _on_the_way(mating: Mating, step: Step) -> Iterator[Mate]:
    """Yield the contacts between a path's ends."""
    specimen = mating.plan.specimen
    onward: dict[str, list[tuple[str, Mate | None]]] = defaultdict(list)
    for name in specimen.net_of[step.red].wires:
        wire = specimen.wires[name]
        onward[wire.start].append((wire.end, None))
        onward[wire.end].append((wire.start, None))
    for mate in specimen.mates:
        onward[mate.a].append((mate.b, mate))
        onward[mate.b].append((mate.a, mate))
    came: dict[str, tuple[str, Mate | None]] = {step.red: ("", None)}
    waiting = [step.red]
    for at in waiting:
        for there, over in onward[at]:
            if there not in came:
                came[there] = (at, over)
                waiting.append(there)
    at = step.black
    while at != step.red:
        at, passed = came[at]
        if passed is not None:
            yield passed
