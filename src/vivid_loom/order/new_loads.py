"""New loads and what must come with them: a circuit each, and a helm switch where one is wanted."""

import dataclasses
import re
import unicodedata
from collections.abc import Iterable, Sequence
from typing import Final

from vivid_loom.boat import (
    CircuitRequest,
    ContactRequest,
    Fit,
    Lead,
    LeadFunction,
    Level,
    Load,
    SwitchRequest,
)
from vivid_loom.boat.generic_loads import Feeding

__all__ = [
    "FEEDINGS",
    "fed",
    "fed_each",
    "free_id",
    "id_from_name",
    "joined",
    "missing_leads",
    "refed",
]

FEEDINGS: Final[dict[Feeding, tuple[str, Level, str]]] = {
    "own switch": ("device_switched", "unswitched", ""),
    "helm switch": ("switched", "unswitched", "rocker-spst"),
    "helm button": ("switched", "unswitched", "rocker-momentary"),
    "automatic pump": ("pump_auto_manual", "battery_direct", "rocker-spst"),
    "always live": ("device_switched", "battery_direct", ""),
    "ignition": ("device_switched", "ignition", ""),
}
"""Feeding → (pattern, level, catalogue id of its helm switch)."""


def id_from_name(name: str) -> str:
    """Return a plain id: 'Searchlight, remote' → 'searchlight_remote'."""
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode().lower()
    return re.sub(r"[^a-z0-9]+", "_", plain).strip("_")[:60] or "load"


def free_id(wanted: str, taken: Iterable[str]) -> str:
    """Return ``wanted``, numbered from 2 where it is taken."""
    used = set(taken)
    name, number = wanted, 1
    while name in used:
        number += 1
        name = f"{wanted}_{number}"
    return name


def _circuit_id(taken: set[str]) -> str:
    number = 1
    while f"N{number:02d}" in taken:
        number += 1
    return f"N{number:02d}"


def missing_leads(load: Load, feeding: Feeding) -> tuple[LeadFunction, ...]:
    """Return the leads that a way of feeding needs and the load does not have."""
    needed: tuple[LeadFunction, ...] = (
        ("automatic", "manual", "minus") if feeding == "automatic pump" else ("plus", "minus")
    )
    return tuple(f for f in needed if load.lead(f) is None)


def with_leads(load: Load, feeding: Feeding) -> Load:
    """Return the load with plain tails for the leads nobody has described."""
    added = tuple(Lead(function=f) for f in missing_leads(load, feeding))
    return dataclasses.replace(load, leads=(*load.leads, *added))


def fed(
    loads: Sequence[Load], feeding: Feeding, label: str, taken: Iterable[str], rank: int = 2
) -> Fit:
    """Return loads on one new circuit, chained in the order met, with its helm switch.

    Args:
        label: of the circuit and the switch's legend.
        taken: ids of loads, circuits and switches aboard.
        rank: of the switch; see ``SwitchRequest``.

    Raises:
        ValueError: several loads on an automatic pump's circuit.
    """
    if feeding == "automatic pump" and len(loads) > 1:
        raise ValueError("an automatic pump has a circuit of its own, so that one fault stops one")
    pattern, level, part = FEEDINGS[feeding]
    used = set(taken)
    whole = tuple(with_leads(load, feeding) for load in loads)
    switches: tuple[SwitchRequest, ...] = ()
    contact = None
    if part:
        switch_id = free_id(f"s_{id_from_name(label)}", used)
        switches = (SwitchRequest(id=switch_id, part=part, legend=label, rank=rank),)
        contact = ContactRequest(switch=switch_id)
    circuit = CircuitRequest(
        id=_circuit_id(used),
        label=label,
        pattern=pattern,
        level=level,
        contact=contact,
        loads=tuple(load.id for load in loads),
    )
    return Fit(loads=whole, circuits=(circuit,), switches=switches)


def fed_each(loads: Sequence[Load], feeding: Feeding, taken: Iterable[str], rank: int = 2) -> Fit:
    """Return loads on a new circuit each; see ``fed``."""
    used = set(taken)
    fits: list[Fit] = []
    for load in loads:
        fits.append(fed([load], feeding, load.name, used, rank))
        used |= {circuit.id for circuit in fits[-1].circuits}
        used |= {switch.id for switch in fits[-1].switches}
    return Fit(
        loads=tuple(x for fit in fits for x in fit.loads),
        circuits=tuple(x for fit in fits for x in fit.circuits),
        switches=tuple(x for fit in fits for x in fit.switches),
    )


def joined(loads: Sequence[Load], circuit: CircuitRequest) -> Fit:
    """Return loads that hang on a circuit already there, such as one more light of a string."""
    whole = tuple(with_leads(load, "own switch") for load in loads)
    more = tuple(load.id for load in loads)
    return Fit(loads=whole, circuits=(dataclasses.replace(circuit, loads=(*circuit.loads, *more)),))


def refed(circuit: CircuitRequest, feeding: Feeding, taken: Iterable[str]) -> Fit:
    """Return a circuit fed otherwise, with the helm switch it now needs; its loads stay."""
    pattern, level, part = FEEDINGS[feeding]
    switches: tuple[SwitchRequest, ...] = ()
    contact = None
    if part:
        contact = circuit.contact
        if contact is None:
            switch_id = free_id(f"s_{id_from_name(circuit.label)}", taken)
            switches = (SwitchRequest(id=switch_id, part=part, legend=circuit.label),)
            contact = ContactRequest(switch=switch_id)
    changed = dataclasses.replace(
        circuit, pattern=pattern, level=level, contact=contact, supply="", lead="plus"
    )
    return Fit(circuits=(changed,), switches=switches)
