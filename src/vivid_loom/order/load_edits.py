"""Edits of what is aboard: add, change, move, remove, replace loads; spare conductors."""

import dataclasses
from collections.abc import Iterable, Sequence

from vivid_loom.boat import CircuitRequest, Fit, Load, Station, SwitchRequest
from vivid_loom.order.edits import Edit
from vivid_loom.order.records import Order, Spare

__all__ = [
    "add_fit",
    "add_spare",
    "change_circuit",
    "change_loads",
    "change_switch",
    "move_loads",
    "put_together",
    "remove_loads",
    "remove_spare",
]


def _named(loads: Sequence[Load]) -> str:
    return loads[0].name if len(loads) == 1 else f"{len(loads)} loads"


def _merged_circuits(
    base: Iterable[CircuitRequest], new: Iterable[CircuitRequest]
) -> tuple[CircuitRequest, ...]:
    merged = {item.id: item for item in (*base, *new)}
    return tuple(merged.values())


def _put(order: Order, loads: Iterable[Load]) -> Order:
    """Return the order with loads changed where they stand: its own, or the model's."""
    own = {load.id: load for load in order.added.loads}
    changed = {load.id: load for load in order.changed_loads}
    for load in loads:
        (own if load.id in own else changed)[load.id] = load
    return dataclasses.replace(
        order,
        added=dataclasses.replace(order.added, loads=tuple(own.values())),
        changed_loads=tuple(changed[name] for name in sorted(changed)),
    )


def add_fit(fit: Fit) -> Edit:
    """Add loads with their circuits and switches; what is there already is replaced."""

    def apply(order: Order) -> Order:
        back = {load.id for load in fit.loads} | {circuit.id for circuit in fit.circuits}
        switches: dict[str, SwitchRequest] = {
            s.id: s for s in (*order.added.switches, *fit.switches)
        }
        added = dataclasses.replace(
            order.added,
            loads=tuple({x.id: x for x in (*order.added.loads, *fit.loads)}.values()),
            circuits=_merged_circuits(order.added.circuits, fit.circuits),
            switches=tuple(switches.values()),
        )
        removed = tuple(name for name in order.removed if name not in back)
        return dataclasses.replace(order, added=added, removed=removed)

    return f"add {_named(fit.loads)}" if fit.loads else "add circuits", apply


def change_loads(loads: Sequence[Load], what: str) -> Edit:
    """Give loads other figures, as one edit; ``what`` names the figure."""
    return f"set {what} of {_named(loads)}", lambda order: _put(order, loads)


def move_loads(loads: Sequence[Load], station: Station) -> Edit:
    """Put loads at another station."""
    moved = [dataclasses.replace(load, station=station.id) for load in loads]
    return f"move {_named(loads)} to {station.name}", lambda order: _put(order, moved)


def remove_loads(loads: Sequence[Load]) -> Edit:
    """Leave loads out; a circuit that feeds nothing more goes with them."""
    gone = {load.id for load in loads}

    def apply(order: Order) -> Order:
        own = {load.id for load in order.added.loads}
        circuits: list[CircuitRequest] = []
        for circuit in order.added.circuits:
            left = tuple(name for name in circuit.loads if name not in gone & own)
            if left:
                circuits.append(dataclasses.replace(circuit, loads=left))
        kept = {contact.switch for c in circuits for contact in c.contacts}
        used = {contact.switch for c in order.added.circuits for contact in c.contacts}
        added = dataclasses.replace(
            order.added,
            loads=tuple(load for load in order.added.loads if load.id not in gone),
            circuits=tuple(circuits),
            switches=tuple(s for s in order.added.switches if s.id in kept or s.id not in used),
        )
        return dataclasses.replace(
            order,
            added=added,
            changed_loads=tuple(load for load in order.changed_loads if load.id not in gone),
            removed=tuple(sorted({*order.removed, *(gone - own)})),
        )

    return f"remove {_named(loads)}", apply


def put_together(fit: Fit, circuits: Sequence[CircuitRequest]) -> Edit:
    """Put loads on the one new circuit of ``fit``, and take them off those they were on.

    Args:
        circuits: all that are aboard.
    """
    moved = {name for circuit in fit.circuits for name in circuit.loads}
    left: list[CircuitRequest] = []
    emptied: list[str] = []
    for circuit in circuits:
        rest = tuple(name for name in circuit.loads if name not in moved)
        if not rest:
            emptied.append(circuit.id)
        elif rest != circuit.loads:
            left.append(dataclasses.replace(circuit, loads=rest))
    put = add_fit(dataclasses.replace(fit, circuits=(*left, *fit.circuits)))[1]

    def apply(order: Order) -> Order:
        after = put(order)
        kept = tuple(c for c in after.added.circuits if c.id not in emptied)
        return dataclasses.replace(
            after,
            added=dataclasses.replace(after.added, circuits=kept),
            removed=tuple(sorted({*after.removed, *emptied})),
        )

    return f"put {len(moved)} loads on one circuit", apply


def change_switch(switch: SwitchRequest) -> Edit:
    """Give a switch another part, legend, rank, panel or station."""
    return f"change switch {switch.legend}", add_fit(Fit(switches=(switch,)))[1]


def change_circuit(circuit: CircuitRequest, what: str) -> Edit:
    """Feed a circuit otherwise: other pattern, level, supply or contact."""

    def apply(order: Order) -> Order:
        circuits = _merged_circuits(order.added.circuits, (circuit,))
        added = dataclasses.replace(order.added, circuits=circuits)
        return dataclasses.replace(order, added=added)

    return f"set {what} of {circuit.label}", apply


def add_spare(spare: Spare) -> Edit:
    """Plan spare conductors or a pull line; one of the same id is replaced."""

    def apply(order: Order) -> Order:
        spares = {item.id: item for item in (*order.spares, spare)}
        return dataclasses.replace(order, spares=tuple(spares[name] for name in sorted(spares)))

    return f"plan {spare.label}", apply


def remove_spare(spare: Spare) -> Edit:
    """Leave a spare conductor or pull line out."""

    def apply(order: Order) -> Order:
        kept = tuple(item for item in order.spares if item.id != spare.id)
        return dataclasses.replace(order, spares=kept)

    return f"remove {spare.label}", apply
