"""Rows of text in a table that copies as tab-separated text; the views fill it."""

from collections.abc import Callable, Sequence
from functools import lru_cache
from typing import Any, Final, NamedTuple

from PySide6.QtCore import (
    QAbstractTableModel,
    QEvent,
    QModelIndex,
    QPersistentModelIndex,
    QRect,
    Qt,
)
from PySide6.QtGui import (
    QColor,
    QFont,
    QFontMetrics,
    QGuiApplication,
    QKeyEvent,
    QKeySequence,
    QPainter,
    QPalette,
    QShowEvent,
)
from PySide6.QtWidgets import (
    QHeaderView,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableView,
)

from vivid_loom.desktop.widgets.plain import plain
from vivid_loom.desktop.widgets.theme import LIGHT, current_tones, font
from vivid_loom.sheets.paper.tones import Tones

__all__ = ["Cell", "TextModel", "TextTable", "pane"]

Index = QModelIndex | QPersistentModelIndex
Tone = str  # '', 'alarm', 'warn' or 'quiet'


class Cell(NamedTuple):
    """One cell: its text, whether it stands out, and how."""

    text: str
    tone: Tone = ""
    bold: bool = False


Roles = Qt.ItemDataRole
_WORDS: Final = frozenset(map(int, (Roles.DisplayRole, Roles.EditRole)))
_RIGHT: Final = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
Flags = Qt.ItemFlag
_READ: Final = Flags.ItemIsSelectable | Flags.ItemIsEnabled | Flags.ItemNeverHasChildren
_EDITED: Final = _READ | Flags.ItemIsEditable
_LEFT: Final = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
_MARKED: Final = (QStyle.StateFlag.State_Selected | QStyle.StateFlag.State_HasFocus).value
CELL_PX: Final = 12
EDGE_PX: Final = 3  # of a marked row's first cell
BESIDE_PX: Final = 6  # between a cell's edge and its text: its heading begins there too


@lru_cache(maxsize=2)
def _face(bold: bool) -> QFont:
    return font(CELL_PX, bold=bold)


class TextModel(QAbstractTableModel):
    """Rows of cells, each row under a key that outlives a refill."""

    def __init__(self, headings: Sequence[str], right: Sequence[int] = ()) -> None:
        super().__init__()
        self.headings, self.right = tuple(headings), frozenset(right)
        self.rows: list[tuple[Cell, ...]] = []
        self.keys: list[str] = []
        self.tones: Tones = LIGHT
        self.edited: Callable[[str, int, str], bool] | None = None
        self.editable: frozenset[int] = frozenset()

    def fill(self, rows: Sequence[tuple[str, Sequence[Cell]]]) -> None:
        """Show rows as (key, cells); in place where the keys are the same, so nothing jumps."""
        keys = [key for key, _ in rows]
        cells = [tuple(row) for _, row in rows]
        if keys == self.keys and keys:
            if cells == self.rows:
                return  # Qt would measure every column again
            self.rows = cells
            last = self.index(len(keys) - 1, len(self.headings) - 1)
            self.dataChanged.emit(self.index(0, 0), last)
            return
        self.beginResetModel()
        self.rows, self.keys = cells, keys
        self.endResetModel()

    def rowCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(self.rows)

    def columnCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(self.headings)

    def flags(self, index: Index) -> Qt.ItemFlag:
        return _EDITED if self.edited and index.column() in self.editable else _READ

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        cell = self.rows[index.row()][index.column()]
        if role == Roles.ToolTipRole:
            return plain(cell.text)
        if role in _WORDS:
            return cell.text
        # how else a cell looks, the table's own painter sees; its size follows from its type
        return _face(bold=True) if cell.bold and role == Roles.FontRole else None

    def setData(self, index: Index, value: Any, role: int = Qt.ItemDataRole.EditRole) -> bool:
        if role != Qt.ItemDataRole.EditRole or self.edited is None:
            return False
        if str(value) == self.rows[index.row()][index.column()].text:
            return False
        return self.edited(self.keys[index.row()], index.column(), str(value))

    def headerData(
        self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole
    ) -> Any:
        if orientation == Qt.Orientation.Horizontal and role == Qt.ItemDataRole.DisplayRole:
            return self.headings[section]
        return _RIGHT if role == Roles.TextAlignmentRole and section in self.right else None


@lru_cache(maxsize=4096)
def _cut(text: str, bold: bool, room: int) -> str:
    """Return a cell's text, cut to the room it has."""
    return QFontMetrics(_face(bold)).elidedText(text, Qt.TextElideMode.ElideRight, room)


@lru_cache(maxsize=4096)
def _wide(text: str, bold: bool) -> int:
    return QFontMetrics(_face(bold)).horizontalAdvance(text)


