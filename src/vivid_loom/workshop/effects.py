"""What a decision changes: wires, metres, copper, watts, bench hours, findings."""

from typing import NamedTuple

from vivid_loom.drafting import Draft
from vivid_loom.workshop.hours import bench_hours

__all__ = ["Effect", "Figures", "effect", "effect_words", "figures_of"]


class Figures(NamedTuple):
    """Sums over one draft; ``watts`` at nominal voltage with every known load on."""

    circuits: int
    wires: int
    metres: float
    wire_kg: float
    watts: float
    hours: float
    errors: int


class Effect(NamedTuple):
    """Differences of two drafts, after less before."""

    circuits: int
    wires: int
    metres: float
    wire_kg: float
    watts: float
    hours: float
    errors: int
    regauged: int


def figures_of(draft: Draft) -> Figures:
    """Return the sums of a draft."""
    mass = {wire.gauge: wire.mass_kg_per_km for wire in draft.catalogue.wires}
    wires = draft.assembled.wires
    amps = sum(load.running_a or 0.0 for load in draft.aboard.loads.values())
    return Figures(
        circuits=len(draft.circuits), wires=len(wires),
        metres=sum(wire.cut_mm for wire in wires) / 1000,
        wire_kg=sum(wire.cut_mm * mass[str(wire.gauge)] for wire in wires) / 1e6,
        watts=amps * draft.aboard.boat.nominal_v, hours=bench_hours(draft),
        errors=sum(f.severity == "error" for f in draft.findings),
    )  # fmt: skip


def _gauges(draft: Draft) -> dict[str, str]:
    return {row.id: str(row.sized.gauge.value) for row in draft.rows if row.sized}


def effect(before: Draft, after: Draft) -> Effect:
    """Return what ``after`` has more than ``before``, and how many circuits change gauge."""
    first, second = figures_of(before), figures_of(after)
    old, new = _gauges(before), _gauges(after)
    regauged = sum(old[name] != new[name] for name in old.keys() & new.keys())
    return Effect(
        circuits=second.circuits - first.circuits, wires=second.wires - first.wires,
        metres=second.metres - first.metres, wire_kg=second.wire_kg - first.wire_kg,
        watts=second.watts - first.watts, hours=second.hours - first.hours,
        errors=second.errors - first.errors, regauged=regauged,
    )  # fmt: skip


def _signed(value: float, digits: int, unit: str) -> str:
    rounded = round(value, digits)
    if not rounded:
        return ""
    sign = "+" if rounded > 0 else "−"
    return f"{sign}{abs(rounded):.{digits}f} {unit}"


def effect_words(change: Effect) -> str:
    """Say an effect in one line; 'changes no wire' where nothing moves."""
    parts = [
        _signed(change.wires, 0, "wires"), _signed(change.metres, 1, "m"),
        _signed(change.wire_kg, 1, "kg"), _signed(change.watts, 0, "W"),
        _signed(change.hours, 1, "h"),
        f"{change.regauged} circuits change gauge" if change.regauged > 1
        else "1 circuit changes gauge" if change.regauged else "",
        _signed(change.errors, 0, "error" if abs(change.errors) == 1 else "errors"),
    ]  # fmt: skip
    return ", ".join(part for part in parts if part) or "changes no wire"
