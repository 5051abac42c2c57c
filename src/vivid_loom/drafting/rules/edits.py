"""Edits that clear findings, one function a kind of mistake."""

import dataclasses
from collections.abc import Callable
from typing import Any, NamedTuple, get_args

from vivid_loom.boat import CircuitRequest, DeviceFamily, Feeder, Feeding, Fit, Load, Run, Supply
from vivid_loom.drafting.drafted import Draft
from vivid_loom.drafting.findings import Finding
from vivid_loom.drafting.rules.runs import fill_of
from vivid_loom.drafting.sizing.fixed_point import allowed_rating_a
from vivid_loom.order import (
    Edit,
    Override,
    OverrideField,
    add_fit,
    change_circuit,
    change_loads,
    change_profile,
    change_run,
    change_supply,
    change_switch,
    clear_override,
    send_by_way,
)
from vivid_loom.order.new_loads import fed, refed
from vivid_loom.order.roles import proposed_kind, take_roles
from vivid_loom.quantities import Gauge
from vivid_loom.standards import ampacity, conduit, protection, terminals
from vivid_loom.standards.devices import DEVICES

__all__ = [
    "Fix",
    "circuits_family",
    "clear",
    "closer",
    "control_fuse",
    "family",
    "feed_it",
    "feed_otherwise",
    "feed_supply",
    "fit_supply",
    "interlocked",
    "nearer",
    "one_point",
    "own_circuit",
    "proposed_role",
    "right_throws",
    "shortest_way",
    "single_pole",
    "stronger_family",
    "stronger_switch",
    "stud",
    "use_school",
    "wider",
]

Fix = Callable[[Finding, Draft], Edit | None]


class _Place(NamedTuple):
    """Where the finding is, by what kind of thing its subjects are."""

    finding: Finding
    draft: Draft

    @property
    def circuit(self) -> CircuitRequest | None:
        """The circuit named first among the subjects."""
        by_id = {c.id: c for c in self.draft.aboard.circuits}
        return next((by_id[s] for s in self.finding.subjects if s in by_id), None)

    @property
    def load(self) -> Load | None:
        """The load among the subjects."""
        loads = self.draft.aboard.loads
        return next((loads[s] for s in self.finding.subjects if s in loads), None)

    @property
    def supply(self) -> Supply | None:
        """The supply among the subjects, or the one a feeder among them feeds."""
        boat = self.draft.aboard.boat
        by_id = boat.supplies_by_id
        named = [by_id[s] for s in self.finding.subjects if s in by_id]
        feeder = self.feeder
        return named[0] if named else feeder.supply if feeder else None

    @property
    def feeder(self) -> Feeder | None:
        """The feeder among the subjects, or the first that feeds a supply among them."""
        network = self.draft.aboard.boat.network
        named = [network.feeders[s] for s in self.finding.subjects if s in network.feeders]
        fed = (network.feeder_of(s) for s in self.finding.subjects)
        return named[0] if named else next((feeder for feeder in fed if feeder), None)

    @property
    def run(self) -> Run | None:
        """The run among the subjects."""
        runs = self.draft.aboard.boat.runs_by_id
        return next((runs[s] for s in self.finding.subjects if s in runs), None)


def clear(*fields: OverrideField) -> Fix:
    """Give an overruled value back to the draft."""

    def fix(finding: Finding, draft: Draft) -> Edit | None:
        order = draft.aboard.order
        network = draft.aboard.boat.network
        for named in finding.subjects:
            fed_by = network.feeder_of(named)
            subject = fed_by.id if fed_by else named  # a block's device is its feeder's
            for field in fields:
                if override := order.override(subject, field):
                    return _given_back(override)
        return None

    return fix


def _given_back(override: Override) -> Edit:
    words = f"give the {override.called} of {override.subject} back to the draft"
    return words, clear_override(override.subject, override.field)[1]


def give_back(finding: Finding, draft: Draft) -> Edit | None:
    """Give back to the draft what a finding says was overruled."""
    (subject,), called = finding.subjects, dict(finding.values)["field"]
    overrides = draft.aboard.order.overrides
    named = (o for o in overrides if (o.subject, o.called) == (subject, called))
    return next(map(_given_back, named), None)


def use_school(field: str, value: str | int, words: str) -> Fix:
    """Go back to another school."""

    def fix(finding: Finding, draft: Draft) -> Edit | None:
        if getattr(draft.aboard.profile, field) == value:
            return None
        return change_profile(field, value, words)

    return fix


