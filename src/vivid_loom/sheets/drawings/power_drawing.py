"""A boat powered up, drawn: levers, sources, and for every load where its volts go."""

from collections.abc import Collection, Iterable
from functools import lru_cache
from typing import Final, NamedTuple

from vivid_loom.drafting import Draft, DraftedCircuit
from vivid_loom.power.powered import Powered
from vivid_loom.power.profile import Piece, Profile, Profiles, Way
from vivid_loom.quantities import Gauge, figure
from vivid_loom.sheets.paper.drawing import Circle, Line, Primitive, Rect, Scene, Spot, Text
from vivid_loom.sheets.paper.metrics import fitted, text_width
from vivid_loom.sheets.paper.tones import Tones
from vivid_loom.sheets.paper.wire_paint import wire_lines, wire_width
from vivid_loom.sheets.words.helm_words import element_words
from vivid_loom.sheets.words.power_words import lever_name
from vivid_loom.standards.colours import InsulationColour
from vivid_loom.standards.conductor import area_mm2

__all__ = ["Lever", "PowerLook", "levers_of", "power_picture"]

LEFT: Final = 12.0
NAME_W: Final = 236.0
FIGURES_W: Final = 216.0
ROW_H: Final = 30.0
PILL_H: Final = 22.0
LEVER_W: Final = 180.0  # of a lever's name at most
LEAST_SCALE_V: Final = 0.6
ABOVE_LIMIT: Final = "S01"  # a drop over its limit is judged once, where the schedule reckons it
LEAST_PIECE: Final = 0.05  # px; what is shorter is nothing to see


class Lever(NamedTuple):
    """Something a hand or the water moves.

    Attributes:
        id: of its actuator; ``states``, the one at rest first.
    """

    id: str
    name: str
    states: tuple[str, ...]


def levers_of(now: Powered) -> tuple[Lever, ...]:
    """Return what can be moved: supply first, then the helm, then breakers and floats."""
    draft, net = now.board.draft, now.board.net
    helm = {switch.request.id for switch in draft.switches}
    supplies = {supply.id for supply in draft.aboard.boat.supplies}

    def rank(name: str) -> int:
        if name in supplies:
            return 0
        if name in helm:
            return 1
        return 2 if name.endswith(" breaker") else 3

    found = []
    for actuator in net.actuators:
        if actuator.coil or actuator.id.endswith(" mating"):
            continue
        row = draft.circuit(actuator.id.removesuffix(" breaker"))
        name = row.planned.label if row else lever_name(draft, actuator.id)
        found.append((rank(actuator.id), Lever(actuator.id, name, actuator.states)))
    return tuple(lever for _, lever in sorted(found, key=lambda item: (item[0], item[1].name)))


class PowerLook(NamedTuple):
    """How a boat powered up is looked at.

    Attributes:
        selected: kind and id of what is marked: a lever, a load or a piece of its way.
        all_loads: whether those without current are shown as well.
        lost: elements that a fault has put out.
        sight: from where to where down the picture it is seen.
    """

    width: float
    selected: tuple[str, str]
    all_loads: bool
    lost: Collection[str]
    sight: tuple[float, float]


