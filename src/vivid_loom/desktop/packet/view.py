"""Every sheet of the packet as it prints, and the export."""

import time
from collections.abc import Iterator
from pathlib import Path

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QColor, QFont, QHideEvent, QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QFileDialog,
    QHBoxLayout,
    QScrollArea,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.desktop.widgets.controls import button
from vivid_loom.desktop.widgets.paint import play
from vivid_loom.desktop.widgets.plain import PlainLabel
from vivid_loom.desktop.work.latest_job import LatestJob
from vivid_loom.desktop.work.session import Session
from vivid_loom.desktop.work.stage import StageView
from vivid_loom.drafting import Draft
from vivid_loom.quantities.atomic import write_atomically
from vivid_loom.sheets import Book, Handed, Page, Section, packet_books, packet_parts
from vivid_loom.sheets.paper.drawing import Text, moved
from vivid_loom.sheets.proof import Proven, proven, standing_errors

__all__ = ["PacketView"]

LIST_W = 230
REST_MS = 350
PACKING = Page("", 297.0, 210.0, (Text(12, 16, "Packing the bundles for their looms …", 5.0),))
_ROLE = Qt.ItemDataRole.UserRole


class _Paper(QWidget):
    """Paints one page to scale."""

    def __init__(self) -> None:
        super().__init__()
        self._page: Page | None = None
        self._scale = 3.0

    def show_page(self, page: Page, width: int, height: int) -> None:
        """Show a whole page, as large as it goes into a frame."""
        self._page = page
        self._scale = max(1.5, min(width / page.width_mm, height / page.height_mm))
        self.setFixedSize(int(page.width_mm * self._scale), int(page.height_mm * self._scale))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        with QPainter(self) as painter:
            painter.fillRect(self.rect(), QColor("#ffffff"))
            if self._page is not None:
                painter.scale(self._scale / 4, self._scale / 4)
                play(painter, (moved(item, 0.0, 0.0, 4.0) for item in self._page.items))


