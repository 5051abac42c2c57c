"""What one switch's back does: which of its tabs are live at which press, and which have room."""

from collections.abc import Collection, Iterator
from functools import cached_property

from vivid_loom.catalogue import SwitchPart
from vivid_loom.drafting.patterns import Leg
from vivid_loom.quantities import computed

__all__ = ["MOST_ON_A_TAB", "Back", "Landed"]

MOST_ON_A_TAB = 2  # common practice, no source: a second by piggyback or doubler
Landed = tuple[str, Leg]
"""A conductor with the circuit that it belongs to."""


@computed
class Back:
    """A switch from behind, as its circuits and the jumpers so far wire it.

    Attributes:
        landed: conductors that end on its tabs, in the order they were laid.
    """

    place: str
    part: SwitchPart
    landed: tuple[Landed, ...]

    def _tabs(self, leg: Leg) -> Iterator[str]:
        for point in (leg.start, leg.end):
            if point.place == self.place:
                yield point.name

    @cached_property
    def on_tab(self) -> dict[str, tuple[Landed, ...]]:
        """What lands on each of its tabs."""
        found: dict[str, list[Landed]] = {name: [] for name in self.part.terminals}
        for circuit, leg in self.landed:
            for name in self._tabs(leg):
                found.setdefault(name, []).append((circuit, leg))
        return {name: tuple(landed) for name, landed in found.items()}

    @cached_property
    def owners(self) -> dict[int, str]:
        """The circuit that goes through each pole."""
        found: dict[int, str] = {}
        for circuit, leg in self.landed:
            for name in self._tabs(leg):
                if name[0].isdigit():
                    found.setdefault(int(name[0]), circuit)
        return found

    def room(self, tab: str) -> int:
        """Return how many conductors a tab can still take."""
        return MOST_ON_A_TAB - len(self.on_tab[tab])

    def together(self, state: str = "") -> list[frozenset[str]]:
        """Return the tabs that are one potential with the lever in a state; '' for no contact."""
        joined: dict[str, set[str]] = {name: {name} for name in self.on_tab}

        def join(a: str, b: str) -> None:
            whole = joined[a] | joined[b]
            for name in whole:
                joined[name] = whole

        for _, leg in self.landed:
            ends = tuple(self._tabs(leg))
            if len(ends) > 1:
                join(*ends)
        for link in self.part.links:
            if state in link.closed_in:
                join(*link.ends)
        return list({id(group): frozenset(group) for group in joined.values()}.values())

    def live_in(self, tab: str) -> frozenset[str]:
        """Return the lever's states in which a tab is fed."""
        return self._live.get(tab, frozenset())

    @cached_property
    def _live(self) -> dict[str, frozenset[str]]:
        found: dict[str, set[str]] = {}
        for state in self.part.states:
            for group in self.together(state):
                if self._fed(group):
                    for tab in group:
                        found.setdefault(tab, set()).add(state)
        return {tab: frozenset(states) for tab, states in found.items()}

    def _fed(self, group: Collection[str]) -> bool:
        """Tell whether a feed lands on one of the tabs, or a bar feeds a lever there."""
        if self.part.breaker and 1 in self.owners and "1C" in group:
            return True
        return any(
            leg.live == "source" and not leg.lights_lamp and len(tuple(self._tabs(leg))) == 1
            for name in group
            for _, leg in self.on_tab[name]
        )

    def with_leg(self, circuit: str, leg: Leg) -> "Back":
        """Return the same switch with one more conductor."""
        return Back(place=self.place, part=self.part, landed=(*self.landed, (circuit, leg)))
