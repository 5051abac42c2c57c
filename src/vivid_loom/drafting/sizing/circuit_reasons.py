"""The arithmetic behind a circuit's size, so that a pocket calculator arrives at it."""

from collections.abc import Iterator, Sequence

from vivid_loom.drafting.decision import Alternative, Decision, Lazy, Step
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.places.planned import Planned
from vivid_loom.drafting.places.route import Path
from vivid_loom.drafting.sizing.feeder_sizes import shared_feeder_v
from vivid_loom.drafting.sizing.fixed_point import (
    CONSTRAINTS,
    Sizes,
    allowed_rating_a,
)
from vivid_loom.drafting.sizing.ladder import Ladder
from vivid_loom.drafting.sizing.lines import Lines, heating_a, leg_amps, worst_path
from vivid_loom.drafting.sizing.makers import loop_to_m, table_row
from vivid_loom.drafting.sizing.needs import FeederNeed
from vivid_loom.drafting.sizing.outcome import (
    Sized,
    ampacity_step,
    protection_decision,
    resistance_step,
    summed,
)
from vivid_loom.quantities import key_in
from vivid_loom.standards import (
    ampacity,
    drop,
    duty,
    protection,
    short_circuit,
    smallest,
    terminals,
)
from vivid_loom.standards.source import OUR_CHOICE

__all__ = ["sized_circuit"]


def _unserved(lines: Lines, sizes: Sizes, index: int) -> tuple[str, ...]:
    most = int(sizes.circuits.cap[index])
    needed = sizes.needed[:, index].tolist()
    return tuple(n for n, rung in zip(CONSTRAINTS, needed, strict=True) if rung > most)


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
        failing = sizes.failing(index, other)
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


def _bundle_note(index: int, sizes: Sizes, aboard: Aboard) -> tuple[Step, ...]:
    if sizes.bundle[index] == 1:
        return ()
    note = f"bundle of {int(sizes.bundled_with[index])} loaded: factor {sizes.bundle[index]:g}"
    if sizes.passes > 2:
        note += f", settled with the gauges after {sizes.passes} passes"
    return (Step(note, source=ampacity.bundle_source(aboard.profile.school)),)


def _circuit_steps(
    index: int,
    lines: Lines,
    sizes: Sizes,
    paths: tuple[Path, ...],
    needs: dict[str, FeederNeed],
    aboard: Aboard,
    ladder: Ladder,
) -> tuple[Step, ...]:
    """Return what asks for which size, then what the size that stands gives."""
    return (
        *_drop_asks(index, lines, sizes, paths, needs, aboard, ladder),
        *_heat_asks(index, lines, sizes, aboard, ladder),
        *_floor_asks(index, lines, sizes, aboard, ladder),
        *_table_steps(lines.circuits[index], paths, aboard, ladder),
        *_bundle_note(index, sizes, aboard),
        *_standing_steps(index, lines, sizes, aboard, ladder),
    )


def _asked(sizes: Sizes, index: int, constraint: str, ladder: Ladder) -> str:
    """Return the size a constraint asks for in words."""
    rung = int(sizes.needed[CONSTRAINTS.index(constraint), index])
    return str(ladder.gauges[rung]) if rung < len(ladder.gauges) else "none stocked"


def _drop_asks(
    index: int,
    lines: Lines,
    sizes: Sizes,
    paths: tuple[Path, ...],
    needs: dict[str, FeederNeed],
    aboard: Aboard,
    ladder: Ladder,
) -> tuple[Step, ...]:
    circuit, nominal = lines.circuits[index], aboard.boat.nominal_v
    amps = leg_amps(circuit, aboard.loads)
    _, legs = worst_path(circuit, paths, amps)
    moment, feeder_v = float(lines.moment_am[index]), float(sizes.feeder_v[index])
    limit_v = float(lines.limit_v[index])
    shared = shared_feeder_v(circuit.source, circuit.bus, needs, sizes.feeders, aboard, ladder)
    loads = [aboard.loads[name] for name in circuit.loads]
    steps = (
        Step(
            "current of the loads",
            summed([key_in(load.running_a or 0.0) for load in loads]),
            float(lines.current_a[index]),
            "A",
        ),
        Step(
            "current × length of every leg there and back, A·m",
            summed([f"{key_in(amps[i])} × {key_in(paths[i].length_m)}" for i in legs]),
            moment,
            "A·m",
        ),
        Step(
            "shared feeders at demand: " + ", ".join(leg[0] for leg in shared),
            summed([f"{key_in(a)} × {key_in(o)}" for _, a, o, _ in shared]),
            feeder_v,
            "V",
        ),
    )
    if moment <= 0:
        return steps
    percent = limit_v / nominal * 100
    greatest = Step(
        f"greatest resistance for {percent:.4g} % of {nominal:g} V",
        f"({key_in(percent)} / 100 × {nominal:g} − {key_in(feeder_v)}) / {key_in(moment)}",
        (limit_v - feeder_v) / moment,
        "Ω/m",
        drop.DROP_SOURCE,
        gives=_asked(sizes, index, "drop", ladder),
    )
    return (*steps, greatest)