def feed_otherwise(words: str, **fields: Any) -> Fix:
    """Feed a circuit otherwise."""

    def fix(finding: Finding, draft: Draft) -> Edit | None:
        circuit = _Place(finding, draft).circuit
        if circuit is None:
            return None
        changed = change_circuit(dataclasses.replace(circuit, **fields), words)
        return f"feed {circuit.label} {words}", changed[1]

    return fix


def fit_supply(words: str, change: Callable[[Supply, Draft], dict[str, Any] | None]) -> Fix:
    """Fit a supply otherwise."""

    def fix(finding: Finding, draft: Draft) -> Edit | None:
        supply = _Place(finding, draft).supply
        fields = change(supply, draft) if supply else None
        if supply is None or fields is None:
            return None
        changed = change_supply(dataclasses.replace(supply, **fields))
        return f"{words} of {supply.name}", changed[1]

    return fix


def feed_supply(words: str, change: Callable[[Feeder, Draft], dict[str, Any] | None]) -> Fix:
    """Protect or land a supply's feeder otherwise."""

    def fix(finding: Finding, draft: Draft) -> Edit | None:
        feeder = _Place(finding, draft).feeder
        fields = change(feeder, draft) if feeder and feeder.feed else None
        if feeder is None or feeder.supply is None or fields is None:
            return None
        feeds = tuple(
            dataclasses.replace(feed, **fields) if feed.id == feeder.id else feed
            for feed in feeder.supply.feeds
        )
        changed = change_supply(dataclasses.replace(feeder.supply, feeds=feeds))
        return f"{words} of {feeder.supply.name}", changed[1]

    return fix


def nearer(feeder: Feeder, draft: Draft) -> dict[str, Any] | None:
    assert feeder.feed is not None
    limit = protection.distance_limit_mm(
        draft.aboard.profile.school,
        at_battery=feeder.feed.source in draft.aboard.boat.network.batteries,
        sheathed=feeder.feed.sheathed,
    ).limit_mm
    return {"distance_mm": limit}


def family(name: DeviceFamily) -> Callable[[Feeder, Draft], dict[str, Any] | None]:
    """Fit a family to a feeder, where it bears its rating and is made for its voltage."""

    def change(feeder: Feeder, draft: Draft) -> dict[str, Any] | None:
        assert feeder.feed is not None
        needed, device = draft.needs[feeder.id], DEVICES[name]
        rated = protection.next_rating_a(name, max(needed.out.total_a, needed.largest_a + 1e-6))
        made_for = device.max_v >= draft.aboard.boat.network.voltage(feeder.feed.source)
        return {"family": name} if rated and made_for and name != feeder.feed.family else None

    return change


def stronger_family(feeder: Feeder, draft: Draft) -> dict[str, Any] | None:
    """Return the next family that breaks what the one fitted cannot, and bears its rating."""
    assert feeder.feed is not None
    row = draft.circuit(feeder.id)
    network = draft.aboard.boat.network
    least = row.fault.near_a if row and row.fault else 0.0
    if feeder.feed.source in network.batteries:
        cranking = network.batteries[feeder.feed.source].cranking_a
        volts = network.nominal_v
        asked = protection.interrupt_minimum_a(cranking, main=True, nominal_v=volts)
        least = max(least, asked)
    needed = draft.needs[feeder.id]
    nominal_v = network.voltage(feeder.feed.source)
    for family, device in DEVICES.items():
        rated = protection.next_rating_a(family, max(needed.out.total_a, needed.largest_a + 1e-6))
        made_for = device.max_v >= nominal_v
        if device.interrupt_a >= least and rated and made_for and family != feeder.feed.family:
            return {"family": family}
    return None


def circuits_family(finding: Finding, draft: Draft) -> Edit | None:
    """Fit a family to a circuit on a post or stud that breaks what its own cannot."""
    circuit = _Place(finding, draft).circuit
    row = draft.circuit(circuit.id) if circuit else None
    if circuit is None or row is None or row.planned.way or not row.sized or not row.fault:
        return None
    least, held = row.fault.near_a, row.sized.protection
    nominal_v = draft.aboard.boat.network.voltage(row.planned.source)
    families: tuple[DeviceFamily, ...] = get_args(DeviceFamily)
    for family in families:
        device, rated = DEVICES[family], held and held.value in DEVICES[family].ratings_a
        if device.interrupt_a >= least and rated and device.max_v >= nominal_v:
            changed = dataclasses.replace(circuit, family=family)
            return f"fit a {family} to {circuit.label}", change_circuit(changed, "family")[1]
    return None