class _Artist:
    """Collects what is drawn, from the top down."""

    def __init__(self, ways: Profiles, look: PowerLook, tones: Tones) -> None:
        self.ways, self.now = ways, ways.now
        self.width, self.selected, self.tones = look.width, look.selected, tones
        self.lost, self.sight = frozenset(look.lost), look.sight
        draft = self.now.board.draft
        self.fed = {n: row for row in draft.circuits for n in row.planned.loads}
        judged = (*draft.findings, *(f for f, _ in draft.accepted))
        self.over = {f.subjects[0] for f in judged if f.code == ABOVE_LIMIT}
        self.items: list[Primitive] = []
        self.spots: list[Spot] = []
        self.y = 4.0

    def levers(self, levers: Iterable[Lever]) -> None:
        """Draw the levers as pills that wrap; one that is not at rest is filled."""
        x, t = LEFT, self.tones
        for lever in levers:
            state = self.now.states.get(lever.id, lever.states[0])
            resting = state == lever.states[0]
            name = fitted(lever.name, LEVER_W, 11)
            wide = text_width(name, 11) + text_width(state, 11, bold=True) + 24
            if x + wide > self.width - LEFT:
                x, self.y = LEFT, self.y + PILL_H + 5
            chosen = self.selected == ("lever", lever.id)
            fill, ink = (t.part, t.ink) if resting else (t.ink, t.page)
            edge = t.focus if chosen else t.ink if not resting else t.rule
            top = self.y
            self.items.append(
                Rect(x, top, wide, PILL_H, fill, edge, 2.2 if chosen else 1.1, PILL_H / 2)
            )
            self.items.append(Text(x + 9, top + 15, name, 11, ink))
            self.items.append(Text(x + wide - 9, top + 15, state, 11, ink, True, "end"))
            self.spots.append(Spot("lever", lever.id, (x, top, wide, PILL_H)))
            x += wide + 6
        self.y += PILL_H + 10

    def heading(self, most_v: float, bar: tuple[float, float]) -> None:
        """Draw the scale of volts lost over the bars."""
        t, (left, right) = self.tones, bar
        base = self.y + 32
        self.items.append(Text(LEFT, self.y + 22, "Load", 10.5, t.quiet))
        self.items.append(
            Text(
                left,
                self.y + 8,
                "volts lost, out and home; dashed: what copper may lose",
                10.5,
                t.quiet,
            )
        )
        names = (("A", 168.0), ("V left", 108.0), ("lost", 54.0))
        for name, back in names:
            x = self.width - LEFT - back + 54
            self.items.append(Text(x - 54 + 44, self.y + 22, name, 10.5, t.quiet, False, "end"))
        step = next(s for s in (0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0) if most_v / s <= 8)
        volts = 0.0
        while volts <= most_v + 1e-9:
            x = _px(left + (right - left) * volts / most_v)
            self.items.append(Line(((x, base - 3), (x, base + 2)), t.quiet, 1))
            self.items.append(Text(x, base - 5, f"{volts:g}", 10, t.quiet, False, "middle"))
            volts += step
        self.items.append(Line(((left, base), (right, base)), t.rule, 1))
        self.y = base + 6

    def row(self, element: str, profile: Profile | None, most_v: float, limit_v: float) -> None:
        """Draw a load: its way as a bar of what is lost, and its figures."""
        t, now = self.tones, self.now
        draft, y = now.board.draft, self.y
        chosen = self.selected == ("load", element)
        self.spots.append(Spot("load", element, (0, y, self.width, ROW_H)))
        if not self.in_sight:
            self.y += ROW_H
            return
        if chosen:
            self.items.append(Rect(4, y, self.width - 8, ROW_H, t.band, t.focus, 1.3, 4))
        works = now.runs(element)
        ink = t.ink if works else t.quiet
        fed = self.fed.get(now.board.elements[element].part)
        base = y + ROW_H / 2
        self.items.append(Text(LEFT, base + 4, fed.id if fed else "", 10.5, t.quiet))
        name = fitted(element_words(draft, element), NAME_W - 50, 12, bold=works)
        self.items.append(Text(LEFT + 42, base + 4, name, 12, ink, works))
        left, right = self.bar
        if profile is None:
            self.items.append(Line(((left, base), (right, base)), t.rule, 1.0, (3.0, 5.0)))
            lost = element in self.lost
            off = now.board.elements[element].part in now.setting.idle
            words = "went dark" if lost else "left off" if off else "dead"
            tone = t.alarm if lost else t.quiet
            self.items.append(Text(self.width - LEFT, base + 4, words, 11, tone, lost, "end"))
            self.y += ROW_H
            return
        self._bar(self.ways.way(profile), base, most_v)
        limit = min(limit_v, most_v)
        x = _px(left + (right - left) * limit / most_v)
        self.items.append(Line(((x, base - 9), (x, base + 9)), t.ink, 1.4, (2.0, 2.0)))
        over = fed is not None and fed.id in self.over
        self._figures(profile, base, works=works, over=over)
        self.y += ROW_H

    @property
    def in_sight(self) -> bool:
        """Whether anything of the row at hand is seen."""
        top, bottom = self.sight
        return self.y <= bottom and self.y + ROW_H >= top

    @property
    def bar(self) -> tuple[float, float]:
        """Where bars begin and end."""
        return LEFT + NAME_W, self.width - LEFT - FIGURES_W

    def _bar(self, way: Way, base: float, most_v: float) -> None:
        """Draw pieces as long as what is lost over them; the load stands between out and home."""
        left, right = self.bar
        scale = (right - left) / most_v
        x = self._pieces(way.out, left, base, scale, right)
        x = min(x, right)
        self.items.append(Circle(_px(x), base, 3.6, self.tones.page, self.tones.ink, 1.4))
        self._pieces(way.home, x, base, scale, right)

    def _pieces(
        self, pieces: Iterable[Piece], x: float, base: float, scale: float, right: float
    ) -> float:
        """Draw pieces one behind another; return where the last one ends."""
        for piece in pieces:
            end = x + piece.lost_v * scale
            shown = min(end, right)
            if shown - x > LEAST_PIECE:
                self._piece(piece, _px(x), max(_px(shown), _px(x) + LEAST_PIECE), base)
            x = end
        return x

    def _piece(self, piece: Piece, x: float, end: float, base: float) -> None:
        t = self.tones
        if self.selected == ("piece", piece.id):
            self.items.append(Line(((x, base), (end, base)), t.focus, 14))
        wire = self.now.board.conductors.get(piece.id)
        if wire is not None:
            self.items += _wire(x, end, base, wire.gauge, wire.colour, t.wire_edge)
        else:
            high = 6.0 if piece.kind == "device" else 3.5
            self.items.append(Rect(x, base - high, end - x, 2 * high, t.bar, t.ink, 0.6))
        self.spots.append(Spot("piece", piece.id, (x, base - 8, max(3.0, end - x), 16)))

    def _figures(self, profile: Profile, base: float, *, works: bool, over: bool) -> None:
        t = self.tones
        percent = 100 * profile.lost_v / profile.source_v if profile.source_v else 0.0
        edge = self.width - LEFT
        ink = t.ink if works else t.alarm
        self.items.append(Text(edge - 124, base + 4, figure(profile.amps), 12, ink, False, "end"))
        self.items.append(Text(edge - 64, base + 4, f"{profile.load_v:.2f}", 12, ink, True, "end"))
        told = f"{percent:.1f} %"
        colour = t.warn if over else t.ink
        self.items.append(Text(edge, base + 4, told, 12, colour, over, "end"))
        if over or not works:
            mark = edge - 196
            words, tone = ("over", t.warn) if works else ("gives up", t.alarm)
            self.items.append(Text(mark - 6, base + 4, words, 10.5, tone, True))


