"""What sizing needs of every circuit, as arrays: the one place where records become numbers."""

from collections.abc import Mapping, Sequence
from functools import partial
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from vivid_loom.boat import Boat, Load, Network
from vivid_loom.catalogue import Catalogue
from vivid_loom.drafting.errors import DraftError
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.places.planned import Planned
from vivid_loom.drafting.places.route import Path
from vivid_loom.drafting.sizing.cable_stock import stocked_rungs
from vivid_loom.drafting.sizing.ladder import Ladder
from vivid_loom.drafting.sizing.makers import feeder_lengths_m, loop_to_m, shared_m, table_row
from vivid_loom.drafting.sizing.stretches import Incidence, Lying, incidence, lying
from vivid_loom.order import Profile
from vivid_loom.standards import ampacity, duty, smallest, terminals
from vivid_loom.standards.terminals import form_of

__all__ = [
    "Lines",
    "contact_floor",
    "has_pump_floor",
    "heating_a",
    "lines_of",
    "rating_of",
    "thickest_rung",
    "worst_path",
]

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

_SMALL = frozenset({"way", "tab", "screw"})  # terminals with a thickest wire; the others as asked
UNRATED = float("nan")  # one object: drafts with it compare equal


class Lines(NamedTuple):
    """Sized circuits as arrays, all of shape (n,) unless said otherwise.

    Attributes:
        current_a: continuous current at the source end.
        heating_a: the steady current that heats as much, shape (rungs, n): less than
            ``current_a`` for short-time motors.
        rating_a: protection that stands, after any override.
        moment_am: Σ current × length along the worst path, A·m.
        limit_v: permitted drop from battery to load and back.
        floor: rungs below which the circuit does not go, shape (8, n): what lies in the boat,
            smallest, shop floor, bilge pump, one gauge, plug contact, maker, maker's table.
        cap: thickest rung its terminals take.
        heat_factor: engine space × ambient.
        stocked: shape (rungs + 1, n), the next rung each circuit's wire or cable is kept in.
        runs: conductors of each circuit in each run in loom or conduit.
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
    runs: Incidence
    stocked: Ints


def leg_amps(planned: Planned, loads: dict[str, Load]) -> list[float]:
    """Return the continuous current of every leg, in A; loads still unknown count nothing."""
    amps = [load.running_a or 0.0 for load in planned.drawing(loads)]
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
    """Return the protection that stands, its own or its guard's, in A; nan where there is none.

    Raises:
        DraftError: an override that is no number above zero.
    """
    if planned.guard:
        return rating_of(planned.guard, aboard)
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
    return planned.wanted.rating_a if planned.wanted else UNRATED


def heating_a(load: Load, time_constant_s: float) -> float:
    """Return the steady current that heats a wire as much as the load's duty does, in A."""
    running = load.running_a or 0.0
    if not load.short_time or load.longest_on_min is None:
        return running
    on_s = load.longest_on_min * 60
    return duty.equivalent_a(running, on_s, load.duty_percent / 100, time_constant_s)


def is_critical(planned: Planned, loads: dict[str, Load], profile: Profile) -> bool:
    """Tell whether one of the circuit's loads asks for the critical drop limit.

    Of a bilge pump the profile says so.
    """
    classes = (
        profile.bilge_pump_drop if load.function == "bilge_pump" else load.drop
        for load in planned.drawing(loads)
    )
    return "critical" in classes


def has_pump_floor(planned: Planned, loads: Mapping[str, Load], profile: Profile) -> bool:
    """Tell whether a circuit feeds a bilge pump whose wire has a smallest size of its own."""
    if profile.bilge_pump_drop != "other" or planned.signals:
        return False
    return any(loads[name].function == "bilge_pump" for name in planned.loads)


def heat_factor(paths: Sequence[Path], boat: Boat, profile: Profile) -> float:
    """Return engine-space × ambient factor of the hottest places a circuit passes.

    Raises:
        DraftError: insulation that may not run there.
    """
    areas = boat.areas_by_id
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


def contact_floor(
    rating_a: float,
    ladder: Ladder,
    paths: Sequence[Path],
    *,
    heavy: bool,
    paired: bool = False,
) -> int:
    """Return the rung whose plug contact bears a device, or that passes whole; 0 for any.

    Args:
        heavy: the profile has heavy plugs, for what would pass whole otherwise.
        paired: its load comes off at a pair of plugs.
    """
    if not (paired or any(path.crosses_plug for path in paths)) or np.isnan(rating_a):
        return 0
    for rung, gauge in enumerate(ladder.gauges):
        takes = partial(terminals.contact_for, gauge, heavy=heavy)
        whole = ladder.area_mm2[rung] > terminals.WAY_THICKEST_MM2 and takes(0.0) is None
        if whole or takes(rating_a):
            return rung
    return 0


