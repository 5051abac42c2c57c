"""Mutants of the helm: wiring behind the panels, the proof of every press, and its paper."""

from benchmarks.mutant import Mutant

__all__ = ["HELM"]

BACKS = "tests/drafting/test_panel_backs.py"
RULES = "tests/drafting/test_helm.py"
STAGE = "tests/desktop/test_helm_stage.py"
PRESSED = "tests/netlist/test_pressed.py"
CHAINS = "tests/drafting/test_chains.py"
LIGHTS = "tests/outside/test_navigation_lights.py"

HELM = (
    Mutant(
        "a lamp on any tab that is live then, and at other times",
        "drafting/helm/lamps.py",
        "if t != onto and back.room(t) and back.live_in(t) == wanted",
        "if t != onto and back.room(t) and back.live_in(t) >= wanted",
        BACKS,
    ),
    Mutant(
        "three on a tab",
        "drafting/helm/back.py",
        "MOST_ON_A_TAB = 2",
        "MOST_ON_A_TAB = 3",
        BACKS,
    ),
    Mutant(
        "a dependent lamp fed as if it had a tab",
        "drafting/helm/lamps.py",
        'if back.part.lamp_wiring == "dependent":',
        "if False:",
        BACKS,
    ),
    Mutant(
        "lamps inside on one minus, one of them 'dark'",
        "drafting/helm/lamps.py",
        "if not bound or not any(use.fed_from for use in uses):",
        "if True:",
        BACKS,
    ),
    Mutant(
        "a chain's longest order",
        "drafting/helm/chains.py",
        "best = min(best, order, key=",
        "best = max(best, order, key=",
        CHAINS,
    ),
    Mutant(
        "no shift of a stretch",
        "drafting/helm/chains.py",
        "if saved > CLOSE and (moved := _moved(",
        "if False and (moved := _moved(",
        CHAINS,
    ),
    Mutant(
        "piggyback on the bare end",
        "drafting/making/assemble.py",
        "piggy = rides and self.bare[point] != leg",
        "piggy = rides and self.bare[point] == leg",
        BACKS,
    ),
    Mutant(
        "lamp wire thinner than its device protects",
        "drafting/pipeline.py",
        "if a >= rating)",
        "if a < rating)",
        RULES,
    ),
    Mutant(
        "pole's upper and lower terminal swapped in the net list",
        "drafting/after/net.py",
        'self.contact(place, _id(place, f"{pole}C"), onto, by=(name, (press,)))',
        'self.contact(place, _id(place, f"{pole}C"), onto, by=(name, ("up",)))',
        RULES,
    ),
    Mutant(
        "runs without a way home",
        "netlist/pressed.py",
        "self._hot[plus] & self._home[minus] & (plus != minus)",
        "self._hot[plus] & (plus != minus)",
        PRESSED,
    ),
    Mutant(
        "loads in series go unseen",
        "netlist/pressed.py",
        "if touched & self._plus and touched & self._minus:",
        "if touched & self._plus and not touched:",
        PRESSED,
    ),
    Mutant(
        "a contact that opens stays joined",
        "netlist/pressed.py",
        "if was:  # nothing",
        "if False:  # nothing",
        PRESSED,
    ),
    Mutant(
        "only what starts to run is looked at",
        "netlist/pressed.py",
        "np.flatnonzero(self._runs != other._runs)",
        "np.flatnonzero(self._runs & ~other._runs)",
        PRESSED,
    ),
    Mutant(
        "levers of the base forgotten",
        "netlist/pressed.py",
        "whole = {**self.base, **states}",
        "whole = dict(states)",
        PRESSED,
    ),
    Mutant(
        "coils pull nothing",
        "drafting/after/truth.py",
        "for _ in range(MOST_PULLS if self._pulled else 0):",
        "for _ in range(0):",
        RULES,
    ),
    Mutant(
        "two devices joined go unseen",
        "drafting/after/truth.py",
        "if len(circuits) > 1:\n                yield Mismatch",
        "if len(circuits) > 9:\n                yield Mismatch",
        RULES,
    ),
    Mutant(
        "a short goes unseen",
        "drafting/after/truth.py",
        'if pressed.shorted:\n            yield Mismatch("short")',
        "if pressed.shorted:",
        RULES,
    ),
    Mutant(
        "night lamps unproven",
        "drafting/after/truth.py",
        "for lights, lamps in self._at_night.items():",
        "for lights, lamps in ():",
        BACKS,
    ),
    Mutant(
        "must burn forgotten",
        "drafting/after/meant.py",
        "if load.lit_in and circuit.contact:",
        "if False:",
        RULES,
    ),
    Mutant(
        "what a piggyback carries goes on first",
        "drafting/after/tab_steps.py",
        "key=lambda end: (not end[0], end[1].id)",
        "key=lambda end: (end[0], end[1].id)",
        STAGE,
    ),
    Mutant(
        "the back not mirrored",
        "sheets/panel_drawing.py",
        "x = (panel.columns - 1) * panel.pitch_mm - x",
        "x = x + 0.0",
        STAGE,
    ),
    Mutant(
        "a factory chain between two feeds left whole",
        "drafting/after/links.py",
        'stays = all(end.switch and end.tab.endswith("-") for end in ends)',
        "stays = True",
        RULES,
    ),
    Mutant(
        "any freed lead is long enough",
        "drafting/after/links.py",
        "self.freed_mm >= feed.cut_mm",
        "self.freed_mm >= 0",
        RULES,
    ),
    Mutant(
        "twelve metres count as less",
        "standards/navigation_lights.py",
        "if length_m < 12:",
        "if length_m <= 12:",
        LIGHTS,
    ),
    Mutant(
        "side lights alone pass",
        "drafting/rules/navigation.py",
        "if lights not in (*sailing, *lying):",
        "if not lights:",
        RULES,
    ),
    Mutant(
        "a lever that springs back for what must stay on",
        "drafting/rules/helm.py",
        "if load.function in HELD and not stays:",
        "if load.function in HELD and stays:",
        RULES,
    ),
    Mutant(
        "jumper by hand not laid",
        "drafting/helm/wiring.py",
        "            if owners:\n                length_m",
        "            if owners and False:\n                length_m",
        RULES,
    ),
    Mutant(
        "jumper left out by hand laid all the same",
        "drafting/helm/wiring.py",
        "laid[:] = [leg for leg in laid if {leg.start, leg.end} != points]",
        "laid[:] = list(laid)",
        RULES,
    ),
    Mutant(
        "switches for one use stand apart",
        "drafting/places/positions.py",
        "key=lambda s: (s.rank, groups[s.id], s.id)",
        "key=lambda s: (s.rank, s.id)",
        RULES,
    ),
    Mutant(
        "emergency switches last",
        "drafting/places/positions.py",
        "key=lambda s: (s.rank, groups[s.id], s.id)",
        "key=lambda s: (-s.rank, groups[s.id], s.id)",
        RULES,
    ),
)
