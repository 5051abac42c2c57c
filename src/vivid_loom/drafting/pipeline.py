"""The pipeline: one pure function from an order to its draft."""

from collections.abc import Iterator
from functools import lru_cache, partial

from vivid_loom.boat import Boat, Run, Station
from vivid_loom.catalogue import Catalogue
from vivid_loom.drafting.beside.bonds import drafted_bonds
from vivid_loom.drafting.beside.existing import reuse
from vivid_loom.drafting.beside.recorded import drafted_records
from vivid_loom.drafting.beside.spares import drafted_spares
from vivid_loom.drafting.collector import collector_at_rest
from vivid_loom.drafting.drafted import Draft, DraftedCircuit
from vivid_loom.drafting.helm.wiring import with_backs
from vivid_loom.drafting.intake.resolve import Aboard, resolve
from vivid_loom.drafting.kept import Kept
from vivid_loom.drafting.making.assemble import assemble
from vivid_loom.drafting.making.cables import DraftedCable, drafted_cables
from vivid_loom.drafting.making.colour import Colours, Drums, colour, tracers
from vivid_loom.drafting.making.cutting import Part
from vivid_loom.drafting.making.switch import helm_switches
from vivid_loom.drafting.making.wire import Wire
from vivid_loom.drafting.places.allocate import Allocation, allocate
from vivid_loom.drafting.places.planned import Planned
from vivid_loom.drafting.places.route import Path, RouteMap, routed
from vivid_loom.drafting.rules.verify import verify
from vivid_loom.drafting.sizing.cable_stock import cable_stock
from vivid_loom.drafting.sizing.ladder import ladder_of
from vivid_loom.drafting.sizing.lines import lines_of
from vivid_loom.drafting.sizing.needs import feeder_needs
from vivid_loom.drafting.sizing.stage import Sizing, sizing
from vivid_loom.order import Order
from vivid_loom.quantities import revised
from vivid_loom.standards.conductor import area_mm2
from vivid_loom.standards.smallest import smallest_separate

__all__ = ["draft"]


@lru_cache(maxsize=4)
def _routes(stations: tuple[Station, ...], runs: tuple[Run, ...]) -> RouteMap:
    """Keep the routes of recent boats from edit to edit; geography decides them alone."""
    return RouteMap(stations, runs)


@collector_at_rest()
def draft(order: Order, boat: Boat, catalogue: Catalogue, before: Draft | None = None) -> Draft:
    """Draft an order: resolve → allocate → route → size → colour → switch → terminate →
    assemble → verify.

    Args:
        before: the draft before an edit, whose stages stand where nothing they depend on is
            other. It changes how long this takes, and nothing else.

    Raises:
        DraftError: order, boat and catalogue do not make one whole.
    """
    kept = Kept(before.kept if before else None)
    aboard = resolve(order, boat, kept)
    boat = aboard.boat
    routes = _routes(boat.stations, boat.runs)
    allocation, lamps = with_backs(allocate(aboard, routes, catalogue), aboard, catalogue, routes)
    ladder = kept.take(
        "ladder", "", (catalogue, aboard.profile), lambda: ladder_of(catalogue, aboard.profile)
    )
    planned = (*allocation.feeders, *allocation.circuits)
    paths = {item.id: _path(item, routes, aboard) for item in planned}
    lines = lines_of(allocation.circuits, allocation.feeders, paths, aboard, ladder, catalogue)
    asked = kept.take(
        "demand", "", _asking(allocation, aboard), lambda: feeder_needs(allocation, aboard)
    )
    needs = kept.same("needs", "", asked)
    sized = sizing(planned, lines, needs, paths, aboard, ladder)
    colours = _colours(planned, allocation, sized, paths, aboard, catalogue)
    parts = list(_parts(planned, sized, colours, paths, aboard, catalogue))
    assembled = assemble(parts, aboard)
    wires: dict[str, list[Wire]] = {}
    for wire in assembled.wires:
        wires.setdefault(wire.circuit, []).append(wire)

    def drafted(item: Planned) -> DraftedCircuit:
        return DraftedCircuit(
            planned=item,
            paths=paths[item.id],
            sized=sized.sized.get(item.id),
            colours=colours[item.id],
            wires=tuple(wires.get(item.id, ())),
            fault=sized.faults.get(item.id),
            exposed=sized.exposed.get(item.id),
        )

    whole = Draft(
        aboard=aboard,
        catalogue=catalogue,
        allocation=allocation,
        feeders=tuple(drafted(f) for f in allocation.feeders),
        circuits=tuple(drafted(c) for c in allocation.circuits),
        needs=sized.needs,
        switches=helm_switches(aboard, allocation, catalogue, lamps),
        assembled=assembled,
        spares=drafted_spares(aboard, routes, ladder),
        bonds=drafted_bonds(aboard, routes, ladder),
        recorded=drafted_records(aboard, routes),
        reuse=reuse(assembled, order),
    )
    found, accepted = verify(whole)
    return revised(whole, findings=found, accepted=accepted, kept=kept.handed_on())


