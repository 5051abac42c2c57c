"""Shorts on what no device of its own guards: the stretch up to one, and what leaves a switch."""

import math
from collections.abc import Mapping, Sequence
from functools import partial
from typing import NamedTuple

from vivid_loom.drafting.places.planned import Planned
from vivid_loom.drafting.sizing.coordination import (
    GENERIC_BAND,
    Upstream,
    devices_ahead,
    greatest_short_a,
)
from vivid_loom.drafting.sizing.short_paths import Net
from vivid_loom.standards import conductor, short_circuit, time_current

__all__ = ["Exposed", "exposed"]


class Exposed(NamedTuple):
    """A short right where such a conductor starts.

    Attributes:
        upstream: the devices that must open, one for each way from a battery.
        near_a: the greatest current.
        passes_a2s: I²t until the last of them has opened.
        bears_a2s: what the conductor outlasts.
    """

    upstream: tuple[Upstream, ...]
    near_a: float
    passes_a2s: float
    bears_a2s: float

    @property
    def outlasts(self) -> bool:
        """Whether the conductor outlasts what they let pass."""
        return self.passes_a2s <= self.bears_a2s

    def passes_with(self, rating_a: Mapping[str, float]) -> float:
        """Return the I²t that passes with other ratings of the devices that must open, by id."""
        share_a = self.near_a / len(self.upstream)
        over_s = max(
            time_current.opens_s(one.family, rating_a.get(one.id, one.rating_a), share_a)
            for one in self.upstream
        )
        if over_s > short_circuit.FAR_END_LIMIT_S:
            return math.inf
        return float(self.near_a**2 * over_s)

    @property
    def is_generic(self) -> bool:
        """Whether one of them is of a family whose band is a guess."""
        return any(device.family in GENERIC_BAND for device in self.upstream)


def _exposed(planned: Planned, net: Net) -> Exposed | None:
    """Return what a short does to a conductor; None where its own device stands first, or where
    nothing but a battery stands before it: then distance is the rule.
    """
    held = net.standing.get(planned.id)
    fed = any(leg.live != "return" for leg in planned.plan.legs)
    bare = bool(planned.feeds) and held is not None and held.rating_a is None
    if held is None or not fed or not (planned.stub_m or bare):
        return None
    ways = [devices_ahead(way, net) for way in net.network.to_source(planned.source)]
    firsts = tuple({way[0].id: way[0] for way in ways if way}.values())
    if not firsts:
        return None
    near_a = greatest_short_a(planned, net)
    limit_c = short_circuit.short_limit_c(net.hot_c)
    area = conductor.area_mm2(held.gauge)
    bears = short_circuit.withstand_a2s(area, net.hot_c, limit_c)
    found = Exposed(firsts, near_a, math.inf, bears)
    return found._replace(passes_a2s=found.passes_with({}))


def exposed(planned: Sequence[Planned], net: Net) -> dict[str, Exposed]:
    """Return what shorts do to the conductors of circuits and feeders ahead of any device of
    theirs, by id.
    """
    kept, side = net.aboard.kept, net.supply_side()
    found: dict[str, Exposed] = {}
    for item in planned:
        made_from = (item, net.standing.get(item.id), side)
        if one := kept.take("exposed", item.id, made_from, partial(_exposed, item, net)):
            found[item.id] = one
    return found
