"""Either side of a switch panel."""

from vivid_loom.boat import HelmPanel
from vivid_loom.drafting import Draft
from vivid_loom.sheets.drawings.panel.back import panel_back
from vivid_loom.sheets.drawings.panel.face import panel_face
from vivid_loom.sheets.drawings.panel.plate import Look
from vivid_loom.sheets.paper.drawing import Scene
from vivid_loom.sheets.paper.tones import Tones

__all__ = ["panel_scene"]


def panel_scene(draft: Draft, panel: HelmPanel, look: Look, tones: Tones, scale: float) -> Scene:
    """Draw the side of a panel that is looked at.

    Args:
        scale: units to the mm.
    """
    draw = panel_back if look.back else panel_face
    return draw(draft, panel, look, tones, scale)