def _asking(allocation: Allocation, aboard: Aboard) -> tuple[object, ...]:
    """Return what the needs of feeders follow from: where things stand has no part in it."""
    rated = tuple(o for o in aboard.order.overrides if o.field == "protection_a")
    circuits = tuple(
        (c.id, c.request, c.source, c.bus, c.loads, c.position, c.wanted, c.guard is None)
        for c in allocation.circuits
    )
    draw = tuple((load.id, load.demand, load.running_a) for load in aboard.loads.values())
    positions = tuple(sorted(allocation.positions.items()))
    allowed = not aboard.order.built_with
    return (circuits, positions, draw, rated, allowed, aboard.boat, aboard.profile)


def _path(item: Planned, routes: RouteMap, aboard: Aboard) -> tuple[Path, ...]:
    via = aboard.order.way(item.id)
    return aboard.kept.take(
        "path",
        item.id,
        (item.plan, item.stub_m, via, routes),
        lambda: routed(item.plan, routes, via, item.stub_m),
    )


Paths = dict[str, tuple[Path, ...]]


def _colours(
    planned: tuple[Planned, ...],
    allocation: Allocation,
    sized: Sizing,
    paths: Paths,
    aboard: Aboard,
    catalogue: Catalogue,
) -> dict[str, Colours]:
    """Colour every circuit and feeder, by id."""
    drums = Drums({w.gauge: w.colours for w in catalogue.wires if w.colours})
    apart = tracers(allocation.circuits, paths, aboard)
    gauges = {name: found.gauge.value for name, found in sized.sized.items()}
    found: dict[str, Colours] = {}
    for turn, item in enumerate(planned):
        gauge, told_apart = gauges.get(item.id), apart.get(item.id)
        found[item.id] = aboard.kept.take(
            "colours",
            item.id,
            (*_whole(item, aboard), gauge, told_apart, turn, catalogue),
            partial(colour, item, aboard, gauge, drums, told_apart, turn),
        )
    return found


def _whole(item: Planned, aboard: Aboard) -> tuple[object, ...]:
    """Return a circuit or feeder with everything that was decided about it."""
    loads = tuple(aboard.loads[name] for name in item.loads)
    decided = tuple(o for o in aboard.order.overrides if o.subject == item.id)
    return (item, loads, decided, aboard.order.built_as(item.id), aboard.profile)


def _parts(
    planned: tuple[Planned, ...],
    sized: Sizing,
    colours: dict[str, Colours],
    paths: Paths,
    aboard: Aboard,
    catalogue: Catalogue,
) -> Iterator[Part]:
    """Yield what is sized, with the cable it is laid in, ready to be cut."""
    ladder = ladder_of(catalogue, aboard.profile)
    floors = (str(smallest_separate(aboard.profile.series)), aboard.profile.shop_floor)
    thinnest = max(ladder.rung(floor, "profile.shop_floor") for floor in floors)
    separate = ladder.gauges[thinnest]
    for item in planned:
        found = sized.sized.get(item.id)
        if found is None:
            continue
        stock = cable_stock(item, found.gauge.value, aboard, catalogue)
        cables: tuple[DraftedCable, ...] = ()
        if stock:
            made_from = (item, stock, paths[item.id])
            cables = aboard.kept.take(
                "cables", item.id, made_from, partial(drafted_cables, *made_from)
            )
        rating = found.protection.value if found.protection else 0.0
        bearing = (g for g, a in zip(ladder.gauges, ladder.free_air_a, strict=True) if a >= rating)
        lamp = max(separate, next(bearing, found.gauge.value), key=area_mm2)
        yield Part(item, found, colours[item.id], paths[item.id], cables, separate, lamp)
