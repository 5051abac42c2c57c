"""The arithmetic behind a feeder's size: demand, return, its share of the drop."""

from collections.abc import Iterator
from typing import Final, NamedTuple

from vivid_loom.boat import SOURCES
from vivid_loom.drafting.decision import Alternative, Decision, Lazy, Step
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.sizing.feeder_limits import FeederSize
from vivid_loom.drafting.sizing.fixed_point import Sizes
from vivid_loom.drafting.sizing.ladder import Ladder
from vivid_loom.drafting.sizing.needs import FeederNeed
from vivid_loom.drafting.sizing.outcome import (
    LIES,
    Asked,
    Sized,
    ampacity_step,
    protection_decision,
    resistance_step,
)
from vivid_loom.quantities import figure
from vivid_loom.quantities.reckoning import Reckoned, keyed
from vivid_loom.standards import (
    ampacity,
    demand,
    drop,
    protection,
    short_circuit,
    smallest,
    terminals,
)
from vivid_loom.standards.source import OUR_CHOICE, Source

__all__ = ["sized_feeder"]


def _feeder_protection(need: FeederNeed, bears_a: float, aboard: Aboard) -> Decision[float] | None:
    family = need.feed.family if need.feed else None
    if family is None or need.rating_a != need.rating_a:
        return None
    override = aboard.order.override(need.planned.id, "protection_a")
    drafted = need.drafted_a if need.drafted_a == need.drafted_a else need.rating_a
    built = aboard.order.built_as(need.planned.id)
    lies = built is not None and built.device == (family, drafted)
    why = "headroom" if drafted > need.least_a else _why_least(need)
    why = "as built" if lies else why
    steps = Lazy(lambda: tuple(_protection_steps(need)))
    larger = need.bounds[0][0] if need.bounds else "more than needed"
    asked = Asked(
        drafted,
        need.rating_a,
        why,
        steps,
        family,
        override,
        need.borne_a,
        f"not borne by {larger}",
    )
    return protection_decision(asked, bears_a)


def _why_least(need: FeederNeed) -> str:
    return "demand" if need.margin * need.borne_a >= need.largest_a else "selectivity"


def _protection_steps(need: FeederNeed) -> Iterator[Step]:
    """Return the least device that serves, and what keeps it from being larger."""
    margin = keyed(need.margin) * keyed(need.borne_a)
    words = f"{need.margin:g} × the demand" if need.margin > 1 else "what its contact passes"
    yield Step(words, margin, "A", protection.RATING_SOURCE)
    words = (
        f"least: the next standard rating, above the largest device behind it, "
        f"{figure(need.largest_a)} A"
    )
    yield Step(words, source=protection.RATING_SOURCE, gives=f"{figure(need.least_a)} A")
    told = ", ".join(
        f"{what} {figure(amps)} A" for what, amps in need.bounds if amps < float("inf")
    )
    yield Step(
        f"largest that stays within {told}, below the device upstream, within every way home and "
        "what a short allows: headroom costs nothing",
        source=protection.RATING_SOURCE,
        gives=f"{figure(need.drafted_a)} A",
    )


class _Figures(NamedTuple):
    """The arithmetic of one feeder, values and formulas in one."""

    own_drop: Reckoned
    bears: Reckoned


def _figures(need: FeederNeed, size: FeederSize, ladder: Ladder) -> _Figures:
    out = keyed(need.borne_a) * keyed(size.out_m)
    home = keyed(need.home.total_a) * keyed(size.home_m)
    ohm, free_a = float(ladder.ohm_per_m[size.rung]), float(ladder.free_air_a[size.rung])
    return _Figures((out + home) * keyed(ohm), keyed(free_a) * keyed(size.factor))


def _asks(need: FeederNeed, size: FeederSize, aboard: Aboard, ladder: Ladder) -> Iterator[Step]:
    """Return what asks for which size."""
    top = len(ladder.gauges) - 1
    asked = {what: str(ladder.gauges[min(rung, top)]) for what, rung in size.needed}
    if need.feed:
        yield from _demand_steps(need)
    yield from _bundle_note(size, aboard)
    yield from _reach_asks(need, size, asked)
    yield from _drop_asks(size, aboard, ladder)
    for what, (words, source) in _FLOORS.items():
        if dict(size.needed)[what]:
            alone = what == "branch behind" and need.feed is None
            told = "a battery's minus is as thick as its plus" if alone else words
            if what == "branch drop" and size.decider:
                told = f"{size.decider} behind it holds its own limit only from here on"
            yield Step(told, source=source, gives=asked[what])
    least = smallest.smallest_separate(aboard.profile.series)
    yield Step(f"smallest allowed {least}", source=smallest.SMALLEST_SOURCE, gives=str(least))
    words = f"shop floor {aboard.profile.shop_floor}"
    yield Step(words, source=OUR_CHOICE, gives=asked["shop floor"])


