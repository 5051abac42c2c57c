"""Every single flaw a harness can have, and ringing it out by hand, meter and eyes."""

from collections.abc import Iterable, Iterator
from itertools import combinations, pairwise

from vivid_loom.bench.devices.simulated import BuiltHarness, Flaw
from vivid_loom.bench.progress import Result
from vivid_loom.bench.ringing.mating import Mating
from vivid_loom.bench.ringing.plan import RingPlan, Step
from vivid_loom.bench.ringing.results import Cause, Ringing
from vivid_loom.bench.ringing.specimen import Specimen
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo.generated import generated
from vivid_loom.drafting import Draft, draft
from vivid_loom.standards.conductor import SIZING_LADDER


def generated_draft(seed: int) -> Draft:
    order, boat = generated(seed, 6 + seed % 11, ("shop", "us", "iso")[seed % 3])
    return draft(order, boat, shipped_catalogue())


def shown(plan: RingPlan, step: Step, built: BuiltHarness) -> float:
    """Return what a step shows."""
    if step.kind in ("wire", "path", "cross"):
        return built.read_mohm(step.red, step.black)
    if step.kind == "net":
        return built.read_insulation(step.red, plan.specimen.net_of[step.red].pins)
    if step.kind == "lamp":
        return built.read_diode(step.red, step.black)
    return float(built.looks(step))


def rung(plan: RingPlan, built: BuiltHarness) -> Ringing:
    """Return a harness rung out, with all that names what failed."""
    results: list[Result] = []
    while True:
        ringing = (Mating if plan.specimen.mates else Ringing)(plan, results)
        if not ringing.left:
            return ringing
        results += [ringing.judged(step, shown(plan, step, built)) for step in ringing.left]


def every_flaw(specimen: Specimen) -> Iterator[Flaw]:
    """Yield open, missing and poor wires, both next gauges, shorts, swaps, lamps, loose plugs."""
    for name, wire in specimen.wires.items():
        yield Flaw("open", (name,))
        yield Flaw("missing", (name,))
        yield Flaw("poor", (name,))
        ladder = SIZING_LADDER[wire.wire.gauge.series]
        at = ladder.index(wire.wire.gauge)
        for other in ladder[max(0, at - 1) : at] + ladder[at + 1 : at + 2]:
            yield Flaw("gauge", (name,), str(other))
    for one, other in zip(specimen.nets, specimen.nets[1:], strict=False):
        yield Flaw("short", (one.id, other.id))
    for pair in specimen.neighbours:
        yield Flaw("swap", pair)
    for lamp in specimen.lamps:
        yield Flaw("turned", (lamp.id,))
    for half in specimen.plugs:
        yield Flaw("loose", (half.plug.id,))


def every_mated_flaw(specimen: Specimen) -> Iterator[Flaw]:
    """Yield contacts pushed back and green, plugs not home and crossed, shorts between nets."""
    plugs = {mate.plug.id: mate.plug for mate in specimen.mates}
    for mate in specimen.mates:
        yield Flaw("pushed", (mate.id,))
        yield Flaw("worn", (mate.id,))
    for name in plugs:
        yield Flaw("unmated", (name,))
    for one, other in combinations(plugs.values(), 2):
        if (one.ways, one.contact) == (other.ways, other.contact):
            yield Flaw("crossed", (one.id, other.id))
    for a, b in pairwise(specimen.nets):
        yield Flaw("short", (a.id, b.id))


def is_named(flaw: Flaw, causes: Iterable[Cause]) -> bool:
    """Tell whether a flaw is found and called by its name; for all but swaps nothing else is."""
    kinds = {"open": "open", "missing": "open", "loose": "unseated", "turned": "lamp"}
    if flaw.kind == "swap":
        return any(c.kind in ("swap", "labels") and set(c.at) == set(flaw.at) for c in causes)
    named = [(c.kind, frozenset(c.at)) for c in causes]
    return named == [(kinds.get(flaw.kind, flaw.kind), frozenset(flaw.at))]