@lru_cache(maxsize=4096)
def _wire(
    x: float, end: float, base: float, gauge: Gauge, colour: InsulationColour, edge: str
) -> tuple[Line, ...]:
    """Draw a piece of wire; after an edit most lie as they lay."""
    width = wire_width(area_mm2(gauge)) * 1.2
    return wire_lines(((x, base), (end, base)), colour, width, edge)


def _px(value: float) -> float:
    """Return a place in quarters of a pixel: what has hardly moved looks as it did."""
    return round(4 * value) / 4


def _limit_v(row: DraftedCircuit | None, volts: float) -> float:
    percent = row.sized.drop_limit_percent if row and row.sized else 10.0
    return volts * percent / 100


def power_picture(ways: Profiles, look: PowerLook, tones: Tones) -> Scene:
    """Lay out levers, then every load with where its volts go: what went dark, then what runs.

    Every load has its place; its way is drawn where it is in sight.

    Args:
        ways: of what is powered up.
    """
    now = ways.now
    artist = _Artist(ways, look, tones)
    artist.levers(levers_of(now))
    board = now.board
    elements = [
        e.id
        for e in board.net.elements
        if e.part in board.draft.aboard.loads and e.id in board.volts and e.law != "source"
    ]
    found = {name: ways.of(name) for name in elements}
    shown = sorted(
        elements, key=lambda n: (n not in artist.lost, *_order(board.draft, found[n], n))
    )
    if not look.all_loads:
        shown = [name for name in shown if found[name] is not None or name in artist.lost]
    most = max((p.lost_v for p in found.values() if p), default=0.0)
    most = max(LEAST_SCALE_V, 1.06 * min(most, 0.3 * board.draft.aboard.boat.nominal_v))
    artist.heading(most, artist.bar)
    for name in shown:
        limit_v = _limit_v(artist.fed.get(board.elements[name].part), board.volts[name])
        artist.row(name, found[name], most, limit_v)
    if not shown:
        words = "Nothing runs in these states. Turn a battery switch or press a lever."
        artist.items.append(Text(LEFT, artist.y + 20, words, 12, tones.quiet))
        artist.y += 30
    return Scene(tuple(artist.items), tuple(artist.spots), look.width, artist.y + 8)


def _order(draft: Draft, profile: Profile | None, element: str) -> tuple[bool, float, str]:
    lost = -profile.lost_v if profile else 0.0
    return profile is None, lost, element_words(draft, element)
