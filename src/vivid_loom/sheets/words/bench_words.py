"""How screen and sheets speak of what is proven: steps, limits, readings, causes."""

import math
from collections.abc import Iterator
from typing import Final, NamedTuple

from vivid_loom.bench.aboard.hunt import Hunt
from vivid_loom.bench.aboard.plan import DEAD_SHARE, AliveStep
from vivid_loom.bench.progress import Result
from vivid_loom.bench.ringing.plan import INSULATION_V, RingPlan, Step
from vivid_loom.bench.ringing.results import Cause
from vivid_loom.bench.ringing.specimen import Pin, Specimen
from vivid_loom.boat import STATES
from vivid_loom.drafting import Draft, DraftedCircuit
from vivid_loom.quantities import figure
from vivid_loom.sheets.words.helm_words import element_words, state_words
from vivid_loom.sheets.words.names import Names
from vivid_loom.sheets.words.power_words import suspect_words

__all__ = [
    "StepWords",
    "alive_cause_words",
    "alive_words",
    "cause_words",
    "limits_words",
    "pin_code",
    "pin_words",
    "read_words",
    "ring_words",
]

MOST_NAMED: Final = 6
LIKELY: Final = 0.25  # of a suspect that is named
_PLAIN: Final = {
    "begins": (
        "Coming aboard",
        "Vented; nobody else works on it. Battery minus is off before a spanner comes near a stud; "
        "the devices of circuits that are not proven yet are out.",
    ),
    "minus off": ("Minus off", "Every battery's minus lead is off its post and taped."),
    "devices out": ("Devices out", "Every fuse is out, every breaker stands open."),
    "switches off": ("Switches off", "Battery switches, keys and every lever stand off."),
    "vented": (
        "Vented",
        "Hatches open, blower run for 4 minutes where petrol is, extinguisher at hand.",
    ),
    "plus on": ("Plus on", "Plus leads on their posts, boots over them. Minus still off."),
    "minus on last": (
        "Minus on, last",
        "At most a faint spark; otherwise disconnect and find the cause. Stand clear of what "
        "moves.",
    ),
    "everything off": ("Everything off", "Every lever, key and battery switch stands off."),
    "looked at again": (
        "After the first run",
        "Feel joints, fuse blocks and feeders: none warm. Screws torqued again, ties whole, "
        "no chafe where the engine moves.",
    ),
}


class StepWords(NamedTuple):
    """A step in words.

    Attributes:
        title: what it is about.
        red, black: where the two probes go; '' where nothing is probed.
        asks: what to do and what to find.
    """

    title: str
    red: str
    black: str
    asks: str


def pin_words(specimen: Specimen, pin: Pin) -> str:
    """Say where a probe goes: plug and cavity, or the label of a loose end."""
    if pin.cavity:
        half = next(half for half in specimen.plugs if half.plug.id == pin.connector)
        return f"{pin.connector} cavity {pin.cavity}, {half.gender} side"
    others = len(pin.ends) - 1
    joint = f", the joint with {others} more" if others and pin.first.is_joint else ""
    return f"end {pin.first.label}{joint}"


def pin_code(pin: Pin) -> str:
    """Name a pin in a few letters: plug and cavity, or the device's end."""
    if pin.cavity:
        return f"{pin.connector}.{pin.cavity}"
    return pin.first.label.removeprefix(pin.ends[0].wire.id).strip()


def limits_words(step: Step | AliveStep) -> str:
    """Say between what a reading must lie."""
    if not step.is_read:
        return ""
    if step.low <= 0:
        return f"at most {figure(step.high)} {step.unit}"
    if math.isinf(step.high):
        return f"at least {figure(step.low)} {step.unit}"
    return f"{figure(step.low)} to {figure(step.high)} {step.unit}"


def read_words(step: Step | AliveStep, result: Result) -> str:
    """Say what a step has shown."""
    if not step.is_read:
        return "as it should be" if result.passed else "not as it should be"
    if math.isinf(result.value):
        return "open" if step.unit == "mΩ" else "over range"
    return f"{figure(result.value)} {step.unit}".replace("-", "−")


