"""The arithmetic behind a circuit's size, so that a pocket calculator arrives at it."""

from collections.abc import Iterator
from typing import NamedTuple

from vivid_loom.drafting.decision import Alternative, Decision, Lazy, Step
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.places.planned import Planned
from vivid_loom.drafting.places.route import Path
from vivid_loom.drafting.sizing.fixed_point import CONSTRAINTS, Sizes, allowed_rating_a
from vivid_loom.drafting.sizing.ladder import Ladder
from vivid_loom.drafting.sizing.lines import Lines, leg_amps, worst_path
from vivid_loom.drafting.sizing.makers import loop_to_m, shared_m, table_row
from vivid_loom.drafting.sizing.needs import FeederNeed
from vivid_loom.drafting.sizing.outcome import (
    LIES,
    Asked,
    Sized,
    ampacity_step,
    protection_decision,
    resistance_step,
)
from vivid_loom.drafting.sizing.shared_feeders import shared_feeder_v
from vivid_loom.quantities import Gauge, percent_text, revised
from vivid_loom.quantities.reckoning import Reckoned, keyed, total
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

__all__ = ["Settled", "sized_circuit"]


class Settled(NamedTuple):
    """The fixed point and what it was reached from."""

    lines: Lines
    sizes: Sizes
    needs: dict[str, FeederNeed]
    aboard: Aboard
    ladder: Ladder


class _Line(NamedTuple):
    """One circuit of the fixed point, and its drop and ampacity: values and formulas in one.

    Attributes:
        at: its place in the arrays.
        legs: of its worst path.
    """

    at: int
    settled: Settled
    paths: tuple[Path, ...]
    legs: tuple[int, ...]
    amps: tuple[float, ...]
    drop: Reckoned
    bears: Reckoned

    @property
    def circuit(self) -> Planned:
        return self.settled.lines.circuits[self.at]

    @property
    def rung(self) -> int:
        return int(self.settled.sizes.rung[self.at])

    @property
    def gauge(self) -> Gauge:
        return self.settled.ladder.gauges[self.rung]

    @property
    def moment(self) -> float:
        return float(self.settled.lines.moment_am[self.at])

    @property
    def feeder_v(self) -> float:
        return float(self.settled.sizes.feeder_v[self.at])

    @property
    def nominal_v(self) -> float:
        return self.settled.aboard.boat.network.voltage(self.circuit.source)

    @property
    def limit_percent(self) -> float:
        return float(self.settled.lines.limit_v[self.at]) / self.nominal_v * 100

    def needed(self, constraint: str) -> int:
        """Return the rung a constraint asks for."""
        return int(self.settled.sizes.needed[CONSTRAINTS.index(constraint), self.at])

    def asked(self, constraint: str) -> str:
        """Return the size a constraint asks for in words."""
        rung, gauges = self.needed(constraint), self.settled.ladder.gauges
        return str(gauges[rung]) if rung < len(gauges) else "none stocked"

    def factor_words(self) -> str:
        """Say what makes this conductor bear less than in free air."""
        sizes, words = self.settled.sizes, ""
        if sizes.factor[self.at] != sizes.bundle[self.at]:
            words += ", hot space"
        if sizes.bundle[self.at] < 1:
            words += f", {int(sizes.bundled_with[self.at])} loaded conductors together"
        return words


def _line(index: int, settled: Settled, paths: tuple[Path, ...]) -> _Line:
    lines, sizes, ladder = settled.lines, settled.sizes, settled.ladder
    rung = int(sizes.rung[index])
    amps = leg_amps(lines.circuits[index], settled.aboard.loads)
    _, legs = worst_path(lines.circuits[index], paths, amps)
    moment, ohm = float(lines.moment_am[index]), float(ladder.ohm_per_m[rung])
    drop_v = keyed(moment) * keyed(ohm) + keyed(float(sizes.feeder_v[index]))
    bears = keyed(float(ladder.free_air_a[rung])) * keyed(float(sizes.factor[index]))
    return _Line(index, settled, paths, legs, tuple(amps), drop_v, bears)


def _unserved(line: _Line) -> tuple[str, ...]:
    sizes = line.settled.sizes
    most = int(sizes.circuits.cap[line.at])
    needed = sizes.needed[:, line.at].tolist()
    return tuple(n for n, rung in zip(CONSTRAINTS, needed, strict=True) if rung > most)


def _governing(line: _Line) -> str:
    needed = line.settled.sizes.needed[:, line.at].tolist()
    top = max(needed)
    return [name for name, rung in zip(CONSTRAINTS, needed, strict=True) if rung == top][-1]


