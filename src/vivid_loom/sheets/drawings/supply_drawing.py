"""The power path drawn: batteries on the left, heavy threads to the last way, and what is alive."""

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from typing import Final

from vivid_loom.boat import Battery, Feeder, ReturnBus, Supply
from vivid_loom.drafting import Draft, DraftedCircuit
from vivid_loom.quantities import figure
from vivid_loom.sheets.drawings.supply_tree import (
    BESIDE_NAME,
    GAP_Y,
    HEAD_H,
    LEAST_GAP,
    NAME_PX,
    PORT_H,
    RUNG_H,
    Box,
    Columns,
    Ways,
    all_boxes,
    columns,
    supply_tree,
)
from vivid_loom.sheets.paper.drawing import Circle, Line, Primitive, Rect, Scene, Spot, Text
from vivid_loom.sheets.paper.metrics import fitted, text_width
from vivid_loom.sheets.paper.tones import Tones
from vivid_loom.sheets.paper.wire_paint import wire_lines, wire_width
from vivid_loom.standards.conductor import area_mm2

__all__ = ["KIND_WORDS", "alive_parts", "supply_picture"]

KIND_WORDS: Final = {
    "battery_switch": "battery switch",
    "selector": "battery selector",
    "key_switch": "key switch",
    "relay": "relay",
    "contactor": "contactor",
    "combining_relay": "combining relay",
    "charge_source": "charge source",
    "converter": "converter",
    "stud": "stud",
    "bus": "heavy bus",
    "fuse_block": "fuse block",
    "breaker_panel": "breaker panel",
}
TOP: Final = 30.0


def alive_parts(draft: Draft, states: Mapping[str, str]) -> frozenset[str]:
    """Return the batteries and parts that are alive with parts in these states."""
    coils = {name: row.planned.source for row in draft.circuits for name in row.planned.loads}
    return draft.aboard.boat.network.alive(states, coils)


