"""A switch panel to scale: its face as fitted, by day or night, and its back from the wire side.

Drawn by our own eye; no maker's rocker looks like it.
"""

from collections.abc import Collection, Iterator, Mapping
from itertools import pairwise
from typing import Final, NamedTuple

from vivid_loom.boat import HelmPanel
from vivid_loom.drafting import Draft
from vivid_loom.drafting.after.links import LinkFate, link_fates
from vivid_loom.drafting.helm.tabs import tab_at
from vivid_loom.drafting.making.switch import HelmSwitch
from vivid_loom.drafting.making.wire import Wire
from vivid_loom.quantities.formatting import figure
from vivid_loom.sheets.paper.drawing import Anchor, Circle, Line, Primitive, Rect, Scene, Spot, Text
from vivid_loom.sheets.paper.metrics import fitted, text_width, wrapped
from vivid_loom.sheets.paper.tones import Tones
from vivid_loom.sheets.paper.wire_paint import wire_lines

__all__ = ["Look", "on_panel", "panel_scene", "panel_size_mm", "switch_scene"]

CUT_W: Final = 21.0
CUT_H: Final = 40.0
MARGIN: Final = 5.0  # of the plate round its positions
TAB_W: Final = 6.4
TAB_H: Final = 4.4
BESIDE: Final = 9.6  # from the middle of a switch to the first jumper beside its tabs
LANE: Final = 1.7  # from jumper to jumper there
GAP: Final = 12.4  # from the middle of a switch to what runs between it and the next
Points = tuple[tuple[float, float], ...]
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


class _Position(NamedTuple):
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


def _positions(draft: Draft, panel: HelmPanel, *, back: bool) -> Iterator[_Position]:
    fitted_in = on_panel(draft, panel)
    first = draft.aboard.boat.first_position(panel)
    left = MARGIN + panel.pitch_mm / 2
    for number in range(1, panel.positions + 1):
        x, y = panel.place_mm(number)
        if back:
            x = (panel.columns - 1) * panel.pitch_mm - x
        at = first + number - 1
        yield _Position(at, fitted_in.get(at), left + x, MARGIN + CUT_H / 2 + 2 + y)