def _neighbours(line: _Line) -> Iterator[Alternative]:
    ladder, sizes = line.settled.ladder, line.settled.sizes
    for other in (line.rung - 1, line.rung + 1):
        if not 0 <= other < len(ladder.gauges):
            continue
        volts = line.moment * float(ladder.ohm_per_m[other]) + line.feeder_v
        percent = 100 * volts / line.nominal_v
        failing = sizes.failing(line.at, other)
        gives = f"gives {percent_text(percent)} % drop"
        verdict = f"{gives}; fails {', '.join(failing)}" if failing else f"{gives}; allowed"
        yield Alternative(str(ladder.gauges[other]), verdict, not failing)


def _bundle_note(line: _Line) -> Iterator[Step]:
    sizes, index = line.settled.sizes, line.at
    if sizes.bundle[index] == 1:
        return
    note = f"bundle of {int(sizes.bundled_with[index])} loaded: factor {sizes.bundle[index]:g}"
    if sizes.passes > 2:
        note += f", settled with the gauges after {sizes.passes} passes"
    yield Step(note, source=ampacity.bundle_source(line.settled.aboard.profile.school))


def _unloaded_note(line: _Line) -> Iterator[Step]:
    """Say where a wire is thick enough to count as unloaded, and bears too little if not."""
    sizes, index = line.settled.sizes, line.at
    drafted = int(sizes.drafted[index])
    if drafted > int(sizes.circuits.within_terminals(sizes.needed)[index]):
        yield Step(
            "thick enough not to count as loaded; thinner it would bear too little in its bundle",
            source=ampacity.bundle_source(line.settled.aboard.profile.school),
            gives=str(line.settled.ladder.gauges[drafted]),
        )


def _steps(line: _Line) -> tuple[Step, ...]:
    """Return what asks for which size, then what the size that stands gives."""
    return (
        *_drop_asks(line),
        *_heat_asks(line),
        *_floor_asks(line),
        *_table_steps(line),
        *_bundle_note(line),
        *_unloaded_note(line),
        *_standing_steps(line),
    )


def _drop_asks(line: _Line) -> Iterator[Step]:
    circuit, (_, sizes, needs, aboard, ladder) = line.circuit, line.settled
    shared = shared_feeder_v(circuit.source, circuit.bus, needs, sizes.feeders, aboard, ladder)
    loads = circuit.drawing(aboard.loads)
    yield Step("current of the loads", total(keyed(x.running_a or 0.0) for x in loads), "A")
    yield Step(
        "current × length of every leg there and back, A·m",
        total(keyed(line.amps[i]) * keyed(line.paths[i].length_m) for i in line.legs),
        "A·m",
    )
    yield Step(
        "shared feeders at demand: " + ", ".join(leg[0] for leg in shared),
        total(keyed(amps) * keyed(ohm) for _, amps, ohm, _ in shared),
        "V",
    )
    if line.moment <= 0:
        return
    percent, nominal = line.limit_percent, line.nominal_v
    limit = keyed(percent) / keyed(100) * keyed(nominal)
    yield Step(
        f"greatest resistance for {percent:.4g} % of {nominal:g} V",
        (limit - keyed(line.feeder_v)) / keyed(line.moment),
        "Ω/m",
        drop.DROP_SOURCE,
        gives=line.asked("drop"),
    )


def _heat_asks(line: _Line) -> Iterator[Step]:
    lines, sizes, _, aboard, _ = line.settled
    factor = keyed(float(sizes.factor[line.at]))
    amps, words = float(lines.current_a[line.at]), line.factor_words()
    heating = float(lines.heating_a[line.rung, line.at])
    if heating < amps:
        yield from _duty_steps(line)
        amps = heating
    yield Step(
        f"ampacity the current asks for in free air{words}",
        keyed(amps) / factor,
        "A",
        ampacity.source(line.gauge),
        gives=line.asked("ampacity"),
    )
    rating = float(lines.rating_a[line.at])
    if rating == rating:
        above = "; the profile allows the next standard size up to 150 % of it"
        yield Step(
            f"ampacity the device asks for in free air{words}"
            f"{'' if aboard.profile.tolerance == 'never_above' else above}",
            keyed(rating) / factor,
            "A",
            protection.RATING_SOURCE,
            gives=line.asked("protection"),
        )


def _duty_steps(line: _Line) -> Iterator[Step]:
    """Open up the steady current that heats as much as a short-time motor."""
    tau = float(line.settled.ladder.time_constant_s[line.rung])
    for load in line.circuit.drawing(line.settled.aboard.loads):
        if not load.short_time or load.longest_on_min is None:
            continue
        on_s, share = 60 * load.longest_on_min, load.duty_percent / 100
        yield Step(
            f"{load.name}: {load.longest_on_min:g} min on in {on_s / share / 60:.4g}, the wire's "
            f"time constant {tau:.4g} s; steady current that heats as much",
            duty.equivalent(load.running_a or 0.0, on_s, share, tau),
            "A",
            duty.DUTY_SOURCE,
        )


