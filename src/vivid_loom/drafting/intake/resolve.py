"""Stage 1, resolve: standard fit + options + the order's own → what is aboard."""

import dataclasses
import re
from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property
from typing import NamedTuple, TypeVar

from vivid_loom.boat import (
    SIGNAL_LEADS,
    Boat,
    CircuitRequest,
    Fit,
    Level,
    Load,
    Option,
    Supply,
    SwitchRequest,
    changed_boat,
    check_boat,
    fit_problems,
    offering,
)
from vivid_loom.drafting.errors import DraftError
from vivid_loom.drafting.intake.schools import Requests, under_schools
from vivid_loom.drafting.kept import Kept
from vivid_loom.drafting.patterns import PATTERNS
from vivid_loom.order import PAST_THE_STRIP, Order, Profile
from vivid_loom.quantities import Gauge, GaugeError, computed

__all__ = ["Aboard", "option_problem", "resolve"]


@computed
class Aboard:
    """Everything that is to be wired, in id order, and the school it is wired under.

    Attributes:
        capped: leads that the profile leaves without a feed, as (load, lead).
        kept: what the stages made for the draft before, while this one is made.
    """

    order: Order
    boat: Boat
    profile: Profile
    loads: dict[str, Load]
    circuits: tuple[CircuitRequest, ...]
    switches: dict[str, SwitchRequest]
    unfed: tuple[str, ...]
    capped: frozenset[tuple[str, str]] = frozenset()
    kept: Kept = dataclasses.field(default_factory=Kept, compare=False, repr=False)

    @cached_property
    def fit(self) -> Fit:
        """Everything aboard, as an option brings it."""
        return Fit(
            loads=tuple(self.loads.values()),
            circuits=self.circuits,
            switches=tuple(self.switches.values()),
        )

    @cached_property
    def called(self) -> dict[str, str]:
        """What labels and sheets call devices and switches, by id; all else goes by its code."""
        loads = {load.id: load.name for load in self.loads.values()}
        return {**loads, **{s.id: s.legend.capitalize() for s in self.switches.values()}}

    @cached_property
    def levels(self) -> dict[str, Level]:
        """What it takes to make each battery and part of the supply alive, by id."""
        coils: dict[str, Level] = {}
        for circuit in self.circuits:
            for load in circuit.loads:
                coils[load] = "ignition" if circuit.contacts else circuit.level
        network = self.boat.network
        return {
            name: network.level(name, coils) for name in (*network.batteries, *network.supplies)
        }


_DRAFTED = re.compile(r"(F|X|SW)\d+$")
Item = TypeVar("Item", Load, CircuitRequest, SwitchRequest, Supply)


def _requirement_circle(options: Sequence[Option]) -> list[str] | None:
    requires = {option.id: option.requires for option in options}
    done: set[str] = set()

    def visit(option_id: str, trail: list[str]) -> list[str] | None:
        if option_id in trail:
            return [*trail[trail.index(option_id) :], option_id]
        if option_id in done:
            return None
        for needed in requires.get(option_id, ()):
            if circle := visit(needed, [*trail, option_id]):
                return circle
        done.add(option_id)
        return None

    return next((c for option in options if (c := visit(option.id, []))), None)


def option_problem(boat: Boat, chosen: Sequence[str]) -> str | None:
    """Return why this set of options cannot stand, in words; None when it can."""
    if circle := _requirement_circle(boat.options):
        return f"found options that require each other in a circle: {' → '.join(circle)}"
    for option_id in chosen:
        option = boat.option(option_id)
        if option is None:
            return f"found unknown option {option_id!r}, expected one that {boat.name} offers"
        for needed in option.requires:
            if needed not in chosen:
                return f"found {option_id!r} without {needed!r}, which it requires"
        for other in option.excludes:
            if other in chosen:
                return f"found {option_id!r} together with {other!r}, which it excludes"
    return None


def _merge(items: dict[str, Item], adds: Iterable[Item], removes: Iterable[str] = ()) -> None:
    """Take items out, by their ids, and others in."""
    for name in removes:
        items.pop(name, None)
    items.update({item.id: item for item in adds})


