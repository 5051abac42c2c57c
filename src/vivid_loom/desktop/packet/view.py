"""Every sheet of the packet as it prints, and the export."""

import datetime
from pathlib import Path

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QResizeEvent, QShowEvent
from PySide6.QtWidgets import (
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QListWidget,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.desktop.widgets.paint import play
from vivid_loom.drafting import Draft
from vivid_loom.quantities.document import write_atomically
from vivid_loom.sheets import Page, packet_files, packet_pages
from vivid_loom.sheets.drawing import moved

__all__ = ["PacketView"]


class _Paper(QWidget):
    """Paints one page to scale."""

    def __init__(self) -> None:
        super().__init__()
        self._page: Page | None = None
        self._scale = 3.0

    def show_page(self, page: Page, width: int) -> None:
        """Show a page as wide as ``width`` pixels."""
        self._page = page
        self._scale = max(1.5, width / page.width_mm)
        self.setFixedSize(int(page.width_mm * self._scale), int(page.height_mm * self._scale))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor("#ffffff"))
        if self._page is not None:
            painter.scale(self._scale / 4, self._scale / 4)
            play(painter, (moved(item, 0.0, 0.0, 4.0) for item in self._page.items))


class PacketView(QWidget):
    """Signals:

    exported (str): what was written where, or why not.
    """

    exported = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._draft: Draft | None = None
        self._closed: frozenset[datetime.date] = frozenset()
        self._pages: tuple[Page, ...] = ()
        self._stale = True
        self.list = QListWidget()
        self.list.setFixedWidth(210)
        self.list.setAccessibleName("Sheets of the packet")
        self.export = QPushButton("Export packet…")
        self.state = QLabel()
        self.state.setWordWrap(True)
        self.state.setFixedWidth(210)
        self.paper = _Paper()
        self.frame = QScrollArea()
        self.frame.setWidget(self.paper)
        self.frame.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.frame.setAccessibleName("Page preview")
        left = QVBoxLayout()
        left.addWidget(self.list, 1)
        left.addWidget(self.state)
        left.addWidget(self.export)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(16, 12, 16, 12)
        layout.addLayout(left)
        layout.addWidget(self.frame, 1)
        self.list.currentRowChanged.connect(self._show)
        self.export.clicked.connect(self._ask_folder)

    def set_draft(self, draft: Draft, closed: frozenset[datetime.date]) -> None:
        """Compose lazily: pages are laid out when the stage is looked at."""
        self._draft, self._closed, self._stale = draft, closed, True
        if self.isVisible():
            self._compose()

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self._compose()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._show(self.list.currentRow())

    def _compose(self) -> None:
        if not self._stale or self._draft is None:
            return
        row = max(0, self.list.currentRow())
        self._pages = packet_pages(self._draft, self._closed)
        self._stale = False
        self.list.clear()
        seen: dict[str, int] = {}
        for page in self._pages:
            seen[page.title] = seen.get(page.title, 0) + 1
            suffix = f"  {seen[page.title]}" if seen[page.title] > 1 else ""
            self.list.addItem(page.title + suffix)
        self.list.setCurrentRow(min(row, len(self._pages) - 1))
        errors = sum(f.severity == "error" for f in self._draft.findings)
        self.state.setText(
            f"{errors} errors: not for building until they are cleared."
            if errors
            else "No errors. Sign the cover before building."
        )

    def _show(self, row: int) -> None:
        if 0 <= row < len(self._pages):
            self.paper.show_page(self._pages[row], self.frame.width() - 18)

    def _ask_folder(self) -> None:
        folder = QFileDialog.getExistingDirectory(self, "Folder for the packet")
        if folder:
            self.export_to(Path(folder))

    def export_to(self, folder: Path) -> None:
        """Write every file of the packet into a folder."""
        assert self._draft is not None
        try:
            files = packet_files(self._draft, closed=self._closed)
            for name, data in files.items():
                write_atomically(folder / name, data)
        except OSError as error:
            self.exported.emit(f"Cannot write to {folder}: {error.strerror}")
            return
        self.exported.emit(f"{len(files)} files written to {folder}")
