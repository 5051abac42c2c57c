"""The shop's queue: every order of a folder by due date, with hours and findings."""

import datetime
from collections.abc import Iterator, Sequence
from pathlib import Path

from PySide6.QtCore import QTimer, Signal
from PySide6.QtWidgets import QHBoxLayout, QHeaderView, QLineEdit, QVBoxLayout, QWidget

from vivid_loom.desktop.widgets.controls import button
from vivid_loom.desktop.widgets.plain import PlainLabel
from vivid_loom.desktop.widgets.text_table import Cell, TextModel, TextTable
from vivid_loom.desktop.work.latest_job import LatestJob
from vivid_loom.order import Shop
from vivid_loom.queue import QueueEntry, queue_entry, with_figures
from vivid_loom.sheets.paper.tones import Tones

__all__ = ["OrderQueue"]

_HEADINGS = (
    "Harness due",
    "Hull",
    "Model",
    "Order",
    "State",
    "Hull at station",
    "Bench h",
    "Findings",
)


FILL_MS = 150
WIDTHS = {0: 132, 1: 64, 2: 116, 4: 92, 5: 112, 6: 66, 7: 96}


def _day(iso: str) -> str:
    date = datetime.date.fromisoformat(iso)
    return f"{date:%a} {date.day} {date:%b}"


def _stamp(path: Path) -> tuple[float, int] | None:
    """Return what changes with a file; None where it is not there."""
    try:
        found = path.stat()
    except OSError:
        return None
    return found.st_mtime, found.st_size


def _cells(entry: QueueEntry, here: bool) -> tuple[Cell, ...]:
    if entry.problem:
        return (
            Cell("cannot be read", "alarm"),
            Cell(""),
            Cell(""),
            Cell(f"{entry.path.name}: {entry.problem}", "alarm"),
            *(Cell("") for _ in range(4)),
        )
    if not entry.due:
        name = Cell(entry.path.name, "quiet")
        return (Cell("…", "quiet"), Cell(""), Cell(""), name, *(Cell("") for _ in range(4)))
    waits = entry.state in ("drafting", "checked") and not entry.stopped
    late = entry.due < datetime.date.today().isoformat() and waits
    found, tone = "…", "quiet"
    if entry.errors is not None:
        found = f"{entry.errors} errors" if entry.errors else f"{entry.to_judge} to judge"
        tone = "alarm" if entry.errors else "warn" if entry.to_judge else "quiet"
        found = found if entry.errors or entry.to_judge else "none"
    return (
        Cell(_day(entry.due) + ("  late" if late else ""), "alarm" if late else "", True),
        Cell(entry.hull, "", here),
        Cell(entry.model),
        Cell(f"{entry.title}  (open)" if here else entry.title, "", here),
        Cell(entry.stopped or entry.state, "warn" if entry.stopped else ""),
        Cell(_day(entry.station_date)),
        Cell("…" if entry.hours is None else f"{entry.hours:.1f}"),
        Cell(found, tone),
    )


