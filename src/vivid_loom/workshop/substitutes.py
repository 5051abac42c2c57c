"""A device that is not in stock: which other one may go in, and which may not."""

import dataclasses
from collections.abc import Iterator, Mapping
from typing import NamedTuple

from vivid_loom.boat import Boat
from vivid_loom.drafting import Draft, DraftedCircuit, DraftError, draft
from vivid_loom.order import Override, OverrideField, set_override
from vivid_loom.quantities import figure
from vivid_loom.standards.devices import DEVICES

__all__ = ["Stock", "Substitute", "missing", "substitutes"]

Stock = Mapping[str, tuple[float, ...]]
"""Ratings in stock by family; a family that is missing is in stock whole."""


class Substitute(NamedTuple):
    """One way out.

    Attributes:
        field, value: what to overrule; see ``Override``.
        words: '10 A blade fuse', or the block to move to.
        verdict: what speaks against it; 'safe' where nothing does.
    """

    field: OverrideField
    value: str
    words: str
    verdict: str
    allowed: bool


def _in_stock(stock: Stock, family: str, rating_a: float) -> bool:
    kept = stock.get(family)
    return kept is None or rating_a in kept


def missing(done: Draft, stock: Stock) -> tuple[DraftedCircuit, ...]:
    """Return circuits and feeders whose device is not in stock."""
    return tuple(
        row
        for row in done.rows
        if row.sized
        and row.sized.protection
        and not _in_stock(stock, row.planned.family, row.sized.protection.value)
    )


def _candidates(
    done: Draft, row: DraftedCircuit, stock: Stock
) -> Iterator[tuple[OverrideField, str, str]]:
    """Offer the next rating down and up in stock, then blocks of another family."""
    assert row.sized is not None
    assert row.sized.protection is not None
    family, asked = row.planned.family, row.sized.protection.value
    kept = [r for r in DEVICES[family].ratings_a if _in_stock(stock, family, r)]
    lower, upper = [r for r in kept if r < asked], [r for r in kept if r > asked]
    for rating in (*lower[-1:], *upper[:1]):
        yield "protection_a", figure(rating), f"{figure(rating)} A {family}"
    supplies = done.aboard.boat.supplies_by_id
    here = done.aboard.boat.places_by_id.get(row.planned.source)
    if here is None or row.planned.request is None:
        return
    for supply in supplies.values():
        alike = (supply.level, supply.kind == "bus") == (here.level, here.kind == "bus")
        if supply.ways and alike and supply.family != family:
            yield "supply", supply.id, f"{supply.family} on {supply.name}"


def _errors(done: Draft, subject: str) -> dict[str, str]:
    """Return the errors that name a circuit, or something it runs short of, in words."""
    return {
        f.code: f.sentence()
        for f in done.findings
        if f.severity == "error" and subject in f.subjects
    }


def substitutes(done: Draft, model: Boat, circuit_id: str, stock: Stock) -> tuple[Substitute, ...]:
    """Try every way out by drafting it, and say which is safe and why the others are not.

    Up only to the device maker's maximum and the conductor's limit; down where the load stays
    within 0.8 of the rating; otherwise another family; the rules of the draft decide.

    Args:
        model: the boat as its file has it, without the order's changes.
    """
    row = done.circuit(circuit_id)
    if row is None or row.sized is None or row.sized.protection is None:
        return ()
    before = _errors(done, circuit_id)
    asked = f"{figure(row.sized.protection.value)} A {row.planned.family}"
    found: list[Substitute] = []
    for field, value, words in _candidates(done, row, stock):
        trial = Override(
            subject=circuit_id,
            field=field,
            value=value,
            reason=f"for {asked}",
            initials="-",
            kind="substitution",
        )
        order = set_override(trial)[1](dataclasses.replace(done.aboard.order, accepted=()))
        try:
            after = draft(order, model, done.catalogue, done)
        except DraftError as error:
            found.append(Substitute(field, value, words, error.problem, False))
            continue
        fresh = {c: s for c, s in _errors(after, circuit_id).items() if c not in before}
        moved = after.circuit(circuit_id)
        assert moved is not None
        fitted = moved.sized.protection if moved.sized else None
        if field == "supply" and fitted:
            words = f"{figure(fitted.value)} A {moved.planned.family}, {words.split(' on ')[1]}"
            if not _in_stock(stock, moved.planned.family, fitted.value):
                fresh = {"": f"{figure(fitted.value)} A {moved.planned.family} is not in stock."}
        verdict = next(iter(fresh.values()), "safe")
        found.append(Substitute(field, value, words, verdict, not fresh))
    return tuple(sorted(found, key=lambda s: not s.allowed))
