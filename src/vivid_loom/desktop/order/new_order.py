"""The dialog behind New order and Duplicate: hull, model, date and where the file goes."""

import datetime
from pathlib import Path

from PySide6.QtCore import QDate
from PySide6.QtWidgets import (
    QComboBox,
    QDateEdit,
    QDialog,
    QDialogButtonBox,
    QFileDialog,
    QFormLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QWidget,
)

from vivid_loom.boat import read_boat
from vivid_loom.desktop.widgets.controls import button, small, typed
from vivid_loom.order import PROFILES, Order, Shop, due_date
from vivid_loom.quantities import file_name
from vivid_loom.quantities.document import DocumentError

__all__ = ["OrderDialog", "boat_choices"]


def boat_choices(*folders: Path) -> dict[str, str]:
    """Return file name → what to call it, for every boat that can be read; own files first."""
    found: dict[str, str] = {}
    for folder in folders:
        for path in sorted(folder.glob("*.boat.json")):
            try:
                name = read_boat(path).name
            except DocumentError:
                continue  # opening an order on it says what is wrong
            found.setdefault(path.name, f"{name}  ({path.name})")
    return found


def _is_folder(path: Path) -> bool:
    try:
        return path.is_dir()
    except OSError:  # a name too long for any folder
        return False


class OrderDialog(QDialog):
    """Asks for what a new order needs; ``order`` and ``path`` hold the answer."""

    def __init__(
        self, boats: dict[str, str], folder: Path, shop: Shop, start: Order | None, parent: QWidget
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle("Duplicate order" if start else "New order")
        self.setMinimumWidth(460)
        self._start, self._folder, self._shop = start, folder, shop
        self.hull, self.title, self.customer = QLineEdit(), QLineEdit(), QLineEdit()
        self.hull.setPlaceholderText("for example 0431")
        self.boat, self.profile, self.date = QComboBox(), QComboBox(), QDateEdit()
        for name, words in boats.items():
            self.boat.addItem(words, name)
        for key, profile in PROFILES.items():
            self.profile.addItem(profile.name, key)
        self.date.setCalendarPopup(True)
        self.date.setDisplayFormat("yyyy-MM-dd")
        self.date.setDate(QDate.currentDate().addDays(14))
        self.due, self.problem = small(""), QLabel()
        self.problem.setWordWrap(True)
        self.where = QLineEdit(str(folder))
        pick = button("…", self._pick_folder, "Choose a folder")
        pick.setAccessibleName("Choose a folder")
        place = QWidget()
        line = QHBoxLayout(place)
        line.setContentsMargins(0, 0, 0, 0)
        line.addWidget(self.where, 1)
        line.addWidget(pick)
        form = QFormLayout(self)
        for label, widget in (
            ("Hull", self.hull),
            ("Order", self.title),
            ("Customer", self.customer),
            ("Boat model", self.boat),
            ("Hull at station", self.date),
            ("", self.due),
            ("Drafted under", self.profile),
            ("Folder", place),
            ("", self.problem),
        ):
            form.addRow(label, widget)
        self.buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel
        )
        self.buttons.button(QDialogButtonBox.StandardButton.Ok).setText("Make the order")
        self.buttons.accepted.connect(self._accept)
        self.buttons.rejected.connect(self.reject)
        form.addRow(self.buttons)
        self.date.dateChanged.connect(self._show_due)
        if start:
            self.title.setText(start.title)
            self.boat.setCurrentIndex(max(0, self.boat.findData(start.boat)))
            self.profile.setCurrentIndex(self.profile.findData(start.profile))
        self._show_due()

    def _show_due(self) -> None:
        due = due_date(self._date(), self._shop.closed_days)
        self.due.setText(f"The harness is due {due:%A} {due.day} {due:%B}.")

    def _date(self) -> datetime.date:
        date = self.date.date()
        return datetime.date(date.year(), date.month(), date.day())

    def _pick_folder(self) -> None:
        if name := QFileDialog.getExistingDirectory(
            self, "Folder for the order", str(self._folder)
        ):
            self.where.setText(name)

    @property
    def path(self) -> Path:
        """File of the order: hull-0431.loom.json in the chosen folder."""
        name = file_name(f"hull-{typed(self.hull)}", ".loom.json")
        return Path(typed(self.where)) / name

    @property
    def order(self) -> Order:
        """The order as asked for; a duplicate keeps all decisions but the papers."""
        heading = {
            "hull": typed(self.hull),
            "title": typed(self.title),
            "customer": typed(self.customer),
            "boat": self.boat.currentData(),
            "station_date": self._date().isoformat(),
            "profile": self.profile.currentData(),
        }
        if self._start is None:
            return Order(**heading)
        kept = {
            name: getattr(self._start, name)
            for name in (
                "options",
                "added",
                "changed_loads",
                "removed",
                "overrides",
                "hull_changes",
                "ways",
                "spares",
            )
        }
        if heading["profile"] == self._start.profile:
            kept["profile_changes"] = self._start.profile_changes
        return Order(**heading, **kept)

    def _accept(self) -> None:
        folder = Path(typed(self.where))
        if not typed(self.hull) or not typed(self.title):
            self.problem.setText("An order wants a hull number and a name.")
        elif self.boat.currentData() is None:
            self.problem.setText("There is no boat model yet: make a new boat first.")
        elif not _is_folder(folder):
            self.problem.setText(f"Found no folder {folder}.")
        elif self.path.is_file():
            self.problem.setText(f"{self.path.name} is there already; give another hull number.")
        else:
            self.accept()