def _fits(order: Order, boat: Boat) -> Iterator[tuple[Fit, tuple[str, ...]]]:
    for option_id in sorted(order.options):
        option = boat.option(option_id)
        assert option is not None  # option_problem has looked
        yield option.adds, option.removes
    yield order.added, order.removed


def _with_joins(
    circuits: dict[str, CircuitRequest], boat: Boat, order: Order
) -> dict[str, CircuitRequest]:

    for option_id in sorted(order.options):
        option = boat.option(option_id)
        for circuit_id, load_id in option.joins if option else ():
            if circuit_id not in circuits:
                raise DraftError(
                    f"options.{option_id}", f"joins {load_id!r} to unknown circuit {circuit_id!r}"
                )
            circuit = circuits[circuit_id]
            circuits[circuit_id] = dataclasses.replace(circuit, loads=(*circuit.loads, load_id))
    return circuits


def _check_circuit(circuit: CircuitRequest, aboard: Aboard, supplies: set[str]) -> None:
    place = f"circuits.{circuit.id}"
    if circuit.pattern not in PATTERNS:
        raise DraftError(
            f"{place}.pattern",
            f"found unknown pattern {circuit.pattern!r}, expected {', '.join(sorted(PATTERNS))}",
        )
    if circuit.supply and circuit.supply not in supplies:
        raise DraftError(f"{place}.supply", f"found unknown supply {circuit.supply!r}")
    pattern = PATTERNS[circuit.pattern]
    _check_instrument(circuit, aboard)
    if pattern.needs_contact and circuit.contact is None:
        raise DraftError(f"{place}.contact", f"found none, expected one: {pattern.title}")
    for contact in circuit.contacts:
        if contact.switch not in aboard.switches:
            raise DraftError(f"{place}.contact", f"found unknown switch {contact.switch!r}")
    if circuit.also and pattern.takes_also == "none":
        raise DraftError(f"{place}.also", f"found further contacts, expected one: {pattern.title}")
    if not circuit.also and pattern.takes_also == "some":
        raise DraftError(f"{place}.also", f"found no second contact, expected one: {pattern.title}")
    if circuit.pattern in ("two_directions", "reversing"):
        for contact in circuit.contacts:
            if len(contact.throws) != 2:
                raise DraftError(
                    f"{place}.contact", "found one throw, expected up and down: a direction each"
                )
    if circuit.pattern == "reversing":
        poles = {(contact.switch, contact.pole) for contact in circuit.contacts}
        if len({switch for switch, _ in poles}) > 1 or len(poles) != 2 or len(circuit.also) != 1:
            raise DraftError(
                f"{place}.also", "found other contacts, expected the second pole of its switch"
            )
    for load_id in circuit.loads:
        for name in pattern.plus_leads or (circuit.lead_name,):
            if aboard.loads[load_id].named(name) is None:
                raise DraftError(
                    f"loads.{load_id}.leads",
                    f"found no {name!r} lead, expected one for {pattern.title}",
                )


def _check_instrument(circuit: CircuitRequest, aboard: Aboard) -> None:
    """A sensor hangs on an instrument that reads it, and nothing else does."""
    place = f"circuits.{circuit.id}.instrument"
    if circuit.pattern != "sensor_pair":
        if circuit.instrument:
            raise DraftError(place, f"found {circuit.instrument!r}, expected none but for a sensor")
        return
    if len(circuit.loads) != 1:
        raise DraftError(f"circuits.{circuit.id}.loads", "found several, expected one sensor")
    instrument = aboard.loads.get(circuit.instrument)
    fed = any(
        circuit.instrument in other.loads and other.fed_lead not in SIGNAL_LEADS
        for other in aboard.circuits
    )
    if instrument is None or not fed:
        raise DraftError(
            place, f"found {circuit.instrument!r}, expected a load aboard that a circuit feeds"
        )
    for function in ("sense", "minus"):
        if instrument.lead(function) is None:
            raise DraftError(
                f"loads.{instrument.id}.leads",
                f"found no {function!r} lead, expected one for its sensor",
            )