class OrderQueue(QWidget):
    """Signals:

    order_opened (str): a row was opened.
    new_asked, duplicate_asked, boat_asked, folder_asked: a button was pressed.
    """

    order_opened = Signal(str)
    new_asked = Signal()
    duplicate_asked = Signal()
    boat_asked = Signal()
    folder_asked = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._entries: dict[Path, QueueEntry | None] = {}  # None: not read yet
        self._filling = QTimer(self)  # of a burst of answers the table is filled once
        self._filling.setSingleShot(True)
        self._filling.setInterval(FILL_MS)
        self._filling.timeout.connect(lambda: self._fill())
        self._stamps: dict[Path, tuple[float, int]] = {}
        self._here: set[Path] = set()  # the order that is open
        self._shop = Shop()
        self.job = LatestJob(self)
        self.search = QLineEdit()
        self.search.setPlaceholderText("Search hull, model, order, state")
        self.search.setAccessibleName("Search the queue")
        self.search.setClearButtonEnabled(True)
        self.search.setFixedWidth(280)
        self.model = TextModel(_HEADINGS, right=(6,))
        self.table = TextTable(self.model, "Orders by due date")
        self.table.setSelectionMode(TextTable.SelectionMode.SingleSelection)
        self.table.verticalHeader().setDefaultSectionSize(30)
        header = self.table.horizontalHeader()
        header.setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
        header.setSectionResizeMode(3, QHeaderView.ResizeMode.Stretch)
        for column, width in WIDTHS.items():
            self.table.setColumnWidth(column, width)
        self.load = PlainLabel()
        self.load.setProperty("quiet", True)
        bar = QHBoxLayout()
        bar.addWidget(self.search)
        bar.addStretch(1)
        bar.addWidget(button("New order…", self.new_asked.emit, "Ctrl+N"))
        bar.addWidget(button("Duplicate…", self.duplicate_asked.emit, "Ctrl+Shift+N"))
        bar.addWidget(button("New boat…", self.boat_asked.emit, "Ctrl+Alt+N"))
        bar.addWidget(button("Folder…", self.folder_asked.emit, "Show the orders of a folder"))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 8, 0, 0)
        layout.addLayout(bar)
        layout.addWidget(self.table, 1)
        layout.addWidget(self.load)
        self.search.textChanged.connect(self._fill)
        self.table.activated.connect(self._open)
        self.table.doubleClicked.connect(self._open)
        self.job.answered.connect(self._take)

    def set_tones(self, tones: Tones) -> None:
        """Use a theme's neutral colours."""
        self.model.tones = tones

    def set_queue(self, paths: Sequence[Path], current: Path, shop: Shop) -> None:
        """List orders; those not seen yet are read and drafted off the GUI thread."""
        self._shop, name = shop, current.name
        self._here = {p for p in paths if p.name == name and p.resolve() == current.resolve()}
        stamps = {path: stamp for path in paths if (stamp := _stamp(path))}
        self._entries = {
            path: self._entries.get(path) if self._stamps.get(path) == stamp else None
            for path, stamp in stamps.items()
        }
        self._stamps = stamps
        self._fill()
        if self.isVisible():
            self.work_out()

    def work_out(self) -> None:
        """Read what is not read yet, then draft what is not drafted yet, off the GUI thread."""
        entries, shop = dict(self._entries), self._shop

        def work() -> Iterator[object]:
            read = {path: entry or queue_entry(path, shop) for path, entry in entries.items()}
            yield tuple(read.values())
            for entry in read.values():
                if entry.hours is None and not entry.problem:
                    yield (with_figures(entry),)

        if any(e is None or (e.hours is None and not e.problem) for e in entries.values()):
            self.job.ask(work)

    def pause(self) -> None:
        """Stop drafting: nobody looks."""
        self.job.stop()

    def _take(self, entries: object) -> None:
        assert isinstance(entries, tuple)
        for entry in entries:
            if entry.path in self._entries:
                self._entries[entry.path] = entry
        if not self._filling.isActive():
            self._filling.start()

    def shown(self) -> list[QueueEntry]:
        """Return the entries that match the search, earliest due first."""
        words = self.search.text().lower().split()
        known = (e or QueueEntry(path=path) for path, e in self._entries.items())
        entries = sorted(known, key=lambda e: (e.due or "9999", e.path.name))
        return [
            e
            for e in entries
            if all(
                w in f"{e.hull} {e.model} {e.title} {e.state} {e.path.name}".lower() for w in words
            )
        ]

    def _fill(self) -> None:
        shown = self.shown()
        self.model.fill([(str(e.path), _cells(e, e.path in self._here)) for e in shown])
        hours = sum(e.hours or 0.0 for e in shown)
        days = hours / self._shop.bench_hours
        self.load.setText(
            f"{len(shown)} orders, {hours:.0f} h on the bench: {days:.1f} days at "
            f"{self._shop.bench_hours:g} h.   A harness is due one working day before its hull "
            f"reaches the wiring station; {len(self._shop.closed)} closed days are kept free."
        )

    def _open(self) -> None:
        index = self.table.currentIndex()
        if index.isValid():
            self.order_opened.emit(self.model.keys[index.row()])