def stud(feeder: Feeder, draft: Draft) -> dict[str, Any] | None:
    row = draft.circuit(feeder.id)
    rating = row.sized.protection.value if row and row.sized and row.sized.protection else 0.0
    fits = (stud for stud, bears in terminals.STUD_MAX_A.items() if bears >= rating)
    stud = next(fits, None)
    return {"stud": stud} if stud else None


def one_point(finding: Finding, draft: Draft) -> Edit | None:
    """Feed both leads of a pump from one always-live point, on the automatic lead's circuit."""
    place = _Place(finding, draft)
    load = place.load
    if load is None:
        return None
    if draft.aboard.profile.automatic_pump == "helm_manual":
        return change_profile("automatic_pump", "one_point", "pumps to one always-live point")
    mine = [c for c in draft.aboard.circuits if load.id in c.loads]
    automatic = next((c for c in mine if c.lead == "automatic"), None)
    manual = next((c for c in mine if c.lead == "manual" and c.contact), None)
    if automatic is None or manual is None:
        return None
    whole = dataclasses.replace(
        automatic,
        pattern="pump_auto_manual",
        level="battery_direct",
        lead="plus",
        contact=manual.contact,
        supply="",
    )
    name = f"feed both leads of {load.name} from one always-live point"
    put = add_fit(Fit(circuits=(whole,)))[1]
    return name, lambda order: dataclasses.replace(
        put(order),
        removed=tuple(sorted({*order.removed, manual.id})),
        added=dataclasses.replace(
            put(order).added,
            circuits=tuple(c for c in put(order).added.circuits if c.id != manual.id),
        ),
    )


def feed_it(finding: Finding, draft: Draft) -> Edit | None:
    load = _Place(finding, draft).load
    if load is None or load.lead("plus") is None:
        return None
    taken = {*draft.aboard.loads, *draft.aboard.switches, *(c.id for c in draft.aboard.circuits)}
    fit = fed([load], "own switch", load.name, taken)
    return f"feed {load.name}", add_fit(fit)[1]


def single_pole(finding: Finding, draft: Draft) -> Edit | None:
    switch = next(
        (draft.aboard.switches[s] for s in finding.subjects if s in draft.aboard.switches), None
    )
    if switch is None:
        return None
    uses = [c.contact for c in draft.aboard.circuits if c.contact and c.contact.switch == switch.id]
    if any(use.pole > 1 for use in uses):
        return None
    two_ways = any("down" in use.throws for use in uses)
    part = "rocker-spdt" if two_ways else "rocker-spst"
    changed = dataclasses.replace(switch, part=part)
    return f"fit a single-pole switch as {switch.legend}", add_fit(Fit(switches=(changed,)))[1]


def right_throws(finding: Finding, draft: Draft) -> Edit | None:
    circuit = _Place(finding, draft).circuit
    if circuit is None or circuit.contact is None:
        return None
    lit = {lever for name in circuit.loads for lever in draft.aboard.loads[name].lit_in}
    throws = tuple(lever for lever in ("up", "down") if lever in lit)
    if not throws:
        return None
    contact = dataclasses.replace(circuit.contact, throws=throws)
    changed = change_circuit(dataclasses.replace(circuit, contact=contact), "throws")
    return f"correct the throws of {circuit.label}", changed[1]


def stronger_switch(finding: Finding, draft: Draft) -> Edit | None:
    """Fit the weakest part of the same contacts and action that bears the current and voltage."""
    switch = next((s for s in draft.switches if s.request.id in finding.subjects), None)
    row = draft.circuit(finding.subjects[0])
    if switch is None:
        return None
    nominal_v = draft.aboard.boat.network.voltage(row.planned.source if row else "")
    rating = amps = 0.0
    motor = False
    if row and row.sized:
        rating = row.sized.protection.value if row.sized.protection else 0.0
        amps = row.sized.current_a
        motor = any(draft.aboard.loads[n].motor for n in row.planned.loads)
    fits = [
        part
        for part in draft.catalogue.switches
        if (part.arrangement, part.action) == (switch.part.arrangement, switch.part.action)
        and (part.actuator, part.interlock) == (switch.part.actuator, switch.part.interlock)
        and part.breaker == switch.part.breaker
        and part.rated_v >= nominal_v
        and part.rated_a >= rating
        and part.bears_a(motor=motor) >= amps
    ]
    if not fits:
        return None
    now = switch.part  # of those that fit its hole and have its lamps, if any do
    best = min(
        fits,
        key=lambda p: (p.cut_out != now.cut_out, p.lamps < now.lamps, p.rated_a, p.id),
    )
    changed = dataclasses.replace(switch.request, part=best.id)
    return f"fit {best.name} as {switch.request.legend}", add_fit(Fit(switches=(changed,)))[1]


