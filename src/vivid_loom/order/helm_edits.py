"""Edits of what is behind the panels and where switches stand."""

import dataclasses

from vivid_loom.order.edits import Edit, set_override
from vivid_loom.order.records import HandJumper, Order, Override

__all__ = ["decide_jumper", "give_back_jumper", "move_switch"]


def decide_jumper(jumper: HandJumper) -> Edit:
    """Lay a jumper by hand, or leave the drafted one out; an earlier word on it is replaced."""

    def apply(order: Order) -> Order:
        kept = tuple(j for j in order.jumpers if j.ends != jumper.ends)
        made = sorted((*kept, jumper), key=lambda j: (j.start, j.end))
        return dataclasses.replace(order, jumpers=tuple(made))

    verb = "lay a jumper from" if jumper.laid else "leave out the jumper from"
    return f"{verb} {jumper.start} to {jumper.end}", apply


def give_back_jumper(jumper: HandJumper) -> Edit:
    """Have the jumper between two tabs as the draft has it."""

    def apply(order: Order) -> Order:
        kept = tuple(j for j in order.jumpers if j.ends != jumper.ends)
        return dataclasses.replace(order, jumpers=kept)

    return f"jumper from {jumper.start} to {jumper.end} as drafted", apply


def move_switch(
    switch: str, position: int, *, other: str, place: int, reason: str, initials: str
) -> Edit:
    """Fix a switch in a position; what stands there changes places with it.

    Args:
        other: id of the switch that stands there; '' for a free position.
        place: where the other one goes.
    """

    def fixed(name: str, at: int) -> Edit:
        return set_override(
            Override(
                subject=name,
                field="helm_position",
                value=str(at),
                reason=reason,
                initials=initials,
            )
        )

    def apply(order: Order) -> Order:
        moved = fixed(switch, position)[1](order)
        return fixed(other, place)[1](moved) if other else moved

    return f"move {switch} to position {position}", apply
