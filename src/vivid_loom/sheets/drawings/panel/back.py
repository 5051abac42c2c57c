"""The back of a switch panel from its wire side: tabs, jumpers, links, bars, and what leaves."""

from collections.abc import Collection
from itertools import pairwise
from typing import Final

from vivid_loom.boat import HelmPanel
from vivid_loom.drafting import Draft
from vivid_loom.drafting.after.links import LinkFate, link_fates
from vivid_loom.drafting.helm.tabs import tab_at
from vivid_loom.drafting.making.switch import HelmSwitch
from vivid_loom.drafting.making.wire import Wire
from vivid_loom.sheets.drawings.panel.plate import CUT_H, CUT_W, Look, Plate, Position, positions
from vivid_loom.sheets.paper.drawing import Anchor, Line, Primitive, Scene, Text
from vivid_loom.sheets.paper.metrics import fitted, text_width, wrapped
from vivid_loom.sheets.paper.tones import Tones
from vivid_loom.sheets.paper.wire_paint import wire_lines

__all__ = ["panel_back", "switch_scene"]

TAB_W: Final = 6.4
TAB_H: Final = 4.4
BESIDE: Final = 9.6  # from the middle of a switch to the first jumper beside its tabs
LANE: Final = 1.7  # from jumper to jumper there
GAP: Final = 12.4  # from the middle of a switch to what runs between it and the next
Points = tuple[tuple[float, float], ...]


class _Back(Plate):
    """Draws what is wired behind a panel."""

    def __init__(self, draft: Draft, look: Look, tones: Tones, scale: float) -> None:
        super().__init__(draft, look, tones, scale)
        self.above: list[Primitive] = []
        self.tabs: dict[tuple[str, str], tuple[float, float]] = {}
        self.position_of: dict[str, Position] = {}
        self.poles: dict[str, int] = {}

    def from_behind(self, seat: Position) -> None:
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
        self.spots.append(self.spot("switch", switch.request.id, (x, y, CUT_W, high + 5)))
        self.position_of[switch.place] = seat
        self.poles[switch.place] = switch.part.poles
        for name in switch.part.terminals:
            at = tab_at(switch.part, name)
            self.tabs[switch.place, name] = (seat.x + at.x_mm, seat.y + at.y_mm)

    def _named(self, middle: float, under: float, switch: HelmSwitch) -> None:
        """Write a switch's code and legend below it; a long legend goes on beside the code."""
        room, legend = CUT_W + 2, switch.request.legend
        size = self.fitting(legend, room, 0.85)
        if text_width(legend, self.type * size) <= room * self.scale:
            self.text((middle, under + 3.6), switch.place, self.t.ink, bold=True, size=0.9)
            self.text((middle, under + 7.2), legend, self.t.ink, size=size)
            return
        first, *rest = wrapped(
            f"{switch.place} {legend}", room * self.scale, self.type * size, bold=True
        )
        self.text((middle, under + 3.6), first, self.t.ink, bold=True, size=size)
        second = " ".join(rest)
        self.text((middle, under + 7.2), second, self.t.ink, size=self.fitting(second, room, size))

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
        self.spots.append(self.spot("tab", f"{switch.request.id} {name}", box))

    def jumper(self, wire: Wire, lane: int) -> None:
        """Draw a jumper between two tabs of the panel, beside what it passes."""
        a = self.tabs[wire.start.place, wire.start.point]
        b = self.tabs[wire.end.place, wire.end.point]
        live = wire.start.words in self.look.live
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
        size = self.type * self.fitting(wire.id, 13.0 if poles == 1 else 9.4, 0.78)
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
            self.spots.append(self.spot("wire", wire.id, box))

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
                self.line(((x - arm, y - turn * arm), (x + arm, y + turn * arm)), self.t.alarm, 2.0)

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
            self.line(((left, y), (right, y)), self.t.quiet, 9.0)
            at = ((left + 0.5) * self.scale, (y - TAB_H / 2 - 1.6) * self.scale)
            words = f"bar of {source}"
            self.above.append(Text(*at, words, self.type * 0.78, self.t.ink, False, "start"))


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


def panel_back(draft: Draft, panel: HelmPanel, look: Look, tones: Tones, scale: float) -> Scene:
    """Draw a panel from its wire side.

    Args:
        scale: units to the mm.
    """
    artist = _Back(draft, look, tones, scale)
    wide, high = artist.plate(panel)
    seats = tuple(positions(draft, panel, back=True))
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
    artist = _Back(draft, look._replace(selected="", back=True), tones, scale)
    seat = Position(switch.position, switch, BESIDE + 3 * LANE + 1.0, CUT_H / 2 + 4.0)
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
                far = other.point if wire in own else other.words
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
