"""The cut plan of one order or several: which wire from which spool, and what is left."""

import dataclasses
import math
from collections import defaultdict
from collections.abc import Iterable, Iterator, Sequence
from typing import Final, NamedTuple

from vivid_loom.drafting import Draft
from vivid_loom.order import Spool
from vivid_loom.workshop.cutting.patterns import cut_from
from vivid_loom.workshop.cutting.problem import Demand, Stock, Used

__all__ = [
    "NEW_WORTH",
    "REMNANT_WORTH",
    "CutPlan",
    "Piece",
    "SpoolCuts",
    "WirePlan",
    "after_cutting",
    "cut_plan",
    "pieces",
]

NEW_SPOOL_M: Final = 100.0  # as delivered; common practice, no source
KEEP_M: Final = 1.0  # a rest at least so long goes back to the shelf; our choice
REMNANT_M: Final = 20.0  # what is shorter is a remnant and used first; our choice
REMNANT_WORTH: Final = 0.8  # of a metre of it, beside one on a spool; our choice
NEW_WORTH: Final = 1.02  # a spool is bought only when the shelf has none


class Piece(NamedTuple):
    """A length to cut for one conductor, or for a cable."""

    order: str
    harness: str
    id: str
    wire: str
    colour: str
    length_mm: float


class SpoolCuts(NamedTuple):
    """What is cut from one spool, in that order.

    Attributes:
        rest_mm: what is left of it; ``kept`` where that goes back to the shelf.
        new: it is to be bought.
    """

    spool: Spool
    pieces: tuple[Piece, ...]
    rest_mm: float
    kept: bool
    new: bool


class WirePlan(NamedTuple):
    """The plan for one gauge in one colour.

    Attributes:
        waste_mm: rests too short to be kept.
        gap_percent: how far the plan may at most be from the best, by the bound.
    """

    wire: str
    colour: str
    spools: tuple[SpoolCuts, ...]
    needed_mm: float
    waste_mm: float
    gap_percent: float

    @property
    def bought(self) -> int:
        """How many new spools it takes."""
        return sum(cuts.new for cuts in self.spools)


class CutPlan(NamedTuple):
    """The plan for everything that is cut."""

    wires: tuple[WirePlan, ...]

    @property
    def needed_mm(self) -> float:
        """What all pieces measure."""
        return sum(wire.needed_mm for wire in self.wires)

    @property
    def waste_mm(self) -> float:
        """Rests too short to be kept."""
        return sum(wire.waste_mm for wire in self.wires)

    @property
    def gap_percent(self) -> float:
        """The worst of all."""
        return max((wire.gap_percent for wire in self.wires), default=0.0)


def pieces(draft: Draft) -> Iterator[Piece]:
    """Yield everything of an order that is cut from a spool: what lies in the boat is not."""
    hull = draft.aboard.order.hull
    cables: dict[str, Piece] = {}
    stocks = {cable.id: cable.stock for cable in draft.assembled.cables}
    for wire in draft.assembled.wires:
        if not draft.reuse.is_new(wire):
            continue
        if not wire.cable:
            gauge, colour = str(wire.gauge), str(wire.colour)
            yield Piece(hull, wire.harness, wire.id, gauge, colour, wire.cut_mm)
            continue
        stock = stocks[wire.cable.partition(".")[0]]
        longest = max(wire.cut_mm, cables[wire.cable].length_mm if wire.cable in cables else 0.0)
        jacket = str(stock.jacket)
        cables[wire.cable] = Piece(hull, wire.harness, wire.cable, stock.name, jacket, longest)
    yield from cables.values()
    for bond in draft.beside.bonds:
        yield Piece(hull, "bonding", bond.id, str(bond.gauge), str(bond.colour), bond.cut_mm)
    for spare in draft.beside.spares:
        for turn in range(spare.spare.count if spare.gauge else 0):
            gauge, colour = str(spare.gauge), str(spare.colour)
            yield Piece(hull, "spare", f"{spare.id}.{turn + 1}", gauge, colour, spare.cut_mm)


def _unit_mm(lengths: Iterable[float]) -> float:
    """Return the largest step, in tenths of a mm, of which all lengths are whole numbers."""
    tenths = [round(length * 10) for length in lengths]
    return math.gcd(*tenths) / 10 if any(tenths) else 1.0