def interlocked(finding: Finding, draft: Draft) -> Edit | None:
    """Fit a contactor pair with an interlock: for one without, or between motor and stations."""
    pair = next((s for s in draft.switches if s.request.id in finding.subjects), None)
    if pair:
        fits = [
            part
            for part in draft.catalogue.switches
            if part.arrangement == pair.part.arrangement
            and part.interlock
            and part.rated_a >= pair.part.rated_a
            and part.rated_v >= pair.part.rated_v
        ]
        best = min(fits, key=lambda part: (part.rated_a, part.id), default=None)
        if best is None:
            return None
        return change_switch(dataclasses.replace(pair.request, part=best.id))
    place = _Place(finding, draft)
    if place.circuit is None or place.load is None:
        return None
    aboard = draft.aboard
    taken = {*aboard.loads, *aboard.switches, *(c.id for c in aboard.circuits)}
    way: Feeding = "two directions by contactors, two stations"
    fit = refed(place.circuit, way, taken, aboard.fit, draft.catalogue, aboard.boat.nominal_v)
    return f"work {place.load.name} through contactors", add_fit(fit)[1]


def control_fuse(finding: Finding, draft: Draft) -> Edit | None:
    """Fuse each thin control lead at the greatest blade its gauge bears."""
    load = _Place(finding, draft).load
    if load is None:
        return None
    profile = draft.aboard.profile
    leads = []
    for lead in load.leads:
        fuse = lead.fuse_a
        if lead.function == "control" and lead.gauge:
            try:
                bears = ampacity.ampacity_a(Gauge.parse(lead.gauge), profile.insulation_c)
            except LookupError:
                return None
            most_a = allowed_rating_a(bears, profile.tolerance)
            fuse = max((r for r in DEVICES["blade fuse"].ratings_a if r <= most_a), default=fuse)
        leads.append(dataclasses.replace(lead, fuse_a=fuse))
    return change_loads((dataclasses.replace(load, leads=tuple(leads)),), "control lead's fuse")


def own_circuit(finding: Finding, draft: Draft) -> Edit | None:
    """Give the last of several safety loads on one circuit a circuit of its own."""
    place = _Place(finding, draft)
    circuit = place.circuit
    names = [s for s in finding.subjects if circuit and s in circuit.loads]
    if circuit is None or len(circuit.loads) < 2 or not names:
        return None
    load = draft.aboard.loads[names[-1]]
    taken = {*draft.aboard.loads, *draft.aboard.switches, *(c.id for c in draft.aboard.circuits)}
    alone = fed([load], "own switch", load.name, taken).circuits[0]
    alone = dataclasses.replace(alone, level=circuit.level)
    rest = tuple(name for name in circuit.loads if name != load.id)
    kept = dataclasses.replace(circuit, loads=rest)
    return f"give {load.name} its own circuit", add_fit(Fit(circuits=(kept, alone)))[1]


def wider(finding: Finding, draft: Draft) -> Edit | None:
    """Fit the next bore that leaves the room asked for."""
    run = _Place(finding, draft).run
    if run is None or run.bore_mm is None:
        return None
    room = 1 + draft.aboard.profile.growth_percent / 100
    bore = next(
        (
            bore
            for bore in conduit.BORES_MM
            if bore > run.bore_mm
            and (filled := fill_of(draft, run, bore))
            and filled.percent * room <= filled.limit
        ),
        None,
    )
    return change_run(dataclasses.replace(run, bore_mm=bore), "bore") if bore else None


def proposed_role(finding: Finding, draft: Draft) -> Edit | None:
    """Take what the name of a load says it is."""
    load = _Place(finding, draft).load
    kind = proposed_kind(load.name) if load else None
    if load is None or kind is None:
        return None
    aboard = draft.aboard
    taken = take_roles([(load, kind)], aboard.circuits, tuple(aboard.switches.values()))
    return f"take {load.name} for a {kind.function.replace('_', ' ')}", taken[1]


def closer(spacing_mm: float) -> Fix:
    def fix(finding: Finding, draft: Draft) -> Edit | None:
        run = _Place(finding, draft).run
        if run is None:
            return None
        return change_run(dataclasses.replace(run, support_mm=spacing_mm), "supports")

    return fix


def shortest_way(finding: Finding, draft: Draft) -> Edit | None:
    return send_by_way(finding.subjects[0], finding.subjects[0], ())
