"""The order in which the back of one switch is wired, so that no tab is walled in by the next."""

from collections.abc import Iterable
from typing import NamedTuple

from vivid_loom.catalogue import SwitchPart
from vivid_loom.drafting.helm.tabs import tab_at
from vivid_loom.drafting.making.terminate import FORKED
from vivid_loom.drafting.making.wire import Wire

__all__ = ["TabStep", "tab_steps"]


class TabStep(NamedTuple):
    """One end put onto one terminal.

    Attributes:
        onto: 'the tab' or 'the screw', the wire whose piggyback takes it or whose push-on it
            shares, or a doubler pushed on before it.
        far: where the wire's other end is.
    """

    tab: str
    wire: str
    terminal: str
    onto: str
    far: str


def tab_steps(place: str, part: SwitchPart, wires: Iterable[Wire]) -> tuple[TabStep, ...]:
    """Return the pushes that wire a switch, the innermost tabs first.

    The middle row is walled in by the rows beside it, and lamps sit outside all; of two ends on
    one tab the bare one, or the one with the second blade, goes on before what it carries.
    """
    ends: dict[str, list[tuple[bool, Wire, str, str]]] = {}
    for wire in wires:
        for here, there in ((wire.start, wire.end), (wire.end, wire.start)):
            if here.place == place:
                carries = "piggyback" in here.termination.kind
                told = (carries, wire, here.termination.kind, there.words)
                ends.setdefault(here.point, []).append(told)
    found: list[TabStep] = []
    for tab in sorted(ends, key=lambda t: (_out_mm(part, t), t)):
        # a piggyback sits on the blade and offers one of its own: it goes on first
        on_it = sorted(ends[tab], key=lambda end: (not end[0], end[1].id))
        forked = any(FORKED in terminal for _, _, terminal, _ in on_it)
        tabbed = part.terminal == "tab" and not forked
        doubled = len(on_it) > 1 and tabbed and not any(carries for carries, *_ in on_it)
        below = "a doubler" if doubled else f"the {part.terminal}"
        for _, wire, terminal, far in on_it:
            found.append(TabStep(tab, wire.id, terminal, below, far))
            below = "the doubler" if doubled else f"with {wire.id}" if forked else wire.id
    return tuple(found)


def _out_mm(part: SwitchPart, tab: str) -> float:
    at = tab_at(part, tab)
    return abs(at.y_mm)