class _Artist:
    """Draws one side of one panel, in units of ``scale`` a mm."""

    def __init__(self, draft: Draft, look: Look, tones: Tones, scale: float) -> None:
        self.draft, self.look, self.scale = draft, look, scale
        self.t = NIGHT if look.night and not look.back else tones
        self.items: list[Primitive] = []
        self.above: list[Primitive] = []
        self.spots: list[Spot] = []
        self.type = max(2.5 * scale, min(10.0, 3.6 * scale))
        self.wrong = {s for f in draft.findings if f.severity == "error" for s in f.subjects}
        self.tabs: dict[tuple[str, str], tuple[float, float]] = {}
        self.position_of: dict[str, _Position] = {}
        self.poles: dict[str, int] = {}

    def rect(
        self, box: tuple[float, float, float, float], fill: str, edge: str = "", weight: float = 1.0
    ) -> None:
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
        x, y = at[0] * self.scale, at[1] * self.scale
        self.items.append(Text(x, y, words, self.type * size, colour, bold, "middle"))

    def plate(self, panel: HelmPanel) -> tuple[float, float]:
        """Draw the plate; return its width and height in mm."""
        wide, high = panel_size_mm(panel)
        self.rect((0.4, 0.4, wide - 0.8, high - 0.8), self.t.part, self.t.rule, 1.4)
        return wide, high

    # the face

    def face(self, seat: _Position) -> None:
        """Draw a rocker as it stands, its lamps and its legend."""
        t = self.t
        x, y = seat.x - CUT_W / 2, seat.y - CUT_H / 2
        switch = seat.switch
        if switch is None:
            self.rect((x, y, CUT_W, CUT_H), "", t.rule)
            self.text((seat.x, seat.y + 1), f"{seat.number} free", t.quiet, size=0.85)
            self.spots.append(self._spot("free", str(seat.number), (x, y, CUT_W, CUT_H)))
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
            self.spots.append(self._spot(f"press_{press}", switch.request.id, box))
        for use in switch.lamps:
            name = f"{switch.place} {use.name} lamp"
            lit = name in self.look.lit
            at = y + 6.5 if use.lamp == 0 else y + CUT_H - 9.0
            self.rect((seat.x - 4, at, 8, 2.5), t.ink if lit else "", t.ink if lit else t.quiet)
            for side in (-1, 1) if lit else ():  # rays, so that shape tells it too
                for turn in (-1.2, 0.0, 1.2):
                    ends = ((side * 5.0, turn * 0.7), (side * 6.8, turn * 1.5))
                    ray = tuple((seat.x + dx, at + 1.25 + dy) for dx, dy in ends)
                    self._line(ray, t.ink, 1.2)
        self._legend(seat, switch)
        if switch.request.id in self.wrong:
            self.text((x + CUT_W - 2.5, y + 4.2), "!", t.alarm, bold=True, size=1.3)
        self.spots.append(self._spot("switch", switch.request.id, (x, y, CUT_W, CUT_H + 14)))

    def _halves(self, seat: _Position, state: str) -> None:
        """Draw a rocker's halves, the pressed one deeper."""
        t, x, y = self.t, seat.x - CUT_W / 2, seat.y - CUT_H / 2
        half = CUT_H / 2 - 2.5
        for press, top in (("up", y + 2), ("down", y + CUT_H / 2 + 0.5)):
            pressed = state == press
            self.rect((x + 2, top, CUT_W - 4, half), t.rule if pressed else t.part, t.quiet, 0.8)
            if pressed:  # the pressed half lies deeper: a line at its outer edge
                at = top + 1 if press == "up" else top + half - 1
                self._line(((x + 3.5, at), (x + CUT_W - 3.5, at)), t.ink, 2.2)

    def _knob(self, seat: _Position, *, turned: bool) -> None:
        """Draw a dimmer's knob: its pointer at off, lower left, or turned up, lower right."""
        x, y, s = seat.x, seat.y, self.scale
        self.items.append(Circle(x * s, y * s, 8.0 * s, self.t.part, self.t.quiet, 0.3 * s))
        side = 1.0 if turned else -1.0
        self._line(((x + side * 2.5, y + 2.5), (x + side * 5.4, y + 5.4)), self.t.ink, 2.6)

    def _legend(self, seat: _Position, switch: HelmSwitch) -> None:
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

    # the back

    def from_behind(self, seat: _Position) -> None:
        """Draw a switch's outline and remember where its tabs are."""
        t = self.t
        x, y = seat.x - CUT_W / 2, seat.y - CUT_H / 2 - 2
        high = CUT_H + 8
        switch = seat.switch
        if switch is None:
            self.rect((x, y, CUT_W, high), "", t.rule)
            self.text((seat.x, seat.y + 1), f"{seat.number} free", t.quiet, size=0.85)
            return
        chosen = self.look.selected == switch.request.id
        self.rect(
            (x, y, CUT_W, high), t.band, t.focus if chosen else t.rule, 2.4 if chosen else 1.0
        )
        self._named(seat.x, y + high, switch)
        self.spots.append(self._spot("switch", switch.request.id, (x, y, CUT_W, high + 5)))
        self.position_of[switch.place] = seat
        self.poles[switch.place] = switch.part.poles
        for name in switch.part.terminals:
            at = tab_at(switch.part, name)
            self.tabs[switch.place, name] = (seat.x + at.x_mm, seat.y + at.y_mm)

    def _named(self, middle: float, under: float, switch: HelmSwitch) -> None:
        """Write a switch's code and legend below it; a long legend goes on beside the code."""
        room, legend = CUT_W + 2, switch.request.legend
        size = self._size(legend, room, 0.85)
        if text_width(legend, self.type * size) <= room * self.scale:
            self.text((middle, under + 3.6), switch.place, self.t.ink, bold=True, size=0.9)
            self.text((middle, under + 7.2), legend, self.t.ink, size=size)
            return
        first, *rest = wrapped(
            f"{switch.place} {legend}", room * self.scale, self.type * size, bold=True
        )
        self.text((middle, under + 3.6), first, self.t.ink, bold=True, size=size)
        second = " ".join(rest)
        self.text((middle, under + 7.2), second, self.t.ink, size=self._size(second, room, size))

    def tab(self, switch: HelmSwitch, name: str) -> None:
        """Draw a tab with its mark; a live one is filled."""
        t = self.t
        x, y = self.tabs[switch.place, name]
        key = f"{switch.place} {name}"
        live, chosen = key in self.look.live, self.look.selected == f"{switch.request.id} {name}"
        wide = TAB_W if name[0].isdigit() and switch.part.poles == 1 else TAB_W * 0.94
        box = (x - wide / 2, y - TAB_H / 2, wide, TAB_H)
        edge = t.focus if chosen else t.ink
        self.rect(box, t.ink if live else t.part, edge, 2.4 if chosen else 1.0)
        mark = switch.part.mark(name).replace("-", "−")
        self.text((x, y + 1.15), mark, t.part if live else t.ink, bold=live, size=0.82)
        self.spots.append(self._spot("tab", f"{switch.request.id} {name}", box))

    def jumper(self, wire: Wire, lane: int) -> None:
        """Draw a jumper between two tabs of the panel, beside what it passes."""
        a = self.tabs[wire.start.place, wire.start.point]
        b = self.tabs[wire.end.place, wire.end.point]
        live = f"{wire.start.place} {wire.start.point}" in self.look.live
        middle = self.position_of[wire.start.place].x
        if wire.start.place == wire.end.place:
            side = 1 if min(a[0], b[0]) > middle + 1 else -1
            wide = 2.2 if self.poles[wire.start.place] > 1 else 0.0
            x = middle + side * (BESIDE + wide + lane * LANE)
            points: Points = (a, (x, a[1]), (x, b[1]), b)
        else:
            out = 4.0 if wire.live != "return" else -4.0
            first, last = (a[0], a[1] + out), (b[0], b[1] + out)
            points = (a, first, last, b)
            if abs(a[1] - b[1]) > 1:  # from row to row in the gap beside a switch
                lane_x = max(middle, self.position_of[wire.end.place].x) + GAP
                points = (a, first, (lane_x, first[1]), (lane_x, last[1]), last, b)
        self._wire(wire, points, live=live)

    def leaving(self, wire: Wire, at: tuple[str, str], count: int, *, poles: int) -> None:
        """Draw the end of a wire that goes on to the boat, with its number."""
        x, y = self.tabs[at]
        live = f"{at[0]} {at[1]}" in self.look.live
        size = self.type * self._size(wire.id, 13.0 if poles == 1 else 9.4, 0.78)
        words = fitted(wire.id, 13.0 * self.scale, size)
        anchor: Anchor = "start"
        middle = self.position_of[at[0]].x
        if poles == 1 and at[1][0].isdigit():  # room beside the tab, its number below the wire
            low = y - 1.0 + 2.2 * count
            edge = middle + CUT_W / 2
            self._wire(wire, ((x, low), (edge - 1.6, low)), live=live)
            place, anchor = (edge - 0.8, y + TAB_H / 2 + 2.9 + 2.8 * count), "end"
        elif at[1].startswith("B"):  # below it lies what goes from switch to switch
            self._wire(wire, ((x, y), (x + TAB_W / 2 + 2.0, y)), live=live)
            place = (x + TAB_W / 2 + 2.6, y + 0.9 + 2.8 * count)
        else:
            self._wire(wire, ((x, y), (x, y + TAB_H / 2 + 1.4)), live=live)
            anchor = "start" if x < middle else "end"
            edge = middle + (-CUT_W if x < middle else CUT_W) / 2.1
            place = (edge, y + TAB_H / 2 + 3.9 + 2.6 * count)
        x, y = place[0] * self.scale, place[1] * self.scale
        self.above.append(Text(x, y, words, size, self.t.ink, False, anchor))

    def _size(self, words: str, room_mm: float, usual: float) -> float:
        """Return how large words are written: smaller where they are wider than their room."""
        wide = text_width(words, self.type * usual)
        return usual * max(LEAST, min(1.0, room_mm * self.scale / wide)) if wide else usual

    def _wire(self, wire: Wire, mm: Points, *, live: bool) -> None:
        points = tuple((x * self.scale, y * self.scale) for x, y in mm)
        width = max(0.75 * self.scale, min(2.6, 1.0 * self.scale))
        if self.look.selected == wire.id:
            self.items.append(Line(points, self.t.focus, width + 2.4 * self.scale))
        if live:
            self.items.append(Line(points, self.t.ink, width + 0.9 * self.scale))
        self.items.extend(wire_lines(points, wire.colour, width, self.t.wire_edge))
        for (x0, y0), (x1, y1) in pairwise(mm):
            box = (min(x0, x1) - 0.8, min(y0, y1) - 0.8, abs(x1 - x0) + 1.6, abs(y1 - y0) + 1.6)
            self.spots.append(self._spot("wire", wire.id, box))

    def link(self, fate: LinkFate) -> None:
        """Draw a conductor that the panel arrived with: dashed, and crossed where it is cut."""
        places = [(e.switch.place, e.tab) for e in (fate.start, fate.end) if e.switch]
        if len(places) < 2 or not set(places) <= set(self.tabs):
            return
        a, b = (self.tabs[place] for place in places)
        low = a[1] - 4.4
        mm = (a, (a[0], low), (b[0], low), b)
        points = tuple((x * self.scale, y * self.scale) for x, y in mm)
        self.items.append(Line(points, self.t.ink, max(1.0, 0.5 * self.scale), (4.0, 3.0)))
        if not fate.stays:
            x, y, arm = b[0], (b[1] + low) / 2, 1.4
            for turn in (-1, 1):
                self._line(
                    ((x - arm, y - turn * arm), (x + arm, y + turn * arm)), self.t.alarm, 2.0
                )

    def bars(self) -> None:
        """Draw the bars that feed the levers of breakers, from row to row of one."""
        fed: dict[tuple[str, float], list[float]] = {}
        for name, lever in self.draft.breaker_levers.items():
            row = self.draft.circuit(name)
            if row and (lever.place, "1C") in self.tabs:
                x, y = self.tabs[lever.place, "1C"]
                fed.setdefault((row.planned.source, y), []).append(x)
        for (source, y), along in fed.items():
            left, right = min(along) - 7.0, max(along) + 7.0
            self._line(((left, y), (right, y)), self.t.quiet, 9.0)
            at = ((left + 0.5) * self.scale, (y - TAB_H / 2 - 1.6) * self.scale)
            words = f"bar of {source}"
            self.above.append(Text(*at, words, self.type * 0.78, self.t.ink, False, "start"))

    def _line(self, mm: tuple[tuple[float, float], ...], colour: str, width: float) -> None:
        points = tuple((x * self.scale, y * self.scale) for x, y in mm)
        self.items.append(Line(points, colour, width * min(1.0, 0.3 * self.scale)))

    def _spot(self, kind: str, name: str, mm: tuple[float, float, float, float]) -> Spot:
        x, y, w, h = (v * self.scale for v in mm)
        return Spot(kind, name, (x, y, w, h))


