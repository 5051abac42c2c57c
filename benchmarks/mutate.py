"""The code broken on purpose, one place at a time: a mutant that lives is a missing test.

    ./vivid-loom mutate

Every mutant is a mistake that would reach a builder or a boat. It is made in a copy of the
sources; the tests named beside it must fail.
"""

import os
import shutil
import subprocess
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from benchmarks.bench_mutants import BENCH
from benchmarks.harness_mutants import HARNESS
from benchmarks.helm_mutants import HELM
from benchmarks.mutant import Mutant
from benchmarks.power_mutants import POWER
from benchmarks.window_mutants import WINDOW

ROOT = Path(__file__).parent.parent
SHEETS = "tests/sheets"
MAKING = "tests/sheets/test_build_lists.py"
REUSE = "tests/drafting/test_reuse.py"
FIXES = "tests/drafting/test_fixes.py"
SIZES = "tests/drafting/test_demo.py"
FAULTS = "tests/outside"
NETWORK = "tests/boat/test_feeders.py"
NETS = "tests/netlist"
SHAPES = "tests/drafting/test_supply_shapes.py"
SIGNALS = "tests/drafting/test_signal_leads.py"
AGAIN = "tests/drafting/test_again.py"
HEADROOM = "tests/drafting/test_headroom.py"
LANDINGS = "tests/drafting/test_landings.py"
MOVES = "tests/workshop/test_moves.py"
STEADY = "tests/drafting/test_steady_sizes.py"


