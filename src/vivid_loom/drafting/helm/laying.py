"""The wires behind the panels, laid switch by switch.

Every lamp's feed belongs to the circuit that lights it; the return of a switch's lamps to the
circuit that goes through the switch; the chain of the instrument lights to theirs.
"""

from collections import defaultdict
from collections.abc import Collection, Iterable, Iterator, Mapping
from itertools import pairwise
from typing import Final, Literal, NamedTuple

from vivid_loom.boat import LampIntent
from vivid_loom.catalogue import Catalogue
from vivid_loom.drafting.helm.back import Back
from vivid_loom.drafting.helm.chains import kept_chain
from vivid_loom.drafting.helm.lamps import LampUse, fed, kept_dark, lamp_intents
from vivid_loom.drafting.helm.seats import Seat, Tab, seats
from vivid_loom.drafting.helm.tabs import Spot, jumper_mm
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.patterns import Leg, Point
from vivid_loom.drafting.places.allocate import Allocation
from vivid_loom.order import BuiltWire

__all__ = ["NIGHT", "Behind", "Lamps", "Laying", "on_tabs"]

NIGHT = "instrument lights"
NEAREST: Final = Point("", "nearest bus", "", "screw")  # until it is known which has a screw left
NOTHING_AT_NIGHT = "no instrument lights are fed here; give them a circuit"
Lamps = dict[str, tuple[LampUse, ...]]
"""By switch id, what becomes of its lamps."""


class Behind(NamedTuple):
    """What is behind all panels, but for which bus the lamps' current comes home to.

    Attributes:
        laid: by circuit, what is laid for the lamps of its switches.
        homes: circuit and id of those that end on a bus, ``NEAREST`` as yet, in their order.
        left_out: the ends of jumpers that are left out by hand.
    """

    laid: dict[str, tuple[Leg, ...]]
    homes: tuple[tuple[str, str], ...]
    left_out: tuple[frozenset[Point], ...]
    lamps: Lamps