def _heat_asks(
    index: int, lines: Lines, sizes: Sizes, aboard: Aboard, ladder: Ladder
) -> tuple[Step, ...]:
    factor, amps = float(sizes.factor[index]), float(lines.current_a[index])
    words = _factor_words(sizes, index)
    steps: list[Step] = []
    circuit, rung = lines.circuits[index], int(sizes.rung[index])
    heating = float(lines.heating_a[rung, index])
    if heating < amps:
        steps += _duty_steps(circuit, rung, aboard, ladder)
        amps = heating
    steps.append(
        Step(
            f"ampacity the current asks for in free air{words}",
            f"{key_in(amps)} / {key_in(factor)}",
            amps / factor,
            "A",
            ampacity.source(ladder.gauges[rung]),
            gives=_asked(sizes, index, "ampacity", ladder),
        )
    )
    rating = float(lines.rating_a[index])
    if rating == rating:
        above = (
            ""
            if aboard.profile.tolerance == "never_above"
            else ("; the profile allows the next standard size up to 150 % of it")
        )
        steps.append(
            Step(
                f"ampacity the device asks for in free air{words}{above}",
                f"{key_in(rating)} / {key_in(factor)}",
                rating / factor,
                "A",
                protection.RATING_SOURCE,
                gives=_asked(sizes, index, "protection", ladder),
            )
        )
    return tuple(steps)


def _duty_steps(circuit: Planned, rung: int, aboard: Aboard, ladder: Ladder) -> list[Step]:
    """Open up the steady current that heats as much as a short-time motor."""
    steps: list[Step] = []
    tau = float(ladder.time_constant_s[rung])
    for name in circuit.loads:
        load = aboard.loads[name]
        if not load.short_time or load.longest_on_min is None:
            continue
        on_s = 60 * load.longest_on_min
        cycle_s = on_s / (load.duty_percent / 100)
        steps.append(
            Step(
                f"{load.name}: {load.longest_on_min:g} min on in {cycle_s / 60:.4g}, the wire's "
                f"time constant {tau:.4g} s; steady current that heats as much",
                f"{key_in(load.running_a or 0)} × √((1 − exp(−{key_in(on_s)} / {key_in(tau)})) / "
                f"(1 − exp(−{key_in(cycle_s)} / {key_in(tau)})))",
                heating_a(load, tau),
                "A",
                duty.DUTY_SOURCE,
            )
        )
    return steps


def _floor_asks(
    index: int, lines: Lines, sizes: Sizes, aboard: Aboard, ladder: Ladder
) -> Iterator[Step]:
    profile = aboard.profile
    told = {
        "smallest allowed": (
            f"smallest allowed {smallest.smallest_separate(profile.series)}",
            smallest.SMALLEST_SOURCE,
        ),
        "shop floor": (f"shop floor {profile.shop_floor}", OUR_CHOICE),
        "one gauge": (f"one gauge everywhere: {profile.one_gauge}", OUR_CHOICE),
        "plug contact": (
            "a plug contact must take the wire and bear the device",
            terminals.CONTACT_SOURCE,
        ),
        "short circuit": (
            "a short must open the device in time, and the wire must outlast it",
            short_circuit.WITHSTAND_SOURCE,
        ),
        "maker": ("smallest wire the makers allow", OUR_CHOICE),
    }
    for constraint, (text, source) in told.items():
        if constraint != "smallest allowed" and not int(
            sizes.needed[CONSTRAINTS.index(constraint), index]
        ):
            continue
        yield Step(text, source=source, gives=_asked(sizes, index, constraint, ladder))
    if sizes.needed[:, index].max() > lines.cap[index]:
        text = f"the terminals take {ladder.gauges[int(lines.cap[index])]} at most"
        yield Step(text, source=terminals.TERMINAL_SOURCE)