def _check_names(aboard: Aboard) -> None:
    """Refuse ids that the sheets would confuse with one another."""
    boat = aboard.boat
    taken: dict[str, str] = {}
    for kind, names in (
        ("battery", [battery.id for battery in boat.batteries]),
        ("supply", [supply.id for supply in boat.supplies]),
        ("return bus", [bus.id for bus in boat.return_buses]),
        ("load", list(aboard.loads)),
        ("circuit", [circuit.id for circuit in aboard.circuits]),
    ):
        for name in names:
            place = f"{kind.replace(' ', '_')}.{name}"
            if not name.strip() or _DRAFTED.match(name):
                raise DraftError(
                    place,
                    f"found id {name!r}, expected one that is not blank and not like the "
                    "draft's own F01, X1 or SW1",
                )
            if name in taken:
                raise DraftError(place, f"found id {name!r}, which a {taken[name]} has already")
            taken[name] = kind


def _check_overrides(aboard: Aboard) -> None:
    """Refuse overrides of what nobody knows, or to a place the boat does not have.

    Those of what has been left out wait until it is back.
    """
    boat, order = aboard.boat, aboard.order
    fits = (boat.fit, *(option.adds for option in boat.options), order.added)
    left_out = {*order.removed, *(one.circuit for one in order.built_with)}
    circuits = left_out | {c.id for fit in fits for c in fit.circuits}
    circuits |= {c.id for c in aboard.circuits} | boat.network.feeders.keys()
    switches = left_out | {s.id for fit in fits for s in fit.switches} | aboard.switches.keys()
    places = {
        "supply": {*boat.supplies_by_id, *(battery.id for battery in boat.batteries)},
        "return_bus": {*boat.buses_by_id, *(battery.id for battery in boat.batteries)},
        "strip": {PAST_THE_STRIP},
        "helm_position": {str(p) for p in range(1, boat.positions + 1)},
    }
    taken: dict[str, str] = {}
    for override in aboard.order.overrides:
        place = f"overrides.{override.subject}.{override.field}"
        helm = override.field == "helm_position"
        if override.subject not in (switches if helm else circuits):
            kind = "switch" if helm else "circuit or feeder"
            raise DraftError(place, f"found no {kind} {override.subject!r} aboard")
        known = places.get(override.field)
        if known is not None and override.value not in known:
            raise DraftError(
                place, f"found {override.value!r}, expected one of {', '.join(sorted(known))}"
            )
        if not helm or override.subject not in aboard.switches:
            continue
        if taken.setdefault(override.value, override.subject) != override.subject:
            raise DraftError(
                place, f"found position {override.value} given to {taken[override.value]!r} too"
            )


def _fitted(order: Order, boat: Boat) -> tuple[Supply, ...]:
    """Return the parts of the supply that the fit, the options and the order bring."""
    return (*boat.fit.supplies, *(s for adds, _ in _fits(order, boat) for s in adds.supplies))


def _as_ordered(order: Order, boat: Boat) -> Boat:
    """Return the model as this hull has it, with what its options bring, every feeder numbered."""
    fitted = _fitted(order, boat)
    whole = boat
    if fitted:
        parts = {supply.id: supply for supply in boat.supplies}
        _merge(parts, fitted)
        whole = dataclasses.replace(boat, supplies=tuple(parts.values()))
    changed = changed_boat(whole, order.hull_changes)
    if changed is not boat and (problem := check_boat(changed)):
        raise DraftError(f"hull_changes.{problem[0]}", problem[1])
    network = changed.network
    return dataclasses.replace(
        changed,
        supplies=tuple(network.supplies.values()),
        return_buses=tuple(network.buses.values()),
    )


def _check_coils(aboard: Aboard) -> None:
    """Refuse loads as coils that have none of a coil's leads."""
    named = [(f"supplies.{s.id}.coil", s.coil) for s in aboard.boat.supplies]
    named += [(f"switches.{s.id}.coil", s.coil) for s in aboard.switches.values()]
    for place, name in named:
        load = aboard.loads.get(name)
        if load is not None and not load.is_a_coil:
            leads = ", ".join(lead.function for lead in load.leads) or "no leads"
            raise DraftError(
                place,
                f"found {name!r} with {leads}, expected a coil: with plus, or up and down, and "
                "minus",
            )


