"""The plate of a switch panel, where its positions are, and what both its sides are drawn with.

Drawn by our own eye; no maker's rocker looks like it.
"""

from collections.abc import Collection, Iterator, Mapping
from typing import Final, NamedTuple

from vivid_loom.boat import HelmPanel
from vivid_loom.drafting import Draft
from vivid_loom.drafting.making.switch import HelmSwitch
from vivid_loom.sheets.paper.drawing import Line, Primitive, Rect, Spot, Text
from vivid_loom.sheets.paper.metrics import text_width
from vivid_loom.sheets.paper.tones import Tones

__all__ = ["CUT_H", "CUT_W", "Look", "Plate", "Position", "on_panel", "panel_size_mm", "positions"]

CUT_W: Final = 21.0
CUT_H: Final = 40.0
MARGIN: Final = 5.0  # of the plate round its positions
LEAST: Final = 0.75  # of their usual size, before words are cut
NIGHT: Final = Tones(
    page="#111418",
    ink="#f4f1e8",
    quiet="#4b525b",
    rule="#2a3038",
    band="#20262d",
    part="#181c21",
    wire_edge="#7c828a",
    alarm="#ff8d80",
    warn="#e0b35a",
    bar="#3a414a",
    focus="#8fb3e6",
)
"""The panel in the dark: only what is lit stands out."""


class Look(NamedTuple):
    """How a panel is looked at.

    Attributes:
        states: of the levers not at rest, by switch id.
        live: tabs with a source's plus, as 'SW3 1U'; '' for none.
        lit: lamps that burn, as 'SW3 upper lamp'.
        back: from the wire side.
        selected: id of a switch, tab or wire.
    """

    states: Mapping[str, str] = {}
    live: Collection[str] = ()
    lit: Collection[str] = ()
    back: bool = False
    night: bool = False
    selected: str = ""


class Position(NamedTuple):
    """A position of a panel with the switch in it, if any, and its middle in mm."""

    number: int
    switch: HelmSwitch | None
    x: float
    y: float


def on_panel(draft: Draft, panel: HelmPanel) -> dict[int, HelmSwitch]:
    """Return a panel's switches by their position, counted through all panels."""
    boat = draft.aboard.boat
    return {s.position: s for s in draft.switches if boat.panel_at(s.position) == panel}


def panel_size_mm(panel: HelmPanel) -> tuple[float, float]:
    """Return a panel's width and height."""
    rows = -(-panel.positions // panel.columns)
    wide = 2 * MARGIN + panel.columns * panel.pitch_mm
    return wide, 2 * MARGIN + CUT_H + 14 + (rows - 1) * panel.row_pitch_mm


def positions(draft: Draft, panel: HelmPanel, *, back: bool) -> Iterator[Position]:
    """Yield a panel's positions as they lie from its front, or mirrored from its back."""
    fitted_in = on_panel(draft, panel)
    first = draft.aboard.boat.first_position(panel)
    left = MARGIN + panel.pitch_mm / 2
    for number in range(1, panel.positions + 1):
        x, y = panel.place_mm(number)
        if back:
            x = (panel.columns - 1) * panel.pitch_mm - x
        at = first + number - 1
        yield Position(at, fitted_in.get(at), left + x, MARGIN + CUT_H / 2 + 2 + y)


class Plate:
    """One side of one panel as it is drawn, in units of ``scale`` a mm."""

    def __init__(self, draft: Draft, look: Look, tones: Tones, scale: float) -> None:
        self.draft, self.look, self.scale = draft, look, scale
        self.t = NIGHT if look.night and not look.back else tones
        self.items: list[Primitive] = []
        self.spots: list[Spot] = []
        self.type = max(2.5 * scale, min(10.0, 3.6 * scale))
        self.wrong = {s for f in draft.findings if f.severity == "error" for s in f.subjects}

    def rect(
        self, box: tuple[float, float, float, float], fill: str, edge: str = "", weight: float = 1.0
    ) -> None:
        """Draw a rounded rectangle: left, top, width and height in mm."""
        x, y, w, h = (v * self.scale for v in box)
        line = weight * min(1.0, 0.3 * self.scale)
        self.items.append(Rect(x, y, w, h, fill, edge, line if edge else 0.0, 0.9 * self.scale))

    def text(
        self,
        at: tuple[float, float],
        words: str,
        colour: str,
        *,
        bold: bool = False,
        size: float = 1.0,
    ) -> None:
        """Write words about a point in mm, ``size`` times as large as usual."""
        x, y = at[0] * self.scale, at[1] * self.scale
        self.items.append(Text(x, y, words, self.type * size, colour, bold, "middle"))

    def plate(self, panel: HelmPanel) -> tuple[float, float]:
        """Draw the plate; return its width and height in mm."""
        wide, high = panel_size_mm(panel)
        self.rect((0.4, 0.4, wide - 0.8, high - 0.8), self.t.part, self.t.rule, 1.4)
        return wide, high

    def fitting(self, words: str, room_mm: float, usual: float) -> float:
        """Return how large words are written: smaller where they are wider than their room."""
        wide = text_width(words, self.type * usual)
        return usual * max(LEAST, min(1.0, room_mm * self.scale / wide)) if wide else usual

    def line(self, mm: tuple[tuple[float, float], ...], colour: str, width: float) -> None:
        """Draw a polyline in mm."""
        points = tuple((x * self.scale, y * self.scale) for x, y in mm)
        self.items.append(Line(points, colour, width * min(1.0, 0.3 * self.scale)))

    def spot(self, kind: str, name: str, mm: tuple[float, float, float, float]) -> Spot:
        """Return where something lies, from its left, top, width and height in mm."""
        x, y, w, h = (v * self.scale for v in mm)
        return Spot(kind, name, (x, y, w, h))
