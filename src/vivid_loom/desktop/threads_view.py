"""The main screen: every circuit a thread, with its figures in line."""

from collections.abc import Callable
from typing import NamedTuple

from PySide6.QtCore import QPoint, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QAbstractScrollArea, QWidget

from vivid_loom.desktop.paint import play
from vivid_loom.desktop.theme import LIGHT
from vivid_loom.drafting import Draft, DraftedCircuit
from vivid_loom.quantities import figure, length_text
from vivid_loom.sheets.drawing import Line, Primitive, Rect, Text
from vivid_loom.sheets.metrics import fitted, text_width
from vivid_loom.sheets.threads import Axis, Tones, boat_axis, thread

__all__ = ["GROUPS", "SORTS", "ThreadsView", "arrange"]

NAMES_W = 210
FIGURES_W = 404
NARROW_FIGURES_W = 246  # without loop length and reason, when the why drawer takes the width
NARROW_BELOW = 1000
HEADER_H = 32
GROUP_H = 24
ROW_H = 41

Key = Callable[[DraftedCircuit], tuple[float, str] | tuple[str, str]]


def _spent(row: DraftedCircuit) -> float:
    return row.sized.drop_percent / row.sized.drop_limit_percent if row.sized else 9.0


GROUPS = ("source", "harness", "helm", "none")
SORTS: dict[str, Key] = {
    "circuit": lambda row: (0.0, row.id),
    "name": lambda row: (row.planned.label.lower(), row.id),
    "current": lambda row: (-(row.sized.current_a if row.sized else 1e9), row.id),
    "least margin": lambda row: (-_spent(row), row.id),
    "copper": lambda row: (-(max((w.cut_mm for w in row.wires), default=0.0)), row.id),
}


class Shown(NamedTuple):
    """A row or a group heading at its height; ``circuit`` is None for a heading."""

    top: float
    height: float
    heading: str
    circuit: DraftedCircuit | None


def _group_of(draft: Draft, row: DraftedCircuit, group: str) -> str:
    if group == "none":
        return ""
    if row.planned.feeds:
        return "Feeders"
    if group == "source":
        names = {supply.id: supply.name for supply in draft.aboard.boat.supplies}
        return names[row.planned.source]
    if group == "helm":
        return "On the helm panel" if row.planned.position else "Not on the helm panel"
    harnesses = sorted({wire.harness for wire in row.wires}) or ["not sized"]
    return " + ".join(harnesses).capitalize()


def arrange(draft: Draft, group: str, sort: str, search: str) -> tuple[Shown, ...]:
    """Filter, sort and group the rows; heights from 0 down."""
    words = search.lower().split()

    def matches(row: DraftedCircuit) -> bool:
        gauge = str(row.sized.gauge.value) if row.sized else "unsized"
        codes = " ".join(f.code for f in draft.findings if row.id in f.subjects)
        text = f"{row.id} {row.planned.label} {gauge} {row.planned.source} {codes}".lower()
        return all(word in text for word in words)

    rows = sorted((row for row in draft.rows if matches(row)), key=SORTS[sort])
    if group != "none":
        rows.sort(key=lambda row: (not row.planned.feeds, _group_of(draft, row, group)))
    shown: list[Shown] = []
    y, last = 0.0, ""
    for row in rows:
        heading = _group_of(draft, row, group)
        if heading != last:
            shown.append(Shown(y, GROUP_H, heading, None))
            y += GROUP_H
            last = heading
        shown.append(Shown(y, ROW_H, "", row))
        y += ROW_H
    return tuple(shown)


def _subtitle(draft: Draft, row: DraftedCircuit) -> str:
    request = row.planned.request
    if request is None:
        bus = f", return {row.planned.bus}" if row.planned.bus else ""
        return f"from {row.planned.source}{bus}"
    if request.contact:
        return f"switch {draft.aboard.switches[request.contact.switch].legend}"
    level = {s.id: s.level for s in draft.aboard.boat.supplies}[row.planned.source]
    if request.pattern == "breaker":
        return "breaker is the switch"
    return {
        "battery_direct": "always live",
        "ignition": "with the key",
        "unswitched": "switch on device",
    }[level]


