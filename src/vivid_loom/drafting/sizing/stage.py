"""Stage 4 as a whole: sizes to their fixed point, thickened where a short would outlast the wire,
each with its reasons.
"""

from collections.abc import Mapping
from functools import partial
from math import isfinite
from typing import NamedTuple

from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.kept import Plain
from vivid_loom.drafting.places.planned import Planned
from vivid_loom.drafting.places.route import Path
from vivid_loom.drafting.sizing.circuit_reasons import Settled, beside_neighbours, sized_circuit
from vivid_loom.drafting.sizing.coordination import GENERIC_BAND, Fault, faults
from vivid_loom.drafting.sizing.exposed import Exposed, exposed
from vivid_loom.drafting.sizing.feeder_reasons import sized_feeder
from vivid_loom.drafting.sizing.feeder_sizes import Feeders, Floors
from vivid_loom.drafting.sizing.fixed_point import Sizes, figures_of, size
from vivid_loom.drafting.sizing.headroom import rated, with_headroom
from vivid_loom.drafting.sizing.ladder import Ladder
from vivid_loom.drafting.sizing.lines import Lines
from vivid_loom.drafting.sizing.needs import FeederNeed
from vivid_loom.drafting.sizing.outcome import Sized
from vivid_loom.drafting.sizing.short_paths import Net, Standing
from vivid_loom.drafting.sizing.shorter_ways import shorter_ways

__all__ = ["Sizing", "sizing"]


class Sizing(NamedTuple):
    """Sizes, shorts behind devices and ahead of them, by circuit or feeder id."""

    sized: dict[str, Sized]
    faults: dict[str, Fault]
    exposed: dict[str, Exposed]
    needs: dict[str, FeederNeed]


def _standing(
    lines: Lines, sizes: Sizes, needs: dict[str, FeederNeed], ladder: Ladder
) -> dict[str, Standing]:
    """Return gauge and device of every circuit and feeder, by id."""
    held = {
        line.id: Standing(ladder.gauges[rung], rating if line.wanted and rating == rating else None)
        for line, rung, rating in zip(
            lines.circuits, sizes.rung.tolist(), lines.rating_a.tolist(), strict=True
        )
    }
    for name, need in needs.items():
        feeder = sizes.feeders[name]
        device = need.feed.family if need.feed else None
        protects = device is not None and need.rating_a == need.rating_a
        held[feeder.id] = Standing(ladder.gauges[feeder.rung], need.rating_a if protects else None)
    return held


def _too_thin(
    broken: dict[str, Fault],
    bared: dict[str, Exposed],
    planned: tuple[Planned, ...],
    lines: Lines,
    sizes: Sizes,
    aboard: Aboard,
) -> dict[str, int]:
    """Return one rung more for whatever a short would harm and a thicker wire would save."""
    families = {item.id: item.family for item in planned}
    rungs = {line.id: int(sizes.rung[i]) for i, line in enumerate(lines.circuits)}
    most = {line.id: int(sizes.circuits.cap[i]) for i, line in enumerate(lines.circuits)}
    for feeder in sizes.feeders.values():
        rungs[feeder.id] = feeder.rung
        most[feeder.id] = len(sizes.circuits.ladder.gauges) - 1
    harmed = {
        name
        for name, fault in broken.items()
        if not fault.in_time or (not fault.outlasts and families[name] not in GENERIC_BAND)
    }
    harmed |= {
        name
        for name, one in bared.items()
        if not one.outlasts and not one.is_generic and isfinite(one.passes_a2s)
    }
    return {
        name: rungs[name] + 1
        for name in rungs
        if name in harmed
        and rungs[name] < most[name]
        and aboard.order.override(name, "gauge") is None
    }


def _thickest(
    lines: Lines, feeders: Feeders, sizes: Sizes, aboard: Aboard, asked: Mapping[str, int]
) -> dict[str, int]:
    """Return the rung of the thickest conductor behind every feeder.

    A battery's minus is as thick as its plus: as what it brings current home of.

    Args:
        asked: by feeder, what it will be at least.
    """
    network = aboard.boat.network
    fed = [(line.source, r) for line, r in zip(lines.circuits, sizes.rung.tolist(), strict=True)]
    fed += [
        (network.source_of(name), max(feeder.rung, asked.get(name, 0)))
        for name, feeder in sizes.feeders.items()
    ]
    thickest: dict[str, int] = {}
    for place, rung in sorted(set(fed)):
        for chain in network.to_source(place):
            for name in chain:
                thickest[name] = max(thickest.get(name, 0), rung)
    for name, tops in feeders.homing.items():
        drafted = (max(sizes.feeders[top].drafted, asked.get(top, 0)) for top in tops)
        thickest[name] = max(thickest.get(name, 0), *drafted)
    return thickest


def _with_feeders(
    lines: Lines, feeders: Feeders, short: dict[str, int], aboard: Aboard, ladder: Ladder
) -> tuple[Sizes, Feeders]:
    """Size everything with no feeder thinner than what is behind it, and none for nothing, and
    none lying with more loaded conductors than it was sized for.

    A branch may grow thinner behind a feeder that was thickened for it, or for another that has
    grown thinner since: floors are then tried again at what is behind them now.
    """
    least = Floors(short, {})
    while True:
        sizes = size(lines, feeders, aboard, ladder, least)
        denser = feeders.beside_more(sizes.feeders_with)
        thicker = _outgrown(lines, feeders, sizes, aboard)
        if denser is None and not thicker:
            break
        feeders, least = denser or feeders, Floors(short, {**least.behind, **thicker})
    while True:
        now = _thickest(lines, feeders, sizes, aboard, {})
        lighter = Floors(short, {name: min(rung, now[name]) for name, rung in least.behind.items()})
        if lighter == least:
            return sizes, feeders
        trial = size(lines, feeders, aboard, ladder, lighter)
        if feeders.beside_more(trial.feeders_with) or _outgrown(lines, feeders, trial, aboard):
            return sizes, feeders
        sizes, least = trial, lighter


