"""What to fetch from the stores, the fuse chart for the lid, and the findings."""

import math
from collections import Counter, defaultdict
from collections.abc import Iterable
from typing import Final, NamedTuple

from vivid_loom.boat import Load
from vivid_loom.catalogue import Catalogue
from vivid_loom.drafting import Draft, DraftedCircuit, Finding
from vivid_loom.drafting.making.terminate import FORKED
from vivid_loom.drafting.making.wire import End
from vivid_loom.order import Acceptance, Shop
from vivid_loom.quantities import FOOT_M, Gauge
from vivid_loom.sheets.lists.schedule import number
from vivid_loom.sheets.lists.shelf_parts import ShelfPart, shelf_parts
from vivid_loom.sheets.paper.table import Table
from vivid_loom.sheets.proof import proven
from vivid_loom.standards.colours import InsulationColour
from vivid_loom.standards.protection import BLADE_COLOURS

__all__ = ["devices", "findings_table", "fuse_chart", "materials", "terminations", "wire_totals"]

IN_LINE: Final = "blade fuse"


class MaterialRow(NamedTuple):
    """Something to take from a shelf."""

    kind: str
    item: str
    quantity: str
    unit: str
    mass_kg: str
    price: str
    currency: str
    stock: str


class FuseRow(NamedTuple):
    """A device, by block and way."""

    block: str
    way: str
    feeds: str
    rating_a: str
    blade_colour: str
    circuit_id: str


class FindingRow(NamedTuple):
    """A finding in words."""

    code: str
    severity: str
    subjects: str
    finding: str
    remedy: str
    source: str


def wire_totals(draft: Draft) -> dict[tuple[str, str], float]:
    """Return metres to cut by (gauge, colour); wire that lies in the boat is not cut."""
    totals: dict[tuple[Gauge, InsulationColour], float] = defaultdict(float)
    for wire in draft.assembled.wires:
        if not wire.cable and draft.reuse.is_new(wire):
            totals[wire.gauge, wire.colour] += wire.cut_mm / 1000
    for bond in draft.beside.bonds:
        totals[bond.gauge, bond.colour] += bond.cut_mm / 1000
    for item in draft.beside.spares:
        if item.gauge:
            totals[item.gauge, item.colour] += item.spare.count * item.cut_mm / 1000
    return {(str(gauge), str(colour)): metres for (gauge, colour), metres in totals.items()}


class _Shelf(NamedTuple):
    """Where rows of the list of materials get their prices and marks."""

    catalogue: Catalogue
    shop: Shop
    in_feet: bool

    def row(
        self, part: ShelfPart, *, kg: float | None = None, each: float | None = None
    ) -> MaterialRow:
        """Return a row; its price is for all of it.

        Args:
            each: price of one; the catalogue's list where None.
        """
        if each is None:
            each = self.catalogue.price_of(part.item, part.unit)
        count, unit = number(part.quantity), part.unit
        if unit == "m" and self.in_feet:
            count, unit = f"{math.ceil(part.quantity / FOOT_M * 10) / 10:.1f}", "ft"
        elif unit == "m":
            count = f"{part.quantity:.2f}"
        return MaterialRow(
            part.kind,
            part.item,
            count,
            unit,
            "" if kg is None else f"{kg:.3f}",
            "" if each is None else f"{each * part.quantity:.2f}",
            "" if each is None else self.catalogue.currency,
            "",
        )

    def counted(self, kind: str, items: Counter[str]) -> list[MaterialRow]:
        """Return rows of things that are counted."""
        return [self.row(ShelfPart(kind, name, count)) for name, count in sorted(items.items())]

    def device(self, family: str, rating_a: float, count: int) -> MaterialRow:
        """Return a row of fuses or breakers, marked where the shop has none."""
        made = self.row(ShelfPart("protection", f"{family} {number(rating_a)} A", count))
        kept = self.shop.ratings.get(family)
        return made._replace(
            stock="not in stock" if kept is not None and rating_a not in kept else ""
        )