def figures_width(width: float) -> float:
    """Return the width of the figures in a view so wide."""
    return FIGURES_W if width >= NARROW_BELOW else NARROW_FIGURES_W


def findings_of(draft: Draft, circuit_id: str) -> tuple[str, str]:
    """Return severity and code of a circuit's worst finding, '' for none."""
    for finding in draft.findings:
        if finding.subjects[0] == circuit_id and finding.severity != "note":
            return finding.severity, finding.kind.title
    return "", ""


def mark(x: float, y: float, severity: str, tones: Tones) -> list[Primitive]:
    """Return the shape of a severity: a lozenge for errors, a wedge for judgements."""
    points: tuple[tuple[float, float], ...]
    if severity == "error":
        points = ((x, y - 5), (x + 5, y), (x, y + 5), (x - 5, y), (x, y - 5), (x + 5, y))
        return [Line(points, tones.alarm, 2.6)]
    points = ((x, y - 4), (x + 5, y + 4), (x - 5, y + 4), (x, y - 4), (x + 5, y + 4))
    return [Line(points, tones.warn, 2.4)]


def figures_of(
    draft: Draft, row: DraftedCircuit, width: float, middle: float, tones: Tones
) -> list[Primitive]:
    """Return the figures of a row, right-aligned in their columns, and its margin bar."""
    base = middle + 4
    wide = width >= NARROW_BELOW
    x = width - figures_width(width)
    severity, title = findings_of(draft, row.id)
    words_x = x + 262
    back = 0 if wide else 46  # the loop column's room
    if row.sized is None:
        return [
            *mark(x + 16, middle, "error", tones),
            Text(x + 28, base, "current unknown, not sized", 12, tones.alarm, True),
        ]
    s = row.sized
    over = s.drop_percent > s.drop_limit_percent
    used = min(1.0, s.drop_percent / s.drop_limit_percent)
    bar_x, bar_w = x + 204 - back, 48
    units = draft.aboard.profile.units
    length = length_text(s.loop_length_m, units).split(" ")[0]
    items: list[Primitive] = [
        Text(x + 38, base, figure(s.current_a), 12, tones.ink, False, "end"),
        Text(x + 84, base, length if wide else "", 12, tones.ink, False, "end"),
        Text(x + 148 - back, base, str(s.gauge.value), 12, tones.ink, True, "end"),
        Text(x + 194 - back, base, f"{s.drop_percent:.1f} %", 12,
             tones.alarm if over else tones.ink, over, "end"),
        Rect(bar_x, middle - 3, bar_w, 6, "", tones.rule, 1.0, 3),
        Rect(bar_x, middle - 3, max(3.0, bar_w * used), 6, tones.alarm if over else tones.bar,
             "", 0, 3),
        Line(((bar_x + bar_w, middle - 9), (bar_x + bar_w, middle + 9)), tones.ink, 1.2),
    ]  # fmt: skip
    if s.gauge.override or (s.protection and s.protection.override):
        at = x + 144 - back - text_width(str(s.gauge.value), 12, bold=True)
        items.append(Text(at, base + 2, "*", 14, tones.focus, True, "end"))
    if not wide:
        return items + (mark(width - 16, middle, severity, tones) if severity else [])
    if severity:
        items += mark(words_x + 5, middle, severity, tones)
        colour = tones.alarm if severity == "error" else tones.warn
        text = fitted(title, FIGURES_W - 262 - 24, 11)
        items.append(Text(words_x + 16, base, text, 11, colour))
    else:
        governed = s.gauge.governed_by
        if governed == "drop":
            governed = f"drop {s.drop_limit_percent:g} %"
        items.append(Text(words_x, base, governed, 11, tones.quiet))
    return items


