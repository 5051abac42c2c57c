"""What a stage is to the window: a number, a name, a view, and a quiet mark."""

from collections.abc import Callable
from pathlib import Path
from typing import NamedTuple, Protocol

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QWidget

from vivid_loom.desktop.widgets.theme import dress
from vivid_loom.desktop.work.session import Session
from vivid_loom.drafting import Draft
from vivid_loom.sheets.paper.tones import Tones

__all__ = ["Files", "Stage", "StageView"]


class Files(Protocol):
    """What a stage may ask of whoever owns files."""

    def open_order(self, path: Path) -> bool:
        """Open another order."""

    def new_order(self) -> None:
        """Ask for a new order."""

    def duplicate(self) -> None:
        """Make an order from this one's decisions."""

    def new_boat(self) -> None:
        """Ask for a new boat."""

    def change_order(self) -> None:
        """Start an order on the same hull from what is built in it."""


class StageView(QWidget):
    """One stage's page. It is given a draft only while it is looked at.

    Signals:
        said (str): what has happened, for the status line.
        circuit_picked (str): a circuit was selected here.
        why_asked (str): the why drawer is to open on a circuit.
        advice_asked: what the strip says about the selection is to be taken.
    """

    said = Signal(str)
    circuit_picked = Signal(str)
    why_asked = Signal(str)
    advice_asked = Signal()

    about_selection = True
    """Whether the page is about the selected circuit, so that the strip speaks of it as well."""

    shows_caution = False
    """Whether the page shows the standing caution itself."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session

    def set_draft(self, draft: Draft) -> None:
        """Show a draft."""
        raise NotImplementedError

    def set_tones(self, tones: Tones) -> None:
        """Use a theme's neutral colours."""

    def dress(self) -> None:
        """Wear the theme in force; asked when the page is opened, and while it is looked at."""
        dress(self)

    def show_circuit(self, circuit_id: str) -> None:
        """Show which circuit is selected; '' for none."""

    def reveal(self, subject: str) -> bool:
        """Show the thing with this id; False where it is none of this stage's things."""
        return False

    def takes_keys(self) -> QWidget:
        """Return what takes the keys when the stage opens."""
        return self

    def stop(self) -> None:
        """Stop what is worked out off the GUI thread."""


class Stage(NamedTuple):
    """A stage of the work.

    Attributes:
        number: in the order of the work; 10 is reached by Ctrl+0.
        make: makes its page.
        mark: what the rail says of it in a letter or two; '' for nothing.
    """

    number: int
    name: str
    make: Callable[[Session, Files], StageView]
    mark: Callable[[Draft], str]
