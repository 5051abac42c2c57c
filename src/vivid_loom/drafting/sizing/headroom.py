"""Feeders' devices as large as what they protect allows: headroom under the wire costs nothing."""

from collections.abc import Iterator, Mapping
from math import isnan

from vivid_loom.boat import SOURCES
from vivid_loom.drafting.places.protect import MARGIN
from vivid_loom.drafting.sizing.coordination import (
    greatest_short_a,
    selective_to_a,
    survives_short,
)
from vivid_loom.drafting.sizing.exposed import Exposed
from vivid_loom.drafting.sizing.feeder_limits import FeederSize, device_rungs
from vivid_loom.drafting.sizing.ladder import Ladder
from vivid_loom.drafting.sizing.needs import FeederNeed, with_ratings
from vivid_loom.drafting.sizing.short_paths import Net
from vivid_loom.standards.conductor import area_mm2
from vivid_loom.standards.devices import DEVICES
from vivid_loom.standards.protection import next_rating_a
from vivid_loom.standards.terminals import CONTACTS, HEAVY, STUD_MAX_A

__all__ = ["rated", "with_headroom"]

Bound = tuple[str, float]


def with_headroom(
    needs: Mapping[str, FeederNeed],
    sizes: Mapping[str, FeederSize],
    net: Net,
    bared: Mapping[str, Exposed],
    ladder: Ladder,
) -> dict[str, FeederNeed]:
    """Return the needs with the largest standard ratings, those next to a battery first.

    No wire grows for it: a rating stands only where the conductor, the part it feeds, its stud, the
    device upstream, every way home and a short allow it.

    Args:
        needs: with the least ratings, in the order devices stand upstream of one another.
        net: with the sizes that stand.
        bared: shorts ahead of devices, with the least ratings.
    """
    raising = _Raising(needs, sizes, net, bared, ladder)
    for name in needs:
        raising.raise_one(name)
    found = with_ratings(needs, raising.feeder_a, net.network)
    return {
        name: need._replace(
            drafted_a=raising.drafted_a.get(name, need.drafted_a),
            bounds=raising.bounds.get(name, ()),
        )
        for name, need in found.items()
    }


def rated(
    sizes: Mapping[str, FeederSize], needs: Mapping[str, FeederNeed], ladder: Ladder
) -> dict[str, FeederSize]:
    """Return the sizes with what the raised devices ask for, which is no more than stands."""
    found: dict[str, FeederSize] = {}
    for name, size in sizes.items():
        asked = device_rungs(needs[name], size.heat, size.factor, ladder)
        needed = tuple((what, asked.get(what, rung)) for what, rung in size.needed)
        found[name] = size._replace(needed=needed, least=size.needed)
    return found