MUTANTS = (
    Mutant(
        "the shorter lead thinner than the longest way bears",
        "drafting/sizing/shorter_ways.py",
        "self.along(own, gauge).value <= longest and",
        "self.ohm(own, gauge).value <= longest and",
        "tests/drafting/test_pump_leads.py",
    ),
    Mutant(
        "a lead its fuse burns",
        "drafting/sizing/shorter_ways.py",
        "return fault is None or fault.let_through_a2s <= bears",
        "return True",
        "tests/drafting/test_pump_leads.py",
    ),
    Mutant(
        "a lead below the shop's floor",
        "drafting/sizing/shorter_ways.py",
        "for rung in range(self.least(), self.rung):",
        "for rung in range(self.rung):",
        "tests/drafting/test_pump_leads.py",
    ),
    Mutant(
        "a length rounded a second way",
        "quantities/formatting.py",
        "    metres = round(metres, 3)\n",
        "",
        "tests/sheets/test_same_figure.py",
    ),
    Mutant(
        "cut-outs of any kind",
        "boat/supply.py",
        "or self.cut_out == cut_out",
        "or self.cut_out != cut_out",
        "tests/drafting/test_helm.py",
    ),
    Mutant(
        "shares by length alone",
        "drafting/sizing/feeder_limits.py",
        "max(SHORT_M, loop_m) * (self.out_a or self.home_a) ** 0.25",
        "max(SHORT_M, loop_m)",
        "tests/drafting/test_demo.py",
    ),
    Mutant(
        "terminals that take less ask nothing of the others",
        "drafting/sizing/shares.py",
        "left_v -= free.pop(name) * least_ohm[name]",
        "free.pop(name)",
        STEADY,
    ),
    Mutant(
        "sockets and pins inverted",
        "drafting/making/terminate.py",
        '"socket" if live_side else "pin"',
        '"pin" if live_side else "socket"',
        MAKING,
    ),
    Mutant(
        "plug's live harness swapped",
        "drafting/making/cutting.py",
        'if leg.live == "return":\n                    sides.reverse()',
        'if leg.live != "return":\n                    sides.reverse()',
        MAKING,
    ),
    Mutant(
        "smallest ring at the bottom",
        "sheets/lists/build_lists.py",
        "(-area_mm2(item[0].gauge), item[0].id)",
        "(area_mm2(item[0].gauge), item[0].id)",
        MAKING,
    ),
    Mutant("wrong blade colour", "standards/protection.py", '"tan"', '"brown"', MAKING),
    Mutant(
        "landing reads live behind the switch",
        "sheets/lists/build_lists.py",
        'at_battery and wire.live == "source"',
        'at_battery or wire.live == "source"',
        MAKING,
    ),
    Mutant(
        "switched conductor reads live",
        "sheets/lists/build_lists.py",
        'at_battery and wire.live == "source"',
        "at_battery",
        MAKING,
    ),
    Mutant(
        "test point reads wrong",
        "sheets/lists/loose_lists.py",
        '"battery_direct" and live == "source"',
        '"unswitched" and live == "source"',
        MAKING,
    ),
    Mutant(
        "service loop left out",
        "drafting/making/cut_lengths.py",
        'end.kind == "lead" for end in ends',
        'end.kind == "tab" for end in ends',
        MAKING,
    ),
    Mutant(
        "tail allowed at one end only",
        "drafting/making/cut_lengths.py",
        "number(2) * number(profile.tail_mm)",
        "number(1) * number(profile.tail_mm)",
        MAKING,
    ),
    Mutant(
        "cut length rounded down",
        "drafting/making/cut_lengths.py",
        "math.ceil(raw / step - 1e-9)",
        "math.floor(raw / step)",
        MAKING,
    ),
    Mutant(
        "strips left out",
        "drafting/making/cut_lengths.py",
        "length = length + number(end.termination.strip_mm)",
        "length = length + number(0)",
        MAKING,
    ),
    Mutant(
        "label names no wire",
        "drafting/making/ending.py",
        'label = f"{wire} {point.place if called is None else called} {point.name}"',
        'label = f"{point.place if called is None else called} {point.name}"',
        MAKING,
    ),
    Mutant(
        "barrel a size too small",
        "standards/terminals.py",
        '(1.05, 2.55, Barrel("blue", "blue", 7.0))',
        '(1.05, 2.55, Barrel("red", "red", 7.0))',
        MAKING,
    ),
    Mutant(
        "jaw of another colour",
        "standards/terminals.py",
        'Barrel("yellow", "yellow", 9.0)',
        'Barrel("yellow", "blue", 9.0)',
        MAKING,
    ),
    Mutant(
        "materials forget an end",
        "drafting/beside/existing.py",
        "if lies else ends\n",
        "if lies else ends[:1]\n",
        MAKING,
    ),
    Mutant(
        "reuse ignores the way",
        "drafting/beside/existing.py",
        "and built.runs == wire.runs",
        "",
        REUSE,
    ),
    Mutant(
        "reuse ignores the gauge",
        "drafting/beside/existing.py",
        "and built.gauge == str(wire.gauge)",
        "",
        REUSE,
    ),
    Mutant(
        "reuse ignores the colour",
        "drafting/beside/existing.py",
        "and built.colour == str(wire.colour)",
        "",
        REUSE,
    ),
    Mutant(
        "capped conductors are kept",
        "order/records.py",
        'self.state in ("as drawn", "differs")',
        'self.state != "removed"',
        REUSE,
    ),
    Mutant(
        "one conductor serves twice",
        "drafting/beside/existing.py",
        "            del left[match.id]\n",
        "",
        REUSE,
    ),
    Mutant(
        "a wider bore, never wide enough",
        "drafting/rules/edits.py",
        "filled.percent * room <= filled.limit",
        "filled.percent <= 99 * filled.limit",
        FIXES,
    ),
    Mutant(
        "a fix that clears nothing",
        "drafting/rules/edits.py",
        "clear_override(override.subject, override.field)[1]",
        "(lambda order: order)",
        FIXES,
    ),
    Mutant(
        "a load fed twice",
        "order/load_edits.py",
        "tuple({x.id: x for x in (*order.added.loads, *fit.loads)}.values())",
        "(*order.added.loads, *fit.loads)",
        FIXES,
    ),
    Mutant(
        "drop taken one way",
        "drafting/sizing/circuit_reasons.py",
        'for i in line.legs),\n        "A·m"',
        'for i in line.legs[:1]),\n        "A·m"',
        SIZES,
    ),
    Mutant("k of aluminium", "standards/short_circuit.py", "keyed(226)", "keyed(148)", FAULTS),
    Mutant(
        "far shorts taken with cold copper",
        "drafting/sizing/short_paths.py",
        "parts = net.ahead(planned.source, home, most=False)",
        "parts = net.ahead(planned.source, home, most=True)",
        FAULTS,
    ),
    Mutant(
        "duty taken as continuous share",
        "standards/duty.py",
        "grown(keyed(on_s / duty) / tau)",
        "grown(keyed(on_s) / tau)",
        FAULTS,
    ),
    Mutant(
        "late edge read as early",
        "standards/time_current.py",
        "_edge_s(family, amps / rating_a, 2)",
        "_edge_s(family, amps / rating_a, 1)",
        FAULTS,
    ),
    Mutant(
        "longest way becomes the shortest",
        "drafting/places/route.py",
        "if so_far + run_m < distance[other]",
        "if so_far + run_m > distance[other]",
        "tests/drafting/test_ways.py",
    ),
    Mutant(
        "a huge figure is let in",
        "quantities/limits.py",
        "abs(value) <= GREATEST",
        "abs(value) <= 1e300",
        "tests/quantities",
    ),
    Mutant(
        "home by another battery",
        "boat/feeders.py",
        "if self._home_end(home, bus_id) == battery]",
        "if home is not None]",
        NETWORK,
    ),
    Mutant(
        "a key counts as a switch",
        "boat/feeders.py",
        '"key_switch": "ignition"',
        '"key_switch": "unswitched"',
        NETWORK,
    ),
    Mutant("both feeds one battery", "boat/feeders.py", '"both": ANY', '"both": ("1",)', NETWORK),
    Mutant(
        "a dead coil pulls",
        "boat/feeders.py",
        'coil_sources.get(supply.coil, next(iter(self.batteries), "")) in found',
        "True",
        NETWORK,
    ),
    Mutant(
        "a converter gives amp for amp",
        "drafting/sizing/needs.py",
        "return supply.output_v / inlet_v / (supply.efficiency_percent / 100)",
        "return 1.0",
        SHAPES,
    ),
    Mutant(
        "a charger's current forgotten upstream",
        "drafting/sizing/needs.py",
        "self.charge[name] += supply.total_max_a",
        "pass",
        SHAPES,
    ),
    Mutant(
        "a stub behind a relay as thin as may be",
        "drafting/sizing/feeder_limits.py",
        "for a in (need.rating_a, need.guard_a) if",
        "for a in (need.rating_a,) if",
        SHAPES,
    ),
    Mutant(
        "a feeder thinner than what it feeds",
        "drafting/sizing/stage.py",
        "if rung > max(sizes.feeders[name].drafted, asked.get(name, 0))",
        "if False",
        "tests/drafting/test_demo.py tests/drafting/test_every_rule.py tests/outside/test_trade.py",
    ),
    Mutant(
        "a floor that was taken back once is not looked at again",
        "drafting/sizing/stage.py",
        "        sizes, least = trial, lighter\n",
        "        return trial, feeders\n",
        "tests/drafting/test_supply_shapes.py",
    ),
    Mutant(
        "presses stand whatever is joined",
        "drafting/after/joined.py",
        "(aboard.boat, aboard.circuits, tuple(told)),",
        "(aboard.boat, aboard.circuits),",
        "tests/drafting/test_again.py",
    ),
    Mutant(
        "presses stand whatever a lamp is lit in",
        "drafting/after/joined.py",
        "load.contact_a is None, load.lit_in)",
        "load.contact_a is None)",
        "tests/drafting/test_again.py",
    ),
    Mutant(
        "two buses are never one",
        "drafting/after/joined.py",
        'for leg in returns if leg.live == "return"]',
        "for leg in returns if False]",
        "tests/drafting/test_again.py",
    ),
    Mutant(
        "lamps stay lit at night wherever the lights have gone",
        "drafting/helm/wiring.py",
        'loads if load.function == "instrument_light")',
        "loads if False)",
        "tests/drafting/test_panel_backs.py",
    ),
    Mutant(
        "shorts from one battery only",
        "drafting/sizing/short_paths.py",
        '[*_together(ways, "all batteries")',
        '[*_together(ways[:1], "all batteries")',
        SHAPES,
    ),
    Mutant(
        "a joint's barrel for every wire",
        "sheets/lists/stores.py",
        'shared = "closed-end" in end.termination.kind',
        "shared = False",
        SHEETS,
    ),
    Mutant(
        "a joint sized for one wire",
        "drafting/making/terminate.py",
        "total = sum(map(area_mm2, together))",
        "total = area_mm2(gauge) + area_mm2(tail)",
        "tests/drafting/test_stages.py tests/sheets tests/drafting/test_supply_shapes.py",
    ),
    Mutant(
        "a stub cut with tails",
        "drafting/making/cut_lengths.py",
        "exact=leg.jumper or leg.stub)",
        "exact=leg.jumper)",
        f"{SHAPES} {MAKING}",
    ),
    Mutant(
        "a strip's other lead left on the tab",
        "drafting/places/strips.py",
        "if other.start == leg.start and",
        "if other is leg and",
        f"{NETS} tests/drafting/test_strips_and_cables.py tests/outside/test_nodal.py",
    ),
    Mutant(
        "a tree's joint carries itself alone",
        "drafting/patterns/base.py",
        "beyond = tuple(tuple(j for j in range(count) if i in before[j]) for i in range(count))",
        "beyond = tuple((i,) for i in range(count))",
        "tests/drafting/test_branching.py",
    ),
    Mutant(
        "joined without the way home",
        "drafting/places/branching.py",
        "return routes.distance_m(start, loads[load]) + routes.distance_m(loads[load], home)",
        "return 9e9 if done else 0.0",
        "tests/drafting/test_branching.py",
    ),
    Mutant(
        "any longer word will do",
        "order/roles.py",
        "_SHORTEST, _LONGER = 4, 2",
        "_SHORTEST, _LONGER = 4, 9",
        "tests/order/test_roles.py",
    ),
    Mutant(
        "a fuse left out of the net",
        "drafting/after/circuit_net.py",
        "self.contact(place, at, out, by=by, device=device)",
        "self.contact(place, at, out, by=by)",
        NETS,
    ),
    Mutant(
        "a tab takes any wire",
        "drafting/sizing/lines.py",
        "if area <= thickest_mm2",
        "if area",
        NETS,
    ),
    Mutant(
        "an edit of a gauge goes unnoticed",
        "drafting/sizing/stage.py",
        '        sized = kept.take("sized", line.id, made_from, open_it)',
        '        sized = kept.take("sized", line.id, (line,), open_it)',
        AGAIN,
    ),
    Mutant(
        "a short is not looked at again",
        "drafting/sizing/coordination.py",
        "made_from = (item, net.paths[item.id], net.standing.get(item.id), drawing, side)",
        "made_from = (item, net.paths[item.id], drawing)",
        AGAIN,
    ),
    Mutant(
        "plain keys are compared by object",
        "drafting/kept.py",
        "if isinstance(now, Plain):\n        return now == before",
        "if isinstance(now, Plain):\n        return now is before",
        "tests/drafting/test_kept.py",
    ),
    Mutant(
        "reasons are compared to tell whether something stands",
        "drafting/making/ending.py",
        "told = Plain((sized.current_a,",
        "told = Plain((sized, sized.current_a,",
        "tests/drafting/test_kept.py",
    ),
    Mutant(
        "a supply is offered whatever somebody decided",
        "drafting/places/allocate.py",
        "Plain((request, loads, forced, aboard.boat,",
        "Plain((request, loads, aboard.boat,",
        "tests/drafting/test_again.py",
    ),
    Mutant(
        "wires keep their colour",
        "drafting/making/ending.py",
        "made_from = (pieces, told, part.colours, aboard.profile)",
        "made_from = (pieces, told, aboard.profile)",
        AGAIN,
    ),
    Mutant(
        "a sensor draws twice",
        "drafting/sizing/needs.py",
        "if circuit.guard:  # what it draws, its guard's load does",
        "if False:",
        SIGNALS,
    ),
    Mutant(
        "a sensor's pair as thin as may be",
        "drafting/sizing/lines.py",
        "return rating_of(planned.guard, aboard)",
        "return UNRATED",
        SIGNALS,
    ),
    Mutant(
        "a fused tap as thick as its circuit",
        "drafting/making/cutting.py",
        "if leg.fuse_a:  # its own, whatever protects the circuit",
        "if False:",
        SIGNALS,
    ),
    Mutant(
        "a motor turned the same way twice",
        "drafting/patterns/reversing.py",
        'Leg("J1", down_too, up,',
        'Leg("J1", up_too, up,',
        SHAPES,
    ),
    Mutant(
        "one cable for all loads",
        "drafting/sizing/cable_stock.py",
        'if load == (leg.start if leg.live == "return" else leg.end).place and not leg.jumper',
        'if "lead" in (leg.start.kind, leg.end.kind) and not leg.jumper',
        "tests/drafting/test_strips_and_cables.py",
    ),
    Mutant(
        "a rocker's tab takes any wire",
        "drafting/sizing/lines.py",
        "if p.kind in _SMALL}",
        "if p.kind in _SMALL and p.kind != 'tab'}",
        MOVES,
    ),
    Mutant(
        "a lamp without a way home",
        "drafting/rules/safety.py",
        "told and name not in homed and load.lead_of not in parts",
        "False",
        SIGNALS,
    ),
    Mutant(
        "instruments' lamps in the instruments' colour",
        "drafting/making/colour.py",
        'if planned.request and planned.request.lead == "lamp":',
        "if False:",
        SIGNALS,
    ),
    Mutant(
        "a feeder's device above its wire",
        "drafting/sizing/headroom.py",
        'yield "its wire", self.bears[name]',
        'yield "its wire", 1e9',
        HEADROOM,
    ),
    Mutant(
        "a feeder's device above the next one",
        "drafting/sizing/headroom.py",
        "and r < ahead_a",
        "and r > 0",
        HEADROOM,
    ),
    Mutant(
        "a feeder's device above the returns",
        "drafting/sizing/headroom.py",
        "most = max(self.bears_alone[other], now)",
        "most = 1e9",
        HEADROOM,
    ),
    Mutant(
        "headroom in spite of the engineer",
        "drafting/sizing/headroom.py",
        'if self.net.aboard.order.override(name, "protection_a") is None:',
        "if True:",
        HEADROOM,
    ),
    Mutant(
        "headroom past a short",
        "drafting/sizing/headroom.py",
        "if not survives_short(need.planned, need.least_a, rating_a, self.net):",
        "if False:",
        HEADROOM,
    ),
    Mutant(
        "a thin minus",
        "drafting/sizing/stage.py",
        "for name, tops in feeders.homing.items():",
        "for name, tops in {}.items():",
        HEADROOM,
    ),
    Mutant(
        "a switch's loads one by one",
        "drafting/sizing/needs.py",
        "entries = _as_one([(load.demand, load.running_a or 0.0) for load in loads])",
        "entries = [(load.demand, load.running_a or 0.0) for load in loads]",
        HEADROOM,
    ),
    Mutant(
        "an allowance void beside a large load",
        "standards/demand.py",
        "+ max(0.1 * self.spare_sum_a, self.spare_largest_a)",
        "+ 0.0",
        HEADROOM,
    ),
    Mutant(
        "no branch is blamed",
        "drafting/sizing/feeder_sizes.py",
        'decider=share.branch if by_branch and share else "",',
        'decider="",',
        HEADROOM,
    ),
    Mutant(
        "any strong device upstream will do",
        "drafting/rules/faults.py",
        "sound = over <= time_current.holds_s(family, rating_a, near_a)",
        "sound = True",
        "tests/drafting/test_every_rule.py",
    ),
    Mutant(
        "two lamps fused unlike one",
        "drafting/places/protect.py",
        "if len(known) < len(loads) or not known:",
        "if True:",
        "tests/outside/test_facts.py",
    ),
    Mutant(
        "bilge pumps as thin as lamps",
        "drafting/sizing/lines.py",
        "pump = self.pump if has_pump_floor(circuit, loads, self.aboard.profile) else 0",
        "pump = 0",
        "tests/outside/test_facts.py",
    ),
    Mutant(
        "bilge pumps always critical",
        "drafting/sizing/lines.py",
        'profile.bilge_pump_drop if load.function == "bilge_pump" else load.drop',
        "load.drop",
        "tests/outside/test_facts.py",
    ),
    Mutant(
        "plugs mated for ever",
        "netlist/derive.py",
        "return states.get(actuator.id, actuator.states[0]) in contact.closed_in",
        "return True",
        NETS,
    ),
    Mutant(
        "issued numbers are given anew",
        "drafting/places/numbers.py",
        "if issued is not None and issued.place == place:",
        "if False:",
        LANDINGS,
    ),
    Mutant(
        "what is spoken for is given to others",
        "drafting/places/numbers.py",
        "n not in taken and n not in reserved)",
        "n not in taken)",
        LANDINGS,
    ),
    Mutant(
        "a number given twice",
        "drafting/places/numbers.py",
        "if not number or number in taken:",
        "if not number:",
        LANDINGS,
    ),
    Mutant(
        "an issued plug is another's",
        "drafting/making/plugs.py",
        "known = self._cavities.places | self._all.keys()",
        "known = self._all.keys()",
        LANDINGS,
    ),
    Mutant(
        "a position issued is forgotten",
        "drafting/places/positions.py",
        "if at and stays and switch.id not in fixed and at not in fixed.values():",
        "if False:",
        LANDINGS,
    ),
    Mutant(
        "a feeder's fault is a finding",
        "power/harm.py",
        "in_a_circuit = any(one.id == row.probe.circuit for one in draft.circuits)",
        "in_a_circuit = True",
        "tests/power/test_harm.py",
    ),
    Mutant(
        "batteries tied in their first state alone",
        "power/ties.py",
        "if plus[full] != plus[flat]:",
        "if plus[full] != plus[flat] or len(states) > 1:",
        "tests/power/test_ties.py",
    ),
    Mutant(
        "a clamp round a broken wire",
        "power/meter.py",
        "if scanned.probe.at == wire else None",
        "if False else None",
        "tests/power/test_finder.py",
    ),
    Mutant(
        "a blown fuse conducts",
        "power/meter.py",
        "        for name in opened:\n"
        "            ohm = self._changed(island, column, ohm, name, 0.0)\n",
        "",
        "tests/power/test_finder.py",
    ),
    Mutant(
        "what one draft asks twice is made twice",
        "drafting/kept.py",
        "for made in (self._made, self._before):",
        "for made in (self._before,):",
        "tests/drafting/test_kept.py",
    ),
    Mutant(
        "the last row's share instead of the least",
        "drafting/sizing/shares.py",
        "if name not in found or share.ohm_per_m < found[name].ohm_per_m:",
        "if True:",
        STEADY,
    ),
    Mutant(
        "names that are cut alike",
        "sheets/drawings/supply_drawing.py",
        "alike = cut != name and times[cut] > 1 and head",
        "alike = False",
        "tests/sheets/test_supply_names.py",
    ),
    Mutant(
        "a caution that hides what happened",
        "desktop/frame/window.py",
        "fits = metrics.horizontalAdvance(words) <= room",
        "fits = True",
        "tests/desktop/test_window.py",
    ),
    *HARNESS,
    *BENCH,
    *HELM,
    *POWER,
    *WINDOW,
)