def _check_ways(aboard: Aboard) -> None:
    """Refuse ways of circuits that are not aboard, or through unknown stations."""
    stations = {station.id for station in aboard.boat.stations}
    for via in aboard.order.ways:
        for name in via.stations:
            if name not in stations:
                raise DraftError(f"ways.{via.circuit}", f"found unknown station {name!r}")
    for spare in aboard.order.spares:
        for name in (spare.start, spare.end):
            if name not in stations:
                raise DraftError(f"spares.{spare.id}", f"found unknown station {name!r}")
        if spare.kind == "conductor":
            try:
                Gauge.parse(spare.gauge)
            except GaugeError as error:
                raise DraftError(f"spares.{spare.id}.gauge", str(error)) from error


def resolve(order: Order, boat: Boat, kept: Kept) -> Aboard:
    """Apply options and the order's own changes to the standard fit.

    Raises:
        DraftError: options that cannot stand together, unknown names, a circuit without what
            its pattern needs.
    """
    model = offering(boat, order.hull_changes)
    if problem := option_problem(model, order.options):
        raise DraftError("options", problem)
    boat = kept.take(
        "boat",
        "",
        (model, kept.same("hull changes", "", order.hull_changes), *_fitted(order, model)),
        lambda: _as_ordered(order, model),
    )
    loads = {load.id: load for load in boat.fit.loads}
    circuits = {circuit.id: circuit for circuit in boat.fit.circuits}
    switches = {switch.id: switch for switch in boat.fit.switches}
    for fit, field in ((order.added, "added"), (Fit(loads=order.changed_loads), "changed")):
        if bad := next(fit_problems(fit, boat, field), None):
            raise DraftError(bad[0].replace("changed.loads", "changed_loads"), bad[1])
    for adds, removed in _fits(order, boat):
        _merge(loads, adds.loads, removed)
        _merge(circuits, adds.circuits, removed)
        _merge(switches, adds.switches, removed)
    loads.update({load.id: load for load in order.changed_loads if load.id in loads})
    circuits = _with_joins(circuits, boat, order)
    return _aboard(order, boat, _Fitted(loads, circuits, switches), kept)


class _Fitted(NamedTuple):
    """Loads, circuits and switches aboard, by id."""

    loads: dict[str, Load]
    circuits: dict[str, CircuitRequest]
    switches: dict[str, SwitchRequest]


def _aboard(order: Order, boat: Boat, fitted: _Fitted, kept: Kept) -> Aboard:
    loads, circuits, switches = fitted
    known = (
        {load.id for load in boat.fit.loads}
        | {load.id for option in boat.options for load in option.adds.loads}
        | {load.id for load in order.added.loads}
    )
    profile = kept.same("profile", "", order.effective_profile())
    requests = under_schools(Requests(circuits=circuits, switches=switches), loads, profile)
    circuits, switches = dict(requests.circuits), dict(requests.switches)
    wanted: list[CircuitRequest] = []
    for circuit in sorted(circuits.values(), key=lambda c: c.id):
        for load_id in circuit.loads:
            if load_id not in known:
                raise DraftError(f"circuits.{circuit.id}.loads", f"found unknown load {load_id!r}")
        aboard_loads = tuple(name for name in circuit.loads if name in loads)
        unread = circuit.instrument in known and circuit.instrument not in loads
        if aboard_loads and not unread:
            same = aboard_loads == circuit.loads
            asked = circuit if same else dataclasses.replace(circuit, loads=aboard_loads)
            wanted.append(kept.same("request", circuit.id, asked))
    fed = {name for circuit in wanted for name in circuit.loads}
    used = {contact.switch for circuit in wanted for contact in circuit.contacts}
    aboard = Aboard(
        order=order,
        boat=boat,
        profile=profile,
        loads={name: kept.same("load", name, load) for name, load in sorted(loads.items())},
        circuits=tuple(wanted),
        switches={
            name: kept.same("switch", name, switch)
            for name, switch in sorted(switches.items())
            if name in used
        },
        unfed=tuple(sorted(set(loads) - fed)),
        capped=requests.capped,
        kept=kept,
    )
    for circuit in wanted:
        _check_circuit(circuit, aboard, {*boat.supplies_by_id, *boat.network.batteries})
    _check_names(aboard)
    _check_overrides(aboard)
    _check_ways(aboard)
    _check_coils(aboard)
    return aboard
