"""What every lamp of a switch is to show, and the tab that can feed it."""

from collections.abc import Sequence
from typing import Final, Literal, NamedTuple

from vivid_loom.boat import LampIntent, SwitchRequest
from vivid_loom.catalogue import Catalogue, SwitchPart, instead_of
from vivid_loom.drafting.helm.back import Back
from vivid_loom.drafting.helm.tabs import jumper_mm, tab_at
from vivid_loom.drafting.patterns import Leg, Point

__all__ = ["INSIDE", "LAMPS", "LampUse", "fed", "kept_dark", "lamp_intents", "wanted_states"]

INSIDE: Final = "inside"
LAMPS: Final = ("upper", "lower")


class LampUse(NamedTuple):
    """A lamp of a switch.

    Attributes:
        fed_from: the tab its feed comes from, 'inside', or the chain of the instrument lights;
            '' for one that is never lit.
        refused: why it cannot show what it should, and what would do; '' where it does.
        circuit: of the instrument lights, where it burns with them.
    """

    lamp: int
    intent: LampIntent
    fed_from: str = ""
    refused: str = ""
    circuit: str = ""

    @property
    def name(self) -> str:
        """'upper' or 'lower'."""
        return LAMPS[self.lamp]


def lamp_intents(request: SwitchRequest, part: SwitchPart, school: str) -> tuple[LampIntent, ...]:
    """Return what each lamp of a switch shows: what was asked for, or else the profile's school.

    The upper lamp tells the upper press. The lower one follows ``Profile.second_lamp``.
    """
    own: LampIntent = "down" if part.throws > 1 else "up"
    by_school: dict[str, LampIntent] = {
        "own_side": own,
        "either_side": "either" if part.throws > 1 else "up",
        "backlight": "night",
        "by_action": own if part.action == "latching" else "night",
    }
    upper = "up" if request.upper_lamp == "by_profile" else request.upper_lamp
    lower = by_school[school] if request.lower_lamp == "by_profile" else request.lower_lamp
    return (upper, lower)[: part.lamps]


def wanted_states(intent: LampIntent, part: SwitchPart) -> frozenset[str]:
    """Return the states of the lever in which a lamp is to be lit by its own switch."""
    if intent == "always":
        return frozenset(part.states)
    if intent == "either":
        return frozenset(part.presses)
    return frozenset({intent} if intent in ("up", "down") else ())


def fed(
    back: Back, lamp: int, intent: LampIntent, station: str, catalogue: Catalogue
) -> tuple[LampUse, Back]:
    """Return how a lamp of a switch is fed, and the switch with the jumpers laid for it.

    A tab is taken whose states are the wanted ones and that has room; of several the one with
    the least on it, then the nearest. Without one a free pole is given that duty.
    """
    wanted = wanted_states(intent, back.part)
    if missing := wanted - set(back.part.states):
        why = f"it has no {' or '.join(sorted(missing))} press"
        return LampUse(lamp, intent, "", _refusal(why, back, catalogue, presses=True)), back
    plus, _ = back.part.lamp_ends(lamp)
    if back.part.lamp_wiring == "dependent":
        if back.live_in(plus) == wanted:
            return LampUse(lamp, intent, INSIDE), back
        why = f"its lamp hangs inside on {plus}"
        return LampUse(lamp, intent, "", _refusal(why, back, catalogue)), back
    tab = _tab_for(back, wanted, plus)
    if tab is None and intent == "either":
        back = _freed(back, station)
        tab = _tab_for(back, wanted, plus)
    if tab is None:
        why = "no tab with room is live then, and no pole is free"
        return LampUse(lamp, intent, "", _refusal(why, back, catalogue)), back
    return LampUse(lamp, intent, tab), _joined(back, (tab, plus), station)


def kept_dark(uses: Sequence[LampUse], part: SwitchPart) -> tuple[LampUse, ...]:
    """Return what becomes of a switch's lamps, where one cannot be dark beside another.

    Lamps that hang inside and share a minus burn both once that minus is wired.
    """
    bound = part.lamp_wiring == "dependent" and part.lamp_minus == "shared"
    if not bound or not any(use.fed_from for use in uses):
        return tuple(uses)
    why = "it hangs inside beside the other lamp, on one minus"
    return tuple(use._replace(refused=why) if use.intent == "never" else use for use in uses)


def _tab_for(back: Back, wanted: frozenset[str], onto: str) -> str | None:
    there = tab_at(back.part, onto)

    def cost(tab: str) -> tuple[int, float, str]:
        return len(back.on_tab[tab]), jumper_mm(tab_at(back.part, tab), there), tab

    fit = (t for t in back.on_tab if t != onto and back.room(t) and back.live_in(t) == wanted)
    return min(fit, key=cost, default=None)


def _joined(back: Back, ends: tuple[str, str], station: str) -> Back:
    """Lay a jumper between two tabs; it belongs to the circuit that goes through the first."""
    circuit = _owner(back, ends[0])
    number = 1 + sum(name == circuit and leg.lead == "lamp" for name, leg in back.landed)
    start, end = (Point(back.place, name, station, "tab") for name in ends)
    length_m = jumper_mm(*(tab_at(back.part, name) for name in ends)) / 1000
    always = back.live_in(ends[0]) == frozenset(back.part.states)
    live: Literal["source", "switched"] = "source" if always else "switched"
    leg = Leg(f"L{number}", start, end, (), live, "lamp", jumper=True, jumper_m=length_m)
    return back.with_leg(circuit, leg)


def _owner(back: Back, tab: str) -> str:
    """Return the circuit whose potential a tab has: of its pole, or of what feeds a lamp."""
    own = back.owners.get(int(tab[0])) if tab[0].isdigit() else None
    return own or back.on_tab[tab][0][0]


def _freed(back: Back, station: str) -> Back:
    """Give a free pole the duty of being live at either press, where there is one to give."""
    fed_commons = [
        f"{pole}C"
        for pole in back.owners
        if back.room(f"{pole}C") and back.live_in(f"{pole}C") == frozenset(back.part.states)
    ]
    for pole in range(1, back.part.poles + 1):
        if pole not in back.owners and fed_commons and back.part.throws > 1:
            back = _joined(back, (fed_commons[0], f"{pole}C"), station)
            return _joined(back, (f"{pole}U", f"{pole}D"), station)
    return back


def _refusal(why: str, back: Back, catalogue: Catalogue, *, presses: bool = False) -> str:
    """Say why a lamp cannot do what it should, with the parts that could."""
    part = back.part

    def does(other: SwitchPart) -> bool:
        more = other.throws > part.throws if presses else other.poles > part.poles
        freer = other.lamp_wiring == "independent" and part.lamp_wiring == "dependent"
        return other.lamps >= part.lamps and (more or (freer and not presses))

    return f"{why}; {instead_of(part, catalogue, does)}"