def ring_words(draft: Draft, plan: RingPlan, step: Step) -> StepWords:
    """Say what is done in a step of ringing out."""
    specimen, names = plan.specimen, Names(draft)
    red, black = (
        pin_words(specimen, specimen.pins[name]) if name in specimen.pins else ""
        for name in (step.red, step.black)
    )
    if step.kind == "zero":
        asks = "Hold both probes to one another; the meter takes what it reads off from now on."
        return StepWords("The meter's own leads", "the black probe", "the red probe", asks)
    if step.kind == "seated":
        return _seated_words(specimen, step)
    if step.kind == "mated":
        asks = "Both halves home, latch closed, key to key; a light pull does not part them."
        return StepWords(f"Plug {step.subject}, mated", "", "", asks)
    if step.kind == "print":
        wire = specimen.wires[step.subject].wire
        asks = f"Read what is printed on it: {wire.gauge}, {wire.colour}. Its ohms cannot tell."
        return StepWords(f"Wire {wire.id}, its print", "", "", asks)
    if step.kind == "labels":
        asks = "They join one net, so that no reading tells them apart. Read both labels."
        return StepWords("Two that read the same", red, black, asks)
    if step.kind == "net":
        net = specimen.net_of[step.red]
        free = sum(pin in specimen.probed for pin in net.pins)
        ends = "its end" if free == 1 else f"its {free} ends"
        asks = (
            f"Lift {ends} off the common bar; all others, shields and hull lie on it. "
            f"{INSULATION_V:.0f} V between."
        )
        return StepWords(f"Net of {net.id}, by itself", red, "the common bar", asks)
    if step.kind == "lamp":
        asks = "On the meter's diode range, plus on red. Turned round nothing flows."
        return StepWords(f"Lamp, {step.subject.removesuffix(' lamp')}", step.red, step.black, asks)
    if step.kind == "path":
        over = ", ".join(_contacts(specimen, step))
        return StepWords(f"Net of {step.subject}, through", red, black, f"Over {over}.")
    if step.kind == "cross":
        one, other = (pin_code(specimen.pins[name]) for name in (step.red, step.black))
        asks = "To find out what is wrong: nothing should join these two."
        return StepWords(f"Between {one} and {other}", red, black, asks)
    wire = specimen.wires[step.subject].wire
    row = draft.circuit(wire.circuit)
    label = row.planned.label if row else "Spare"
    ends = " → ".join(names.place(end.place) for end in (wire.start, wire.end))
    return StepWords(f"Wire {wire.id}", red, black, f"{label}: {ends}. {wire.gauge} {wire.colour}.")


def _seated_words(specimen: Specimen, step: Step) -> StepWords:
    half = next(half for half in specimen.plugs if half.plug.id == step.subject)
    empty = half.plug.ways - len(half.cavities)
    sealed = f", {empty} sealing plug{'s' * (empty > 1)} in the empty ones" if empty else ""
    count = len(half.cavities)
    pulled = f"Pull each of its {count} wires" if count > 1 else "Pull its wire"
    asks = (
        f"{pulled} lightly: every contact is home and its seal in its cavity{sealed}; wedge "
        f"home, key {half.plug.key}."
    )
    return StepWords(f"Plug {step.subject}, {half.gender} side", "", "", asks)


def _contacts(specimen: Specimen, step: Step) -> list[str]:
    """Name the contacts of a net's plugs: plug and cavity."""
    pins = frozenset(specimen.net_of[step.red].pins)
    return [mate.id for mate in specimen.mates if mate.a in pins]