def _table_floor(
    circuit: Planned,
    paths: Sequence[Path],
    ahead_m: float,
    loads: dict[str, Load],
    ladder: Ladder,
) -> int:
    """Return the rung that the makers' own length tables ask for; 0 where there is none."""
    asked = [
        ladder.rung(row.gauge, f"loads.{load.id}.maker_lengths")
        for load in circuit.drawing(loads)
        if (row := table_row(load, loop_to_m(circuit, paths, load.id, ahead_m)))
    ]
    return max(asked, default=0)


def _heating(
    circuit: Planned, total_a: float, ladder: Ladder, loads: dict[str, Load]
) -> list[float]:
    drawing = circuit.drawing(loads)
    if not any(load.short_time for load in drawing):
        return [total_a] * len(ladder.gauges)
    constants = ladder.time_constant_s.tolist()
    return [sum(heating_a(load, tau) for load in drawing) for tau in constants]


def _next_stocked(kept: tuple[int, ...] | None, count: int) -> list[int]:
    """Return for each rung the next one kept; ``count`` where there is none."""
    rungs = range(count + 1)
    if kept is None:
        return list(rungs)
    return [next((k for k in kept if k >= rung), count) for rung in rungs]


_Floor = tuple[int, int, int, int, int, int, int, int]


class _Row(NamedTuple):
    """What one circuit brings; see ``Lines`` for what each figure is."""

    figures: tuple[float, float, float, float, float]
    floor: _Floor
    heating: list[float]
    stocked: list[int]
    cap: int
    lain: Lying


def thickest_rung(planned: Planned, network: Network, ladder: Ladder) -> int:
    """Return the thickest rung that every terminal a circuit or feeder lands on takes."""
    areas = ladder.area_mm2
    points = (point for leg in planned.plan.legs for point in (leg.start, leg.end))
    small = {(p.kind, network.small_thread(p.place)) for p in points if p.kind in _SMALL}
    thickest_mm2 = min((form_of(*each).thickest_mm2 for each in small), default=areas[-1])
    return max(i for i, area in enumerate(areas) if area <= thickest_mm2)


