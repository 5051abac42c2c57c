"""The arithmetic behind every size, written so that a pocket calculator arrives at it."""

from collections.abc import Sequence

from vivid_loom.drafting.allocate import Planned
from vivid_loom.drafting.decision import Alternative, Decision, Lazy, Step
from vivid_loom.drafting.feeders import FeederNeed
from vivid_loom.drafting.ladder import Ladder
from vivid_loom.drafting.lines import Lines, leg_amps, worst_path
from vivid_loom.drafting.makers import loop_to_m, table_row
from vivid_loom.drafting.resolve import Aboard
from vivid_loom.drafting.route import Path
from vivid_loom.drafting.size import (
    CONSTRAINTS,
    FeederSize,
    Sizes,
    allowed_rating_a,
    shared_feeder_v,
)
from vivid_loom.order import Override
from vivid_loom.quantities import Gauge, figure, record
from vivid_loom.standards import ampacity, conductor, demand, drop, protection, smallest
from vivid_loom.standards.source import OUR_CHOICE

__all__ = ["Sized", "sized_circuit", "sized_feeder"]


@record
class Sized:
    """Size and protection of one circuit or feeder.

    Attributes:
        ampacity_a: of the conductor here, derated.
        derating: heat × bundling.
        drop_v: from the battery to the worst load and back.
        home_a: demand on a feeder's return; 0 for circuits, whose legs say what they carry.
        loop_length_m: along the worst path, there and back, without the feeders.
    """

    gauge: Decision[Gauge]
    protection: Decision[float] | None
    current_a: float
    peak_a: float
    ampacity_a: float
    derating: float
    loop_length_m: float
    drop_v: float
    drop_percent: float
    drop_limit_percent: float
    home_a: float = 0.0


def _n(value: float) -> str:
    """Write a number as one keys it into a pocket calculator: six figures, no exponent."""
    text = f"{value:.6g}"
    return f"{value:.10f}".rstrip("0") if "e-" in text else f"{value:.0f}" if "e" in text else text


def _sum(parts: Sequence[str]) -> str:
    return " + ".join(parts) if parts else "0"


def _resistance_step(gauge: Gauge, conductor_c: float) -> Step:
    if gauge.series == "AWG":
        table_c = 75.0
        printed = next(r.ohm_per_kft for r in conductor.AWG_ROWS if r.number == gauge.size)
        at_table = f"{printed} / 304.8"
    else:
        table_c = 20.0
        printed = next(r.ohm_per_km for r in conductor.CLASS5_ROWS if r.area_mm2 == gauge.size)
        at_table = f"{printed} / 1000"
    warm = f"(1 + 0.00393 × {conductor_c - 20:g}) / (1 + 0.00393 × {table_c - 20:g})"
    return Step(
        f"resistance of {gauge} at {conductor_c:g} °C",
        f"{at_table} × {warm}",
        conductor.ohm_per_m(gauge, conductor_c),
        "Ω/m",
        conductor.resistance_source(gauge),
    )


def _ampacity_step(gauge: Gauge, factor: float, free_a: float, aboard: Aboard, why: str) -> Step:
    return Step(
        f"ampacity of {gauge}, {aboard.profile.insulation_c} °C insulation{why}",
        f"{free_a:g} × {_n(factor)}",
        free_a * factor,
        "A",
        ampacity.source(gauge),
    )


def _protection_decision(
    drafted: float, value: float, why: str, steps: tuple[Step, ...], limit_a: float, family: str,
    override: Override | None, cap_text: str,
) -> Decision[float]:  # fmt: skip
    ratings = protection.RATINGS_A[family]
    neighbours = [r for r in ratings if r < value][-1:] + [r for r in ratings if r > value][:1]
    alternatives = tuple(
        Alternative(
            f"{figure(r)} A",
            (f"above the wire's {figure(limit_a)} A" if r > limit_a else cap_text)
            if r > value
            else "opens on the load it must carry",
            False,
        )
        for r in neighbours
    )
    bears = Step(f"the thinnest wire behind it bears {figure(limit_a)} A",
                 source=protection.RATING_SOURCE)  # fmt: skip
    return Decision(
        value=value, drafted=drafted, governed_by=why, steps=(*steps, bears),
        alternatives=alternatives, override=override,
    )  # fmt: skip


def _failing(lines: Lines, sizes: Sizes, index: int, rung: int) -> list[str]:
    return [
        name
        for name, needs in zip(CONSTRAINTS, sizes.needed[:, index].tolist(), strict=True)
        if needs > rung
    ]


def _governing(needed: Sequence[int]) -> str:
    top = max(needed)
    return [name for name, rung in zip(CONSTRAINTS, needed, strict=True) if rung == top][-1]