def cause_words(draft: Draft, plan: RingPlan, cause: Cause) -> tuple[str, str]:
    """Say what is wrong, and where to look."""
    specimen = plan.specimen
    at = ", ".join(cause.at)
    sheet = f"cut list of {specimen.title}"
    if cause.kind == "swap":
        pins = [pin_words(specimen, specimen.pins[name]) for name in cause.at]
        return f"{pins[0]} and {pins[1]} are swapped, or the far ends of their wires.", sheet
    if cause.kind == "labels":
        wires = [specimen.pins[name].ends[0].wire.id for name in cause.at]
        return f"{wires[0]} and {wires[1]} sit in one another's place: read the labels.", sheet
    words = {
        "leads": "The meter's leads do not come to nothing: clean the probes, or change the leads.",
        "open": f"{at} is open: broken, its crimp does not hold, or it was left out.",
        "poor": f"{at} has too much resistance: a poor crimp at either end.",
        "thicker": f"{at} has too little resistance: another way joins its ends, or it is shorter.",
        "gauge": f"{at} is not the gauge asked for.",
        "short": f"{' and '.join(cause.at)} touch: pinched, or whiskers in a plug.",
        "leak": f"{at} leaks to a shield, the hull or wet: dry it, look along its branch.",
        "lamp": f"The {at} is dead, or its plus and minus are turned round.",
        "unmated": f"Plug {at} is not home: nothing is joined over it.",
        "crossed": f"Plugs {' and '.join(cause.at)} are in one another's other half.",
        "pushed": f"Contact {' or '.join(cause.at)} is pushed back: no way through.",
        "worn": f"Contact {' or '.join(cause.at)} has too much resistance: green or not home.",
        "unseated": f"Plug {at}: a contact, seal or wedge is not home.",
    }
    connectors = dict.fromkeys(("unseated", "unmated", "crossed", "pushed", "worn"), "connectors")
    sheets = {**connectors, "leads": "meter", "lamp": "switch panels"}
    return words[cause.kind], sheets.get(cause.kind, sheet)


def alive_words(draft: Draft, step: AliveStep) -> StepWords:
    """Say what is done in a step of making alive."""
    row = draft.circuit(step.subject) if step.subject else None
    title = f"{row.id} {row.planned.label}" if row else ""
    levers = _levers(draft, step)
    name = step.id.partition(" ")[2]
    if name in _PLAIN:
        return StepWords(_PLAIN[name][0], "", "", _PLAIN[name][1])
    if name.endswith("for later"):
        return StepWords(title, "", "", "Wired for later: its ends are capped, its fuse stays out.")
    if step.part == "bonds":
        bond = next(bond for bond in draft.bonds if bond.id == step.subject)
        asks = f"Bare metal to bare metal: {bond.gauge} {bond.colour}, {figure(step.figure)} Ω."
        return StepWords(f"Bond, {bond.bond.name}", bond.bond.name, step.black, asks)
    if step.kind == "ohm":
        asks = "Everything out and off: plus and minus are not joined."
        return StepWords(f"No short, {step.subject}", step.red, step.black, asks)
    if step.part == "bolted":
        asks = f"Bolt in its {step.device}: read the rating on it; nut to its torque, cover on."
        return StepWords(title, "", "", asks)
    if step.part == "battery":
        return StepWords(f"Battery {step.subject}", step.red, step.black, "Its volts at rest.")
    if step.part == "rest":
        asks = f"What is drawn with everything off; drafted {figure(step.figure)} A."
        return StepWords(
            f"Standing draw, {step.subject}", f"clamp on {step.subject} plus", "", asks
        )
    if step.part == "feeders" and row is None:
        return _turned(draft, name.removeprefix("on "))
    if step.part == "feeders":
        return StepWords(title, "", "", _fitted(draft, step))
    if step.part == "find":
        asks = f"{levers}Sound it shows {step.figure:.2f} V over {step.black}."
        return StepWords(f"{step.subject}: volts at {step.red}", step.red, step.black, asks)
    if step.kind == "volts":
        names = Names(draft)
        place, _, lead = step.red.rpartition(" ")
        asks = f"{levers}Power reckons {step.figure:.2f} V with it alone on."
        far = step.black.rpartition(" ")[2]
        return StepWords(title, f"{names.place(place)}, {lead}", f"its {far}", asks)
    runs = ", ".join(_runs(draft, step)[:MOST_NAMED]) or "nothing"
    if step.part == "presses":
        switch = next(s for s in draft.switches if s.request.id == step.subject)
        state = next(v for k, v in step.states.items() if k == step.subject)
        lever = Names(draft).lever(switch.place, switch.request.legend)
        asks = f"Runs: {runs}. Nothing else." if step.runs else "Runs: nothing at all."
        return StepWords(f"{lever}, {state_words(switch.part, state)}", "", "", asks)
    loads = [draft.aboard.loads[name].name for name in row.planned.loads] if row else []
    seen = runs if step.runs else ", ".join(loads)
    return StepWords(title, "", "", f"{_fitted(draft, step)} {levers}Seen to run: {seen}.".strip())