def survives(mutant: Mutant) -> bool | None:
    """Tell whether the tests let a mutant live; None where its place is gone from the code."""
    with tempfile.TemporaryDirectory(prefix="vivid-loom-mutant-") as folder:
        copy = Path(folder) / "src"
        shutil.copytree(ROOT / "src", copy, ignore=shutil.ignore_patterns("__pycache__"))
        path = copy / "vivid_loom" / mutant.file
        text = path.read_text(encoding="utf-8")
        if mutant.old not in text:
            return None
        path.write_text(text.replace(mutant.old, mutant.new), encoding="utf-8")
        command = [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider"]
        environment = {**os.environ, "PYTHONPATH": f"{copy}{os.pathsep}{ROOT}"}
        words = mutant.tests.split()
        done = subprocess.run(
            [*command, *words], cwd=ROOT, env=environment, capture_output=True, check=False
        )
        return done.returncode == 0


def main() -> int:
    """Try every mutant, print which live, and the share that was killed."""
    with ThreadPoolExecutor(os.cpu_count() or 1) as pool:
        lived = list(pool.map(survives, MUTANTS))
    words = {True: "LIVES", False: "killed", None: "NOT FOUND"}
    for mutant, alive in zip(MUTANTS, lived, strict=True):
        print(f"{words[alive]:10} {mutant.what}  ({mutant.file})")
    killed = lived.count(False)
    print(f"{killed} of {len(MUTANTS)} killed, {100 * killed / len(MUTANTS):.0f} %")
    return 0 if killed == len(MUTANTS) else 1


if __name__ == "__main__":
    sys.exit(main())
