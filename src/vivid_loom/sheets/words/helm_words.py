"""How screen and sheets speak of a panel's lamps, tabs and presses."""

from collections.abc import Collection, Mapping, Sequence
from typing import Final

from vivid_loom.catalogue import SwitchPart
from vivid_loom.drafting import Draft
from vivid_loom.drafting.after.truth import Mismatch, PressRow
from vivid_loom.drafting.helm.lamps import LampUse
from vivid_loom.drafting.making.switch import HelmSwitch
from vivid_loom.drafting.rules.helm import INTENTS

__all__ = [
    "element_words",
    "lamp_words",
    "mismatch_words",
    "press_cells",
    "state_words",
    "told_presses",
]

MOST_NAMED: Final = 6
_MOVED: Final = {
    "key": {"up": "on"},
    "knob": {"up": "turned up"},
    "float": {"up": "lifted", "off": "hanging"},
    "pressure": {"up": "closed", "off": "open"},
    "thermostat": {"up": "closed", "off": "open"},
    "coil": {"up": "pulled", "off": "released"},
}
"""What the states of a lever are called where none is moved by hand."""


def lamp_words(use: LampUse) -> str:
    """Say what a lamp shows, or that it cannot."""
    words = f"{use.name} lamp {INTENTS[use.intent]}"
    return f"{words}: REFUSED" if use.refused else words


def element_words(draft: Draft, element: str) -> str:
    """Name what runs: a load, with the lead that it runs by where it has several, or a lamp."""
    place, _, lead = element.rpartition(" ")
    load = draft.aboard.loads.get(place)
    if load is None:
        where, _, side = place.rpartition(" ")
        return f"{side} {lead} of {where}" if where else element
    return load.name if lead == "plus" else f"{load.name}, {lead}"


def state_words(part: SwitchPart, state: str) -> str:
    """Say how a lever, key, float or coil stands."""
    return _MOVED.get(part.actuator, {}).get(state, state)


def mismatch_words(draft: Draft, wrong: Mismatch) -> str:
    """Say in a few words what is not as it is meant."""
    what = ", ".join(element_words(draft, name) for name in wrong.what)
    return {
        "dark": f"{what} stays dead",
        "runs": f"{what} runs unasked",
        "lamp dark": f"{what} is dark",
        "lamp lit": f"{what} is lit",
        "short": "plus meets minus",
        "sneak": f"in series: {what}",
        "two feeds": f"joined behind their devices: {what}",
    }[wrong.wrong]


def press_cells(draft: Draft, switch: HelmSwitch, row: PressRow) -> tuple[str, str, str, str]:
    """Return lever, live tabs, what runs and which lamps are lit."""
    tabs = " ".join(switch.part.mark(tab).replace("-", "−") for tab in row.live)
    runs = ", ".join(element_words(draft, name) for name in row.runs)
    by_hand = switch.part.actuator in ("lever", "knob", "key")
    springs = ", springs back" if by_hand and switch.part.springs_back(row.state) else ""
    state = row.state if row.state in ("off", "up", "down") else "off"
    back = springs if state != "off" and state != switch.part.states[0] else ""
    lit = "both" if len(row.lit) > 1 else "".join(row.lit) or "none"
    return f"{state_words(switch.part, state)}{back}", tabs or "none", runs or "nothing", lit


def told_presses(
    draft: Draft, states: Mapping[str, str], runs: Collection[str], wrong: Sequence[Mismatch]
) -> str:
    """Say what is pressed, what runs by it, and what is wrong with that."""
    legends = {s.request.id: s.request.legend for s in draft.switches}
    pressed = [f"{legends[name]} {state}" for name, state in states.items() if name in legends]
    if not pressed:
        words = "Every lever at rest. Press a rocker's half to see what goes live."
    else:
        lamps = {f"{s.place} {use.name} lamp" for s in draft.switches for use in s.lamps}
        names = [element_words(draft, name) for name in sorted(runs) if name not in lamps]
        shown = ", ".join(names[:MOST_NAMED])
        more = f" and {len(names) - MOST_NAMED} more" if len(names) > MOST_NAMED else ""
        words = f"Pressed: {', '.join(pressed)}. Runs by it: {shown or 'nothing'}{more}."
    if wrong:
        told = [mismatch_words(draft, one) for one in wrong[:3]]
        words += f" NOT AS MEANT: {'; '.join(told)}."
    return words