def _wires_behind(draft: Draft, places: Collection[str]) -> tuple[list[Wire], list[Wire]]:
    """Return the wires that stay behind a panel, and those that leave it."""
    jumpers: list[Wire] = []
    leaving: list[Wire] = []
    for wire in draft.assembled.wires:
        here = [end.place in places for end in (wire.start, wire.end)]
        if all(here):
            jumpers.append(wire)
        elif any(here):
            leaving.append(wire)
    return jumpers, leaving


def panel_scene(draft: Draft, panel: HelmPanel, look: Look, tones: Tones, scale: float) -> Scene:
    """Draw one side of a panel.

    Args:
        scale: units to the mm.
    """
    artist = _Artist(draft, look, tones, scale)
    wide, high = artist.plate(panel)
    seats = tuple(_positions(draft, panel, back=look.back))
    if not look.back:
        for seat in seats:
            artist.face(seat)
        return Scene(tuple(artist.items), tuple(artist.spots), wide * scale, high * scale)
    for seat in seats:
        artist.from_behind(seat)
    jumpers, leaving = _wires_behind(draft, artist.position_of)
    lanes: dict[str, int] = {}
    for wire in jumpers:
        lane = lanes.get(wire.start.place, 0) if wire.start.place == wire.end.place else 0
        lanes[wire.start.place] = lane + 1
        artist.jumper(wire, lane)
    for fate in link_fates(draft):
        artist.link(fate)
    artist.bars()
    counts: dict[tuple[str, str], int] = {}
    for wire in leaving:
        for end in (wire.start, wire.end):
            if (end.place, end.point) in artist.tabs:
                key = (end.place, end.point)
                poles = artist.poles[end.place]
                artist.leaving(wire, key, counts.get(key, 0), poles=poles)
                counts[key] = counts.get(key, 0) + 1
    for seat in seats:
        if seat.switch:
            for name in seat.switch.part.terminals:
                artist.tab(seat.switch, name)
    items = (*artist.items, *artist.above)
    return Scene(items, tuple(artist.spots), wide * scale, high * scale)


