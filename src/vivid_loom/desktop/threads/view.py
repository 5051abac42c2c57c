"""The main screen: every circuit a thread, with its figures in line."""

from PySide6.QtCore import QPoint, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QAbstractScrollArea, QWidget

from vivid_loom.desktop.threads.rows import ROW_H, Shown, arrange
from vivid_loom.desktop.widgets.paint import play
from vivid_loom.desktop.widgets.theme import LIGHT
from vivid_loom.desktop.widgets.thread_figures import (
    NAMES_W,
    columns_for,
    figures_of,
    figures_width,
    names_of,
)
from vivid_loom.drafting import Draft, DraftedCircuit
from vivid_loom.sheets.drawings.threads import Axis, boat_axis, thread
from vivid_loom.sheets.paper.drawing import Line, Primitive, Rect, Text
from vivid_loom.sheets.paper.metrics import fitted
from vivid_loom.sheets.paper.tones import Tones

__all__ = ["ThreadsView"]

HEADER_H = 32


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
        with QPainter(self.viewport()) as painter:
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
        at = columns_for(width)
        right = (("A", at.amps), (f"loop {unit}", at.loop), ("gauge", at.gauge), ("drop", at.drop))
        left = (("of limit", at.bar), ("why", at.why))
        items += [Text(x + end, 21, name, 11, t.quiet, False, "end") for name, end in right if end]
        items += [Text(x + start, 21, name, 11, t.quiet) for name, start in left if start]
        items.append(Line(((0, HEADER_H - 0.5), (width, HEADER_H - 0.5)), t.rule, 1))
        play(painter, items)

    def _paint_row(self, painter: QPainter, item: Shown, axis: Axis, width: int) -> None:
        t, draft = self._tones, self._draft
        assert draft is not None
        if item.circuit is None:
            play(
                painter,
                [
                    Rect(0, item.top, width, item.height, t.page),
                    Text(14, item.top + 16.5, item.heading, 11, t.quiet, True),
                    Line(((0, item.top + item.height), (width, item.top + item.height)), t.rule, 1),
                ],
            )
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
        return (
            *thread(draft, row, axis, middle, t),
            *names_of(draft, row, middle, t),
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
            Qt.Key.Key_Down: 1,
            Qt.Key.Key_Up: -1,
            Qt.Key.Key_PageDown: page,
            Qt.Key.Key_PageUp: -page,
            Qt.Key.Key_Home: -len(ids),
            Qt.Key.Key_End: len(ids),
        }
        key = Qt.Key(event.key())
        if key in steps and ids:
            at = ids.index(self._selected) if self._selected in ids else -1
            self.circuit_picked.emit(ids[min(len(ids) - 1, max(0, at + steps[key]))])
        elif key == Qt.Key.Key_W and self._selected:
            self.why_asked.emit(self._selected)
        else:
            super().keyPressEvent(event)
