"""What sizing needs of every circuit, as arrays: the one place where records become numbers."""

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from vivid_loom.boat import Boat, Load
from vivid_loom.catalogue import Catalogue
from vivid_loom.drafting.cables import stocked_rungs
from vivid_loom.drafting.errors import DraftError
from vivid_loom.drafting.ladder import Ladder
from vivid_loom.drafting.makers import loop_to_m, table_row
from vivid_loom.drafting.planned import Planned
from vivid_loom.drafting.resolve import Aboard
from vivid_loom.drafting.route import Path
from vivid_loom.order import Profile
from vivid_loom.standards import ampacity, duty, smallest, terminals

__all__ = ["WAY_THICKEST_MM2", "Lines", "heating_a", "lines_of", "rating_of", "worst_path"]

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

WAY_THICKEST_MM2 = 6.05  # 10 AWG or 6 mm²: the thickest a 6.3 mm tab or a way's ring takes


class Lines(NamedTuple):
    """Sized circuits as arrays, all of shape (n,) unless said otherwise.

    Attributes:
        current_a: continuous current at the source end.
        heating_a: the steady current that heats as much, shape (rungs, n): less than
            ``current_a`` for short-time motors.
        rating_a: protection that stands, after any override.
        moment_am: Σ current × length along the worst path, A·m.
        limit_v: permitted drop from battery to load and back.
        floor: rungs below which the circuit may not go, shape (6, n): smallest,
            shop floor, one gauge, plug contact, maker, maker's table.
        cap: thickest rung its terminals take.
        heat_factor: engine space × ambient.
        stocked: shape (rungs + 1, n), the next rung each circuit's wire or cable is kept in.
        runs: shape (n, runs), conductors of each circuit in each run in loom or conduit.
    """

    circuits: tuple[Planned, ...]
    current_a: Floats
    heating_a: Floats
    rating_a: Floats
    moment_am: Floats
    limit_v: Floats
    floor: Ints
    cap: Ints
    heat_factor: Floats
    runs: csr_array
    stocked: Ints


def leg_amps(planned: Planned, loads: dict[str, Load]) -> list[float]:
    """Return the continuous current of every leg, in A; loads still unknown count nothing."""
    amps = [loads[name].running_a or 0.0 for name in planned.loads]
    return [sum(amps[i] for i in leg.carries) for leg in planned.plan.legs]


def worst_path(
    planned: Planned, paths: Sequence[Path], amps: Sequence[float]
) -> tuple[int, tuple[int, ...]]:
    """Return (load index, legs) of the path with the greatest Σ current × length."""
    return max(
        planned.plan.paths,
        key=lambda item: (sum(amps[i] * paths[i].length_m for i in item[1]), item[0]),
    )


def rating_of(planned: Planned, aboard: Aboard) -> float:
    """Return the protection that stands, in A; nan where there is none.

    Raises:
        DraftError: an override that is no number above zero.
    """
    override = aboard.order.override(planned.id, "protection_a")
    if override:
        try:
            value = float(override.value.replace(",", ".").removesuffix("A").strip())
        except ValueError:
            value = -1.0
        if not 0 < value < 1e5:
            raise DraftError(
                f"overrides.{planned.id}.protection_a",
                f"found {override.value!r}, expected amps such as '15'",
            )
        return value
    return planned.wanted.rating_a if planned.wanted else float("nan")


def heating_a(load: Load, time_constant_s: float) -> float:
    """Return the steady current that heats a wire as much as the load's duty does, in A."""
    running = load.running_a or 0.0
    if not load.short_time or load.longest_on_min is None:
        return running
    on_s = load.longest_on_min * 60
    return duty.equivalent_a(running, on_s, load.duty_percent / 100, time_constant_s)


def is_critical(planned: Planned, loads: dict[str, Load]) -> bool:
    """Tell whether one of the circuit's loads asks for the critical drop limit."""
    return any(loads[name].drop == "critical" for name in planned.loads)


def heat_factor(paths: Sequence[Path], boat: Boat, profile: Profile) -> float:
    """Return engine-space × ambient factor of the hottest places a circuit passes.

    Raises:
        DraftError: insulation that may not run there.
    """
    areas = {area.id: area for area in boat.areas}
    here = {run.area for path in paths for run in path.runs}
    hot = any(areas[name].engine_heat for name in here)
    ambient = max((areas[n].ambient_c for n in here if not areas[n].engine_heat), default=30.0)
    try:
        factor = ampacity.ambient_factor(profile.insulation_c, ambient)
        if hot:
            engine = ampacity.engine_space_factor(profile.series, profile.insulation_c)
            factor = min(factor, engine)
    except ValueError as error:
        raise DraftError("profile.insulation_c", str(error)) from error
    return factor


def crosses_plug(paths: Sequence[Path]) -> bool:
    """Tell whether any leg passes from one harness into another."""
    return any(len({run.harness for run in path.runs}) > 1 for path in paths)