def switch_scene(draft: Draft, switch: HelmSwitch, look: Look, tones: Tones, scale: float) -> Scene:
    """Draw one switch from its wire side, with what lands on each of its tabs written beside it.

    Args:
        scale: units to the mm.
    """
    artist = _Artist(draft, look._replace(selected="", back=True), tones, scale)
    seat = _Position(switch.position, switch, BESIDE + 3 * LANE + 1.0, CUT_H / 2 + 4.0)
    artist.from_behind(seat)
    here = [w for w in draft.assembled.wires if switch.place in (w.start.place, w.end.place)]
    own = [w for w in here if w.start.place == w.end.place]
    for lane, wire in enumerate(own):
        artist.jumper(wire, lane)
    for name in switch.part.terminals:
        artist.tab(switch, name)
    landed: dict[str, list[str]] = {}
    for wire in here:
        for end, other in ((wire.start, wire.end), (wire.end, wire.start)):
            if end.place == switch.place:
                far = other.point if wire in own else f"{other.place} {other.point}"
                landed.setdefault(end.point, []).append(f"{wire.id} to {far}")
    x, y = (seat.x + CUT_W / 2 + 8.0) * scale, 10.0
    line = artist.type * 1.45
    wide = x
    for name in sorted(landed, key=lambda tab: (artist.tabs[switch.place, tab][1], tab)):
        live = f"{switch.place} {name}" in look.live
        mark = switch.part.mark(name).replace("-", "−")
        artist.items.append(Text(x, y, mark, artist.type, artist.t.ink, live))
        for words in landed[name]:
            artist.items.append(
                Text(x + 3.2 * artist.type, y, words, artist.type, artist.t.ink, live)
            )
            wide = max(wide, x + 3.2 * artist.type + text_width(words, artist.type, bold=live))
            y += line
        y += line * 0.3
    high = max(y, (CUT_H + 18) * scale)
    return Scene(tuple(artist.items), tuple(artist.spots), wide, high)
