"""The board view: one wire at a time in large type, ticked by keys or a barcode wedge."""

from collections.abc import Callable, Sequence

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QKeyEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QDialog, QWidget

from vivid_loom.desktop.widgets.paint import play
from vivid_loom.desktop.widgets.theme import current_tones
from vivid_loom.drafting import Draft
from vivid_loom.sheets.drawings.build_card import build_card, card_scene
from vivid_loom.sheets.lists.build_lists import CutRow
from vivid_loom.workshop.harness.built import ticked_wires

__all__ = ["WallDialog"]

KEYS = "Space: built, and on · ← →: the wire before, the next · Esc: close · or scan a label"
REFUSED = "NOT TICKED: put your initials into their field on Harness first"


class WallDialog(QDialog):
    """Shows the wires of a harness one by one, in the order of the bench.

    Args:
        draft: returns the draft that stands.
        toggle: ticks a wire as built, or takes its tick back; returns whether that stood.
        rows: of the cut list, in the order they are built.
    """

    def __init__(
        self,
        draft: Callable[[], Draft],
        toggle: Callable[[str], bool],
        rows: Sequence[CutRow],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self._draft, self._toggle, self.rows = draft, toggle, list(rows)
        self.at = 0
        self._typed = ""
        self._refused = False
        self.setWindowTitle("Board view")
        self.setAccessibleName("Board view: one wire at a time")
        self.setMinimumSize(800, 500)
        self.resize(parent.window().size() if parent else self.minimumSize())
        self._go_to_open()

    @property
    def row(self) -> CutRow:
        """The wire that is shown."""
        return self.rows[self.at]

    def _built(self) -> frozenset[str]:
        return ticked_wires(self._draft())

    def _go_to_open(self) -> None:
        """Show the first wire that is not built."""
        built = self._built()
        self.at = next((i for i, r in enumerate(self.rows) if r.wire_id not in built), self.at)
        self.update()

    def step(self, by: int) -> None:
        """Show another wire."""
        self.at = (self.at + by) % len(self.rows)
        self.update()

    def tick(self) -> None:
        """Tick the wire and go on to the next that is open; or take a tick back."""
        taken_back = self.row.wire_id in self._built()
        self._refused = not self._toggle(self.row.wire_id)
        if not self._refused and not taken_back:
            built = self._built()
            order = [*range(self.at + 1, len(self.rows)), *range(self.at)]
            self.at = next((i for i in order if self.rows[i].wire_id not in built), self.at)
        self.update()

    def scanned(self, text: str) -> bool:
        """Show the wire that a label names; tell whether there is one."""
        name = text.split(" ")[0].upper()
        found = next((i for i, r in enumerate(self.rows) if r.wire_id.upper() == name), None)
        if found is not None:
            self.at = found
        self.update()
        return found is not None

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = event.key()
        if key == Qt.Key.Key_Right:
            self.step(1)
        elif key == Qt.Key.Key_Left:
            self.step(-1)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            typed, self._typed = self._typed, ""
            if typed:
                self.scanned(typed)
            else:
                self.tick()
        elif key == Qt.Key.Key_Space and not self._typed:
            self.tick()
        elif key == Qt.Key.Key_Backspace:
            self._typed = self._typed[:-1]
            self.update()
        elif event.text().isprintable() and event.text():
            self._typed += event.text()
            self.update()
        else:
            super().keyPressEvent(event)

    def told(self) -> str:
        """Return how far the harness has come, and the keys."""
        done = sum(row.wire_id in self._built() for row in self.rows)
        typed = f"{self._typed}▏ · " if self._typed else ""
        typed += f"{REFUSED} · " if self._refused else ""
        return f"{typed}{done} of {len(self.rows)} built · wire {self.at + 1} · {KEYS}"

    def paintEvent(self, event: QPaintEvent) -> None:
        tones = current_tones()
        with QPainter(self) as painter:
            painter.fillRect(self.rect(), QColor(tones.page))
            card = build_card(self._draft(), self.row)
            built = self.row.wire_id in self._built()
            size = (float(self.width()), float(self.height()))
            play(painter, card_scene(card, size, tones, built=built, told=self.told()).items)