def _standing_steps(
    index: int, lines: Lines, sizes: Sizes, aboard: Aboard, ladder: Ladder
) -> tuple[Step, ...]:
    rung, nominal = int(sizes.rung[index]), aboard.boat.nominal_v
    moment, feeder_v = float(lines.moment_am[index]), float(sizes.feeder_v[index])
    ohm, gauge = float(ladder.ohm_per_m[rung]), ladder.gauges[rung]
    drop_v = moment * ohm + feeder_v
    percent = float(lines.limit_v[index]) / nominal * 100
    free_a, factor = float(ladder.free_air_a[rung]), float(sizes.factor[index])
    return (
        resistance_step(gauge, aboard.profile.conductor_c),
        Step(
            "drop from battery to the worst load and back",
            f"{key_in(moment)} × {key_in(ohm)} + {key_in(feeder_v)}",
            drop_v,
            "V",
            drop.DROP_SOURCE,
        ),
        Step(
            f"of {nominal:g} V; limit {percent:.4g} %",
            f"{key_in(drop_v)} / {nominal:g} × 100",
            drop_v / nominal * 100,
            "%",
            drop.DROP_SOURCE,
        ),
        ampacity_step(gauge, factor, free_a, aboard, _factor_words(sizes, index)),
    )


def _table_steps(
    circuit: Planned, paths: tuple[Path, ...], aboard: Aboard, ladder: Ladder
) -> tuple[Step, ...]:
    """Name what each maker's own length table asks for."""
    found: list[Step] = []
    for name in circuit.loads:
        loop = loop_to_m(circuit, paths, name)
        if row := table_row(aboard.loads[name], loop):
            rung = ladder.rung(row.gauge, f"loads.{name}.maker_lengths")
            asked = str(ladder.gauges[rung])
            text = f"{aboard.loads[name].name}: the maker's table asks for {row.gauge}"
            found.append(
                Step(f"{text} at {loop:.2f} m there and back", source=OUR_CHOICE, gives=asked)
            )
    return tuple(found)


def sized_circuit(
    index: int,
    lines: Lines,
    sizes: Sizes,
    paths: tuple[Path, ...],
    needs: dict[str, FeederNeed],
    aboard: Aboard,
    ladder: Ladder,
) -> Sized:
    """Open up one line of the fixed point."""
    circuit, rung = lines.circuits[index], int(sizes.rung[index])
    nominal = aboard.boat.nominal_v
    loads = [aboard.loads[name] for name in circuit.loads]
    _, legs = worst_path(circuit, paths, leg_amps(circuit, aboard.loads))
    drop_v = float(lines.moment_am[index] * ladder.ohm_per_m[rung] + sizes.feeder_v[index])
    bears_a = float(ladder.free_air_a[rung] * sizes.factor[index])
    gauge_decision = Decision(
        value=ladder.gauges[rung],
        drafted=ladder.gauges[int(sizes.drafted[index])],
        governed_by=_governing(sizes.needed[:, index].tolist()),
        steps=Lazy(lambda: _circuit_steps(index, lines, sizes, paths, needs, aboard, ladder)),
        alternatives=Lazy(lambda: _neighbours(lines, sizes, index, ladder, nominal)),
        override=aboard.order.override(circuit.id, "gauge"),
    )
    protect = None
    if circuit.wanted and lines.rating_a[index] == lines.rating_a[index]:
        protect = protection_decision(
            circuit.wanted.rating_a,
            float(lines.rating_a[index]),
            circuit.wanted.why,
            circuit.wanted.steps,
            allowed_rating_a(bears_a, aboard.profile.tolerance),
            circuit.family,
            aboard.order.override(circuit.id, "protection_a"),
            "more than the maker allows" if circuit.wanted.why == "maker" else "more than needed",
        )
    return Sized(
        gauge=gauge_decision,
        protection=protect,
        current_a=float(lines.current_a[index]),
        peak_a=sum(load.peak_a or load.running_a or 0.0 for load in loads),
        ampacity_a=bears_a,
        derating=float(sizes.factor[index]),
        loop_length_m=sum(paths[i].length_m for i in legs),
        drop_v=drop_v,
        drop_percent=drop_v / nominal * 100,
        drop_limit_percent=float(lines.limit_v[index]) / nominal * 100,
        heating_a=float(lines.heating_a[rung, index]),
        unserved=_unserved(lines, sizes, index),
    )