class _CellPainter(QStyledItemDelegate):
    """Paints cells as they stand in the model: Qt's own way asks it for each of them seven times
    and its style for every edge, which takes longer.
    """

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        model = index.model()
        assert isinstance(model, TextModel)
        column = index.column()
        text, tone, bold = model.rows[index.row()][column]
        room: QRect = option.rect
        palette: QPalette = option.palette
        if option.state.value & _MARKED:
            painter.fillRect(room, palette.highlight())
            if not column:  # a dark ground alone hardly tells
                painter.fillRect(
                    room.adjusted(0, 0, EDGE_PX - room.width(), 0), QColor(current_tones().focus)
                )
            painter.setPen(palette.highlightedText().color())
        elif tone:
            painter.setPen(QColor(getattr(model.tones, tone)))
        else:
            painter.setPen(palette.text().color())
        inside = room.adjusted(BESIDE_PX, 0, -BESIDE_PX, 0)
        painter.setFont(_face(bold))
        side = _RIGHT if column in model.right else _LEFT
        if option.features & QStyleOptionViewItem.ViewItemFeature.WrapText:
            painter.drawText(inside, side | Qt.TextFlag.TextWordWrap, text)
        else:
            painter.drawText(inside, side, _cut(text, bold, inside.width()))


class TextTable(QTableView):
    """A table of rows; Ctrl+C copies the selection as tab-separated text."""

    def __init__(self, model: TextModel, name: str) -> None:
        super().__init__()
        self.rows_model = model
        self.setModel(model)
        self.setItemDelegate(_CellPainter(self))
        self.setAccessibleName(name)
        self.setSelectionBehavior(QTableView.SelectionBehavior.SelectRows)
        self.setShowGrid(False)
        self.setWordWrap(False)
        self.verticalHeader().setVisible(False)
        self.verticalHeader().setDefaultSectionSize(26)
        self.horizontalHeader().setDefaultAlignment(
            Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
        )
        self.horizontalHeader().setHighlightSections(False)
        self.setTabKeyNavigation(False)
        self._fitted: tuple[int, ...] = ()
        self._measured = False
        model.modelReset.connect(self._changed)
        model.dataChanged.connect(self._changed)

    def fit(self, columns: Sequence[int]) -> None:
        """Keep columns as wide as what is in them.

        Qt would ask the model seven times for each cell, at each change; this measures words.
        """
        self._fitted = tuple(columns)
        for column in columns:
            self.horizontalHeader().setSectionResizeMode(column, QHeaderView.ResizeMode.Fixed)
        self._changed()

    def _changed(self) -> None:
        self._measured = False
        if self.isVisible():
            self._measure()

    def _measure(self) -> None:
        """Set the width of each column that is fitted, from its words and what lies around one."""
        self._measured = True
        rows, header = self.rows_model.rows, self.horizontalHeader()
        self.ensurePolished()
        around = 0
        for column in self._fitted:
            if rows and not around:
                first = rows[0][column]
                hint = self.sizeHintForIndex(self.rows_model.index(0, column)).width()
                around = hint - _wide(first.text, first.bold)
            words = {(row[column].text, row[column].bold) for row in rows}
            widest = max((_wide(text, bold) for text, bold in words), default=0)
            header.resizeSection(column, max(header.sectionSizeHint(column), widest + around))

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        if not self._measured:
            self._measure()

    def changeEvent(self, event: QEvent) -> None:
        super().changeEvent(event)
        if event.type() in (QEvent.Type.FontChange, QEvent.Type.StyleChange):
            self._changed()

    def selected_keys(self) -> tuple[str, ...]:
        """Return the keys of the selected rows, top first."""
        rows = sorted({index.row() for index in self.selectedIndexes()})
        return tuple(self.rows_model.keys[row] for row in rows)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.matches(QKeySequence.StandardKey.Copy):
            rows: dict[int, list[str]] = {}
            for index in sorted(self.selectedIndexes(), key=lambda i: (i.row(), i.column())):
                rows.setdefault(index.row(), []).append(str(index.data()))
            text = "\n".join("\t".join(cells) for cells in rows.values())
            QGuiApplication.clipboard().setText(text)
            return
        super().keyPressEvent(event)


def pane(columns: tuple[str, ...], name: str, stretch: int) -> TextTable:
    """Return a table whose columns fit what is in them, one taking the rest.

    Args:
        stretch: the column that takes the rest.
    """
    table = TextTable(TextModel(columns), name)
    table.fit([column for column in range(len(columns)) if column != stretch])
    table.horizontalHeader().setSectionResizeMode(stretch, QHeaderView.ResizeMode.Stretch)
    return table