SHARE_SOURCE: Final = Source(
    "our choice", "little copper of a row: v ∝ L·⁴√I", "a feeder shorter than 1 m shares as 1 m"
)
_FLOORS: Final = {
    "as built": (LIES, OUR_CHOICE),
    "maker": ("the least gauge its maker asks for", OUR_CHOICE),
    "branch drop": ("a branch behind it holds its own limit only from here on", OUR_CHOICE),
    "branch behind": (
        "no feeder is thinner than the thickest branch behind it",
        protection.RATING_SOURCE,
    ),
    "short circuit": (
        "a short must open the device in time, and the wire must outlast it",
        short_circuit.WITHSTAND_SOURCE,
    ),
    "plug contact": (
        "a plug contact must take the wire and bear the device",
        terminals.CONTACT_SOURCE,
    ),
}


def _bundle_note(size: FeederSize, aboard: Aboard) -> Iterator[Step]:
    """Say what it lies with, where that makes it bear less."""
    school = aboard.profile.school
    share = ampacity.bundle_factor(size.bundled_with, school)
    if share < 1:
        note = f"bundle of {size.bundled_with} loaded: factor {share:g}"
        yield Step(note, source=ampacity.bundle_source(school))


def _demand_steps(need: FeederNeed) -> Iterator[Step]:
    d = need.out
    tenth = keyed(0.1) * keyed(d.b_sum_a)
    yield Step("10 % of the B-loads", tenth, "A")
    spare = keyed(max(0.1 * d.spare_sum_a, d.spare_largest_a))
    if d.spare_sum_a:
        words = f"allowance for spare positions: 10 % of {figure(d.spare_sum_a)} A, or one of them"
        yield Step(words, spare, "A", OUR_CHOICE)
    total = keyed(d.a_sum_a) + keyed(max(tenth.value, d.b_largest_a))
    yield Step(
        f"demand: A-loads plus the larger of the 10 % and the largest B-circuit, "
        f"{figure(d.b_largest_a)} A" + (", plus the allowance" if d.spare_sum_a else ""),
        total + spare if d.spare_sum_a else total,
        "A",
        demand.DEMAND_SOURCE,
    )
    everything = keyed(d.a_sum_a) + keyed(d.b_sum_a)
    spares = keyed(d.spare_sum_a)
    yield Step("everything on at once", everything + spares if spares.value else everything, "A")
    if need.charge_a > d.total_a:
        words = "what charge sources send back through it is more, and counts"
        yield Step(words, keyed(need.charge_a), "A", OUR_CHOICE)


def _reach_asks(need: FeederNeed, size: FeederSize, asked: dict[str, str]) -> Iterator[Step]:
    """Return the ampacities asked for: by the demand, the device, what comes home."""
    if need.feed:
        yield _reach("the demand", need.borne_a, size.factor, asked["ampacity"])
    if need.rating_a == need.rating_a:
        yield _reach("the device", need.rating_a, size.factor, asked["protection"])
    if need.guard_a == need.guard_a:
        yield _reach("the device upstream", need.guard_a, size.factor, asked["protection"])
    if need.planned.bus:
        flows_a = max(need.home.total_a, need.charge_a)
        words, most, factor = (
            "the devices whose current may come home here",
            need.return_a,
            size.heat,
        )
        if flows_a / size.factor > most / factor:
            words, most, factor = "what comes home here", flows_a, size.factor
        yield _reach(words, most, factor, asked["return"])


