"""The boat as SPICE text, as it stands under way by night."""

from typing import Final

from vivid_loom.boat import Scenario
from vivid_loom.drafting import Draft
from vivid_loom.network import NoOperatingPointError, spice_text
from vivid_loom.power.board import Board
from vivid_loom.power.powered import power_up
from vivid_loom.power.setting import scenario_setting

__all__ = ["network_text"]

SCENARIO: Final[Scenario] = "under way by night"


def network_text(draft: Draft) -> str:
    """Return the network with every load of a night under way in use at once.

    Where it has no operating point the text says so, and why.
    """
    title = f"{draft.aboard.boat.name}, hull {draft.aboard.order.hull}, {SCENARIO}"
    try:
        now = power_up(Board(draft), scenario_setting(draft, SCENARIO))
    except NoOperatingPointError as error:
        return f"* {title}\n* {error}\n.end\n"
    return spice_text(now.point, title)
