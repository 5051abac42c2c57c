"""How the sheets speak of a panel's lamps and tabs."""

from typing import Final

from vivid_loom.drafting.helm.lamps import LampUse

__all__ = ["INTENT_WORDS", "lamp_words"]

INTENT_WORDS: Final = {
    "up": "lit when pressed up",
    "down": "lit when pressed down",
    "either": "lit at either press",
    "night": "lit with the instrument lights",
    "always": "always lit",
    "never": "not wired",
}


def lamp_words(use: LampUse) -> str:
    """Say what a lamp shows, or that it cannot."""
    words = f"{use.name} lamp {INTENT_WORDS[use.intent]}"
    return f"{words}: REFUSED" if use.refused else words