class _Artist:
    """Collects what is drawn, part by part."""

    def __init__(
        self, draft: Draft, states: Mapping[str, str], selected: str, tones: Tones
    ) -> None:
        self.draft, self.states, self.selected, self.tones = draft, states, selected, tones
        self.network = draft.aboard.boat.network
        self.alive = alive_parts(draft, states)
        self.ways = Ways(draft)
        self.items: list[Primitive] = []
        self.chips: list[Primitive] = []  # above all threads
        self.spots: list[Spot] = []
        self.at: dict[str, tuple[float, float, float]] = {}  # x, y, width of each part
        self.lanes: dict[str, int] = {}  # trunks of several sources run side by side
        self.findings = {s for f in draft.findings if f.severity == "error" for s in f.subjects}

    def place(self, boxes: Iterable[Box], columns: Columns, y: float) -> float:
        """Give parts their places; return the y below them."""
        for box in boxes:
            left = columns.lefts[box.depth]
            self.at[box.id] = (left, y, columns.width(box))
            if box.behind:
                same = [n for n in self.lanes if self.at[n][0] == left]
                self.lanes[box.id] = len(same) % 2
            self.place(box.behind, columns, y)
            y += box.height + GAP_Y
        return y

    def frame(self, kind: str, name: str, height: float, *, live: bool) -> None:
        """Draw the box of a part; what is selected has a heavier edge, what is wrong a mark."""
        x, y, wide = self.at[name]
        t = self.tones
        chosen = name == self.selected
        edge = t.focus if chosen else (t.ink if live else t.quiet)
        weight = 2.4 if chosen else 1.3
        self.items.append(Rect(x, y, wide, height, t.part, edge, weight, 6))
        self.spots.append(Spot(kind, name, (x, y, wide, height)))
        if name in self.findings:
            corner = (x + wide - 8, y + 8)
            self.items.append(Circle(*corner, 6.5, t.alarm))
            self.items.append(Text(corner[0], corner[1] + 4, "!", 11, t.page, True, "middle"))

    def words(self, name: str, lines: tuple[str, str], *, live: bool) -> None:
        """Write a part's name and its figures."""
        x, y, wide = self.at[name]
        ink = self.tones.ink if live else self.tones.quiet
        room = wide - (30 if name in self.findings else 16)
        self.items.append(Text(x + 8, y + 17, fitted(lines[0], room, 12, bold=True), 12, ink, True))
        self.items.append(
            Text(x + 8, y + 33, fitted(lines[1], wide - 16, 10.5), 10.5, self.tones.quiet)
        )

    def battery(self, battery: Battery) -> None:
        """Draw a battery: two posts, capacity and cranking amps."""
        self.frame("battery", battery.id, HEAD_H, live=True)
        told = f"{battery.capacity_ah:g} Ah · {battery.cranking_a:g} A"
        self.words(battery.id, (battery.name, told), live=True)
        x, y, wide = self.at[battery.id]
        self.items.append(Rect(x + 16, y - 6, 14, 6, self.tones.ink))
        self.items.append(Rect(x + wide - 30, y - 6, 14, 6, self.tones.ink))
        self.items.append(Text(x + 33, y - 1, "−", 11, self.tones.quiet))
        self.items.append(Text(x + wide - 33, y - 1, "+", 11, self.tones.quiet, False, "end"))

    def supply(self, supply: Supply, height: float) -> None:
        """Draw a part with its state and the ladder of its ways."""
        live = supply.id in self.alive
        self.frame("part", supply.id, height, live=live)
        self.words(supply.id, (supply.name, self._told(supply)), live=live)
        states = self.network.states(supply.id)
        if states:
            self._state_pill(supply, states)
        x, y, _ = self.at[supply.id]
        if not live and supply.kind != "charge_source":
            self.items.append(Text(x + 6, y - 5, "dead", 10.5, self.tones.quiet))
        self._ladder(supply, live=live)

    def _told(self, supply: Supply) -> str:
        kind = KIND_WORDS[supply.kind]
        feeder = self.network.feeder_of(supply.id)
        if supply.kind == "charge_source":
            return f"gives {figure(supply.total_max_a)} A"
        if supply.kind == "converter" and supply.output_v:
            return f"{supply.output_v:g} V, {figure(supply.total_max_a)} A"
        if feeder is None:
            return f"bears {figure(supply.total_max_a)} A"
        amps = self.draft.needs[feeder.id].out.total_a
        margin = f"{figure(amps)} of {figure(supply.total_max_a)} A"
        return f"{kind} · {margin}" if supply.ways else margin

    def _state_pill(self, supply: Supply, states: tuple[str, ...]) -> None:
        x, y, wide = self.at[supply.id]
        now = self.states.get(supply.id, states[0])
        across = text_width(now, 10.5, bold=True) + 16
        left = x + wide - across - 4
        t = self.tones
        at_rest = now == states[0]
        fill, ink = (t.page, t.ink) if at_rest else (t.ink, t.page)
        self.items.append(Rect(left, y - 11, across, 19, fill, t.ink, 1.2, 9.5))
        self.items.append(Text(left + across / 2, y + 2.5, now, 10.5, ink, True, "middle"))
        self.spots.append(Spot("state", supply.id, (left, y - 11, across, 19)))

    def _ladder(self, supply: Supply, *, live: bool) -> None:
        x, y, wide = self.at[supply.id]
        rows = self.ways.of(supply.id)
        t, ink = self.tones, self.tones.ink if live else self.tones.quiet
        top = y + HEAD_H
        if rows:
            rail = ((x + 12, top - 4), (x + 12, top + RUNG_H * len(rows) - 8))
            self.items.append(Line(rail, ink, 2.6 if live else 1.2))
        names = _told_apart([row.planned.label for row in rows], wide - BESIDE_NAME)
        for index, row in enumerate(rows):
            low = top + RUNG_H * index
            self._rung(row, names[index], (x, low, wide), ink)
        free = supply.ways - len(rows)
        if free > 0:
            words = "1 way free" if free == 1 else f"{free} ways free"
            at = top + RUNG_H * len(rows) + 11
            self.items.append(Text(x + 20, at, words, 10.5, t.quiet))

    def _rung(
        self, row: DraftedCircuit, name: str, at: tuple[float, float, float], ink: str
    ) -> None:
        x, low, wide = at
        t = self.tones
        held = row.sized.protection if row.sized else None
        rating = f"{figure(held.value)} A" if held else "—"
        amps = figure(row.sized.current_a) if row.sized else "?"
        if row.id == self.selected:
            self.items.append(Rect(x + 4, low - 2, wide - 8, RUNG_H, t.band, t.focus, 1.2, 3))
        self.items.append(Line(((x + 12, low + 6), (x + 17, low + 6)), ink, 1.4))
        number = str(row.planned.way) if row.planned.way else "·"
        self.items.append(Text(x + 32, low + 10, number, 10, t.quiet, False, "end"))
        self.items.append(Text(x + 65, low + 10, rating, 10, ink, True, "end"))
        self.items.append(Text(x + 70, low + 10, name, NAME_PX, ink))
        self.items.append(Text(x + wide - 8, low + 10, amps, 10, t.quiet, False, "end"))
        self.spots.append(Spot("way", row.id, (x + 4, low - 2, wide - 8, RUNG_H)))

    def feeder(self, feeder: Feeder) -> None:
        """Draw a feeder as a thread with its chip, gauge and margin."""
        if feeder.supply is None or feeder.feed is None or feeder.feed.source not in self.at:
            return
        sx, sy, swide = self.at[feeder.feed.source]
        tx, ty, _ = self.at[feeder.supply.id]
        ports = len(feeder.supply.feeds)
        index = [feed.id for feed in feeder.supply.feeds].index(feeder.id)
        end_y = ty + 14 + PORT_H * index if ports > 1 else ty + 14
        start = (sx + swide, sy + 14)
        bend = tx - LEAST_GAP + 6 + 9 * self.lanes.get(feeder.feed.source, 0)
        points: tuple[tuple[float, float], ...] = (start, (tx, end_y))
        if start[1] != end_y:
            points = (start, (bend, start[1]), (bend, end_y), (tx, end_y))
        row = self.draft.circuit(feeder.id)
        live = feeder.feed.source in self.alive
        self._thread(row, points, live=live)
        self._chip(feeder, row, (tx - LEAST_GAP + 24, end_y))
        left = min(bend, tx - 20)
        self.spots.append(Spot("feeder", feeder.id, (left, end_y - 16, tx - left, 30)))

    def _thread(
        self, row: DraftedCircuit | None, points: tuple[tuple[float, float], ...], *, live: bool
    ) -> None:
        t = self.tones
        chosen = row is not None and row.id == self.selected
        if row is None or row.sized is None:
            self.items.append(Line(points, t.alarm, 1.6, (5.0, 4.0)))
            return
        width = wire_width(area_mm2(row.sized.gauge.value)) * 1.25
        if chosen:
            self.items.append(Line(points, t.focus, width + 6))
        if live:
            self.items.extend(wire_lines(points, row.colours.positive.value, width, t.wire_edge))
        else:
            self.items.append(Line(points, t.quiet, 1.4, (6.0, 4.0)))

    def _chip(self, feeder: Feeder, row: DraftedCircuit | None, at: tuple[float, float]) -> None:
        x, y = at
        t = self.tones
        sized = row.sized if row else None
        held = sized.protection if sized else None
        need = self.draft.needs[feeder.id]
        if held:
            words, wrong = f"{figure(held.value)} A", False
        elif sized and (
            need.guard_a <= sized.ampacity_a
            or self.draft.aboard.boat.network.is_starting_lead(feeder.id)
        ):
            words, wrong = "no device", False
        else:
            words, wrong = "unfused", True
        across = text_width(words, 10.5, bold=True) + 12
        edge = t.alarm if wrong else t.ink
        self.chips.append(Rect(x, y - 9, across, 18, t.part, edge, 1.6 if wrong else 1.2, 4))
        self.chips.append(
            Text(x + across / 2, y + 4, words, 10.5, edge if wrong else t.ink, True, "middle")
        )
        if sized is None:
            return
        name = f"{feeder.id} {sized.gauge.value}"
        self.chips.append(Text(x - 4, y - 13, fitted(name, LEAST_GAP - 21, 10), 10, t.quiet))
        carries = f"{figure(sized.current_a)}/{figure(sized.ampacity_a)} A"
        self.chips.append(Text(x - 4, y + 20, fitted(carries, LEAST_GAP - 21, 10), 10, t.quiet))


