"""Starting the application."""

import sys
from pathlib import Path

from PySide6.QtWidgets import QApplication

from vivid_loom.desktop.frame.window import MainWindow
from vivid_loom.desktop.work.session import Session
from vivid_loom.drafting import DraftError
from vivid_loom.quantities.document import DocumentError

__all__ = ["open_window", "run"]


def _application() -> QApplication:
    app = QApplication.instance()
    if isinstance(app, QApplication):
        return app
    made = QApplication(sys.argv[:1])
    made.setApplicationName("vivid-loom")
    made.setApplicationDisplayName("Vivid Loom")
    return made


def open_window(order: Path) -> MainWindow:
    """Return a window on an order.

    Raises:
        DocumentError, DraftError: the order cannot be taken.
    """
    _application()
    return MainWindow(Session(order))


def run(order: Path) -> int:
    """Open an order and stay until the window is closed; 2 when it cannot be taken."""
    app = _application()
    try:
        window = open_window(order)
    except (DocumentError, DraftError) as error:
        print(f"vivid-loom: {error}", file=sys.stderr)
        return 2
    window.show()
    window.files.offer_recovery()
    return app.exec()
