"""The dialog behind New order, Duplicate and Change order: hull, model, date, folder."""

import dataclasses
import datetime
import re
from collections.abc import Sequence
from pathlib import Path
from string import ascii_uppercase
from typing import NamedTuple

from PySide6.QtCore import QDate
from PySide6.QtWidgets import (
    QComboBox,
    QDateEdit,
    QDialog,
    QDialogButtonBox,
    QFileDialog,
    QFormLayout,
    QHBoxLayout,
    QLineEdit,
    QWidget,
)

from vivid_loom.boat import read_boat
from vivid_loom.desktop.widgets.controls import button, small, typed
from vivid_loom.desktop.widgets.plain import PlainLabel
from vivid_loom.order import PROFILES, SHOP, Order, Shop, due_date
from vivid_loom.quantities import file_name
from vivid_loom.quantities.document import DocumentError

__all__ = ["BoatChoice", "OrderDialog", "boat_choices"]


class BoatChoice(NamedTuple):
    """A boat model to choose: what to call it, and the profile of its orders; '' for any."""

    words: str
    profile: str


def boat_choices(*folders: Path) -> dict[str, BoatChoice]:
    """Return every boat that can be read by its file name; own files first."""
    found: dict[str, BoatChoice] = {}
    for folder in folders:
        for path in sorted(folder.glob("*.boat.json")):
            try:
                boat = read_boat(path)
            except DocumentError:
                continue  # opening an order on it says what is wrong
            found.setdefault(path.name, BoatChoice(f"{boat.name}  ({path.name})", boat.profile))
    return found


def _is_folder(path: Path) -> bool:
    try:
        return path.is_dir()
    except OSError:  # a name too long for any folder
        return False


def _next_hull(hull: str, folder: Path) -> str:
    """Return the number of the next order on a hull: the same with a letter of its own."""
    base = re.sub("-[A-Z]$", "", hull)
    names = (f"{base}-{letter}" for letter in ascii_uppercase[1:])
    return next((n for n in names if n > hull and not _file_of(n, folder).exists()), "")


def _file_of(hull: str, folder: Path) -> Path:
    return folder / file_name(f"hull-{hull}", ".loom.json")


class OrderDialog(QDialog):
    """Asks for what a new order needs; ``order`` and ``path`` hold the answer."""

    def __init__(
        self,
        boats: dict[str, BoatChoice],
        folder: Path,
        shop: Shop,
        start: Order | None,
        parent: QWidget,
        *,
        changes: Sequence[str] | None = None,
    ) -> None:
        """Ask for an order.

        Args:
            start: the order whose decisions it takes over.
            changes: it changes what is built; names of the orders that do so already.
        """
        super().__init__(parent)
        self._is_change = changes is not None
        titles = ("Change order" if self._is_change else "Duplicate order", "New order")
        self.setWindowTitle(titles[start is None])
        self.setMinimumWidth(460)
        self._start, self._folder, self._shop = start, folder, shop
        self.hull, self.title, self.customer = QLineEdit(), QLineEdit(), QLineEdit()
        self.hull.setPlaceholderText("for example 0431")
        self.boat, self.profile, self.date = QComboBox(), QComboBox(), QDateEdit()
        self._boats = boats
        for name, choice in boats.items():
            self.boat.addItem(choice.words, name)
        self.date.setCalendarPopup(True)
        self.date.setDisplayFormat("yyyy-MM-dd")
        self.date.setDate(QDate.currentDate().addDays(14))
        self.due, self.problem = small(""), PlainLabel()
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
        if start and changes is not None:
            self.hull.setText(_next_hull(start.hull, folder))
            self.customer.setText(start.customer)
            self.boat.setEnabled(False)
            told = f"Hull {start.hull} as it was built is what this order starts from."
            twice = f" It is changed already by {', '.join(changes)}." if changes else ""
            self.problem.setText(told + twice)
        self._offer_profiles()
        self.boat.currentIndexChanged.connect(self._offer_profiles)
        self._show_due()

    def _offer_profiles(self) -> None:
        """Offer what the model's orders may be drafted under, what they usually are first.

        A yard's own is for its boats alone.
        """
        choice = self._boats.get(self.boat.currentData())
        usual = self._start.profile if self._start else choice.profile if choice else ""
        self.profile.clear()
        for key, profile in PROFILES.items():
            if key != SHOP or SHOP in (usual, choice.profile if choice else ""):
                self.profile.addItem(profile.name, key)
        self.profile.setCurrentIndex(max(0, self.profile.findData(usual)))

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
        return _file_of(typed(self.hull), Path(typed(self.where)))

    @property
    def order(self) -> Order:
        """The order as asked for.

        A duplicate keeps all decisions but the papers; a change to what is built everything but
        what was issued, ticked and built otherwise, which is in the boat by now.
        """
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
        if self._is_change:
            other = heading["profile"] != self._start.profile
            return dataclasses.replace(
                self._start,
                **heading,
                state="drafting",
                revisions=(),
                stop=None,
                ticks=(),
                deviations=(),
                profile_changes=() if other else self._start.profile_changes,
                based_on=self._start.hull,
            )
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