def _floor_asks(line: _Line) -> Iterator[Step]:
    profile = line.settled.aboard.profile
    told = {
        "as built": (LIES, OUR_CHOICE),
        "smallest allowed": (
            f"smallest allowed {smallest.smallest_separate(profile.series)}",
            smallest.SMALLEST_SOURCE,
        ),
        "shop floor": (f"shop floor {profile.shop_floor}", OUR_CHOICE),
        "bilge pump": (
            f"a bilge pump's wire is {smallest.PUMP_FLOOR} or its like at least",
            smallest.PUMP_SOURCE,
        ),
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
        if constraint == "smallest allowed" or line.needed(constraint):
            yield Step(text, source=source, gives=line.asked(constraint))
    cap = int(line.settled.lines.cap[line.at])
    if line.settled.sizes.needed[:, line.at].max() > cap:
        text = f"the terminals take {line.settled.ladder.gauges[cap]} at most"
        yield Step(text, source=terminals.TERMINAL_SOURCE)


def _standing_steps(line: _Line) -> Iterator[Step]:
    aboard, nominal = line.settled.aboard, line.nominal_v
    yield resistance_step(line.gauge, aboard.profile.conductor_c)
    yield Step("drop from battery to the worst load and back", line.drop, "V", drop.DROP_SOURCE)
    yield Step(
        f"of {nominal:g} V; limit {line.limit_percent:.4g} %",
        keyed(line.drop.value) / keyed(nominal) * keyed(100),
        "%",
        drop.DROP_SOURCE,
    )
    yield ampacity_step(line.gauge, line.bears, aboard, line.factor_words())


def _table_steps(line: _Line) -> Iterator[Step]:
    """Name what each maker's own length table asks for."""
    ladder = line.settled.ladder
    network = line.settled.aboard.boat.network
    feeders_m = {f.id: (f.out_m, f.home_m) for f in line.settled.sizes.feeders.values()}
    ahead_m = shared_m(line.circuit.source, line.circuit.bus, network, feeders_m)
    for load in line.circuit.drawing(line.settled.aboard.loads):
        loop = loop_to_m(line.circuit, line.paths, load.id, ahead_m)
        if row := table_row(load, loop):
            rung = ladder.rung(row.gauge, f"loads.{load.id}.maker_lengths")
            text = f"{load.name}: the maker's table asks for {row.gauge}"
            yield Step(
                f"{text} at {loop:.2f} m there and back, its feeders with it",
                source=OUR_CHOICE,
                gives=str(ladder.gauges[rung]),
            )


def _protection(line: _Line) -> Decision[float] | None:
    circuit, aboard = line.circuit, line.settled.aboard
    rating = float(line.settled.lines.rating_a[line.at])
    if circuit.wanted is None or rating != rating:
        return None
    asked = Asked(
        circuit.wanted.rating_a,
        rating,
        circuit.wanted.why,
        circuit.wanted.steps,
        circuit.family,
        aboard.order.override(circuit.id, "protection_a"),
        float(line.settled.lines.current_a[line.at]),
        "more than the maker allows" if circuit.wanted.why == "maker" else "more than needed",
    )
    return protection_decision(asked, allowed_rating_a(line.bears.value, aboard.profile.tolerance))


def beside_neighbours(sized: Sized, index: int, settled: Settled, paths: tuple[Path, ...]) -> Sized:
    """Return a circuit's size with what its neighbours on the ladder would do: to all others too,
    so that they are found anew whatever else has changed.
    """
    others = Lazy(lambda: tuple(_neighbours(_line(index, settled, paths))))
    return revised(sized, gauge=revised(sized.gauge, alternatives=others))


def sized_circuit(index: int, settled: Settled, paths: tuple[Path, ...]) -> Sized:
    """Open up one line of the fixed point, but for its neighbours on the ladder."""
    line = _line(index, settled, paths)
    lines, sizes, _, aboard, ladder = settled
    loads = line.circuit.drawing(aboard.loads)
    gauge_decision = Decision(
        value=line.gauge,
        drafted=ladder.gauges[int(sizes.drafted[index])],
        governed_by=_governing(line),
        steps=Lazy(lambda: _steps(line)),
        override=aboard.order.override(line.circuit.id, "gauge"),
    )
    return Sized(
        gauge=gauge_decision,
        protection=_protection(line),
        current_a=float(lines.current_a[index]),
        peak_a=sum(load.peak_a or load.running_a or 0.0 for load in loads),
        ampacity_a=line.bears.value,
        derating=float(sizes.factor[index]),
        loop_length_m=sum(paths[i].length_m for i in line.legs),
        drop_v=line.drop.value,
        drop_percent=line.drop.value / line.nominal_v * 100,
        drop_limit_percent=line.limit_percent,
        heating_a=float(lines.heating_a[line.rung, index]),
        unserved=_unserved(line),
    )
