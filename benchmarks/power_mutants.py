"""Mutants of the powered boat: laws, solver, faults, scan, proof, finder and energy."""

from benchmarks.mutant import Mutant

__all__ = ["POWER"]

BOOK = "tests/network/test_textbook.py"
ISLANDS = "tests/network/test_islands.py"
CHANGED = "tests/network/test_changed.py"
POWERED = "tests/power/test_power.py"
SNEAK = "tests/power/test_sneak.py"
FINDER = "tests/power/test_finder.py"

POWER = (
    Mutant(
        "a source at its limit keeps its slope",
        "network/steps.py",
        "self._straight[self._between] -= self._flat",
        "pass",
        "tests/network tests/power/test_power.py",
    ),
    Mutant(
        "what rounding left missing stays missing",
        "network/steps.py",
        "REFINED: Final = 3",
        "REFINED: Final = 0",
        "tests/power/test_power.py",
    ),
    Mutant(
        "a source at its limit gives what it would without",
        "network/laws.py",
        "clipped: Floats = np.minimum(np.maximum((volts - v) * siemens, 0.0), limit)",
        "clipped: Floats = np.maximum((volts - v) * siemens, 0.0)",
        BOOK,
    ),
    Mutant(
        "a converter without its loss",
        "network/laws.py",
        "power = power / _like(self.efficiency, v_in)",
        "power = power * 1.0",
        BOOK,
    ),
    Mutant(
        "constant power as constant current",
        "network/laws.py",
        "np.where(bends, self.volts, FAR_V),",
        "np.full(len(self.volts), FAR_V),",
        BOOK,
    ),
    Mutant(
        "a change that pushes the other way",
        "network/inverted.py",
        "np.add.at(into, (self._a, at), -carried)",
        "np.add.at(into, (self._a, at), carried)",
        CHANGED,  # what is out of balance is solved afresh: only how many tells
    ),
    Mutant(
        "breaks one behind another tear the network apart",
        "network/changed.py",
        "IDLE if idle else CONDUCTS",
        "CONDUCTS",
        CHANGED,
    ),
    Mutant(
        "what hangs at plus alone is taken to carry",
        "network/islands.py",
        "through = by_hot & (lowest < highest)",
        "through = by_hot",
        ISLANDS,
    ),
    Mutant(
        "a shorted battery is one voltage",
        "network/islands.py",
        "np.where(shorted[one], count, one)[held]",
        "one[held]",
        ISLANDS,
    ),
    Mutant(
        "a break walks past what nothing ties",
        "network/islands.py",
        "if self._island[int(self._net.branches[0, branch])] not in self._tied:",
        "if False:",
        ISLANDS,
    ),
    Mutant(
        "Newton's method forgets what a converter's output does to its input",
        "network/newton.py",
        "np.add.at(lines.T, outputs, (per_ampere[:, inputs] * bent.coupling(v)).T)",
        "pass",
        "tests/network/test_newton.py",
    ),
    Mutant(
        "a hurried step goes the wrong way",
        "network/steps.py",
        "x = nearer - share * (nearer - before[0])",
        "x = nearer + share * (nearer - before[0])",
        "tests/network/test_newton.py",
    ),
    Mutant(
        "an idle load draws",
        "power/powered.py",
        "0.0 if elements[name].part in setting.idle else amps",
        "amps",
        POWERED,
    ),
    Mutant(
        "a coil holds at its pull-in voltage only",
        "power/powered.py",
        "if volts[element] >= holds * board.volts[element]:",
        "if volts[element] >= 2 * holds * board.volts[element]:",
        POWERED,
    ),
    Mutant(
        "one crimped end a wire",
        "power/board.py",
        "return copper + 2 * contacts.end_ohm(",
        "return 0 * copper + 2 * contacts.end_ohm(",
        POWERED,
    ),
    Mutant(
        "a turned battery stays as it was",
        "power/fault.py",
        "s._replace(plus=s.minus, minus=s.plus) if s.id == fault.at else s",
        "s",
        POWERED,
    ),
    Mutant(
        "the first edge for the last",
        "power/course.py",
        "seconds = LASTING_S if lasts else still[opening].late",
        "seconds = LASTING_S if lasts else still[opening].early",
        POWERED,
    ),
    Mutant(
        "heat that is never shed",
        "standards/heating.py",
        "rate = np.where(np.abs(heats - sheds) < 1e-15, 1e-15, heats - sheds)",
        "rate = np.maximum(heats, 1e-15)",
        POWERED,
    ),
    Mutant(
        "the scan forgets what its relays let go",
        "power/scan.py",
        "return (*self.still, *self.relays, *opened)",
        "return (*self.still, *opened)",
        POWERED,
    ),
    Mutant(
        "bars joined through minus are not seen",
        "power/sneak.py",
        "if len(ends) < len(roots) or ends & tried.home:",
        "if len(ends) < len(roots):",
        SNEAK,
    ),
    Mutant(
        "a load to a dead bar is no sneak",
        "power/sneak.py",
        "if (a in tried.live and b in tried.dead) or (b in tried.live and a in tried.dead):",
        "if False:",
        SNEAK,
    ),
    Mutant(
        "levers at rest only",
        "power/sneak.py",
        "for hand in _combinations(group.hand):",
        "for hand in [dict[str, str]()]:",
        SNEAK,
    ),
    Mutant(
        "the reading that tells least",
        "power/finder.py",
        "worth = gain / point.reach",
        "worth = 1e-5 / (gain + 1e-9) / point.reach if gain > 1e-9 else 0.0",
        FINDER,
    ),
    Mutant(
        "a symptom weighs nothing",
        "power/finder.py",
        "against += np.where(self.seen[symptom.element] == code, 0.0, WRONG_SYMPTOM)",
        "against += 0.0 * self.seen[symptom.element]",
        FINDER,
    ),
    Mutant(
        "a battery gives more the faster it is drawn",
        "standards/batteries.py",
        "factor = (capacity_ah / (amps * rated_h)) ** (PEUKERT[chemistry] - 1)",
        "factor = (amps * rated_h / capacity_ah) ** (PEUKERT[chemistry] - 1)",
        POWERED,
    ),
    Mutant(
        "pumps that start half as often",
        "power/energy.py",
        "running_h = 24 * starts_per_h * seconds / 3600",
        "running_h = 12 * starts_per_h * seconds / 3600",
        POWERED,
    ),
    Mutant(
        "a shore charger at sea",
        "power/setting.py",
        'supply.kind == "charge_source" and supply.charges_by in by.get(scenario, ())',
        'supply.kind == "charge_source" and bool(by.get(scenario, ()))',
        "tests/power/test_power.py",
    ),
    Mutant(
        "the sun shines by night alone",
        "power/energy.py",
        'if s.charges_by == "sun") * SUN_H',
        'if s.charges_by == "shore") * SUN_H',
        "tests/power/test_power.py",
    ),
    Mutant(
        "a meter tells everything apart",
        "power/finder.py",
        "along = np.concatenate(([0.0], np.cumsum(between))) / 3",
        "along = np.concatenate(([0.0], np.cumsum(between))) * 30",
        "tests/power/test_finder.py",
    ),
    Mutant(
        "ohms that are never asked for",
        "power/advice.py",
        "ohms = _ohms(finder, weights)",
        "ohms = []",
        "tests/power/test_finder.py",
    ),
    Mutant(
        "what was read is asked for again",
        "power/advice.py",
        "for worth, advice in found if (advice.at, advice.unit) not in read]",
        "for worth, advice in found]",
        "tests/power/test_finder.py",
    ),
    Mutant(
        "what amps rule out is named with the rest",
        "power/finder.py",
        "likely = members[weights[members] >= RULED_OUT * weights[members].max()]",
        "likely = members",
        "tests/power/test_finder.py",
    ),
    Mutant(
        "the clamp's sound figure of another wire",
        "power/advice.py",
        "amps = abs(finder.base.amps[wire])",
        "amps = abs(finder.base.amps[wire]) + 1",
        "tests/power/test_finder.py",
    ),
)