def _homes(artist: _Artist, width: float, top: float) -> float:
    """Draw the negative buses with their conductors home, one row a bus."""
    boat, t = artist.draft.aboard.boat, artist.tones
    artist.items.append(Line(((16, top), (width - 16, top)), t.rule, 1))
    artist.items.append(Text(16, top + 20, "Home again: negative buses", 12, t.ink, True))
    y = top + 46
    for bus in boat.return_buses:
        _bus_row(artist, bus, (16.0, y))
        y += 46
    if not boat.return_buses:
        words = "No negative bus: circuits come home to a battery's minus post."
        artist.items.append(Text(16, y, words, 11, t.quiet))
        y += 24
    return _panels(artist, width, y)


def _panels(artist: _Artist, width: float, top: float) -> float:
    """Draw the switch panels in a row, with the positions that are taken."""
    t, draft = artist.tones, artist.draft
    boat = draft.aboard.boat
    artist.items.append(Line(((16, top), (width - 16, top)), t.rule, 1))
    artist.items.append(Text(16, top + 20, "Switch panels", 12, t.ink, True))
    x, y = 16.0, top + 32
    for panel in boat.panels:
        taken = sum(boat.panel_at(p) == panel for p in draft.allocation.positions.values())
        artist.at[panel.id] = (x, y, 230.0)
        artist.frame("panel", panel.id, 38, live=True)
        told = f"{taken} of {panel.positions} positions taken"
        artist.words(panel.id, (panel.name, told), live=True)
        x += 246
    if not boat.panels:
        words = "No panel: switches stand by themselves."
        artist.items.append(Text(16, y + 12, words, 11, t.quiet))
    return y + 52


