"""What a decision changes: wires, metres, copper, watts, bench hours, findings."""

from typing import NamedTuple

from vivid_loom.drafting import Draft
from vivid_loom.standards.conductor import COPPER_KG_PER_MM2_M, area_mm2
from vivid_loom.workshop.hours import bench_hours

__all__ = ["Effect", "Figures", "effect", "effect_words", "figures_of"]


class Figures(NamedTuple):
    """Sums over one draft, or their differences.

    Attributes:
        wire_kg, copper_kg: of everything to cut, whole and its copper alone.
        cost: of wire and cable, in the shop's currency.
        watts: at nominal voltage with every known load on.
    """

    circuits: int
    wires: int
    metres: float
    wire_kg: float
    copper_kg: float
    cost: float
    watts: float
    hours: float
    errors: int


class Effect(NamedTuple):
    """Differences of two drafts, after less before, and how many circuits change gauge."""

    by: Figures
    regauged: int


def _wire_sums(draft: Draft) -> tuple[float, float, float, float]:
    """Return metres, kg of wire, kg of copper and cost; cores count as part of their cable."""
    stock = {wire.gauge: wire for wire in draft.catalogue.wires}
    metres = mass_kg = copper_kg = cost = 0.0
    longest: dict[str, float] = {}
    cables = {cable.id: cable.stock for cable in draft.assembled.cables}
    for wire in draft.assembled.wires:
        length_m = wire.cut_mm / 1000
        metres += length_m
        copper_kg += length_m * area_mm2(wire.gauge) * COPPER_KG_PER_MM2_M
        if wire.cable:
            longest[wire.cable] = max(longest.get(wire.cable, 0.0), length_m)
        else:
            mass_kg += length_m * stock[str(wire.gauge)].mass_kg_per_km / 1000
            cost += length_m * stock[str(wire.gauge)].price_per_m
    for piece, length_m in longest.items():
        cable = cables[piece.partition(".")[0]]
        mass_kg += length_m * cable.mass_kg_per_km / 1000
        cost += length_m * cable.price_per_m
    return metres, mass_kg, copper_kg, cost


def figures_of(draft: Draft) -> Figures:
    """Return the sums of a draft."""
    metres, wire_kg, copper_kg, cost = _wire_sums(draft)
    amps = sum(load.running_a or 0.0 for load in draft.aboard.loads.values())
    return Figures(
        circuits=len(draft.circuits),
        wires=len(draft.assembled.wires),
        metres=metres,
        wire_kg=wire_kg,
        copper_kg=copper_kg,
        cost=cost,
        watts=amps * draft.aboard.boat.nominal_v,
        hours=bench_hours(draft),
        errors=sum(f.severity == "error" for f in draft.findings),
    )


def _gauges(draft: Draft) -> dict[str, str]:
    return {row.id: str(row.sized.gauge.value) for row in draft.rows if row.sized}


def effect(before: Draft, after: Draft) -> Effect:
    """Return what ``after`` has more than ``before``."""
    pairs = zip(figures_of(before), figures_of(after), strict=True)
    by = Figures(*(second - first for first, second in pairs))  # type: ignore[arg-type]
    old, new = _gauges(before), _gauges(after)
    return Effect(by, sum(old[name] != new[name] for name in old.keys() & new.keys()))


def _signed(value: float, digits: int, unit: str) -> str:
    rounded = round(value, digits)
    if not rounded:
        return ""
    sign = "+" if rounded > 0 else "−"
    return f"{sign}{abs(rounded):.{digits}f} {unit}"


def effect_words(change: Effect) -> str:
    """Say an effect in one line; 'changes no wire' where nothing moves."""
    by = change.by
    parts = [
        _signed(by.wires, 0, "wires"),
        _signed(by.metres, 1, "m"),
        _signed(by.wire_kg, 1, "kg"),
        _signed(by.watts, 0, "W"),
        _signed(by.hours, 1, "h"),
        f"{change.regauged} circuits change gauge"
        if change.regauged > 1
        else "1 circuit changes gauge"
        if change.regauged
        else "",
        _signed(by.errors, 0, "error" if abs(by.errors) == 1 else "errors"),
    ]
    return ", ".join(part for part in parts if part) or "changes no wire"
