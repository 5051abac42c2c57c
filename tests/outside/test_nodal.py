"""Drop by another route: nodal analysis of the cut list instead of sums along paths.

Reference: Ho, Ruehli, Brennan 1975, IEEE Trans. Circuits Syst. 22(6), resistive part; solved with
NumPy. Resistances come from copper's resistivity (IEC 60028) and the table's own stranding ratio,
worked out here per size, so neither the drop code nor its arrays take part.
"""

import csv
import io
import re
from collections.abc import Sequence

import numpy as np
import pytest

from vivid_loom.drafting import Draft
from vivid_loom.quantities import Gauge
from vivid_loom.sheets import packet_files
from vivid_loom.standards import conductor

Row = dict[str, str]


def ohm(wire: Row, conductor_c: float) -> float:
    gauge = Gauge.parse(wire["gauge"])
    stranding = conductor.ohm_per_m(gauge, 20) * conductor.area_mm2(gauge) / 1.7241e-2
    resistivity = 1.7241e-8 * (1 + 0.00393 * (conductor_c - 20)) * stranding
    return resistivity * float(wire["routed_length_mm"]) / 1000 / (float(wire["area_mm2"]) * 1e-6)


def potentials(
    wires: Sequence[Row],
    injected: dict[str, float],
    fixed: set[str],
    conductor_c: float,
    thrown: str = "UD",
) -> dict[str, float]:
    """Return the potential of every point with the ``fixed`` ones at zero, levers ``thrown``."""
    names = sorted({f"{w[f'{s}_place']} {w[f'{s}_point']}" for w in wires for s in ("from", "to")})
    at = {name: i for i, name in enumerate(names)}
    matrix = np.zeros((len(names), len(names)))
    for wire in wires:
        i, j = (at[f"{wire[f'{s}_place']} {wire[f'{s}_point']}"] for s in ("from", "to"))
        siemens = 1.0 / ohm(wire, conductor_c)
        matrix[[i, j], [i, j]] += siemens
        matrix[[i, j], [j, i]] -= siemens
    joined = {n: f"{n[:-1]}C" for n in names if re.search(rf" \d[{thrown}]$", n)}
    joined |= {
        n: n.replace(" in", " out") for n in names if n.startswith("TS") and n.endswith("in")
    }
    # a pair that has pulled one way holds the other lead of its motor on minus
    alone = (n for n in names if n.endswith(" 2C") and not {f"{n[:-1]}{x}" for x in "UD"} & set(at))
    joined |= {n: f"{n[:-2]}1D" for n in alone}
    for name, common in joined.items():
        if common in at:
            i, j = at[name], at[common]
            matrix[[i, j], [i, j]] += 1e7
            matrix[[i, j], [j, i]] -= 1e7
    current = np.array([injected.get(name, 0.0) for name in names])
    free = [i for i, name in enumerate(names) if name not in fixed]
    found = np.zeros(len(names))
    found[free] = np.linalg.solve(matrix[np.ix_(free, free)], current[free])
    return dict(zip(names, found.tolist(), strict=True))


def own_drop_v(done: Draft, circuit: str, wires: Sequence[Row]) -> float:
    """Solve one circuit from its way to its bus, at its own current."""
    row = done.circuit(circuit)
    assert row is not None
    mine = [w for w in wires if w["circuit_id"] == circuit and not w["wire_id"].endswith("-J1")]
    # what serves a lamp, and what somebody joined by hand, is no part of its way to the load
    mine = [w for w in mine if w["serves"] == "load" and not w["wire_id"].endswith("-H1")]
    plus, minus, thrown = row.planned.request.lead, "minus", "UD"  # type: ignore[union-attr]
    if row.planned.pattern.startswith("pump"):  # the manual path alone: the float is open
        plus = "manual"
        mine = [w for w in mine if "-A1" not in w["wire_id"]]
    elif row.planned.pattern == "two_directions":
        plus = "up"
    elif row.planned.pattern == "reversing":
        plus, minus, thrown = "up", "down", "U"
    injected: dict[str, float] = {}
    for name in row.planned.loads:
        amps = done.aboard.loads[name].running_a or 0.0
        injected[f"{name} {plus}"] = -amps
        injected[f"{name} {minus}"] = amps
    way = row.planned.plan.start
    legs = (leg for leg in row.planned.plan.legs if not leg.lights_lamp)
    home = next(leg.end for leg in legs if leg.end.place == row.planned.bus)
    fixed = {f"{way.place} {way.name}", f"{home.place} {home.name}"}
    own = (leg for leg in row.planned.plan.legs if not leg.id.startswith("H"))
    switches = {leg.end.place for leg in own if leg.end.name.endswith("C")}
    worst = 0.0
    for closed in switches or {""}:  # one contact at a time: the others are open
        still = [w for w in mine if not {w["from_place"], w["to_place"]} & (switches - {closed})]
        volts = potentials(still, injected, fixed, done.aboard.profile.conductor_c, thrown)
        drop_v = max(volts[f"{n} {minus}"] - volts[f"{n} {plus}"] for n in row.planned.loads)
        worst = max(worst, drop_v)
    return worst


def test_every_circuit_drops_what_the_nodal_solution_says(any_draft: Draft) -> None:
    files = packet_files(any_draft, frozenset({"cutlist"}))
    wires = list(csv.DictReader(io.StringIO(files["cutlist.csv"].decode())))
    checked = 0
    for row in any_draft.circuits:
        leads = row.planned.request.lead if row.planned.request else ""
        if row.sized is None or leads not in ("plus", "automatic", "manual") or row.planned.guard:
            continue
        feeders = next(s for s in row.sized.gauge.steps if s.text.startswith("shared feeders"))
        assert feeders.result is not None
        own = row.sized.drop_v - feeders.result
        assert own_drop_v(any_draft, row.id, wires) == pytest.approx(own, rel=1e-3), row.id
        checked += 1
    assert checked > 12


def test_feeders_drop_what_ohms_law_says(any_draft: Draft) -> None:
    """One resistor there and one home, each at its own demand."""
    files = packet_files(any_draft, frozenset({"cutlist"}))
    wires = list(csv.DictReader(io.StringIO(files["cutlist.csv"].decode())))
    alone: dict[str, float] = {}
    for row in any_draft.feeders:
        mine = [w for w in wires if w["circuit_id"] == row.id]
        alone[row.id] = sum(
            float(w["current_a"]) * ohm(w, any_draft.aboard.profile.conductor_c) for w in mine
        )
    for row in any_draft.feeders:
        network = any_draft.aboard.boat.network
        feeder = network.feeders[row.id]
        ahead = network.to_source(feeder.feed.source) if feeder.feed else ()
        if feeder.supply and feeder.supply.kind == "charge_source":
            ahead = ()  # its current comes from the other end
        before = max((sum(alone[name] for name in chain) for chain in ahead), default=0.0)
        assert row.sized is not None
        assert row.sized.drop_v == pytest.approx(alone[row.id] + before, rel=2e-3)
