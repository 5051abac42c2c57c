"""The face of a switch panel as it is fitted, by day or night."""

from vivid_loom.boat import HelmPanel
from vivid_loom.drafting import Draft
from vivid_loom.drafting.making.switch import HelmSwitch
from vivid_loom.quantities.formatting import figure
from vivid_loom.sheets.drawings.panel.plate import CUT_H, CUT_W, Look, Plate, Position, positions
from vivid_loom.sheets.paper.drawing import Circle, Scene
from vivid_loom.sheets.paper.metrics import fitted, wrapped
from vivid_loom.sheets.paper.tones import Tones

__all__ = ["panel_face"]


class _Face(Plate):
    """Draws switches with their legends, levers and lamps."""

    def face(self, seat: Position) -> None:
        """Draw a rocker as it stands, its lamps and its legend."""
        t = self.t
        x, y = seat.x - CUT_W / 2, seat.y - CUT_H / 2
        switch = seat.switch
        if switch is None:
            self.rect((x, y, CUT_W, CUT_H), "", t.rule)
            self.text((seat.x, seat.y + 1), f"{seat.number} free", t.quiet, size=0.85)
            self.spots.append(self.spot("free", str(seat.number), (x, y, CUT_W, CUT_H)))
            return
        chosen = self.look.selected == switch.request.id
        edge = t.focus if chosen else t.ink if not self.look.night else t.quiet
        self.rect((x, y, CUT_W, CUT_H), t.band, edge, 2.4 if chosen else 1.2)
        state = self.look.states.get(switch.request.id, switch.part.states[0])
        if switch.part.actuator == "knob":
            self._knob(seat, turned=state == "up")
        else:
            self._halves(seat, state)
        rating_a = self.draft.lever_ratings_a.get(switch.request.id)
        if rating_a:
            self.text((seat.x, seat.y + CUT_H / 4 + 1.2), f"{figure(rating_a)} A", t.ink, bold=True)
        half = CUT_H / 2 - 2.5
        for press, top in (("up", y + 2), ("down", y + CUT_H / 2 + 0.5)):
            box = (x, top - 2, CUT_W, half + 2)
            self.spots.append(self.spot(f"press_{press}", switch.request.id, box))
        for use in switch.lamps:
            name = f"{switch.place} {use.name} lamp"
            lit = name in self.look.lit
            at = y + 6.5 if use.lamp == 0 else y + CUT_H - 9.0
            self.rect((seat.x - 4, at, 8, 2.5), t.ink if lit else "", t.ink if lit else t.quiet)
            for side in (-1, 1) if lit else ():  # rays, so that shape tells it too
                for turn in (-1.2, 0.0, 1.2):
                    ends = ((side * 5.0, turn * 0.7), (side * 6.8, turn * 1.5))
                    ray = tuple((seat.x + dx, at + 1.25 + dy) for dx, dy in ends)
                    self.line(ray, t.ink, 1.2)
        self._legend(seat, switch)
        if switch.request.id in self.wrong:
            self.text((x + CUT_W - 2.5, y + 4.2), "!", t.alarm, bold=True, size=1.3)
        self.spots.append(self.spot("switch", switch.request.id, (x, y, CUT_W, CUT_H + 14)))

    def _halves(self, seat: Position, state: str) -> None:
        """Draw a rocker's halves, the pressed one deeper."""
        t, x, y = self.t, seat.x - CUT_W / 2, seat.y - CUT_H / 2
        half = CUT_H / 2 - 2.5
        for press, top in (("up", y + 2), ("down", y + CUT_H / 2 + 0.5)):
            pressed = state == press
            self.rect((x + 2, top, CUT_W - 4, half), t.rule if pressed else t.part, t.quiet, 0.8)
            if pressed:  # the pressed half lies deeper: a line at its outer edge
                at = top + 1 if press == "up" else top + half - 1
                self.line(((x + 3.5, at), (x + CUT_W - 3.5, at)), t.ink, 2.2)

    def _knob(self, seat: Position, *, turned: bool) -> None:
        """Draw a dimmer's knob: its pointer at off, lower left, or turned up, lower right."""
        x, y, s = seat.x, seat.y, self.scale
        self.items.append(Circle(x * s, y * s, 8.0 * s, self.t.part, self.t.quiet, 0.3 * s))
        side = 1.0 if turned else -1.0
        self.line(((x + side * 2.5, y + 2.5), (x + side * 5.4, y + 5.4)), self.t.ink, 2.6)

    def _legend(self, seat: Position, switch: HelmSwitch) -> None:
        t, request = self.t, switch.request
        says = request.legend_says or request.legend
        dim = self.look.night and not any(
            f"{switch.place} {use.name} lamp" in self.look.lit for use in switch.lamps
        )
        room = (CUT_W + 4.6) * self.scale
        lines = wrapped(says, room, self.type, bold=True)[:2]
        for number, line in enumerate(lines):
            at = (seat.x, seat.y + CUT_H / 2 + 4.6 + number * 4.2)
            self.text(
                at, fitted(line, room, self.type, bold=True), t.quiet if dim else t.ink, bold=True
            )
        told = f"{seat.number}" if not request.legend_says else f"{seat.number} · {request.legend}"
        at = (seat.x, seat.y + CUT_H / 2 + 4.6 + len(lines) * 4.0)
        self.text(at, fitted(told, room, self.type * 0.85), t.quiet, size=0.85)


def panel_face(draft: Draft, panel: HelmPanel, look: Look, tones: Tones, scale: float) -> Scene:
    """Draw a panel from its front.

    Args:
        scale: units to the mm.
    """
    artist = _Face(draft, look, tones, scale)
    wide, high = artist.plate(panel)
    for seat in positions(draft, panel, back=False):
        artist.face(seat)
    return Scene(tuple(artist.items), tuple(artist.spots), wide * scale, high * scale)