def _neighbours(
    lines: Lines, sizes: Sizes, index: int, ladder: Ladder, nominal_v: float
) -> tuple[Alternative, ...]:
    rung = int(sizes.rung[index])
    found: list[Alternative] = []
    for other in (rung - 1, rung + 1):
        if not 0 <= other < len(ladder.gauges):
            continue
        volts = float(lines.moment_am[index] * ladder.ohm_per_m[other] + sizes.feeder_v[index])
        percent = 100 * volts / nominal_v
        failing = _failing(lines, sizes, index, other)
        if other > lines.cap[index]:
            failing.append("terminals")
        gives = f"gives {percent:.2f} % drop"
        verdict = f"{gives}; fails {', '.join(failing)}" if failing else f"{gives}; allowed"
        found.append(Alternative(str(ladder.gauges[other]), verdict, not failing))
    return tuple(found)


def _factor_words(sizes: Sizes, index: int) -> str:
    words = ""
    if sizes.factor[index] != sizes.bundle[index]:
        words += ", hot space"
    if sizes.bundle[index] < 1:
        words += f", {int(sizes.bundled_with[index])} loaded conductors together"
    return words


def _passes_note(index: int, sizes: Sizes) -> tuple[Step, ...]:
    if sizes.passes <= 2 or sizes.bundle[index] == 1:
        return ()
    note = f"bundle and gauge settled after {sizes.passes} passes"
    return (Step(note, source=ampacity.BUNDLE_SOURCE),)


def _circuit_steps(
    index: int, lines: Lines, sizes: Sizes, paths: tuple[Path, ...],
    needs: dict[str, FeederNeed], aboard: Aboard, ladder: Ladder,
) -> tuple[Step, ...]:  # fmt: skip
    circuit, rung = lines.circuits[index], int(sizes.rung[index])
    gauge, nominal = ladder.gauges[rung], aboard.boat.nominal_v
    loads = [aboard.loads[name] for name in circuit.loads]
    amps = leg_amps(circuit, aboard.loads)
    _, legs = worst_path(circuit, paths, amps)
    moment, feeder_v = float(lines.moment_am[index]), float(sizes.feeder_v[index])
    ohm = float(ladder.ohm_per_m[rung])
    drop_v = moment * ohm + feeder_v
    limit_percent = float(lines.limit_v[index]) / nominal * 100
    shared = shared_feeder_v(circuit.source, circuit.bus, needs, sizes.feeders, aboard, ladder)
    free_a, factor = float(ladder.free_air_a[rung]), float(sizes.factor[index])
    return (
        Step("current of the loads", _sum([_n(load.running_a or 0.0) for load in loads]),
             float(lines.current_a[index]), "A"),
        Step("current × length of every leg there and back, A·m",
             _sum([f"{_n(amps[i])} × {_n(paths[i].length_m)}" for i in legs]), moment, "A·m"),
        _resistance_step(gauge, aboard.profile.conductor_c),
        Step("shared feeders at demand: " + ", ".join(leg[0] for leg in shared),
             _sum([f"{_n(a)} × {_n(o)}" for _, a, o, _ in shared]), feeder_v, "V"),
        Step("drop from battery to the worst load and back", f"{_n(moment)} × {_n(ohm)} + "
             f"{_n(feeder_v)}", drop_v, "V", drop.DROP_SOURCE),
        Step(f"of {nominal:g} V; limit {limit_percent:g} %", f"{_n(drop_v)} / {nominal:g} × 100",
             drop_v / nominal * 100, "%", drop.DROP_SOURCE),
        _ampacity_step(gauge, factor, free_a, aboard, _factor_words(sizes, index)),
        Step(f"smallest allowed {smallest.smallest_separate(aboard.profile.series)}, shop floor "
             f"{aboard.profile.shop_floor}", source=smallest.SMALLEST_SOURCE),
        *_table_steps(circuit, paths, aboard),
        *_passes_note(index, sizes),
    )  # fmt: skip


def _table_steps(circuit: Planned, paths: tuple[Path, ...], aboard: Aboard) -> tuple[Step, ...]:
    """Name what each maker's own length table asks for."""
    found: list[Step] = []
    for name in circuit.loads:
        loop = loop_to_m(circuit, paths, name)
        if row := table_row(aboard.loads[name], loop):
            text = f"{aboard.loads[name].name}: the maker's table asks for {row.gauge}"
            found.append(Step(f"{text} at {loop:.2f} m there and back", source=OUR_CHOICE))
    return tuple(found)


