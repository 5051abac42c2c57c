"""A branch that costs the boat copper: where else it may hang, each way drafted and weighed."""

import dataclasses
import functools
from collections.abc import Callable, Iterator, Sequence
from typing import Final, NamedTuple

from vivid_loom.boat import Boat, ReturnBus, Supply
from vivid_loom.drafting import Draft, DraftedCircuit, DraftError, draft
from vivid_loom.order import (
    PAST_THE_STRIP,
    Edit,
    Order,
    Override,
    OverrideField,
    change_loads,
    fit_part,
    set_override,
)
from vivid_loom.workshop.effects import figures_of

__all__ = ["Move", "costly", "moves"]

WORTH_KG: Final = 0.01  # less copper is not worth a word
SMALL: Final = "M4"  # the thread of ways and screws that are as small as they come
LARGER: Final = "M5"  # takes 25 mm² instead of 6
Setting = tuple[OverrideField, str]
Makes = Callable[[str, str], Edit]  # reason and initials → the edit that records them


class Move(NamedTuple):
    """One other way to hang a branch.

    Attributes:
        words: 'fed from Heavy bus'.
        make: gives the edit that makes it so, for a reason and initials.
        saved_kg: copper of the whole boat that it saves; less than nothing where it costs some.
        saved_price: of wire and cable, in the catalogue's currency.
        verdict: the first error that it would bring; '' for none.
    """

    words: str
    make: Makes
    saved_kg: float
    saved_price: float
    verdict: str


def costly(done: Draft) -> tuple[str, ...]:
    """Return the branches for whose drop a feeder is thicker than it would be."""
    found = (row.sized.decider for row in done.feeders if row.sized and row.sized.decider)
    return tuple(dict.fromkeys(found))


def _overruled(circuit_id: str, settings: tuple[Setting, ...], reason: str, initials: str) -> Edit:
    """Return one edit that sets several values of a circuit against the draft's own."""
    edits = [
        set_override(
            Override(subject=circuit_id, field=field, value=value, reason=reason, initials=initials)
        )
        for field, value in settings
    ]
    return f"hang {circuit_id} otherwise", _all(edits)


def _hangs(row: DraftedCircuit, done: Draft) -> Iterator[tuple[str, tuple[Setting, ...]]]:
    """Offer other parts of the same level of 'on' to hang it on, and other ways home."""
    boat, levels = done.aboard.boat, done.aboard.levels
    here: Supply | None = boat.places_by_id.get(row.planned.source)
    level = levels[row.planned.source]
    homes = [("", ())] + [
        (f"home to {bus.name}", (("return_bus", bus.id),))
        for bus in boat.return_buses
        if bus.id not in boat.network.engine_blocks
        if bus.id != row.planned.bus
    ]
    parts = [("", ())] + [
        (f"fed from {part.name}", (("supply", part.id),))
        for part in boat.supplies
        if part.ways and part is not here and levels[part.id] == level
    ]
    for fed, from_ in parts:
        for home, to in homes:
            if from_ or to:
                yield ", ".join(filter(None, (fed, home))), (*from_, *to)


def _larger_terminals(row: DraftedCircuit, done: Draft) -> Iterator[tuple[str, Makes]]:
    """Offer to go past the strip, and terminals that take thicker wire where no tab is met."""
    network, strips = done.aboard.boat.network, {s.id for s in done.allocation.strips}
    points = {p for leg in row.planned.plan.legs for p in (leg.start, leg.end)}
    kinds = {p.kind for p in points if p.place not in strips}
    past = any(p.place in strips for p in points)
    settings: tuple[Setting, ...] = (("strip", PAST_THE_STRIP),) if past else ()
    told = ["past its strip"] if past else []
    if past:
        yield told[0], functools.partial(_overruled, row.id, settings)
    supply, bus = network.supplies.get(row.planned.source), network.buses.get(row.planned.bus)
    parts: list[Supply | ReturnBus] = []
    if supply and "way" in kinds and supply.way_stud == SMALL:
        parts.append(dataclasses.replace(supply, way_stud=LARGER))
        told.append(f"{LARGER} ways at {supply.name}")
    if bus and "screw" in kinds and bus.screw == SMALL:
        parts.append(dataclasses.replace(bus, screw=LARGER))
        told.append(f"{LARGER} screws at {bus.name}")
    if parts and "tab" not in kinds:
        yield ", ".join(told), functools.partial(_refitted, row.id, settings, tuple(parts))


def _refitted(
    circuit_id: str,
    settings: tuple[Setting, ...],
    parts: tuple[Supply | ReturnBus, ...],
    reason: str,
    initials: str,
) -> Edit:
    """Return one edit that hangs a circuit otherwise, on parts fitted in place of theirs."""
    hung = _overruled(circuit_id, settings, reason, initials)
    return hung[0], _all([hung, *map(fit_part, parts)])


def _all(edits: Sequence[Edit]) -> Callable[[Order], Order]:
    return lambda order: functools.reduce(lambda before, edit: edit[1](before), edits, order)


def _candidates(row: DraftedCircuit, done: Draft) -> Iterator[tuple[str, Makes]]:
    for words, settings in _hangs(row, done):
        yield words, functools.partial(_overruled, row.id, settings)
    yield from _larger_terminals(row, done)
    loads = [done.aboard.loads[name] for name in row.planned.loads]
    if any(load.drop == "critical" for load in loads):
        percent = done.aboard.profile.other_drop_percent
        wide = [dataclasses.replace(load, drop="other") for load in loads]
        edit = change_loads(wide, f"drop class {percent:g} %")
        yield f"let drop {percent:g} %, where its maker allows it", lambda _, __: edit


def moves(done: Draft, model: Boat, circuit_id: str) -> tuple[Move, ...]:
    """Draft every other way to hang a branch; those that save copper, the most first.

    Args:
        model: the boat as its file has it, without the order's changes.
    """
    row = done.circuit(circuit_id)
    if row is None or row.planned.request is None:
        return ()
    bare = dataclasses.replace(done.aboard.order, accepted=())
    before = {(f.code, f.subjects) for f in done.findings if f.severity == "error"}
    now = figures_of(done)
    found: list[Move] = []
    for words, make in _candidates(row, done):
        try:
            after = draft(make("-", "-")[1](bare), model, done.catalogue, done)
        except DraftError:
            continue  # no way, no screw: it cannot hang there at all
        fresh = (
            f.sentence()
            for f in after.findings
            if f.severity == "error" and (f.code, f.subjects) not in before
        )
        then = figures_of(after)
        saved_kg = now.copper_kg - then.copper_kg
        if saved_kg >= WORTH_KG:
            found.append(Move(words, make, saved_kg, now.cost - then.cost, next(fresh, "")))
    return tuple(sorted(found, key=lambda move: (bool(move.verdict), -move.saved_kg)))