def _drop_asks(size: FeederSize, aboard: Aboard, ladder: Ladder) -> Iterator[Step]:
    """Return what the feeders in its row may drop, its share, and the size that keeps to it."""
    share = size.share
    if share is None:
        return
    if share.branch:
        words = (
            f"what {share.branch} leaves its feeders of its limit, in the thickest wire it takes"
        )
        yield Step(words, keyed(share.row_v), "V", drop.DROP_SOURCE)
    else:
        words = f"{aboard.profile.feeder_share:.0%} of the limit: what feeders in a row may drop"
        yield Step(words, keyed(share.row_v), "V", OUR_CHOICE)
    if share.left_v != share.row_v:
        words = "left of it beside those whose terminals, or the engineer, set their size"
        yield Step(words, keyed(share.left_v), "V", OUR_CHOICE)
    own = keyed(share.left_v) * keyed(share.weight) / keyed(share.whole)
    yield Step("its share, by length × ⁴√A", own, "V", SHARE_SOURCE)
    words = "greatest resistance for that at its current × length"
    keeps = -ladder.ohm_per_m >= -share.ohm_per_m * (1 + 1e-12)
    gives = str(ladder.gauges[int(keeps.argmax())]) if keeps.any() else "none stocked"
    yield Step(words, own / keyed(share.moment_am), "Ω/m", drop.DROP_SOURCE, gives=gives)


def _reach(what: str, amps: float, factor: float, gives: str) -> Step:
    return Step(
        f"ampacity {what} asks for in free air",
        keyed(amps) / keyed(factor),
        "A",
        protection.RATING_SOURCE,
        gives=gives,
    )


_ASKS: Final = {"drop": "its share of the drop"}


def _thinner(size: FeederSize, ladder: Ladder) -> tuple[Alternative, ...]:
    """Return the next thinner size and what fails with it, behind the least device that serves."""
    if not size.rung:
        return ()
    asked = size.least or size.needed
    failing = ", ".join(_ASKS.get(n, n) for n, rung in asked if rung > size.rung - 1)
    verdict = f"fails {failing}" if failing else "allowed"
    return (Alternative(str(ladder.gauges[size.rung - 1]), verdict, not failing),)


def _limit_percent(size: FeederSize, nominal_v: float, aboard: Aboard) -> float:
    """Return what a feeder and those ahead of it may drop at most, as a share of the voltage."""
    share, profile = size.share, aboard.profile
    if share is None or share.branch:
        return profile.critical_drop_percent
    return share.row_v / profile.feeder_share / nominal_v * 100


def sized_feeder(need: FeederNeed, sizes: Sizes, aboard: Aboard, ladder: Ladder) -> Sized:
    """Open up one feeder: demand, return, its own share of the drop."""
    size = sizes.feeders[need.planned.id]
    gauge, network = ladder.gauges[size.rung], aboard.boat.network
    nominal = network.voltage(need.feed.source if need.feed else "")
    worked = _figures(need, size, ladder)
    # what a charge source gives flows the other way through the feeders ahead
    supply = network.supplies.get(need.planned.feeds)
    gives = supply is not None and supply.kind in SOURCES
    ahead = network.to_source(need.feed.source) if need.feed and not gives else ()
    before_v = max((sum(sizes.feeders[n].drop_v for n in chain) for chain in ahead), default=0.0)
    total_v = worked.own_drop.value + before_v
    demand_a = need.borne_a

    def steps() -> tuple[Step, ...]:
        words = "drop of this feeder at demand, there and home"
        return (
            *_asks(need, size, aboard, ladder),
            resistance_step(gauge, aboard.profile.conductor_c),
            Step(words, worked.own_drop, "V", drop.DROP_SOURCE),
            ampacity_step(gauge, worked.bears, aboard),
        )

    top = max(rung for _, rung in size.needed)
    gauge_decision = Decision(
        value=gauge,
        drafted=ladder.gauges[size.drafted],
        governed_by=[n for n, rung in size.needed if rung == top][-1],
        steps=Lazy(steps),
        alternatives=Lazy(lambda: _thinner(size, ladder)),
        override=aboard.order.override(need.planned.id, "gauge"),
    )
    return Sized(
        gauge=gauge_decision,
        protection=_feeder_protection(need, worked.bears.value, aboard),
        current_a=demand_a if need.feed else need.home.total_a,
        peak_a=need.out.everything_a if need.feed else need.home.everything_a,
        ampacity_a=worked.bears.value,
        derating=size.factor,
        alone_a=float(ladder.free_air_a[size.rung]) * size.heat,
        loop_length_m=size.out_m + size.home_m,
        drop_v=total_v,
        drop_percent=total_v / nominal * 100,
        drop_limit_percent=_limit_percent(size, nominal, aboard),
        home_a=need.home.total_a,
        heating_a=max(demand_a, need.home.total_a),
        chain_v=size.share.row_v if size.share else 0.0,
        decider=size.decider,
        without=ladder.gauges[size.plain] if size.decider else None,
    )
