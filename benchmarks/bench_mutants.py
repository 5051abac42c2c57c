"""Mutants of what proves a boat: limits, plan, results, pulls, the log, making alive, states."""

from benchmarks.mutant import Mutant

__all__ = ["BENCH"]

RINGING = "tests/bench/test_ringing.py"
LOG = "tests/bench/test_logbook.py"
PULLS = "tests/bench/test_pulls.py"
ALIVE = "tests/bench/test_alive.py"
PROVEN = "tests/bench/test_proven.py"
TESTER = "tests/bench/test_tester.py"
MATING = "tests/bench/test_mating.py"
HUNT = "tests/bench/test_hunt.py"
CHANGE = "tests/workshop/test_change.py"

BENCH = (
    Mutant(
        "limits without the crimps",
        "bench/ringing/limits.py",
        "return copper + ends",
        "return copper",
        RINGING,
    ),
    Mutant(
        "limits at one temperature",
        "bench/ringing/limits.py",
        "told = (wire.wire.gauge, wire.wire.cut_mm, copper_c)",
        "told = (wire.wire.gauge, wire.wire.cut_mm, 20.0)",
        RINGING,
    ),
    Mutant(
        "nobody reads the print of a short heavy wire",
        "bench/ringing/plan.py",
        "if not tells_gauge(specimen, wire, gauges):",
        "if False:",
        RINGING,
    ),
    Mutant(
        "neighbours of one net are not looked at",
        "bench/ringing/plan.py",
        "alike = tuple(_alike(specimen))",
        "alike = ()",
        RINGING,
    ),
    Mutant(
        "probed in the order of the draft",
        "bench/ringing/moves.py",
        "path = _improved(_greedy(cost), cost, bound)",
        "path = list(range(len(distinct)))",
        RINGING,
    ),
    Mutant(
        "a bound that is no bound",
        "bench/ringing/moves.py",
        "bound = FIRST + 2 * (len(distinct) - 1) - _most_links(len(distinct), links)",
        "bound = FIRST + 2 * (len(distinct) - 1)",
        RINGING,
    ),
    Mutant(
        "swapped wires are called open",
        "bench/ringing/results.py",
        "if near and self._joined(a, mate_b) and self._joined(b, mate_a):",
        "if False:",
        RINGING,
    ),
    Mutant(
        "old results count though the wire has changed",
        "bench/progress.py",
        "if step.id in last and last[step.id].signature == step.signature",
        "if step.id in last",
        RINGING,
    ),
    Mutant(
        "a reading that is none passes",
        "bench/progress.py",
        "return Result(step.id, value, passed and not math.isnan(value), step.signature)",
        "return Result(step.id, value, not value < step.low, step.signature)",
        RINGING,
    ),
    Mutant(
        "cavities touch only along their row",
        "bench/ringing/specimen.py",
        "if max(abs(x - y) for x, y in zip(at[a], at[b], strict=True)) == 1:",
        "if sum(abs(x - y) for x, y in zip(at[a], at[b], strict=True)) == 1:",
        RINGING,
    ),
    Mutant(
        "a record that was changed is taken",
        "bench/logbook.py",
        "if not isinstance(entry.what, dict) or _hash(unsealed) != entry.hash:",
        "if not isinstance(entry.what, dict):",
        LOG,
    ),
    Mutant(
        "records cut off at the end are not missed",
        "bench/logbook.py",
        "if count > lines:",
        "if False:",
        LOG,
    ),
    Mutant(
        "two stations write at once",
        "bench/logbook.py",
        "with lock.acquire(timeout=SECONDS):",
        "if True:",
        LOG,
    ),
    Mutant(
        "a later good piece lets bad crimps go",
        "bench/pulls.py",
        "            passed.add(event.number)",
        "            passed.add(event.number)\n            held = {}",
        PULLS,
    ),
    Mutant(
        "only the failed crimp is held back",
        "bench/pulls.py",
        "held |= dict.fromkeys(group.crimps[before : after - 1])",
        "held |= dict.fromkeys(group.crimps[event.number - 1 : event.number])",
        PULLS,
    ),
    Mutant(
        "motors before lights",
        "bench/aboard/plan.py",
        "return motor, not light,",
        "return not motor, not light,",
        ALIVE,
    ),
    Mutant(
        "minus on before plus",
        "bench/aboard/plan.py",
        '    yield _plain("battery", "plus on")\n    yield _plain("battery", "minus on last")',
        '    yield _plain("battery", "minus on last")\n    yield _plain("battery", "plus on")',
        ALIVE,
    ),
    Mutant(
        "figures with every load on",
        "bench/aboard/plan.py",
        "idle = self.loads - frozenset(row.planned.loads)",
        "idle = frozenset()",
        ALIVE,
    ),
    Mutant(
        "tested without pull tests",
        "bench/proven.py",
        "left = sum(len(samples_left(group, events)) for group in proofs.crimps)",
        "left = 0",
        PROVEN,
    ),
    Mutant(
        "a withdrawn record counts",
        "bench/record.py",
        "self.entries = tuple(e for e in every if e.number not in withdrawn)",
        "self.entries = every",
        PROVEN,
    ),
    Mutant(
        "rework leaves what it touches proven",
        "bench/record.py",
        "if gone.isdisjoint(touches.get(name, gone))",
        "if True",
        PROVEN,
    ),
    Mutant(
        "a refused deviation is drafted",
        "order/deviation_edits.py",
        "lambda order: _settled(order, settled)",
        "lambda order: _settled(drafted_as_built(deviation)[1](order), settled)",
        PROVEN,
    ),
    Mutant(
        "garbage is a reading",
        "bench/devices/tester.py",
        "            value = float(answer)",
        '            value = float("".join(c for c in answer if c.isdigit()) or 0)',
        TESTER,
    ),
    Mutant(
        "readings that cannot be are taken",
        "bench/devices/tester.py",
        "if not low <= value <= high:",
        "if False:",
        TESTER,
    ),
    Mutant(
        "nothing waits for the meter's leads",
        "bench/ringing/results.py",
        "return None if is_zeroed or",
        "return None if True or",
        TESTER,
    ),
    Mutant(
        "the meter's leads stay in",
        "bench/reading.py",
        "        tester.zero()\n",
        "",
        TESTER,
    ),
    Mutant(
        "the tester's thermometer is not believed",
        "bench/devices/tester.py",
        'celsius = self.read("TEMP") if self.has_thermometer else copper_c',
        'celsius = self.read("TEMP") and copper_c',
        TESTER,
    ),
    Mutant(
        "a crossed plug blames its nets too",
        "bench/ringing/mating.py",
        'return {s.id for s in steps} | {f"net {s.subject}" for s in steps}',
        "return {s.id for s in steps}",
        MATING,
    ),
    Mutant(
        "contacts that were passed over are suspected",
        "bench/ringing/mating.py",
        "suspected = tuple(name for name in over if name not in sound) or over",
        "suspected = over",
        MATING,
    ),
    Mutant(
        "mated contacts have no resistance",
        "bench/ringing/limits.py",
        "between(highest, ENDS_MOST)",
        "between(highest, CONTACT_LEAST)",
        MATING,
    ),
    Mutant(
        "one way through a net is enough",
        "bench/ringing/plan.py",
        "        for far in others:\n",
        "        for far in others[:1]:\n",
        MATING,
    ),
    Mutant(
        "a low battery is hunted",
        "bench/aboard/results.py",
        "given = [self.results[b.id].value / b.figure for b in self._batteries]",
        "given = [1.0]",
        HUNT,
    ),
    Mutant(
        "a meter is believed in the air",
        "bench/aboard/hunt.py",
        "noticed=False, meter_v=DEAD_METER_V",
        "noticed=False",
        HUNT,
    ),
    Mutant(
        "advice by one ruling",
        "power/finder.py",
        "for shift in (0.0, 0.5)",
        "for shift in (0.0, 0.0)",
        HUNT,
    ),
    Mutant(
        "resistances are not fitted",
        "bench/aboard/hunt.py",
        "            scan.corroded_ohm = _fitted(",
        "            _fitted(",
        HUNT,
    ),
    Mutant(
        "any bond will do",
        "bench/aboard/plan.py",
        "            high=most + HAND_OHM,\n",
        "            high=math.inf,\n",
        ALIVE,
    ),
    Mutant(
        "links that are cut are cut again",
        "workshop/change.py",
        "        if feed is not None and feed.id in kept:\n            continue\n",
        "",
        CHANGE,
    ),
    Mutant(
        "only the next tab goes dark",
        "workshop/change.py",
        "waiting += [fate.end for fate in cut if fate.start.words == end.words]",
        "pass",
        CHANGE,
    ),
)
