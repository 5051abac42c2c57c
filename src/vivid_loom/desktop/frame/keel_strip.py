"""The boat end to end, with the selected circuit's real path, and what to do about it."""

from collections import Counter
from collections.abc import Callable
from itertools import chain

from PySide6.QtCore import QPointF, QTimer
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPolygonF, QResizeEvent
from PySide6.QtWidgets import QWidget

from vivid_loom.desktop.widgets.paint import play
from vivid_loom.desktop.widgets.theme import LIGHT
from vivid_loom.desktop.widgets.thread_figures import NAMES_W, figures_width
from vivid_loom.desktop.work.remedies import Remedies
from vivid_loom.drafting import Draft, DraftedCircuit, Finding
from vivid_loom.order import Edit
from vivid_loom.quantities import counted, figure, length_text
from vivid_loom.sheets.drawings.boat_plan import profile_outline
from vivid_loom.sheets.drawings.threads import boat_axis
from vivid_loom.sheets.lists.stores import wire_totals
from vivid_loom.sheets.paper.drawing import Circle, Line, Primitive, Rect, Text
from vivid_loom.sheets.paper.metrics import fitted, text_width, wrapped
from vivid_loom.sheets.paper.tones import Tones
from vivid_loom.sheets.paper.wire_paint import wire_lines

__all__ = ["KeelStrip", "advice"]

Point = tuple[float, float]
Place = Callable[[float, float], Point]

AGAIN_MS = 250  # a circuit has stood selected before anything is tried for it
SCROLLBAR_W = 12  # the threads above leave this much at their right


def advice(draft: Draft, row: DraftedCircuit, edit: Edit | None) -> tuple[str, str]:
    """Say what would put a circuit right, or how far it is from its limit, and the key for it.

    Args:
        edit: what clears one of its findings; None where that is not known.
    """
    mine = [finding for finding in draft.findings if row.id in finding.subjects]
    key = f"Enter: {edit[0]}" if edit else "W: why, step by step"
    gravest = next((finding for finding in mine if finding.severity != "note"), None)
    if gravest:
        return f"{gravest.code} {gravest.kind.title}. {gravest.kind.remedy}", key
    return _margin(row), key


def _margin(row: DraftedCircuit) -> str:
    s = row.sized
    if s is None:
        return "Look up the current; nothing can be sized without it."
    if s.gauge.override and s.gauge.value != s.gauge.drafted:
        return f"Overruled; the draft says {s.gauge.drafted}."
    if s.protection and s.protection.override and s.protection.value != s.protection.drafted:
        return f"Overruled; the draft says {figure(s.protection.drafted)} A."
    if s.drop_percent > s.drop_limit_percent:
        better = next((a for a in s.gauge.alternatives if a.acceptable), None)
        return f"{better.value} {better.verdict}" if better else "No stocked size reaches it."
    thinner = s.gauge.alternatives[0] if s.gauge.alternatives else None
    return f"{thinner.value} {thinner.verdict}" if thinner else ""


def _profile(draft: Draft, left: float, right: float, height: float) -> Place:
    """Return a function from (x, z) in m to the strip.

    Along the boat it is the axis of the threads above, so that places stand under each other;
    upwards it is to its own scale.
    """
    hull = draft.aboard.boat.hull
    axis = boat_axis(draft, left, right)
    top = max(z for _, z in ((s.x_m, s.z_m) for s in draft.aboard.boat.stations))
    scale = (height - 34.0) / max(top, *(z for _, z in (*hull.sheer, *hull.house)))
    return lambda x, z: (axis.at(x), height - 12.0 - z * scale)


def _fullest_words(draft: Draft) -> str:
    """Say how full the feeder is that comes closest to its device; '' without any."""
    held = [
        (row.sized.current_a / row.sized.protection.value, row.planned.label, row.sized)
        for row in draft.feeders
        if row.sized and row.sized.protection
    ]
    if not held:
        return ""
    _, label, sized = max(held, key=lambda item: item[0])
    rating = sized.protection.value if sized.protection else None
    return f"Fullest: {label}, {figure(sized.current_a)} A of {figure(rating)} A"


