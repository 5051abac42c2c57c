"""Every consumer with its amps and where the figure came from."""

from typing import Any

from PySide6.QtCore import QAbstractTableModel, QModelIndex, QPersistentModelIndex, Qt, Signal
from PySide6.QtGui import QBrush, QColor, QFont, QGuiApplication, QKeyEvent, QKeySequence
from PySide6.QtWidgets import QHeaderView, QLabel, QTableView, QVBoxLayout, QWidget

from vivid_loom.desktop.theme import LIGHT
from vivid_loom.drafting import Draft
from vivid_loom.quantities import figure
from vivid_loom.sheets.threads import Tones

__all__ = ["LoadsModel", "LoadsView"]

_HEADINGS = (
    "Load", "Where", "A running", "A peak", "Figure from", "Note", "Maker's fuse A",
    "Maker's smallest", "Class", "State", "Circuit",
)  # fmt: skip
_RIGHT = (2, 3, 6)
Index = QModelIndex | QPersistentModelIndex


class LoadsModel(QAbstractTableModel):
    """Rows of loads; unknown figures are words in the alarm colour, never blanks."""

    def __init__(self) -> None:
        super().__init__()
        self.tones: Tones = LIGHT
        self.rows: list[tuple[str, ...]] = []
        self.circuits: list[str] = []
        self.states: list[str] = []

    def set_draft(self, draft: Draft) -> None:
        """Show a draft's loads, unknowns and estimates first."""
        self.beginResetModel()
        feeds: dict[str, list[str]] = {}
        for row in draft.circuits:
            for name in row.planned.loads:
                feeds.setdefault(name, []).append(row.id)
        stations = {station.id: station.name for station in draft.aboard.boat.stations}
        rank = {"unknown": 0, "estimate": 1}
        loads = sorted(
            draft.aboard.loads.values(),
            key=lambda load: (rank.get(load.evidence.kind, 2), load.name),
        )
        self.rows = [
            (
                load.name, stations[load.station],
                figure(load.running_a) if load.running_a else "unknown",
                figure(load.peak_a) if load.peak_a else "", load.evidence.kind,
                load.evidence.note, figure(load.maker_fuse_a) if load.maker_fuse_a else "",
                load.maker_smallest or "", load.demand, load.state.replace("_", " "),
                " ".join(feeds.get(load.id, ["no feed"])),
            )
            for load in loads
        ]  # fmt: skip
        self.circuits = [feeds.get(load.id, [""])[0] for load in loads]
        self.states = [load.evidence.kind for load in loads]
        self.endResetModel()

    def rowCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(self.rows)

    def columnCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(_HEADINGS)

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        text = self.rows[index.row()][index.column()]
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.ToolTipRole):
            return text
        if role == Qt.ItemDataRole.TextAlignmentRole and index.column() in _RIGHT:
            return Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        kind = self.states[index.row()]
        stands_out = text in ("unknown", "no feed", "estimate")
        if role == Qt.ItemDataRole.ForegroundRole and stands_out:
            return QBrush(QColor(self.tones.alarm if text != "estimate" else self.tones.warn))
        if role == Qt.ItemDataRole.FontRole and (stands_out or index.column() == 0):
            face = QFont("B612")
            face.setPixelSize(12)
            face.setBold(stands_out or kind == "unknown")
            return face
        return None

    def headerData(
        self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole
    ) -> Any:
        if orientation == Qt.Orientation.Horizontal and role == Qt.ItemDataRole.DisplayRole:
            return _HEADINGS[section]
        return None


class _Table(QTableView):
    """Copies its selection as tab-separated text."""

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.matches(QKeySequence.StandardKey.Copy):
            rows: dict[int, list[str]] = {}
            for index in sorted(self.selectedIndexes(), key=lambda i: (i.row(), i.column())):
                rows.setdefault(index.row(), []).append(str(index.data()))
            text = "\n".join("\t".join(cells) for cells in rows.values())
            QGuiApplication.clipboard().setText(text)
            return
        super().keyPressEvent(event)


class LoadsView(QWidget):
    """Signals:

    circuit_picked (str): the circuit of the load that was selected.
    """

    circuit_picked = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.model = LoadsModel()
        self.table = _Table()
        self.table.setModel(self.model)
        self.table.setAccessibleName("Loads")
        self.table.setSelectionBehavior(QTableView.SelectionBehavior.SelectRows)
        self.table.setShowGrid(False)
        self.table.verticalHeader().setVisible(False)
        self.table.verticalHeader().setDefaultSectionSize(26)
        header = self.table.horizontalHeader()
        header.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        header.setSectionResizeMode(5, QHeaderView.ResizeMode.Stretch)
        header.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        self.totals = QLabel()
        self.totals.setObjectName("load_totals")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 12, 16, 10)
        layout.addWidget(self.totals)
        layout.addWidget(self.table, 1)
        self.table.selectionModel().currentRowChanged.connect(self._picked)

    def _picked(self, now: QModelIndex) -> None:
        if now.isValid() and self.model.circuits[now.row()]:
            self.circuit_picked.emit(self.model.circuits[now.row()])

    def set_tones(self, tones: Tones) -> None:
        """Use a theme's neutral colours."""
        self.model.tones = tones

    def set_draft(self, draft: Draft) -> None:
        """Show a draft's loads and the running totals per source."""
        self.model.set_draft(draft)
        open_work = sum(state in ("unknown", "estimate") for state in self.model.states)
        parts = [
            f"{need.supply.name} {figure(need.out.total_a)} A demand, "
            f"{figure(need.out.everything_a)} A with everything on"
            for need in draft.needs.values()
            if need.supply.fed_from == draft.aboard.boat.battery.id
        ]
        self.totals.setText(
            f"{len(self.model.rows)} loads, {open_work} figures still to look up.   "
            + "   ".join(parts)
        )