def _turned(draft: Draft, supply_id: str) -> StepWords:
    """Say how a battery switch, selector or key is turned on."""
    supply = draft.aboard.boat.network.supplies[supply_id]
    state = tuple(STATES[supply.kind])[1]
    asks = f"Turn it to {state}. Nothing runs: every lever is off, every circuit's device is out."
    return StepWords(f"{supply_id} {supply.name}", "", "", asks)


def alive_cause_words(
    draft: Draft, step: AliveStep, result: Result, hunt: Hunt | None = None
) -> tuple[str, str]:
    """Say what a step aboard that failed points to, and where to go from there.

    Args:
        hunt: how far the fault finder has come with it.
    """
    row = draft.circuit(step.subject) if step.subject else None
    if step.kind != "volts" or row is None:
        told = f"{alive_words(draft, step).title}: {read_words(step, result)}."
        if step.part == "bonds":
            return told, "bonding: bright metal under both lugs, its crimps, its run"
        return told, "Find on stage Power (Ctrl+7)" if row else "the boat"
    ways = f"read volts along {' → '.join(dict.fromkeys(_places(draft, row)))}"
    if hunt is not None and hunt.suspects:
        ways = _hunted(draft, hunt)
    if result.value < -DEAD_SHARE * step.figure:
        words = f"{row.id}: plus and minus are turned round."
    elif result.value < DEAD_SHARE * step.figure:
        words = f"{row.id}: nothing arrives. Device, lever, or a wire or contact that is open."
    elif result.value > step.high:
        words = f"{row.id}: more than the battery gives: another battery, or a charger, feeds it."
    else:
        amps = sum(draft.aboard.loads[name].running_a or 0.0 for name in row.planned.loads)
        over = step.figure - result.value
        ohm = f", some {figure(over / amps)} Ω too much" if amps else ""
        words = f"{row.id}: {figure(over)} V lost beyond its figure{ohm}: a joint, plug or contact."
    return words, ways


def _hunted(draft: Draft, hunt: Hunt) -> str:
    """Say who is suspected, and what is read next."""
    likely = [s for s in hunt.suspects if s.share >= LIKELY]
    next_step = hunt.steps[-1] if hunt.steps else None
    if len(likely) == 1:
        return f"{suspect_words(likely[0])}: nothing else explains it as well"
    told = f"{len(hunt.suspects)} suspects"
    if likely:
        told = ", ".join(f"{suspect_words(s)} ({100 * s.share:.0f} %)" for s in likely[:2])
    where = f"; read {alive_words(draft, next_step).red} next" if next_step else ""
    return f"{told}{where}"


def _places(draft: Draft, row: DraftedCircuit) -> Iterator[str]:
    """Yield where a circuit can be read, from its device on."""
    names = Names(draft)
    for wire in row.wires:
        if wire.live != "return":
            yield from (names.place(end.place) for end in (wire.start, wire.end))


def _fitted(draft: Draft, step: AliveStep) -> str:
    """Say how a circuit's device comes in."""
    if not step.device:
        return ""
    if step.subject in draft.breaker_levers:
        return f"Its lever is a {step.device}: read the rating on it."
    verb = "Close its" if step.device.startswith("breaker") else "Fit its"
    return f"{verb} {step.device}: read the rating on it."


def _levers(draft: Draft, step: AliveStep) -> str:
    """Say which levers are moved for a step; battery switches and keys are on."""
    told = [
        f"{switch.request.legend} {state_words(switch.part, step.states[switch.request.id])}"
        for switch in sorted(draft.switches, key=lambda s: s.request.id)
        if switch.request.id in step.states and not switch.request.coil
    ]
    floats = [n for n in step.states if n.endswith(" float")]
    told += ["lift its float"] if floats else []
    words = ", ".join(told)
    return f"{words[0].upper()}{words[1:]}. " if words else ""


def _runs(draft: Draft, step: AliveStep) -> list[str]:
    """Return what is seen to run or to be lit, in words."""
    sides = {"upper": "upper lamp", "lower": "lower lamp"}
    return [sides.get(name) or element_words(draft, name) for name in step.runs]