class Laying:
    """Lays the wires of all panels, one after another."""

    def __init__(self, aboard: Aboard, allocation: Allocation, catalogue: Catalogue) -> None:
        self.aboard, self.allocation, self.catalogue = aboard, allocation, catalogue
        self.laid: dict[str, list[Leg]] = defaultdict(list)
        self.lamps: Lamps = {}
        self.switches = tuple(seats(aboard, allocation, catalogue))
        self.homes: list[tuple[str, str]] = []
        self.left_out: list[frozenset[Point]] = []
        self.chained = set(_chained(self.switches))
        self.lies = _lying(aboard.order.built)
        buses = aboard.boat.return_buses
        self.screws = {f"{b.id} screw {n}" for b in buses for n in range(1, b.screws + 1)}
        self.backs: dict[str, Back] = {}
        landed: dict[str, list[tuple[str, Leg]]] = defaultdict(list)
        for name, leg in on_tabs(aboard, allocation):
            for place in {leg.start.place, leg.end.place}:
                landed[place].append((name, leg))
        for switch in self.switches:
            on_it = tuple(landed.get(switch.place, ()))
            self.backs[switch.place] = Back(place=switch.place, part=switch.part, landed=on_it)

    def lay(self) -> Behind:
        """Feed every lamp and take its current home; then do what somebody decided."""
        groups: dict[str, list[Seat]] = defaultdict(list)
        for switch in self.switches:
            if switch.part.lamps and self.backs[switch.place].owners:
                groups[switch.group].append(switch)
        for group in groups.values():
            by_night: list[Tab] = []
            for switch in group:
                by_night += self._lamps(switch)
            lights = self._night(by_night) if by_night else ""
            for switch in group:
                self._settle(switch, lights)
            self._home(group)
        self._by_hand()
        laid = {circuit: tuple(legs) for circuit, legs in self.laid.items()}
        return Behind(laid, tuple(self.homes), tuple(self.left_out), self.lamps)

    def _by_hand(self) -> None:
        """Lay and leave out what somebody decided; what is not aboard is left alone."""
        named = {s.request.id: s for s in self.switches}
        for wish in self.aboard.order.jumpers:
            tabs = [_named(end, named) for end in (wish.start, wish.end)]
            if None in tabs:
                continue
            start, end = (tab for tab in tabs if tab)
            points = frozenset({start.point, end.point})
            if not wish.laid:
                for laid in self.laid.values():
                    laid[:] = [leg for leg in laid if {leg.start, leg.end} != points]
                self.left_out.append(points)
                continue
            owners = self.backs[start.switch.place].owners or self.backs[end.switch.place].owners
            if owners:
                length_m = jumper_mm(start.spot, end.spot) / 1000
                circuit = owners.get(_pole(start.name), owners[min(owners)])
                at = (start.point, end.point)
                leg = Leg("H", *at, (), "switched", jumper=True, jumper_m=length_m)
                self._add(circuit, leg)

    def _lamps(self, switch: Seat) -> list[Tab]:
        """Feed a switch's own lamps, and return those that the instrument lights light."""
        before = self.backs[switch.place]
        back, uses, by_night = before, [], []
        school = self.aboard.profile.second_lamp
        for lamp, intent in enumerate(lamp_intents(switch.request, switch.part, school)):
            use, back = self._use(back, lamp, intent, switch)
            uses.append(use)
            if use.fed_from == NIGHT:
                by_night.append(Tab(switch, switch.part.lamp_ends(lamp)[0]))
        for circuit, leg in back.landed[len(before.landed) :]:
            self._add(circuit, leg)
        self.backs[switch.place] = back
        self.lamps[switch.request.id] = kept_dark(uses, switch.part)
        return by_night

    def _use(self, back: Back, lamp: int, intent: LampIntent, switch: Seat) -> tuple[LampUse, Back]:
        if intent == "never":
            return LampUse(lamp, intent), back
        if intent == "night" and switch.part.lamp_wiring == "independent":
            return LampUse(lamp, intent, NIGHT), back
        return fed(back, lamp, intent, switch.station, self.catalogue)

    def _add(self, circuit: str, leg: Leg) -> str:
        """Add a conductor to a circuit under the next number of its letter, and return its id."""
        number = 1 + sum(other.id.startswith(leg.id[0]) for other in self.laid[circuit])
        named = leg._replace(id=f"{leg.id[0]}{number}")
        self.laid[circuit].append(named)
        return named.id

    def _night(self, tabs: list[Tab]) -> str:
        """Lead the instrument lights over every lamp that burns with them, by the least wire.

        Returns:
            Their circuit; '' where there are none.
        """
        begins = self._night_source(tabs[0].switch)
        if begins is None:
            return ""
        circuit, start, spot = begins
        ends = [tab.spot for tab in tabs]
        met = self._chain(tabs, {start.words}, spot)
        points = [start, *(tabs[i].point for i in met)]
        spots = [spot, *(ends[i] for i in met)]
        for (a, b), (at, to) in zip(pairwise(points), pairwise(spots), strict=True):
            apart_m = self.aboard.boat.stations_by_id[a.station].apart_m
            length_m = jumper_mm(at, to) / 1000 if at and to else apart_m
            self._add(circuit, _jumper("B", (a, b), length_m, "switched"))
        return circuit

    def _chain(
        self, tabs: list[Tab], beyond: Collection[str], begins: Spot | None = None
    ) -> list[int]:
        """Return the order in which a chain meets tabs: as it lies there, else by the least wire.

        Args:
            beyond: points that the chain's first tab is led to.
            begins: where the chain begins, if that is behind the panel.
        """
        words = [tab.point.words for tab in tabs]
        at = {name: i for i, name in enumerate(words)}
        lies = {frozenset((at[a], at[b])) for a in words for b in self.lies[a] if b in at}
        led = next((i for i, name in enumerate(words) if self.lies[name] & set(beyond)), None)
        spots = tuple(tab.spot for tab in tabs)
        if begins is None:
            return list(kept_chain(spots, lies, first=led))
        further = {frozenset(i + 1 for i in link) for link in lies}
        further |= set() if led is None else {frozenset((0, led + 1))}
        return [i - 1 for i in kept_chain((begins, *spots), further, first=0)[1:]]

    def _night_source(self, near: Seat) -> tuple[str, Point, Spot | None] | None:
        """Return the circuit of the instrument lights, and the point on or at a panel it feeds.

        A tab of their switch on the same panel comes first, then their load at its station.
        """
        loads = self.aboard.loads
        for circuit in self.allocation.circuits:
            lights = [n for n in circuit.loads if loads[n].function == "instrument_light"]
            if not lights or circuit.signals:
                continue
            for switch in self.switches:
                tab = self._lit_tab(switch, circuit.id) if switch.group == near.group else None
                if tab:
                    return circuit.id, switch.point(tab), switch.spot(tab)
            here = [n for n in lights if loads[n].station == near.station]
            if here:
                return circuit.id, Point(here[0], "plus", near.station, "lead"), None
        return None

    def _lit_tab(self, switch: Seat, circuit: str) -> str | None:
        """Return a tab with room that is live whenever a switch feeds this circuit."""
        back = self.backs[switch.place]
        out = {
            f"{pole}{press[0].upper()}"
            for pole, owner in back.owners.items()
            for press in switch.part.presses
            if owner == circuit
        }
        fed_tabs = {tab for tab in out if back.on_tab[tab]}
        groups = (group for group in back.together() if group & fed_tabs)
        return min((tab for group in groups for tab in group if back.room(tab)), default=None)

    def _settle(self, switch: Seat, lights: str) -> None:
        """Refuse what was to be lit with instrument lights that are not there."""

        def settled(use: LampUse) -> LampUse:
            if use.fed_from != NIGHT:
                return use
            if not lights:
                return use._replace(fed_from="", refused=NOTHING_AT_NIGHT)
            return use._replace(circuit=lights)

        self.lamps[switch.request.id] = tuple(map(settled, self.lamps[switch.request.id]))

    def _home(self, group: list[Seat]) -> None:
        """Chain the minus tabs of all lamps that are fed, and lead them home to the nearest bus."""
        tabs: list[Tab] = []
        for switch in group:
            lit = (use.lamp for use in self.lamps[switch.request.id] if use.fed_from)
            minus = dict.fromkeys(switch.part.lamp_ends(lamp)[1] for lamp in lit)
            tabs += [Tab(switch, name) for name in minus]
        if not tabs:
            return
        met = [tabs[i] for i in self._chain(tabs, self.screws)]
        for a, b in pairwise(met):
            if frozenset({a.point, b.point}) in self.chained:
                continue  # its maker has laid it
            length_m = jumper_mm(a.spot, b.spot) / 1000
            self._add(self._owner(b.switch), _jumper("G", (b.point, a.point), length_m, "return"))
        owner = self._owner(met[0].switch)
        home = Leg("G", met[0].point, NEAREST, (), "return", "lamp")
        self.homes.append((owner, self._add(owner, home)))

    def _owner(self, switch: Seat) -> str:
        owners = self.backs[switch.place].owners
        return owners[min(owners)]