def _outgrown(lines: Lines, feeders: Feeders, sizes: Sizes, aboard: Aboard) -> dict[str, int]:
    """Return the rung that every feeder gets which is thinner than a conductor behind it.

    What is behind it may be such a feeder itself.
    """
    asked: dict[str, int] = {}
    while True:
        thickest = _thickest(lines, feeders, sizes, aboard, asked)
        more = {
            name: rung
            for name, rung in thickest.items()
            if rung > max(sizes.feeders[name].drafted, asked.get(name, 0))
            and aboard.order.override(name, "gauge") is None
        }
        if not more:
            return asked
        asked |= more


def _changed(
    planned: tuple[Planned, ...], before: dict[str, Standing], now: dict[str, Standing]
) -> tuple[Planned, ...]:
    """Return what a change of sizes changes shorts of: all, once a feeder is another."""
    if any(item.feeds and before.get(item.id) != now.get(item.id) for item in planned):
        return planned
    return tuple(item for item in planned if before.get(item.id) != now.get(item.id))


def sizing(
    planned: tuple[Planned, ...],
    lines: Lines,
    least: dict[str, FeederNeed],
    paths: dict[str, tuple[Path, ...]],
    aboard: Aboard,
    ladder: Ladder,
) -> Sizing:
    """Size everything, and thicken what shorts ask for until nothing asks any more; then raise the
    devices as far as all that allows.

    Args:
        least: what each feeder must bear, with the least devices that serve.
    """
    short: dict[str, int] = {}
    held: dict[str, Standing] = {}
    broken: dict[str, Fault] = {}
    feeders = Feeders(lines, least, paths, aboard, ladder)
    while True:
        sizes, feeders = _with_feeders(lines, feeders, short, aboard, ladder)
        before, held = held, _standing(lines, sizes, least, ladder)
        again = _changed(planned, before, held)
        net = Net(aboard, held, paths, least)
        broken = {**broken, **faults(again, net)}
        bared = exposed(planned, net)
        raised = _too_thin(broken, bared, planned, lines, sizes, aboard)
        if not raised:
            break
        short = {**short, **raised}
    needs = _raised(sizes, net, bared)
    held, before = _standing(lines, sizes, needs, ladder), held
    net = Net(aboard, held, paths, needs)
    broken = {**broken, **faults(_changed(planned, before, held), net)}
    bared = exposed(planned, net)
    sizes = sizes._replace(feeders=rated(sizes.feeders, needs, ladder))
    settled = Settled(lines, sizes, needs, aboard, ladder)
    sized = _opened(settled, paths)
    for name, thinner in shorter_ways(settled, paths, broken).items():
        sized[name] = sized[name].with_thinner(thinner)
    return Sizing(sized, broken, bared, needs)


def _raised(sizes: Sizes, net: Net, bared: dict[str, Exposed]) -> dict[str, FeederNeed]:
    """Return the feeders' needs with the largest devices their sizes allow."""
    aboard = net.aboard
    forced = tuple(aboard.order.override(name, "protection_a") for name in net.needs)
    lying = tuple(net.paths[name] for name in net.needs)
    made_from = (net.needs, Plain(sizes.feeders.values()), forced, lying, aboard.order.built_with)
    ladder = sizes.circuits.ladder
    return aboard.kept.take(
        "headroom",
        "",
        (*made_from, bared, aboard.boat, aboard.profile, ladder),
        lambda: with_headroom(net.needs, sizes.feeders, net, bared, ladder),
    )


def _opened(settled: Settled, paths: dict[str, tuple[Path, ...]]) -> dict[str, Sized]:
    """Open up every size; what stands as before keeps its reasons, but for its neighbours."""
    lines, sizes, needs, aboard, ladder = settled
    kept = aboard.kept
    forced = tuple(aboard.order.override(n, f) for n in needs for f in ("gauge", "protection_a"))
    lies = (forced, aboard.order.built_with)
    held = (Plain(sizes.feeders.values()), needs, lies, aboard.boat, aboard.profile, ladder)
    feeders = kept.take(
        "sized feeders",
        "",
        held,
        lambda: {n: sized_feeder(need, sizes, aboard, ladder) for n, need in needs.items()},
    )
    figures = figures_of(lines, sizes)
    found: dict[str, Sized] = {}
    for i, line in enumerate(lines.circuits):
        open_it = partial(sized_circuit, i, settled, paths[line.id])
        made_from = (
            (line, paths[line.id], feeders, figures[i], sizes.passes),
            tuple([aboard.loads[name] for name in line.loads]),
            aboard.order.override(line.id, "gauge"),
            aboard.order.override(line.id, "protection_a"),
        )
        sized = kept.take("sized", line.id, made_from, open_it)
        found[line.id] = beside_neighbours(sized, i, settled, paths[line.id])
    return {**found, **feeders}