def _cables(draft: Draft, shelf: _Shelf) -> list[MaterialRow]:
    """Return cables by the metre: each piece as long as its longest core."""
    cores: dict[str, float] = {}
    for wire in draft.assembled.wires:
        if wire.cable and draft.reuse.is_new(wire):
            cores[wire.cable] = max(cores.get(wire.cable, 0.0), wire.cut_mm / 1000)
    stocks = {cable.id: cable.stock for cable in draft.assembled.cables}
    metres: Counter[str] = Counter()
    for piece, length_m in cores.items():
        metres[stocks[piece.partition(".")[0]].name] += length_m  # type: ignore[assignment]
    by_name = {stock.name: stock for stock in stocks.values()}
    return [
        shelf.row(
            ShelfPart("cable", name, length_m, "m"),
            kg=length_m * by_name[name].mass_kg_per_km / 1000,
            each=by_name[name].price_per_m,
        )
        for name, length_m in sorted(metres.items())
    ]


def terminations(ends: Iterable[End]) -> Counter[str]:
    """Count what is crimped on; a joint of several conductors has one barrel."""
    found: Counter[str] = Counter()
    joined: set[tuple[str, str]] = set()
    for end in ends:
        shared = "closed-end" in end.termination.kind or FORKED in end.termination.kind
        if not shared or (end.place, end.point) not in joined:
            found[end.termination.kind] += 1
        if shared:
            joined.add((end.place, end.point))
    return found


def _control_fuses_fitted(draft: Draft) -> list[float]:
    """Return the ratings of fuses in control leads that do not lie in the boat, in A."""
    return [amps for load, amps in control_fuses(draft) if load.id not in draft.reuse.places]


def _holders(draft: Draft) -> Counter[str]:
    """Count the holders of fuses that sit in no block and on no post; a breaker is its own."""
    order = draft.aboard.order
    found = Counter(
        f"{row.planned.family} holder, {'in line' if row.planned.request else 'on a bulkhead'}"
        for row in draft.rows
        if row.planned.stub_m and row.planned.family != "breaker"
        if not (built := order.built_as(row.id)) or built.family != row.planned.family
    )
    found.update(f"{IN_LINE} holder, in line" for _ in _control_fuses_fitted(draft))
    return found


def devices(draft: Draft) -> Counter[tuple[str, float]]:
    """Count the boat's protective devices by family and rating, but breakers that are switches."""
    found = Counter(row.device for row in draft.rows if row.id not in draft.breaker_levers)
    found.update((IN_LINE, amps) for _, amps in control_fuses(draft))
    del found["", 0.0]
    return found


def _devices_to_fit(draft: Draft) -> Counter[tuple[str, float]]:
    """Count the devices that are not in the boat yet."""
    built_as, places = draft.aboard.order.built_as, draft.reuse.places
    rows = (row for row in draft.rows if row.id not in draft.breaker_levers)
    in_place = Counter(
        row.device for row in rows if (built := built_as(row.id)) and built.device == row.device
    )
    fused = ((IN_LINE, amps) for load, amps in control_fuses(draft) if load.id in places)
    in_place.update(fused)
    return devices(draft) - in_place


def _switches(draft: Draft) -> Counter[str]:
    """Count the switches to fit by name, those that are breakers by rating as well."""
    found: Counter[str] = Counter()
    for switch in draft.switches:
        if switch.place in draft.reuse.places:
            continue
        rating_a = draft.lever_ratings_a.get(switch.request.id)
        name = switch.part.name
        found[f"{name}, {number(rating_a)} A" if rating_a else name] += 1
    return found