def _lying(built: Iterable[BuiltWire]) -> dict[str, set[str]]:
    """Return what every point is wired to in the boat as it was built."""
    found: dict[str, set[str]] = defaultdict(set)
    for lies in built:
        if lies.is_connected:
            found[lies.start].add(lies.end)
            found[lies.end].add(lies.start)
    return found


def _chained(switches: Iterable[Seat]) -> Iterator[frozenset[Point]]:
    """Yield the pairs of minus tabs that a panel's maker has joined."""
    at = {(s.panel.id, s.number): s for s in switches if s.panel}
    for panel in {s.panel.id: s.panel for s in switches if s.panel}.values():
        for link in panel.links:
            ends = [text.partition(" ") for text in (link.from_tab, link.to_tab)]
            tabs = [(at.get((panel.id, int(n) if n.isdigit() else 0)), tab) for n, _, tab in ends]
            if all(switch and tab.endswith("-") for switch, tab in tabs):
                yield frozenset(switch.point(tab) for switch, tab in tabs if switch)


def _named(end: str, switches: Mapping[str, Seat]) -> Tab | None:
    """Return the tab of a name such as 's_nav 1U'; None where there is none aboard."""
    switch_id, _, tab = end.rpartition(" ")
    switch = switches.get(switch_id)
    return Tab(switch, tab) if switch and tab in switch.part.terminals else None


def _pole(tab: str) -> int:
    """Return the pole a tab is of; 0 for a lamp's."""
    return int(tab[0]) if tab[0].isdigit() else 0


def _jumper(
    letter: str, ends: tuple[Point, Point], length_m: float, live: Literal["switched", "return"]
) -> Leg:
    return Leg(letter, *ends, (), live, "lamp", jumper=True, jumper_m=length_m)


def on_tabs(aboard: Aboard, allocation: Allocation) -> Iterator[tuple[str, Leg]]:
    """Yield the conductors that end on tabs, each with its circuit, in their order."""
    for circuit in allocation.circuits:
        if any(load.running_a is None for load in circuit.drawing(aboard.loads)):
            continue  # it is not cut before its current is known, and its lamps with it
        for leg in circuit.plan.legs:
            if "tab" in (leg.start.kind, leg.end.kind):
                yield circuit.id, leg