def _bus_row(artist: _Artist, bus: ReturnBus, at: tuple[float, float]) -> None:
    x, y = at
    t, draft = artist.tones, artist.draft
    landed = sum(row.planned.bus == bus.id for row in draft.circuits)
    artist.at[bus.id] = (x, y - 14, 230.0)
    artist.frame("bus", bus.id, 38, live=True)
    told = f"{landed} of {bus.screws} screws · bears {figure(bus.max_a)} A"
    artist.words(bus.id, (f"{bus.id} {bus.name}", told), live=True)
    homes = [f for f in artist.network.feeders.values() if f.bus and f.bus.id == bus.id]
    left = x + 230
    if not homes:
        artist.items.append(Text(left + 14, y + 8, "no way home", 11, t.alarm, True))
    for feeder in homes:
        row = draft.circuit(feeder.id)
        points = ((left, y + 5), (left + 92, y + 5))
        if row and row.sized:
            width = wire_width(area_mm2(row.sized.gauge.value)) * 1.25
            artist.items.extend(wire_lines(points, row.colours.negative.value, width, t.wire_edge))
            words = f"{feeder.id} {row.sized.gauge.value}"
            artist.items.append(Text(left + 46, y - 5, words, 10, t.quiet, False, "middle"))
        end = artist.network.home_of(feeder)
        onto = draft.aboard.boat.returns_by_id.get(end)
        words = onto.name if onto else end
        artist.items.append(Text(left + 100, y + 9, words, 11, t.ink))
        artist.spots.append(Spot("feeder", feeder.id, (left, y - 14, 92, 30)))
        left += 112 + text_width(words, 11)


def _told_apart(names: Sequence[str], room: float) -> list[str]:
    """Return names that fit; those that would begin alike keep their last word."""
    short = [fitted(name, room, NAME_PX) for name in names]
    times = Counter(short)
    found = []
    for name, cut in zip(names, short, strict=True):
        head, _, last = name.rpartition(" ")
        left = room - text_width(f" {last}", NAME_PX)
        alike = cut != name and times[cut] > 1 and head
        found.append(f"{fitted(head, left, NAME_PX)} {last}" if alike else cut)
    return found


def supply_picture(
    draft: Draft,
    width: float,
    *,
    states: Mapping[str, str],
    selected: str,
    tones: Tones,
) -> Scene:
    """Lay out the power path: parts by how far they are from a battery, ways as ladders.

    Args:
        states: of switches, selectors, keys and relays, of those not at rest.
        selected: id of the part, feeder or circuit that is marked.
    """
    artist = _Artist(draft, states, selected, tones)
    boxes = supply_tree(draft, artist.ways)
    bottom = artist.place(boxes, columns(boxes, width), TOP)
    for feeder in artist.network.feeders.values():
        artist.feeder(feeder)
    artist.items += artist.chips
    for box in all_boxes(boxes):
        if box.id in artist.network.batteries:
            artist.battery(artist.network.batteries[box.id])
        else:
            artist.supply(artist.network.supplies[box.id], box.own_h)
    bottom = _homes(artist, width, bottom + 4)
    reach = max((x + wide for x, _, wide in artist.at.values()), default=0.0) + 16
    return Scene(tuple(artist.items), tuple(artist.spots), max(width, reach), bottom + 10)
