"""Where the terminals of a switch are behind its panel, in mm, and how long a jumper has to be."""

import math
from typing import Final, NamedTuple

from vivid_loom.boat import HelmPanel
from vivid_loom.catalogue import SwitchPart

__all__ = ["JUMPER_STEP_MM", "Spot", "jumper_mm", "tab_at", "tab_on_panel"]

# of a rocker drawn by our own eye: three rows a pole, lamps above and below; our choice
ROW_MM: Final = 10.0
POLE_MM: Final = 7.0
ASIDE_MM: Final = 3.0
LAMP_ROW_MM: Final = 19.0
LAMP_MM: Final = 4.5
BEND_MM: Final = 30.0  # a jumper stands out of its tabs and lies back; our choice
JUMPER_STEP_MM: Final = 20.0  # few lengths, cut by the dozen; our choice


class Spot(NamedTuple):
    """A place behind the panel, right and down as seen from the wire side, in mm."""

    x_mm: float
    y_mm: float


def tab_at(part: SwitchPart, name: str) -> Spot:
    """Return where a terminal is from the middle of its switch, seen from the wire side.

    'U' is the terminal that the upper press feeds: on most parts it sits in the lower row.
    """
    if name[0] in "AB":
        below = 1 if name[0] == "B" else -1
        return Spot(-LAMP_MM if name[1] == "+" else LAMP_MM, below * LAMP_ROW_MM)
    if name == "L-":
        return Spot(LAMP_MM, -LAMP_ROW_MM)
    x = -ASIDE_MM if part.poles == 1 else (-POLE_MM if name[0] == "1" else POLE_MM)
    if name.endswith("C"):
        return Spot(x, 0.0)
    upper = name.endswith("U") == (part.live_side == "same")
    return Spot(x, -ROW_MM if upper else ROW_MM)


def tab_on_panel(panel: HelmPanel, number: int, part: SwitchPart, name: str) -> Spot:
    """Return where a terminal is on the back of a panel, from its first position's middle.

    Args:
        number: of the position on this panel, from 1; counted from the left as seen from front,
            and so from the right as seen from the wire side.
    """
    across, down = panel.place_mm(number)
    at = tab_at(part, name)
    return Spot(at.x_mm - across, at.y_mm + down)


def jumper_mm(start: Spot, end: Spot) -> float:
    """Return the length of a jumper between two tabs, in steps, without its strips."""
    straight = math.dist(start, end) + BEND_MM
    return math.ceil(straight / JUMPER_STEP_MM - 1e-9) * JUMPER_STEP_MM