def sized_circuit(
    index: int, lines: Lines, sizes: Sizes, paths: tuple[Path, ...],
    needs: dict[str, FeederNeed], aboard: Aboard, ladder: Ladder,
) -> Sized:  # fmt: skip
    """Open up one line of the fixed point."""
    circuit, rung = lines.circuits[index], int(sizes.rung[index])
    nominal = aboard.boat.nominal_v
    loads = [aboard.loads[name] for name in circuit.loads]
    _, legs = worst_path(circuit, paths, leg_amps(circuit, aboard.loads))
    drop_v = float(lines.moment_am[index] * ladder.ohm_per_m[rung] + sizes.feeder_v[index])
    bears_a = float(ladder.free_air_a[rung] * sizes.factor[index])
    gauge_decision = Decision(
        value=ladder.gauges[rung], drafted=ladder.gauges[int(sizes.drafted[index])],
        governed_by=_governing(sizes.needed[:, index].tolist()),
        steps=Lazy(lambda: _circuit_steps(index, lines, sizes, paths, needs, aboard, ladder)),
        alternatives=Lazy(lambda: _neighbours(lines, sizes, index, ladder, nominal)),
        override=aboard.order.override(circuit.id, "gauge"),
    )  # fmt: skip
    protect = None
    if circuit.wanted and lines.rating_a[index] == lines.rating_a[index]:
        protect = _protection_decision(
            circuit.wanted.rating_a, float(lines.rating_a[index]), circuit.wanted.why,
            circuit.wanted.steps, allowed_rating_a(bears_a, aboard.profile.tolerance),
            circuit.family, aboard.order.override(circuit.id, "protection_a"),
            "more than the maker allows" if circuit.wanted.why == "maker" else "more than needed",
        )  # fmt: skip
    return Sized(
        gauge=gauge_decision, protection=protect, current_a=float(lines.current_a[index]),
        peak_a=sum(load.peak_a or load.running_a or 0.0 for load in loads),
        ampacity_a=bears_a, derating=float(sizes.factor[index]),
        loop_length_m=sum(paths[i].length_m for i in legs), drop_v=drop_v,
        drop_percent=drop_v / nominal * 100,
        drop_limit_percent=float(lines.limit_v[index]) / nominal * 100,
    )  # fmt: skip


def _feeder_protection(need: FeederNeed, bears_a: float, aboard: Aboard) -> Decision[float] | None:
    family, demand_a = need.supply.feed_family, need.out.total_a
    if family is None or need.rating_a != need.rating_a:
        return None
    wanted = Step(
        f"next standard rating from demand {figure(demand_a)} A and the largest device behind "
        f"it, {figure(need.largest_a)} A", source=protection.RATING_SOURCE,
    )  # fmt: skip
    least = max(demand_a, need.largest_a)
    drafted = protection.next_rating_a(family, least) or need.rating_a
    return _protection_decision(
        drafted, need.rating_a, "demand" if demand_a >= need.largest_a else "selectivity",
        (wanted,), bears_a, family, aboard.order.override(need.planned.id, "protection_a"),
        "more than needed",
    )  # fmt: skip


def sized_feeder(
    name: str, need: FeederNeed, size: FeederSize, sizes: Sizes, aboard: Aboard, ladder: Ladder,
    needs: dict[str, FeederNeed],
) -> Sized:  # fmt: skip
    """Open up one feeder: demand, return, its own share of the drop."""
    gauge, nominal = ladder.gauges[size.rung], aboard.boat.nominal_v
    ohm, free_a = float(ladder.ohm_per_m[size.rung]), float(ladder.free_air_a[size.rung])
    upstream = sum(sizes.feeders[other].drop_v for other in aboard.boat.supply_chain(name)[1:])
    total_v = size.drop_v + upstream
    d = need.out
    steps: tuple[Step, ...] = (
        Step("demand: A-loads plus the larger of 10 % of the B-loads or the largest of them",
             f"{_n(d.a_sum_a)} + {_n(max(0.1 * d.b_sum_a, d.b_largest_a))}", d.total_a, "A",
             demand.DEMAND_SOURCE),
        Step("everything on at once", f"{_n(d.a_sum_a)} + {_n(d.b_sum_a)}", d.everything_a, "A"),
        _resistance_step(gauge, aboard.profile.conductor_c),
        Step("drop of this feeder at demand, there and home",
             f"({_n(d.total_a)} × {_n(size.out_m)} + {_n(need.home.total_a)} × "
             f"{_n(size.home_m)}) × {_n(ohm)}", size.drop_v, "V", drop.DROP_SOURCE),
        Step(f"it may use {size.share_v:.3f} V of the critical limit: shared for least copper "
             "along the chain; a loop under 1 m takes no part", source=OUR_CHOICE),
        _ampacity_step(gauge, size.factor, free_a, aboard, ""),
    )  # fmt: skip
    if need.return_a:
        text = f"devices whose current may come home here: {figure(need.return_a)} A"
        steps = (*steps, Step(text, source=protection.RATING_SOURCE))
    top = max(rung for _, rung in size.needed)
    failing = ", ".join(n for n, rung in size.needed if rung > size.rung - 1)
    thinner = (
        (Alternative(str(ladder.gauges[size.rung - 1]), f"fails {failing}" if failing else
                     "allowed", not failing),)
        if size.rung
        else ()
    )  # fmt: skip
    gauge_decision = Decision(
        value=gauge, drafted=ladder.gauges[size.drafted],
        governed_by=[n for n, rung in size.needed if rung == top][-1], steps=steps,
        alternatives=thinner, override=aboard.order.override(need.planned.id, "gauge"),
    )  # fmt: skip
    protect = _feeder_protection(need, free_a * size.factor, aboard)
    return Sized(
        gauge=gauge_decision, protection=protect, current_a=d.total_a, peak_a=d.everything_a,
        ampacity_a=free_a * size.factor, derating=size.factor,
        loop_length_m=size.out_m + size.home_m, drop_v=total_v,
        drop_percent=total_v / nominal * 100,
        drop_limit_percent=aboard.profile.critical_drop_percent,
        home_a=need.home.total_a,
    )  # fmt: skip
