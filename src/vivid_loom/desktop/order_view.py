"""The order: the shop's queue, the options with what each does, the profile."""

import datetime
from collections.abc import Sequence
from pathlib import Path

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QHBoxLayout,
    QLabel,
    QListWidget,
    QListWidgetItem,
    QScrollArea,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.boat import Option
from vivid_loom.drafting import Draft, option_problem
from vivid_loom.order import PROFILES, due_date, read_order
from vivid_loom.quantities.document import DocumentError
from vivid_loom.sheets.cautions import SHORT_CAUTION

__all__ = ["OrderView", "effect_text"]


def effect_text(option: Option, names: dict[str, str]) -> str:
    """Say what an option adds, removes, requires and excludes."""
    parts: list[str] = []
    if option.adds.loads:
        parts.append("adds " + ", ".join(load.name for load in option.adds.loads))
    if option.adds.switches:
        legends = ", ".join(switch.legend for switch in option.adds.switches)
        parts.append(f"takes helm position {legends}")
    if option.joins:
        parts.append("joins " + ", ".join(sorted({circuit for circuit, _ in option.joins})))
    if option.removes:
        parts.append("removes " + ", ".join(option.removes))
    if option.requires:
        parts.append("requires " + ", ".join(names.get(o, o) for o in option.requires))
    if option.excludes:
        parts.append("excludes " + ", ".join(names.get(o, o) for o in option.excludes))
    return "; ".join(parts)


def _small(text: str) -> QLabel:
    label = QLabel(text)
    label.setProperty("quiet", True)
    label.setWordWrap(True)
    label.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Maximum)
    return label


def _title(text: str) -> QLabel:
    label = QLabel(text)
    label.setProperty("title", True)
    label.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Maximum)
    return label


class OrderView(QWidget):
    """Signals:

    option_toggled (str, bool): an option was ticked or unticked.
    profile_chosen (str): another school was chosen.
    order_opened (str): a path of the queue was picked.
    """

    option_toggled = Signal(str, bool)
    profile_chosen = Signal(str)
    order_opened = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._boat_id = ""
        self.boxes: dict[str, QCheckBox] = {}
        self.queue = QListWidget()
        self.queue.setAccessibleName("Orders by due date")
        self.queue.setFixedWidth(290)
        self.queue.setWordWrap(True)
        self.profile = QComboBox()
        for key, profile in PROFILES.items():
            self.profile.addItem(profile.name, key)
        self.heading = _title("")
        self.notes = _small("")
        self._options = QWidget()
        self._columns = (QVBoxLayout(), QVBoxLayout())
        side_by_side = QHBoxLayout(self._options)
        side_by_side.setSpacing(26)
        for column in self._columns:
            column.setSpacing(3)
            side_by_side.addLayout(column, 1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(self._options)
        scroll.setFrameShape(QScrollArea.Shape.NoFrame)
        left = QVBoxLayout()
        left.addWidget(_title("Shop queue"))
        left.addWidget(_small("Harnesses are due one working day before the hull is wired."))
        left.addWidget(self.queue, 1)
        caution = QLabel(SHORT_CAUTION)
        caution.setProperty("caution", True)
        caution.setWordWrap(True)
        caution.setFixedWidth(290)
        left.addWidget(caution)
        school = QHBoxLayout()
        school.addWidget(QLabel("Drafted under"))
        school.addWidget(self.profile)
        school.addStretch(1)
        right = QVBoxLayout()
        right.addWidget(self.heading)
        right.addWidget(self.notes)
        right.addLayout(school)
        right.addWidget(scroll, 1)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(16, 14, 16, 14)
        layout.setSpacing(22)
        layout.addLayout(left)
        layout.addLayout(right, 1)
        self.queue.itemActivated.connect(self._open_item)
        self.queue.itemClicked.connect(self._open_item)
        self.profile.activated.connect(
            lambda index: self.profile_chosen.emit(self.profile.itemData(index))
        )

    def set_queue(self, paths: Sequence[Path], current: Path) -> None:
        """List orders by due date; a file that cannot be read is listed with its error."""
        self.queue.clear()
        rows: list[tuple[str, str, Path]] = []
        for path in paths:
            try:
                order = read_order(path)
            except DocumentError as error:
                rows.append(("9", f"{path.name}\ncannot be read: {error.problem}", path))
                continue
            due = due_date(datetime.date.fromisoformat(order.station_date))
            text = f"Hull {order.hull}  due {due:%a} {due.day} {due:%b}\n{order.title}"
            rows.append((due.isoformat(), text, path))
        for _, text, path in sorted(rows):
            item = QListWidgetItem(text)
            item.setData(Qt.ItemDataRole.UserRole, str(path))
            self.queue.addItem(item)
            if path.resolve() == current.resolve():
                self.queue.setCurrentItem(item)

    def _open_item(self, item: QListWidgetItem) -> None:
        self.order_opened.emit(item.data(Qt.ItemDataRole.UserRole))

    def set_draft(self, draft: Draft) -> None:
        """Show an order's options as they stand."""
        order, boat = draft.aboard.order, draft.aboard.boat
        self.heading.setText(f"{boat.name} · hull {order.hull} · {order.title}")
        self.notes.setText(" ".join(part for part in (order.customer + ".", order.notes) if part))
        self.profile.setCurrentIndex(self.profile.findData(order.profile))
        if boat.id != self._boat_id:
            self._build(boat.options)
            self._boat_id = boat.id
        for option_id, box in self.boxes.items():
            box.blockSignals(True)
            box.setChecked(option_id in order.options)
            box.blockSignals(False)
            if option_id in order.options:
                problem = None
            else:
                needed = _with_required(boat.options, option_id)
                problem = option_problem(boat, sorted({*order.options, *needed}))
            box.setEnabled(problem is None)
            box.setToolTip(problem or "")

    def _build(self, options: Sequence[Option]) -> None:
        for column in self._columns:
            while item := column.takeAt(0):
                if widget := item.widget():
                    widget.deleteLater()
        self.boxes = {}
        names = {option.id: option.name for option in options}
        filled = [0, 0]
        for group in sorted({option.group for option in options}):
            side = filled.index(min(filled))
            column = self._columns[side]
            column.addWidget(_title(group))
            for option in (o for o in options if o.group == group):
                box = QCheckBox(option.name)
                box.setObjectName(f"option_{option.id}")
                box.toggled.connect(
                    lambda on, option_id=option.id: self.option_toggled.emit(option_id, on)
                )
                self.boxes[option.id] = box
                column.addWidget(box)
                column.addWidget(_small(f"{option.text} It {effect_text(option, names)}."))
                filled[side] += 1
        for column in self._columns:
            column.addStretch(1)


def _with_required(options: Sequence[Option], option_id: str) -> set[str]:
    """Return an option with everything it requires, and what that requires."""
    by_id = {option.id: option for option in options}
    wanted: set[str] = set()
    waiting = [option_id]
    while waiting:
        name = waiting.pop()
        if name not in wanted and name in by_id:
            wanted.add(name)
            waiting += by_id[name].requires
    return wanted