def _wire_plan(wire: str, colour: str, asked: Sequence[Piece], shelf: Sequence[Spool]) -> WirePlan:
    unit = _unit_mm(piece.length_mm for piece in asked)
    by_length: dict[int, list[Piece]] = defaultdict(list)
    for piece in asked:
        by_length[round(piece.length_mm / unit)].append(piece)
    demands = [Demand(length, len(same)) for length, same in sorted(by_length.items())]
    longest = demands[-1].length
    there = [spool for spool in shelf if math.floor(spool.length_m * 1000 / unit) > 0]
    stocks = [
        Stock(
            math.floor(spool.length_m * 1000 / unit + 1e-9),
            1,
            REMNANT_WORTH if spool.length_m < REMNANT_M else 1.0,
        )
        for spool in there
    ]
    new_m = max(NEW_SPOOL_M, math.ceil(longest * unit / 1000))  # or made to length
    new = Stock(math.floor(new_m * 1000 / unit + 1e-9), worth=NEW_WORTH)
    done = cut_from(demands, [*stocks, new], keep=math.ceil(KEEP_M * 1000 / unit))
    left = {length: sorted(same, key=_by_place) for length, same in by_length.items()}
    fresh = Spool(id="new", wire=wire, colour=colour, length_m=new_m)
    used = [_spool_cuts(use, demands, [*there, fresh], left) for use in done.used]
    bought = 0
    named: list[SpoolCuts] = []
    for cuts in used:
        if cuts.new:
            bought += 1
            name = f"new {wire} {colour}{f' {bought}' if bought > 1 else ''}"
            cuts = cuts._replace(spool=dataclasses.replace(cuts.spool, id=name))
        named.append(cuts)
    return WirePlan(
        wire,
        colour,
        tuple(named),
        sum(piece.length_mm for piece in asked),
        sum(cuts.rest_mm for cuts in named if not cuts.kept),
        done.gap_percent,
    )


def _by_place(piece: Piece) -> tuple[str, str, str]:
    return (piece.order, piece.harness, piece.id)


def _spool_cuts(
    use: Used,
    demands: Sequence[Demand],
    spools: Sequence[Spool],
    left: dict[int, list[Piece]],
) -> SpoolCuts:
    """Return the pieces of one spool, the longest first, taken from those still to be cut.

    Args:
        spools: what there is, and last the one that is bought.
    """
    spool, new = spools[use.stock], use.stock == len(spools) - 1
    cut = [
        left[demand.length].pop(0)
        for demand, count in reversed([*zip(demands, use.pieces, strict=True)])
        for _ in range(count)
    ]
    rest = spool.length_m * 1000 - sum(piece.length_mm for piece in cut)
    return SpoolCuts(spool, tuple(cut), round(rest, 3), rest >= KEEP_M * 1000 - 1e-6, new)


def cut_plan(asked: Iterable[Piece], shelf: Sequence[Spool]) -> CutPlan:
    """Return what to cut from which spool, by gauge and colour.

    The least wire is used up, each metre by its worth: that is what the gap is proven of.

    Args:
        shelf: the shop's spools and remnants; what they do not give is cut from new ones, made to
            length where a piece is longer than a spool.
    """
    by_kind: dict[tuple[str, str], list[Piece]] = defaultdict(list)
    for piece in asked:
        by_kind[piece.wire, piece.colour].append(piece)
    return CutPlan(
        tuple(
            _wire_plan(
                wire, colour, same, [s for s in shelf if (s.wire, s.colour) == (wire, colour)]
            )
            for (wire, colour), same in sorted(by_kind.items())
        )
    )


def after_cutting(plan: CutPlan, shelf: Sequence[Spool]) -> tuple[Spool, ...]:
    """Return the shelf when a plan has been cut: rests that are kept, new spools among them."""
    done = {cuts.spool.id: cuts for wire in plan.wires for cuts in wire.spools}
    known = {spool.id for spool in shelf}
    found: list[Spool] = []
    for spool in (*shelf, *(c.spool for c in done.values() if c.spool.id not in known)):
        cuts = done.get(spool.id)
        if cuts is None:
            found.append(spool)
        elif cuts.kept:
            named = _renamed(spool, known, cuts)
            found.append(dataclasses.replace(named, length_m=cuts.rest_mm / 1000))
    return tuple(found)


def _renamed(spool: Spool, known: set[str], cuts: SpoolCuts) -> Spool:
    """Give a bought spool a number of its own, so that the next plan can buy another."""
    if not cuts.new:
        return spool
    number = 1
    while f"S{number}" in known:
        number += 1
    known.add(f"S{number}")
    return dataclasses.replace(spool, id=f"S{number}")
