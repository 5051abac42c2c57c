"""The arithmetic behind a feeder's size: demand, return, its share of the drop."""

from collections.abc import Iterator

from vivid_loom.drafting.decision import Alternative, Decision, Lazy, Step
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.sizing.feeder_sizes import FeederSize
from vivid_loom.drafting.sizing.fixed_point import Sizes
from vivid_loom.drafting.sizing.ladder import Ladder
from vivid_loom.drafting.sizing.needs import FeederNeed
from vivid_loom.drafting.sizing.outcome import (
    Sized,
    ampacity_step,
    protection_decision,
    resistance_step,
)
from vivid_loom.quantities import figure, key_in
from vivid_loom.standards import demand, drop, protection, short_circuit, smallest
from vivid_loom.standards.source import OUR_CHOICE

__all__ = ["sized_feeder"]


def _feeder_protection(need: FeederNeed, bears_a: float, aboard: Aboard) -> Decision[float] | None:
    family, demand_a = need.supply.feed_family, need.out.total_a
    if family is None or need.rating_a != need.rating_a:
        return None
    wanted = Step(
        f"next standard rating from demand {figure(demand_a)} A and above the largest device "
        f"behind it, {figure(need.largest_a)} A",
        source=protection.RATING_SOURCE,
    )
    fits = (r for r in protection.RATINGS_A[family] if r >= demand_a and r > need.largest_a)
    drafted = next(fits, need.rating_a)
    wanted = wanted._replace(gives=f"{figure(drafted)} A")
    return protection_decision(
        drafted,
        need.rating_a,
        "demand" if demand_a >= need.largest_a else "selectivity",
        (wanted,),
        bears_a,
        family,
        aboard.order.override(need.planned.id, "protection_a"),
        "more than needed",
    )


def _asks(
    name: str, need: FeederNeed, size: FeederSize, aboard: Aboard, ladder: Ladder
) -> Iterator[Step]:
    """Return what asks for which size."""
    profile, d = aboard.profile, need.out
    asked = {
        what: str(ladder.gauges[min(rung, len(ladder.gauges) - 1)]) for what, rung in size.needed
    }
    yield Step("10 % of the B-loads", f"0.1 × {key_in(d.b_sum_a)}", 0.1 * d.b_sum_a, "A")
    yield Step(
        f"demand: A-loads plus the larger of that and the largest B-load, "
        f"{figure(d.b_largest_a)} A",
        f"{key_in(d.a_sum_a)} + {key_in(max(0.1 * d.b_sum_a, d.b_largest_a))}",
        d.total_a,
        "A",
        demand.DEMAND_SOURCE,
    )
    yield Step(
        "everything on at once", f"{key_in(d.a_sum_a)} + {key_in(d.b_sum_a)}", d.everything_a, "A"
    )
    yield _reach("the demand", d.total_a, size.factor, asked["ampacity"])
    if need.rating_a == need.rating_a:
        yield _reach("the device", need.rating_a, size.factor, asked["protection"])
    if need.planned.bus:
        most = max(need.return_a, need.home.total_a)
        words = "the devices whose current may come home here"
        yield _reach(words, most, size.factor, asked["return"])
    limit = profile.critical_drop_percent
    yield Step(
        "its part of the critical limit, shared for least copper along the chain by length × √A; "
        "a loop under 1 m takes no part",
        f"{limit:g} / 100 × {aboard.boat.nominal_v:g} × {profile.feeder_share:g} × "
        f"{key_in(size.weight)} / {key_in(size.whole)}",
        size.share_v,
        "V",
        OUR_CHOICE,
    )
    moment = d.total_a * size.out_m + need.home.total_a * size.home_m
    if moment > 0:
        yield Step(
            "greatest resistance for that, there and home",
            f"{key_in(size.share_v)} / ({key_in(d.total_a)} × {key_in(size.out_m)} + "
            f"{key_in(need.home.total_a)} × {key_in(size.home_m)})",
            size.share_v / moment,
            "Ω/m",
            drop.DROP_SOURCE,
            gives=asked["drop"],
        )
    if dict(size.needed)["branch drop"]:
        yield Step(
            "a branch behind it holds its own limit only from here on",
            source=OUR_CHOICE,
            gives=asked["branch drop"],
        )
    if dict(size.needed)["short circuit"]:
        yield Step(
            "a short must open the device in time, and the wire must outlast it",
            source=short_circuit.WITHSTAND_SOURCE,
            gives=asked["short circuit"],
        )
    least = smallest.smallest_separate(profile.series)
    yield Step(f"smallest allowed {least}", source=smallest.SMALLEST_SOURCE, gives=str(least))
    yield Step(f"shop floor {profile.shop_floor}", source=OUR_CHOICE, gives=asked["shop floor"])


def _reach(what: str, amps: float, factor: float, gives: str) -> Step:
    return Step(
        f"ampacity {what} asks for in free air",
        f"{key_in(amps)} / {key_in(factor)}",
        amps / factor,
        "A",
        protection.RATING_SOURCE,
        gives=gives,
    )


def sized_feeder(
    name: str,
    need: FeederNeed,
    size: FeederSize,
    sizes: Sizes,
    aboard: Aboard,
    ladder: Ladder,
) -> Sized:
    """Open up one feeder: demand, return, its own share of the drop."""
    gauge, nominal = ladder.gauges[size.rung], aboard.boat.nominal_v
    ohm, free_a = float(ladder.ohm_per_m[size.rung]), float(ladder.free_air_a[size.rung])
    upstream = sum(sizes.feeders[other].drop_v for other in aboard.boat.supply_chain(name)[1:])
    total_v = size.drop_v + upstream
    d = need.out

    def steps() -> tuple[Step, ...]:
        return (
            *_asks(name, need, size, aboard, ladder),
            resistance_step(gauge, aboard.profile.conductor_c),
            Step(
                "drop of this feeder at demand, there and home",
                f"({key_in(d.total_a)} × {key_in(size.out_m)} + {key_in(need.home.total_a)} × "
                f"{key_in(size.home_m)}) × {key_in(ohm)}",
                size.drop_v,
                "V",
                drop.DROP_SOURCE,
            ),
            ampacity_step(gauge, size.factor, free_a, aboard, ""),
        )

    top = max(rung for _, rung in size.needed)
    failing = ", ".join(n for n, rung in size.needed if rung > size.rung - 1)
    thinner = (
        (
            Alternative(
                str(ladder.gauges[size.rung - 1]),
                f"fails {failing}" if failing else "allowed",
                not failing,
            ),
        )
        if size.rung
        else ()
    )
    gauge_decision = Decision(
        value=gauge,
        drafted=ladder.gauges[size.drafted],
        governed_by=[n for n, rung in size.needed if rung == top][-1],
        steps=Lazy(steps),
        alternatives=thinner,
        override=aboard.order.override(need.planned.id, "gauge"),
    )
    protect = _feeder_protection(need, free_a * size.factor, aboard)
    return Sized(
        gauge=gauge_decision,
        protection=protect,
        current_a=d.total_a,
        peak_a=d.everything_a,
        ampacity_a=free_a * size.factor,
        derating=size.factor,
        loop_length_m=size.out_m + size.home_m,
        drop_v=total_v,
        drop_percent=total_v / nominal * 100,
        drop_limit_percent=aboard.profile.critical_drop_percent,
        home_a=need.home.total_a,
        heating_a=max(d.total_a, need.home.total_a),
        own_drop_v=size.drop_v,
        share_v=size.share_v,
    )
