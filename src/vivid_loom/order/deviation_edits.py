"""Edits of what was built otherwise than drawn."""

import dataclasses

from vivid_loom.order.edits import Edit, set_override
from vivid_loom.order.records import Deviation, Order, Override, Via

__all__ = ["drafted_as_built", "note_deviation", "refuse_deviation", "sign_deviation"]


def note_deviation(deviation: Deviation) -> Edit:
    """Note that something was built otherwise; the draft stays as it is until it is signed."""

    def apply(order: Order) -> Order:
        number = max((d.number for d in order.deviations), default=0) + 1
        noted = dataclasses.replace(deviation, number=number, verdict="open")
        return dataclasses.replace(order, deviations=(*order.deviations, noted))

    return f"note that {deviation.subject} was built otherwise", apply


def drafted_as_built(deviation: Deviation) -> Edit:
    """Draft as it was built: the device, gauge or way that went in; a joint changes no draft."""

    def apply(order: Order) -> Order:
        if deviation.kind in ("device", "gauge"):
            override = Override(
                subject=deviation.subject,
                field="protection_a" if deviation.kind == "device" else "gauge",
                value=deviation.value,
                reason=deviation.reason,
                initials=deviation.initials,
                time=deviation.date,
                kind="substitution",
            )
            return set_override(override)[1](order)
        if deviation.kind == "way":
            stations = tuple(s for s in deviation.value.split(";") if s)
            kept = [via for via in order.ways if via.circuit != deviation.subject]
            made = [
                *kept,
                *([Via(circuit=deviation.subject, stations=stations)] if stations else []),
            ]
            ways = tuple(sorted(made, key=lambda via: via.circuit))
            return dataclasses.replace(order, ways=ways)
        return order

    return f"draft {deviation.subject} as it was built", apply


def _settled(order: Order, settled: Deviation) -> Order:
    every = tuple(settled if d.number == settled.number else d for d in order.deviations)
    return dataclasses.replace(order, deviations=every)


def sign_deviation(deviation: Deviation, *, signed_by: str, answer: str) -> Edit:
    """Answer for a deviation: from now on the order is drafted as it was built."""
    settled = dataclasses.replace(deviation, verdict="signed", signed_by=signed_by, answer=answer)

    def apply(order: Order) -> Order:
        return _settled(drafted_as_built(deviation)[1](order), settled)

    return f"sign deviation {deviation.number}", apply


def refuse_deviation(deviation: Deviation, *, signed_by: str, answer: str) -> Edit:
    """Refuse a deviation: it is to be built as drawn."""
    settled = dataclasses.replace(deviation, verdict="refused", signed_by=signed_by, answer=answer)
    return f"refuse deviation {deviation.number}", lambda order: _settled(order, settled)