def _contact_floor(rating_a: float, ladder: Ladder, paths: Sequence[Path]) -> int:
    if not crosses_plug(paths) or np.isnan(rating_a):
        return 0
    for rung, gauge in enumerate(ladder.gauges):
        if ladder.area_mm2[rung] > WAY_THICKEST_MM2 or terminals.contact_for(gauge, rating_a):
            return rung
    return 0


def _table_floor(
    circuit: Planned, paths: Sequence[Path], loads: dict[str, Load], ladder: Ladder
) -> int:
    """Return the rung that the makers' own length tables ask for; 0 where there is none."""
    asked = [
        ladder.rung(row.gauge, f"loads.{name}.maker_lengths")
        for name in circuit.loads
        if (row := table_row(loads[name], loop_to_m(circuit, paths, name)))
    ]
    return max(asked, default=0)


def _heating(
    circuit: Planned, total_a: float, ladder: Ladder, loads: dict[str, Load]
) -> list[float]:
    if not any(loads[name].short_time for name in circuit.loads):
        return [total_a] * len(ladder.gauges)
    constants = ladder.time_constant_s.tolist()
    return [sum(heating_a(loads[name], tau) for name in circuit.loads) for tau in constants]


def _next_stocked(kept: tuple[int, ...] | None, count: int) -> list[int]:
    """Return for each rung the next one kept; ``count`` where there is none."""
    rungs = range(count + 1)
    if kept is None:
        return list(rungs)
    return [next((k for k in kept if k >= rung), count) for rung in rungs]


def lines_of(
    circuits: tuple[Planned, ...], routed: dict[str, tuple[Path, ...]], aboard: Aboard,
    ladder: Ladder, catalogue: Catalogue,
) -> Lines:  # fmt: skip
    """Gather the circuits whose currents are all known."""
    profile, loads, boat = aboard.profile, aboard.loads, aboard.boat
    kinds = {supply.id: supply.kind for supply in boat.supplies}
    runs = {run.id: i for i, run in enumerate(boat.runs)}
    shop = ladder.rung(profile.shop_floor, "profile.shop_floor")
    one = ladder.rung(profile.one_gauge or None, "profile.one_gauge")
    least = ladder.gauges.index(smallest.smallest_separate(profile.series))
    cap = max(i for i, area in enumerate(ladder.area_mm2) if area <= WAY_THICKEST_MM2)
    known = tuple(c for c in circuits if all(loads[n].running_a is not None for n in c.loads))
    rows: list[tuple[float, float, float, float, float]] = []
    floors: list[tuple[int, int, int, int, int, int]] = []
    heating: list[list[float]] = []
    stocked: list[list[int]] = []
    sheathed = ladder.rung(str(smallest.smallest_sheathed(profile.series)), "profile.series")
    caps: list[int] = []
    row_of: list[int] = []
    column: list[int] = []
    for index, circuit in enumerate(known):
        paths = routed[circuit.id]
        amps = leg_amps(circuit, loads)
        _, legs = worst_path(circuit, paths, amps)
        rating = rating_of(circuit, aboard)
        percent = (
            profile.critical_drop_percent
            if is_critical(circuit, loads)
            else profile.other_drop_percent
        )
        total = sum(loads[name].running_a or 0.0 for name in circuit.loads)
        moment = sum(amps[i] * paths[i].length_m for i in legs)
        limit = percent / 100 * boat.nominal_v
        rows.append((total, rating, moment, limit, heat_factor(paths, boat, profile)))
        maker = max(
            ladder.rung(loads[n].maker_smallest, f"loads.{n}.maker_smallest") for n in circuit.loads
        )
        asked = _table_floor(circuit, paths, loads, ladder)
        heavy = kinds[circuit.source] == "bus"
        contact = _contact_floor(rating, ladder, paths)
        kept = stocked_rungs(circuit, aboard, catalogue, ladder)
        stocked.append(_next_stocked(kept, len(ladder.gauges)))
        if kept:  # cores under a jacket may be thinner, and are as bought
            least_here, shop_here, one_here = sheathed, 0, 0
        else:
            least_here, shop_here, one_here = least, shop, one
        floors.append((least_here, shop_here, min(one_here, cap), contact, maker, asked))
        heating.append(_heating(circuit, total, ladder, loads))
        caps.append(len(ladder.gauges) - 1 if heavy else cap)
        for path in paths:
            for run in path.runs:
                if run.enclosure != "open":
                    row_of.append(index)
                    column.append(runs[run.id])
    table = np.array(rows, dtype=float).reshape(-1, 5)
    incidence = csr_array(
        (np.ones(len(row_of)), (row_of, column)), shape=(len(known), max(1, len(runs)))
    )
    incidence.sum_duplicates()
    return Lines(
        known, table[:, 0], np.array(heating).reshape(-1, len(ladder.gauges)).T,
        table[:, 1], table[:, 2], table[:, 3],
        np.array(floors, dtype=np.int64).reshape(-1, 6).T, np.array(caps, dtype=np.int64),
        table[:, 4], incidence,
        np.array(stocked, dtype=np.int64).reshape(-1, len(ladder.gauges) + 1).T,
    )  # fmt: skip