class _Raising:
    """Raises devices one by one; what was raised bounds what stands behind it."""

    def __init__(
        self,
        needs: Mapping[str, FeederNeed],
        sizes: Mapping[str, FeederSize],
        net: Net,
        bared: Mapping[str, Exposed],
        ladder: Ladder,
    ) -> None:
        self.needs, self.sizes, self.net, self.ladder = needs, sizes, net, ladder
        self.bared: dict[str, list[Exposed]] = {name: [] for name in needs}
        for one in bared.values():
            for device in one.upstream:
                self.bared.setdefault(device.id, []).append(one)
        self.network = net.network
        self.feeder_a = {n: need.rating_a for n, need in needs.items() if not isnan(need.rating_a)}
        self.drafted_a: dict[str, float] = {}
        self.bounds: dict[str, tuple[Bound, ...]] = {}
        self.homes = {n: need for n, need in needs.items() if need.planned.bus}
        self.home_a = {n: h.circulation.most_a(self.feeder_a) for n, h in self.homes.items()}
        """What may come home through each return, no less than that: kept while devices rise."""
        self.bears = {
            name: float(ladder.free_air_a[size.rung]) * size.factor for name, size in sizes.items()
        }
        self.bears_alone = {
            name: float(ladder.free_air_a[size.rung]) * size.heat for name, size in sizes.items()
        }

    def raise_one(self, name: str) -> None:
        """Give a feeder the largest device it may have; the engineer's own stands."""
        need = self.needs[name]
        feed = need.feed
        if feed is None or feed.family is None or isnan(need.least_a):
            return
        bounds = tuple(sorted(self._bounds(need), key=lambda bound: bound[1]))
        most = bounds[0][1]
        ahead_a = self._ahead_a(need)
        offers = [
            r
            for r in DEVICES[feed.family].ratings_a
            if need.least_a < r <= most + 1e-9 and r < ahead_a
        ]
        built = self.net.aboard.order.built_as(name)
        if built and built.family == feed.family and built.rating_a in offers:
            offers.append(built.rating_a)  # tried first: it stays while it may
        chosen = next((r for r in reversed(offers) if self._stands(need, r)), need.least_a)
        self.drafted_a[name], self.bounds[name] = chosen, bounds
        if self.net.aboard.order.override(name, "protection_a") is None:
            for home in self.home_a:
                self.home_a[home] += chosen - self.feeder_a[name]
            self.feeder_a[name] = chosen

    def _bounds(self, need: FeederNeed) -> Iterator[Bound]:
        """Return what a device may not exceed, whatever else stands."""
        name, supply, feed = need.planned.id, need.supply, need.feed
        yield "its wire", self.bears[name]
        assert supply is not None and feed is not None
        if supply.output_v is not None:
            taken = supply.output_v * supply.total_max_a / (supply.efficiency_percent / 100)
            full = MARGIN * taken / self.network.voltage(feed.source)
            yield f"{supply.name} at full output", next_rating_a(feed.family or "", full) or full
        elif supply.kind not in SOURCES:
            yield supply.name, supply.total_max_a
        if need.planned.way:
            source = self.network.supplies[feed.source]
            yield f"a way of {source.name}", source.way_max_a
        yield f"its stud {feed.stud}", STUD_MAX_A.get(feed.stud, float("inf"))
        if any(path.crosses_plug for path in self.net.paths[name]):
            area = area_mm2(self.ladder.gauges[self.sizes[name].rung])
            whole = self.net.aboard.profile.heavy_border != "plug"
            kept = (c for c in CONTACTS if not (whole and c.size in HEAVY))
            takes = (c.max_a for c in kept if c.thinnest_mm2 <= area <= c.thickest_mm2)
            yield "its plug contacts", max(takes, default=float("inf"))
        for other in self.needs.values():  # wires that it protects as well, behind relays
            if other.feed and not other.feed.family and name in (guards := self._guards(other)):
                beside = sum(self.feeder_a[guard] for guard in guards if guard and guard != name)
                yield f"the wire of {other.planned.id}", self.bears[other.planned.id] - beside

    def _guards(self, need: FeederNeed) -> set[str | None]:
        """Return the next devices towards the batteries, one for each way."""
        ways = self.network.to_source(need.planned.source)
        return {next((n for n in way if n in self.feeder_a), None) for way in ways}

    def _ahead_a(self, need: FeederNeed) -> float:
        """Return the weakest of the next devices towards the batteries, which must be larger."""
        nearest = (self.feeder_a[name] for name in self._guards(need) if name)
        return min(nearest, default=float("inf"))

    def _stands(self, need: FeederNeed, rating_a: float) -> bool:
        name = need.planned.id
        trial = {**self.feeder_a, name: rating_a}
        for other, home in self.homes.items():
            more = rating_a - self.feeder_a[name]  # a device adds no more than it is raised by
            if self.home_a[other] + more <= self.bears_alone[other] + 1e-9:
                continue
            now = self.home_a[other] = home.circulation.most_a(self.feeder_a)
            most = max(self.bears_alone[other], now)
            if now + more > most + 1e-9 and home.circulation.most_a(trial) > most + 1e-9:
                return False
        if not survives_short(need.planned, need.least_a, rating_a, self.net):
            return False
        for one in self.bared[name]:  # what starts behind it is as thick as the least device asks
            if one.passes_with(trial) > max(one.bears_a2s, one.passes_a2s):
                return False
        return self._is_selective(need, rating_a) or not self._is_selective(need, need.least_a)

    def _is_selective(self, need: FeederNeed, rating_a: float) -> bool:
        """Tell whether a device opens alone, at least in small faults, before those ahead of it."""
        ahead = [name for name in self._guards(need) if name]
        if not ahead:
            return True
        near_a = greatest_short_a(need.planned, self.net)
        device = (need.planned.family, rating_a)
        upstream = ((self.needs[n].planned.family, self.feeder_a[n]) for n in ahead)
        return all(selective_to_a(device, other, near_a) > 0 for other in upstream)
