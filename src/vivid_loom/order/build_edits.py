"""Edits of what is finished on the bench, and of what lies in the boat."""

import dataclasses
from collections.abc import Collection

from vivid_loom.order.edits import Edit
from vivid_loom.order.records import BuiltBeside, BuiltCircuit, BuiltWire, Landing, Order, Tick

__all__ = ["record_built", "tick_wire", "untick_wires"]


def record_built(
    wires: tuple[BuiltWire, ...],
    circuits: tuple[BuiltCircuit, ...],
    landings: tuple[Landing, ...],
    beside: tuple[BuiltBeside, ...],
) -> Edit:
    """Keep what lies in the boat: conductors, sizes and devices, numbers, bonds and spares."""

    def apply(order: Order) -> Order:
        return dataclasses.replace(
            order, built=wires, built_with=circuits, landings=landings, built_beside=beside
        )

    return "record as built", apply


def tick_wire(tick: Tick) -> Edit:
    """Tick a wire as built; an earlier tick of it is replaced."""

    def apply(order: Order) -> Order:
        kept = tuple(t for t in order.ticks if t.wire != tick.wire)
        return dataclasses.replace(order, ticks=(*kept, tick))

    return f"tick {tick.wire} as built", apply


def untick_wires(wires: Collection[str]) -> Edit:
    """Take the ticks of wires back."""
    gone = frozenset(wires)

    def apply(order: Order) -> Order:
        return dataclasses.replace(order, ticks=tuple(t for t in order.ticks if t.wire not in gone))

    told = f"the ticks of {len(gone)} wires" if len(gone) != 1 else f"the tick of {min(gone)}"
    return f"take back {told}", apply