def materials(draft: Draft, shop: Shop) -> Table[MaterialRow]:
    """Return everything that somebody must take from a shelf for the boat's wiring.

    What lies in a boat that is changed is not taken from a shelf again.

    Args:
        shop: tells which devices are not in stock.
    """
    shelf = _Shelf(draft.catalogue, shop, draft.aboard.profile.units == "ft")
    stock = {wire.gauge: wire for wire in draft.catalogue.wires}
    rows = [
        shelf.row(
            ShelfPart("wire", f"{gauge} {colour}", metres, "m"),
            kg=metres * stock[gauge].mass_kg_per_km / 1000,
            each=stock[gauge].price_per_m,
        )
        for (gauge, colour), metres in sorted(wire_totals(draft).items())
    ]
    rows += _cables(draft, shelf)
    made = (end for wire in draft.assembled.wires for end in draft.reuse.new_ends(wire))
    ends = terminations(made)
    ends.update(end.kind for bond in draft.beside.bonds for end in bond.ends)
    rows += shelf.counted("termination", ends)
    plugs = [plug for plug in draft.assembled.plugs if plug.id not in draft.reuse.places]
    shells = Counter(f"{p.ways}-way size {p.contact} key {p.key}" for p in plugs)
    rows += shelf.counted("plug pair with wedges", shells)
    blanks = sum(p.ways - len(p.cavities) for p in plugs)
    if blanks:
        rows.append(shelf.row(ShelfPart("sealing plug", "cavity blank, both halves", 2 * blanks)))
    held = sorted(_devices_to_fit(draft).items())
    rows += [shelf.device(family, rating, count) for (family, rating), count in held]
    rows += shelf.counted("holder", _holders(draft))
    rows += shelf.counted("switch", _switches(draft))
    lines = sum(s.spare.count * s.cut_mm / 1000 for s in draft.beside.spares if s.gauge is None)
    if lines:
        rows.append(shelf.row(ShelfPart("pull line", "pull line 3 mm", lines, "m")))
    rows += map(shelf.row, shelf_parts(draft))
    return Table("materials", "Materials", MaterialRow, tuple(rows))


def control_fuses(draft: Draft) -> list[tuple[Load, float]]:
    """Return every fuse in a control lead that taps a load's plus, with its rating in A."""
    return [
        (draft.aboard.loads[leg.end.place], leg.fuse_a)
        for row in draft.circuits
        for leg in row.planned.plan.legs
        if leg.fuse_a is not None and leg.end.kind == "lead"
    ]


def _sits(feeder: DraftedCircuit) -> str:
    """Say where a feeder's device sits."""
    if feeder.planned.stub_m:
        return "holder"
    return "on the post" if feeder.planned.family in ("post fuse", "class T fuse") else "own way"


def _blade_colour(family: str, rating_a: float) -> str:
    return BLADE_COLOURS.get(rating_a, "") if family == "blade fuse" else ""


def fuse_chart(draft: Draft) -> Table[FuseRow]:
    """Return the devices of the feeders, then the chart for the lid of each block."""
    rows: list[FuseRow] = []
    circuits = sorted(draft.circuits, key=lambda r: (r.planned.source, r.planned.way))
    for row in (*draft.feeders, *circuits):
        planned = row.planned
        held = row.sized.protection if row.sized else None
        if not held and (planned.guard or not planned.request):
            continue  # what leaves a relay or a converter, and a return by itself
        lever = draft.breaker_levers.get(row.id)
        way = lever.place if lever else str(planned.way) if planned.way else "in line"
        rows.append(
            FuseRow(
                planned.source,
                way if planned.request else _sits(row),
                planned.label,
                number(held.value) if held else "not sized",
                _blade_colour(planned.family, held.value) if held else "",
                row.id,
            )
        )
    for load, amps in control_fuses(draft):
        fed = next((row.id for row in draft.circuits if load.id in row.planned.loads), "")
        feeds = f"control lead of {load.name}"
        blade = _blade_colour(IN_LINE, amps)
        rows.append(FuseRow(load.id, "in line", feeds, number(amps), blade, fed))
    return Table("fusechart", "Fuse chart", FuseRow, tuple(rows))


def _finding_row(finding: Finding, answer: Acceptance | None) -> FindingRow:
    """Say a finding; where somebody answers for it, with the reason instead of a remedy."""
    remedy, severity = finding.kind.remedy, str(finding.severity)
    if answer:
        on = f", {answer.date}" if answer.date else ""
        remedy = f"Accepted by {answer.signed}{on}: {answer.reason}"
        severity = f"{severity}, accepted"
    return FindingRow(
        code=finding.code,
        severity=severity,
        subjects=";".join(finding.subjects),
        finding=finding.sentence(),
        remedy=remedy,
        source=str(finding.kind.source),
    )


def findings_table(draft: Draft) -> Table[FindingRow]:
    """Return the findings in words, then those somebody answers for, with the reason."""
    found = proven(draft)
    rows = [_finding_row(finding, None) for finding in (*draft.findings, *found.standing)]
    answered = (*draft.accepted, *found.accepted)
    rows += [_finding_row(finding, answer) for finding, answer in answered]
    return Table("findings", "Findings", FindingRow, tuple(rows))