class ThreadsView(QAbstractScrollArea):
    """Rows of threads. Shows a draft, selects circuits, never edits.

    Signals:
        circuit_picked (str): a circuit was clicked or reached by key.
        why_asked (str): W, Enter or a double click on it.
    """

    circuit_picked = Signal(str)
    why_asked = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("threads")
        self.setAccessibleName("Threads: circuits from source to load and home")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setFrameShape(QAbstractScrollArea.Shape.NoFrame)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOn)
        self._tones = LIGHT
        self._draft: Draft | None = None
        self._group, self._sort, self._search = "source", "circuit", ""
        self._shown: tuple[Shown, ...] | None = None
        self._axis: Axis | None = None
        self._drawn: dict[str, tuple[Primitive, ...]] = {}
        self._selected = ""

    def set_draft(self, draft: Draft) -> None:
        """Show a draft."""
        if draft is not self._draft:
            self._draft = draft
            self._invalidate()

    def set_tones(self, tones: Tones) -> None:
        """Use a theme's neutral colours."""
        self._tones = tones
        self._invalidate()

    def set_arrangement(self, group: str, sort: str, search: str) -> None:
        """Group, sort and filter."""
        self._group, self._sort, self._search = group, sort, search
        self._invalidate()

    def set_selected(self, circuit_id: str) -> None:
        """Highlight a circuit and bring it into view."""
        self._selected = circuit_id
        for item in self._rows():
            if item.circuit and item.circuit.id == circuit_id:
                bar = self.verticalScrollBar()
                view = self.viewport().height() - HEADER_H
                if item.top < bar.value():
                    bar.setValue(int(item.top))
                elif item.top + item.height > bar.value() + view:
                    bar.setValue(int(item.top + item.height - view))
        self.viewport().update()

    def visible_ids(self) -> list[str]:
        """Return the circuits shown, top down."""
        return [item.circuit.id for item in self._rows() if item.circuit]

    def _invalidate(self) -> None:
        self._shown = None
        self._axis = None
        self._drawn = {}
        self._rows()
        self.viewport().update()

    def _rows(self) -> tuple[Shown, ...]:
        if self._shown is None:
            self._shown = (
                arrange(self._draft, self._group, self._sort, self._search) if self._draft else ()
            )
            self._set_scroll_range()
        return self._shown

    def _set_scroll_range(self) -> None:
        total = self._shown[-1].top + self._shown[-1].height if self._shown else 0
        page = self.viewport().height() - HEADER_H
        bar = self.verticalScrollBar()
        bar.setRange(0, max(0, int(total - page)))
        bar.setPageStep(max(1, page))
        bar.setSingleStep(ROW_H)

    def _boat_axis(self, draft: Draft) -> Axis:
        if self._axis is None:
            self._axis = boat_axis(
                draft, NAMES_W, self.viewport().width() - figures_width(self.viewport().width())
            )
        return self._axis

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._axis = None
        self._drawn = {}
        self._set_scroll_range()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self.viewport())
        width, height = self.viewport().width(), self.viewport().height()
        painter.fillRect(0, 0, width, height, QColor(self._tones.page))
        if self._draft is None:
            return
        axis = self._boat_axis(self._draft)
        self._paint_bands(painter, axis, height)
        painter.save()
        painter.setClipRect(0, HEADER_H, width, height - HEADER_H)
        painter.translate(0, HEADER_H - self.verticalScrollBar().value())
        top = self.verticalScrollBar().value()
        for item in self._rows():
            if item.top + item.height >= top and item.top <= top + height:
                self._paint_row(painter, item, axis, width)
        painter.restore()
        self._paint_header(painter, axis, width)

    def _paint_bands(self, painter: QPainter, axis: Axis, height: int) -> None:
        for index, band in enumerate(axis.bands):
            if index % 2:
                box = QRectF(band.left, 0, band.right - band.left, height)
                painter.fillRect(box, QColor(self._tones.band))

    def _paint_header(self, painter: QPainter, axis: Axis, width: int) -> None:
        t = self._tones
        figures_w = figures_width(width)
        x = width - figures_w
        items: list[Primitive] = [
            Rect(0, 0, NAMES_W, HEADER_H, t.page),
            Rect(x, 0, figures_w, HEADER_H, t.page),
        ]
        count = len(self.visible_ids())
        items.append(Text(14, 21, f"{count} circuits", 11, t.quiet))
        for band in axis.bands:
            name = fitted(band.name, band.right - band.left - 4, 11)
            middle = (band.left + band.right) / 2
            items.append(Text(middle, 21, name, 11, t.quiet, False, "middle"))
        assert self._draft is not None
        unit = self._draft.aboard.profile.units
        wide = width >= NARROW_BELOW
        back = 0 if wide else 46
        items += [
            Text(x + 38, 21, "A", 11, t.quiet, False, "end"),
            Text(x + 84, 21, f"loop {unit}" if wide else "", 11, t.quiet, False, "end"),
            Text(x + 148 - back, 21, "gauge", 11, t.quiet, False, "end"),
            Text(x + 194 - back, 21, "drop", 11, t.quiet, False, "end"),
            Text(x + 204 - back, 21, "of limit", 11, t.quiet),
            Text(x + 262, 21, "why" if wide else "", 11, t.quiet),
        ]
        items.append(Line(((0, HEADER_H - 0.5), (width, HEADER_H - 0.5)), t.rule, 1))
        play(painter, items)

    def _paint_row(self, painter: QPainter, item: Shown, axis: Axis, width: int) -> None:
        t, draft = self._tones, self._draft
        assert draft is not None
        if item.circuit is None:
            play(painter, [
                Rect(0, item.top, width, item.height, t.page),
                Text(14, item.top + 16.5, item.heading, 11, t.quiet, True),
                Line(((0, item.top + item.height), (width, item.top + item.height)), t.rule, 1),
            ])  # fmt: skip
            return
        row = item.circuit
        middle = item.top + item.height / 2
        if row.id == self._selected:
            tint = QColor(t.focus)
            tint.setAlpha(34)
            painter.fillRect(QRectF(0, item.top, width, item.height), tint)
            painter.fillRect(QRectF(0, item.top, 4, item.height), QColor(t.focus))
        if row.id not in self._drawn:
            self._drawn[row.id] = self._compose(draft, row, axis, middle, width)
        play(painter, self._drawn[row.id])
        line = ((0.0, item.top + item.height), (float(width), item.top + item.height))
        play(painter, [Line(line, t.rule, 0.8)])

    def _compose(
        self, draft: Draft, row: DraftedCircuit, axis: Axis, middle: float, width: int
    ) -> tuple[Primitive, ...]:
        t = self._tones
        label = fitted(row.planned.label, NAMES_W - 22, 12.5, bold=True)
        under = fitted(_subtitle(draft, row), NAMES_W - 62, 11)
        return (
            *thread(draft, row, axis, middle, t),
            Text(14, middle - 4, label, 12.5, t.ink, True),
            Text(14, middle + 12, row.id, 11, t.quiet),
            Text(48, middle + 12, under, 11, t.quiet),
            *figures_of(draft, row, width, middle, t),
        )

    def circuit_at(self, point: QPoint) -> str:
        """Return the circuit under a point of the viewport, '' for none."""
        y = point.y() - HEADER_H + self.verticalScrollBar().value()
        for item in self._rows():
            if point.y() > HEADER_H and item.top <= y < item.top + item.height:
                return item.circuit.id if item.circuit else ""
        return ""

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if found := self.circuit_at(event.position().toPoint()):
            self.circuit_picked.emit(found)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        if found := self.circuit_at(event.position().toPoint()):
            self.why_asked.emit(found)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        ids = self.visible_ids()
        page = max(1, (self.viewport().height() - HEADER_H) // ROW_H)
        steps = {
            Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1, Qt.Key.Key_PageDown: page,
            Qt.Key.Key_PageUp: -page, Qt.Key.Key_Home: -len(ids), Qt.Key.Key_End: len(ids),
        }  # fmt: skip
        key = Qt.Key(event.key())
        if key in steps and ids:
            at = ids.index(self._selected) if self._selected in ids else -1
            self.circuit_picked.emit(ids[min(len(ids) - 1, max(0, at + steps[key]))])
        elif key == Qt.Key.Key_W and self._selected:
            self.why_asked.emit(self._selected)
        else:
            super().keyPressEvent(event)