class PacketView(StageView):
    """Books, their sections and sheets at the left, the picked sheet whole at the right."""

    about_selection = False

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self._draft: Draft | None = None
        self._tried: Draft | None = None
        self._books: tuple[Book, ...] = ()
        self._sections: tuple[Section, ...] = ()
        self._listed: list[QTreeWidgetItem] = []
        self._pages: dict[int, tuple[Page, ...]] = {}
        self._at = (0, 0)
        self.list = QTreeWidget()
        self.list.setHeaderHidden(True)
        self.list.setFixedWidth(LIST_W)
        self.list.setIndentation(14)
        self.list.setAccessibleName("Sheets of the packet, by book and section")
        self.export = button("Export packet…", self._ask_folder, "Every file, into a folder")
        self.export.setProperty("primary", True)
        self.paper_size, self.marked = QComboBox(), QCheckBox("CSV for spreadsheets")
        self.paper_size.addItems(["A4", "A3"])
        self.paper_size.setAccessibleName("Paper of the packet")
        self.paper_size.setToolTip("A3 is A4 enlarged; what is to scale stays as large")
        self.marked.setToolTip("Marks CSV files so that a spreadsheet reads ² and → aright")
        self.state = PlainLabel()
        self.state.setWordWrap(True)
        self.state.setFixedWidth(LIST_W)
        self.paper = _Paper()
        self.frame = QScrollArea()
        self.frame.setWidget(self.paper)
        self.frame.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.frame.setAccessibleName("Page preview")
        self._composing, self._exporting = LatestJob(self), LatestJob(self)
        self._later = QTimer(self)  # the other sheets are counted once the hand has come to rest
        self._later.setSingleShot(True)
        self._later.setInterval(REST_MS)
        self._later.timeout.connect(self._compose)
        left = QVBoxLayout()
        left.addWidget(self.list, 1)
        left.addWidget(self.state)
        how = QHBoxLayout()
        how.addWidget(self.paper_size)
        how.addWidget(self.marked, 1)
        left.addLayout(how)
        left.addWidget(self.export)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(16, 12, 16, 12)
        layout.addLayout(left)
        layout.addWidget(self.frame, 1)
        self.list.currentItemChanged.connect(lambda item, _: self._pick(item))
        self._composing.answered.connect(self._composed)
        self._exporting.answered.connect(self._told)

    def set_draft(self, draft: Draft) -> None:
        """List the books; the picked sheet is composed now, the others when there is time."""
        self._draft = draft
        self._bind(draft)
        self._say(draft)
        self._show()
        self._later.start()

    def takes_keys(self) -> QWidget:
        """Return the list of sheets."""
        return self.list

    def _list(self) -> None:
        self.list.blockSignals(True)
        self.list.clear()
        self._listed = []
        bold = QFont(self.list.font())
        bold.setBold(True)
        for book in self._books:
            heading = QTreeWidgetItem(self.list, [book.title.rpartition(": ")[2].capitalize()])
            heading.setData(0, _ROLE, (len(self._listed), 0))  # its cover
            heading.setFont(0, bold)
            for section in book.sections:
                title = "Cover" if section is book.sections[0] else section.title
                listed = QTreeWidgetItem(heading, [title])
                listed.setData(0, _ROLE, (len(self._listed), 0))
                self._listed.append(listed)
            heading.setExpanded(True)
        at = min(self._at[0], len(self._sections) - 1)
        self._at = (at, self._at[1] if at == self._at[0] else 0)
        if self._listed:
            self.list.setCurrentItem(self._listed[at])
        self.list.blockSignals(False)

    def _compose(self) -> None:
        """Lay the other sections out off the GUI thread, so that their sheets can be counted."""
        waiting = [i for i in range(len(self._sections)) if i not in self._pages]
        waiting.sort(key=lambda i: i != self._at[0])  # what is looked at first
        sections = self._sections

        draft = self._draft
        assert draft is not None
        untried = draft is not self._tried

        def work() -> Iterator[object]:
            for index in waiting[:1]:
                yield sections, index, tuple(sections[index].pages())
            if untried:  # every state and fault: what may be signed depends on it
                yield draft, None, proven(draft)
                return  # what is known now is laid out anew
            for index in waiting[1:]:
                yield sections, index, tuple(sections[index].pages())
                time.sleep(0.005)  # the window comes first

        if waiting or untried:
            self._composing.ask(work)

    def _proven(self, draft: Draft, found: Proven) -> None:
        """Say what every state and single fault have shown, on covers and every page."""
        self._tried = draft
        self._bind(draft)
        self._say(draft)
        self._show()
        self._later.start()
        self.session.proven.emit(draft, found)

    def _say(self, draft: Draft) -> None:
        """Say whether the books may be signed, once that is known."""
        if draft is not self._tried:
            self.state.setText("Every state and every single fault is being tried…")
            return
        errors = standing_errors(draft)
        told = f"{errors} error{'s' * (errors > 1)}: not for building until cleared or accepted."
        sound = "No errors, every state and single fault tried. Sign each cover before its book "
        self.state.setText(told if errors else f"{sound}is worked from.")

    def _bind(self, draft: Draft) -> None:
        """List the books of a draft."""
        tried = draft is self._tried
        self._books = packet_books(draft, self.session.shop, tried=tried)
        self._sections = tuple(part for book in self._books for part in book.sections)
        self._pages = {}
        self._list()

    def _composed(self, answer: object) -> None:
        assert isinstance(answer, tuple)
        sections, index, pages = answer
        if index is None:
            if isinstance(sections, Draft) and sections is self._draft:
                self._proven(sections, pages)
        elif sections is self._sections:
            self._keep(index, pages)
            if index == self._at[0]:
                self._show()

    def _keep(self, index: int, pages: tuple[Page, ...]) -> None:
        """Take a section's sheets, and list them under it where they are several."""
        self._pages[index] = pages
        item = self._listed[index]
        if item.childCount():
            return
        if len(pages) > 1:
            item.setText(0, f"{item.text(0)}  ({len(pages)})")
            titles: dict[str, int] = {}
            for number, page in enumerate(pages):
                titles[page.title] = titles.get(page.title, 0) + 1
                sheet = QTreeWidgetItem(item, [f"{page.title}, {titles[page.title]}"])
                sheet.setData(0, _ROLE, (index, number))
            item.setExpanded(index == self._at[0])

    def _pages_of(self, index: int) -> tuple[Page, ...]:
        if index not in self._pages:
            self._keep(index, tuple(self._sections[index].pages()))
        return self._pages[index]

    def _pick(self, item: QTreeWidgetItem | None) -> None:
        if item is not None:
            self._at = tuple(item.data(0, _ROLE))
            self._show()

    def _show(self) -> None:
        if not self._sections:
            return
        section, number = self._at
        pages: tuple[Page, ...] = (PACKING,)
        if section in self._pages or not self._sections[section].slow:
            pages = self._pages_of(section)
        else:
            self._later.start()
        if pages:
            page = pages[min(number, len(pages) - 1)]
            self.paper.show_page(page, self.frame.width() - 6, self.frame.height() - 6)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._show()

    def hideEvent(self, event: QHideEvent) -> None:
        super().hideEvent(event)
        self._later.stop()
        self._composing.stop()

    def showEvent(self, event: object) -> None:
        super().showEvent(event)  # type: ignore[arg-type]
        self._show()
        if self._draft is not None:
            self._later.start()

    def stop(self) -> None:
        """Stop what is composed or exported off the GUI thread."""
        self._later.stop()
        self._composing.stop()
        self._exporting.stop()

    # export

    def _ask_folder(self) -> None:
        if self._exporting.running:
            self._exporting.stop()
            self._ended("The export was stopped; nothing was written.")
            return
        if folder := QFileDialog.getExistingDirectory(self, "Folder for the packet"):
            self.export_to(Path(folder))

    def export_to(self, folder: Path) -> None:
        """Make every file of the packet off the GUI thread, then write them all."""
        assert self._draft is not None
        draft, shop = self._draft, self.session.shop
        large = self.paper_size.currentText() == "A3"
        handed = Handed(self.marked.isChecked(), "A3" if large else "A4")

        def work() -> Iterator[object]:
            files: dict[str, bytes] = {}
            parts = packet_parts(draft, shop=shop, handed=handed)
            for count, (name, data) in enumerate(parts, start=1):
                files |= {name: data} if data else {}
                yield f"{name}, step {count}", False
            try:
                for name, data in files.items():
                    write_atomically(folder / name, data)
            except OSError as error:
                yield f"Cannot write to {folder}: {error.strerror}", True
                return
            yield f"{len(files)} files written to {folder}", True

        self.export.setText("Stop the export")
        self._exporting.ask(work)

    @property
    def exporting(self) -> bool:
        """Whether an export is under way."""
        return self._exporting.running

    def _told(self, answer: object) -> None:
        assert isinstance(answer, tuple)
        words, last = answer
        if last:
            self._ended(words)
        else:
            self.said.emit(f"Exporting: {words}")

    def _ended(self, words: str) -> None:
        self.export.setText("Export packet…")
        self.said.emit(words)