class KeelStrip(QWidget):
    """Shows where the selection runs. Never edits."""

    def __init__(self, remedies: Remedies, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._remedies = remedies
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(AGAIN_MS)
        self._later.timeout.connect(self._ask)
        remedies.found.connect(self._invalidate)
        self.setObjectName("keel")
        self.setFixedHeight(138)
        self.setAccessibleName("Keel strip: the selected circuit's path through the boat")
        self._tones = LIGHT
        self._draft: Draft | None = None
        self._selected = ""
        self._whole = False
        self._drawn: tuple[tuple[Point, ...], tuple[Primitive, ...]] | None = None  # None: stale

    def set_tones(self, tones: Tones) -> None:
        """Use a theme's neutral colours."""
        self._tones = tones
        self._invalidate()

    def show_selection(self, draft: Draft, circuit_id: str, *, whole: bool = False) -> None:
        """Show a circuit of a draft; '' for none.

        Args:
            whole: the stage is about the order as a whole, not about what is selected.
        """
        if draft is not self._draft or (circuit_id, whole) != (self._selected, self._whole):
            self._draft, self._selected, self._whole = draft, circuit_id, whole
            self._later.start()
            self._invalidate()

    def _ask(self) -> None:
        """Find what clears a finding of the circuit shown, once nobody moves on."""
        if self.isVisible():
            self._remedies.ask(self._mine)

    @property
    def _mine(self) -> list[Finding]:
        findings = self._draft.findings if self._draft else ()
        return [finding for finding in findings if self._selected in finding.subjects]

    def _invalidate(self) -> None:
        self._drawn = None
        self.update()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._invalidate()

    def _laid_out(self, draft: Draft) -> tuple[tuple[Point, ...], tuple[Primitive, ...]]:
        """Return the boat's outline and everything in it and beside it."""
        right = float(self.width() - SCROLLBAR_W)
        right -= figures_width(right)
        at = _profile(draft, NAMES_W, right, self.height())
        outline = tuple(at(x, z) for x, z in profile_outline(draft.aboard.boat))
        row = draft.circuit(self._selected)
        beside = self._selection(row, at) if row else self._order() if self._whole else self._hint()
        return outline, (*self._trunks(at), *self._totals(), *beside)

    def paintEvent(self, event: QPaintEvent) -> None:
        with QPainter(self) as painter:
            t = self._tones
            painter.fillRect(self.rect(), QColor(t.page))
            play(painter, [Line(((0, 0.5), (self.width(), 0.5)), t.rule, 1)])
            if self._draft is None:
                return
            if self._drawn is None:
                self._drawn = self._laid_out(self._draft)
            outline, items = self._drawn
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setBrush(QColor(t.part))
            painter.setPen(QColor(t.quiet))
            painter.drawPolygon(QPolygonF([QPointF(x, y) for x, y in outline]))
            play(painter, items)

    def _trunks(self, at: Place) -> list[Primitive]:
        assert self._draft is not None
        boat, t = self._draft.aboard.boat, self._tones
        place = {s.id: at(s.x_m, s.z_m) for s in boat.stations}
        count = Counter(chain.from_iterable([w.runs for w in self._draft.assembled.wires]))
        return [
            Line(
                (place[r.ends[0]], place[r.ends[1]]),
                t.rule,
                1.5 + 0.35 * count[r.id] ** 0.8,
                (),
                "round",
            )
            for r in boat.runs
            if r.id in count
        ]

    def _selection(self, row: DraftedCircuit, at: Place) -> list[Primitive]:
        assert self._draft is not None
        t, draft = self._tones, self._draft
        station = draft.aboard.boat.stations_by_id
        items: list[Primitive] = []
        for leg, path in zip(row.planned.plan.legs, row.paths, strict=True):
            points = tuple(at(station[s].x_m, station[s].z_m) for s in path.stations)
            colour, _ = row.colours.laid(leg)
            shift = 2.2 if leg.live == "return" else -1.4
            moved = tuple((x, y + shift) for x, y in points)
            if len(moved) > 1:
                items += wire_lines(moved, colour, 2.4, t.wire_edge)
        first = row.planned.plan.start
        loads = row.planned.loads
        last_station = (
            draft.aboard.loads[loads[-1]].station
            if loads
            else (row.planned.plan.legs[0].end.station)
        )
        last = draft.aboard.loads[loads[-1]].name if loads else row.planned.feeds
        ends = ((first.station, f"{first.place} {first.name}"), (last_station, last))
        drawn: list[tuple[float, float]] = []
        for name, text in ends:
            x, y = at(station[name].x_m, station[name].z_m)
            items.append(Circle(x, y, 4, t.part, t.ink, 1.4))
            low = y > 0.55 * self.height() and y + 17 < self.height() - 2
            label_y = y + 17 if low else y - 8
            if any(abs(label_y - ly) < 12 and abs(x - lx) < 120 for lx, ly in drawn):
                label_y = y - 8 if low else y + 17
            drawn.append((x, label_y))
            half = text_width(text, 11) / 2
            right = self.width() - figures_width(self.width() - SCROLLBAR_W)
            middle = min(max(x, NAMES_W + half), right - half)
            items.append(Rect(middle - half - 3, label_y - 10, 2 * half + 6, 13, t.part, "", 0, 3))
            items.append(Text(middle, label_y, text, 11, t.ink, False, "middle"))
        return items + self._words(row)

    def _words(self, row: DraftedCircuit) -> list[Primitive]:
        assert self._draft is not None
        t, units = self._tones, self._draft.aboard.profile.units
        title = fitted(f"{row.planned.label}  {row.id}", NAMES_W - 20, 13, bold=True)
        items: list[Primitive] = [Text(14, 24, title, 13, t.ink, True)]
        plugs = len(
            {end.place for w in row.wires for end in (w.start, w.end) if end.kind == "plug"}
        )
        length = length_text(row.sized.loop_length_m, units) if row.sized else "—"
        start = row.planned.plan.start.place
        bar = row.planned.source if row.id in self._draft.breaker_levers else ""
        end = row.planned.feeds or counted(len(row.planned.loads), "load")
        lines = [
            " → ".join(part for part in (bar, start, end, row.planned.bus) if part),
            f"{length} loop, {counted(plugs, 'plug')}, {counted(len(row.wires), 'wire')}",
        ]
        for i, line in enumerate(lines):
            items.append(Text(14, 44 + 18 * i, fitted(line, NAMES_W - 20, 11.5), 11.5, t.quiet))
        known = (edit for finding in self._mine if (edit := self._remedies.of(finding)))
        words, keys = advice(self._draft, row, next(known, None))
        told = wrapped(words, NAMES_W - 20, 11.0, bold=True)[:3]
        items += [Text(14, 80 + 14 * i, line, 11.0, t.focus, True) for i, line in enumerate(told)]
        items.append(Text(14, 129, fitted(keys, NAMES_W - 20, 11), 11, t.quiet))
        return items

    def _order(self) -> list[Primitive]:
        """Say what the order is, where the stage is about all of it."""
        assert self._draft is not None
        draft, t = self._draft, self._tones
        harnesses = len({wire.harness for wire in draft.assembled.wires})
        lines = (
            f"{counted(len(draft.circuits), 'circuit')}, {counted(len(draft.feeders), 'feeder')}",
            f"{counted(len(draft.aboard.loads), 'load')}, {counted(harnesses, 'harness')}",
            f"{counted(len(draft.aboard.order.options), 'option')} chosen",
        )
        items: list[Primitive] = [Text(14, 24, "The whole order", 13, t.ink, True)]
        for i, line in enumerate(lines):
            items.append(Text(14, 44 + 18 * i, line, 11.5, t.quiet))
        return items

    def _hint(self) -> list[Primitive]:
        return [
            Text(14, 24, "Nothing selected", 13, self._tones.ink, True),
            Text(14, 44, "Pick a thread to see where it runs.", 11.5, self._tones.quiet),
        ]

    def _totals(self) -> list[Primitive]:
        assert self._draft is not None
        draft, t = self._draft, self._tones
        totals = wire_totals(draft)
        stock = {wire.gauge: wire.mass_kg_per_km for wire in draft.catalogue.wires}
        mass = sum(m * stock[gauge] / 1000 for (gauge, _), m in totals.items())
        right_w = figures_width(self.width() - SCROLLBAR_W)
        x = self.width() - right_w + 14
        room = right_w - 20
        lines = (
            f"{length_text(sum(totals.values()), draft.aboard.profile.units)} wire · {mass:.1f} kg",
            f"{len(draft.assembled.wires)} wires · {2 * len(draft.assembled.wires)} ends · "
            f"{len(draft.assembled.plugs)} plugs",
        )
        items: list[Primitive] = [Text(x, 24, "Order totals", 13, t.ink, True)]
        for i, line in enumerate(lines):
            items.append(Text(x, 44 + 18 * i, fitted(line, room, 11.5), 11.5, t.quiet))
        for i, line in enumerate(wrapped(_fullest_words(draft), room, 11.5)[:2]):
            items.append(Text(x, 80 + 15 * i, line, 11.5, t.quiet))
        aft = fitted("Aft at the left, stem at the right.", room, 11)
        items.append(Text(x, 118, aft, 11, t.quiet))
        return items