class _Gather:
    """Reads circuits one by one; what they share is looked up once."""

    def __init__(
        self,
        aboard: Aboard,
        ladder: Ladder,
        catalogue: Catalogue,
        feeders_m: Mapping[str, tuple[float, float]],
    ) -> None:
        self.feeders_m = feeders_m
        profile = aboard.profile
        self.aboard, self.ladder, self.catalogue = aboard, ladder, catalogue
        runs = aboard.boat.runs
        self.inside = {run.id: i for i, run in enumerate(runs) if run.enclosure != "open"}
        self.heavy_plugs = profile.heavy_border == "plug"
        self.shop = ladder.rung(profile.shop_floor, "profile.shop_floor")
        self.pump = ladder.rung(smallest.PUMP_FLOOR, "profile.bilge_pump_drop")
        self.one = ladder.rung(profile.one_gauge or None, "profile.one_gauge")
        self.least = ladder.gauges.index(smallest.smallest_separate(profile.series))
        core = str(smallest.smallest_sheathed(profile.series))
        self.sheathed = ladder.rung(core, "profile.series")

    def kept_row(self, circuit: Planned, paths: tuple[Path, ...]) -> _Row:
        """Return one circuit's figures, as they were where nothing they follow from is other."""
        aboard = self.aboard
        made_from = (
            circuit,
            paths,
            tuple(aboard.loads[name] for name in circuit.loads),
            aboard.order.override((circuit.guard or circuit).id, "protection_a"),
            self._ahead_m(circuit),
            aboard.order.built_as(circuit.id),
            (aboard.boat, aboard.profile, self.ladder, self.catalogue),
        )
        return aboard.kept.take("line", circuit.id, made_from, lambda: self.row(circuit, paths))

    def _ahead_m(self, circuit: Planned) -> float:
        """Return what feeders add to a circuit's loop, m; 0 where no maker prints a table."""
        if not any(self.aboard.loads[name].maker_lengths for name in circuit.loads):
            return 0.0
        return shared_m(circuit.source, circuit.bus, self.aboard.boat.network, self.feeders_m)

    def row(self, circuit: Planned, paths: tuple[Path, ...]) -> _Row:
        """Return one circuit's figures."""
        profile, loads, ladder = self.aboard.profile, self.aboard.loads, self.ladder
        amps = leg_amps(circuit, loads)
        _, legs = worst_path(circuit, paths, amps)
        rating = rating_of(circuit, self.aboard)
        critical = is_critical(circuit, loads, profile)
        percent = profile.critical_drop_percent if critical else profile.other_drop_percent
        total = sum(load.running_a or 0.0 for load in circuit.drawing(loads))
        moment = sum(amps[i] * paths[i].length_m for i in legs)
        limit_v = percent / 100 * self.aboard.boat.network.voltage(circuit.source)
        heat = heat_factor(paths, self.aboard.boat, profile)
        kept = stocked_rungs(circuit, self.aboard, self.catalogue, ladder)
        cap = thickest_rung(circuit, self.aboard.boat.network, self.ladder)
        return _Row(
            (total, rating, moment, limit_v, heat),
            self._floor(circuit, paths, rating, kept, cap),
            _heating(circuit, total, ladder, loads),
            _next_stocked(kept, len(ladder.gauges)),
            cap,
            lying(paths, self.inside),
        )

    def _floor(
        self,
        circuit: Planned,
        paths: tuple[Path, ...],
        rating_a: float,
        kept: tuple[int, ...] | None,
        cap: int,
    ) -> _Floor:
        loads, ladder = self.aboard.loads, self.ladder
        maker = max(
            ladder.rung(load.maker_smallest, f"loads.{load.id}.maker_smallest")
            for load in circuit.drawing(loads)
        )
        asked = _table_floor(circuit, paths, self._ahead_m(circuit), loads, ladder)
        paired = any(loads[name].replaceable for name in circuit.loads)
        contact = contact_floor(rating_a, ladder, paths, heavy=self.heavy_plugs, paired=paired)
        built = self.aboard.order.built_as(circuit.id)
        lies = min(ladder.lying(built.gauge), cap) if built else 0
        if kept:  # cores under a jacket may be thinner, and are as bought
            return lies, self.sheathed, 0, 0, 0, contact, maker, asked
        pump = self.pump if has_pump_floor(circuit, loads, self.aboard.profile) else 0
        return lies, self.least, self.shop, pump, min(self.one, cap), contact, maker, asked


def lines_of(
    circuits: tuple[Planned, ...],
    feeders: tuple[Planned, ...],
    routed: dict[str, tuple[Path, ...]],
    aboard: Aboard,
    ladder: Ladder,
    catalogue: Catalogue,
) -> Lines:
    """Gather the circuits whose currents are all known."""
    loads = aboard.loads
    known = tuple(
        c for c in circuits if all(load.running_a is not None for load in c.drawing(loads))
    )
    feeders_m = {feeder.id: feeder_lengths_m(feeder, routed[feeder.id]) for feeder in feeders}
    gather = _Gather(aboard, ladder, catalogue, feeders_m)
    rows = tuple(gather.kept_row(circuit, routed[circuit.id]) for circuit in known)
    return aboard.kept.take(
        "lines", "", (known, rows, aboard.boat, ladder), lambda: _lines(known, rows, gather)
    )


def _lines(known: tuple[Planned, ...], rows: tuple[_Row, ...], gather: _Gather) -> Lines:
    """Stack the figures of circuits, row by row."""
    count = len(gather.ladder.gauges)
    figures = np.array([row.figures for row in rows], dtype=float).reshape(-1, 5)
    return Lines(
        circuits=known,
        current_a=figures[:, 0],
        heating_a=np.array([row.heating for row in rows]).reshape(-1, count).T,
        rating_a=figures[:, 1],
        moment_am=figures[:, 2],
        limit_v=figures[:, 3],
        floor=np.array([row.floor for row in rows], dtype=np.int64).reshape(-1, 8).T,
        cap=np.array([row.cap for row in rows], dtype=np.int64),
        heat_factor=figures[:, 4],
        runs=incidence([row.lain for row in rows], len(gather.aboard.boat.runs)),
        stocked=np.array([row.stocked for row in rows], dtype=np.int64).reshape(-1, count + 1).T,
    )
