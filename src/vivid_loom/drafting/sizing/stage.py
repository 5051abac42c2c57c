"""Stage 4 as a whole: sizes to their fixed point, thickened where a short would outlast the wire,
each with its reasons.
"""

from typing import NamedTuple

from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.places.planned import Planned
from vivid_loom.drafting.places.route import Path
from vivid_loom.drafting.sizing.circuit_reasons import sized_circuit
from vivid_loom.drafting.sizing.coordination import Fault, faults
from vivid_loom.drafting.sizing.feeder_reasons import sized_feeder
from vivid_loom.drafting.sizing.fixed_point import Sizes, size
from vivid_loom.drafting.sizing.ladder import Ladder
from vivid_loom.drafting.sizing.lines import Lines
from vivid_loom.drafting.sizing.needs import FeederNeed
from vivid_loom.drafting.sizing.outcome import Sized

__all__ = ["Sizing", "sizing"]

GENERIC_BAND = ("breaker",)  # its I²t is a guess until the maker's band is known: judged, not sized


class Sizing(NamedTuple):
    """Sizes and faults by circuit or feeder id."""

    sized: dict[str, Sized]
    faults: dict[str, Fault]


def _sized(
    lines: Lines,
    sizes: Sizes,
    needs: dict[str, FeederNeed],
    paths: dict[str, tuple[Path, ...]],
    aboard: Aboard,
    ladder: Ladder,
) -> dict[str, Sized]:
    found = {
        line.id: sized_circuit(i, lines, sizes, paths[line.id], needs, aboard, ladder)
        for i, line in enumerate(lines.circuits)
    }
    for name, need in needs.items():
        feeder = sizes.feeders[name]
        found[need.planned.id] = sized_feeder(name, need, feeder, sizes, aboard, ladder)
    return found


def _too_thin(
    broken: dict[str, Fault], families: dict[str, str], lines: Lines, sizes: Sizes, aboard: Aboard
) -> dict[str, int]:
    """Return one rung more for whatever a short would harm and a thicker wire would save."""
    rungs = {line.id: int(sizes.rung[i]) for i, line in enumerate(lines.circuits)}
    most = {line.id: int(sizes.circuits.cap[i]) for i, line in enumerate(lines.circuits)}
    for feeder in sizes.feeders.values():
        rungs[feeder.id] = feeder.rung
        most[feeder.id] = len(sizes.circuits.ladder.gauges) - 1
    found: dict[str, int] = {}
    for name, fault in broken.items():
        burns = not fault.outlasts and families[name] not in GENERIC_BAND
        free = rungs[name] < most[name] and aboard.order.override(name, "gauge") is None
        if free and (burns or not fault.in_time):
            found[name] = rungs[name] + 1
    return found


def sizing(
    planned: tuple[Planned, ...],
    lines: Lines,
    needs: dict[str, FeederNeed],
    paths: dict[str, tuple[Path, ...]],
    aboard: Aboard,
    ladder: Ladder,
) -> Sizing:
    """Size everything, then thicken what shorts ask for until nothing asks any more."""
    least: dict[str, int] = {}
    families = {item.id: item.family for item in planned}
    while True:
        sizes = size(lines, needs, paths, aboard, ladder, least)
        sized = _sized(lines, sizes, needs, paths, aboard, ladder)
        broken = faults(planned, sized, paths, needs, aboard)
        raised = _too_thin(broken, families, lines, sizes, aboard)
        if not raised:
            return Sizing(sized, broken)
        least = {**least, **raised}
