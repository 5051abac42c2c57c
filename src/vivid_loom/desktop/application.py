"""Starting the application."""

import logging
import sys
from pathlib import Path
from types import TracebackType

from PySide6.QtWidgets import QApplication

from vivid_loom.desktop.frame.lost_options import asked_to_mend
from vivid_loom.desktop.frame.window import MainWindow
from vivid_loom.desktop.work.garbage import collect_in_gui_thread, leave_to_stay
from vivid_loom.desktop.work.rest import make_rest
from vivid_loom.desktop.work.session import Session, state_folder
from vivid_loom.drafting import DraftError
from vivid_loom.quantities import LimitError
from vivid_loom.quantities.document import DocumentError

__all__ = ["open_window", "report_to", "run"]

_log = logging.getLogger("vivid_loom")


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
    try:
        return MainWindow(Session(order))
    except DraftError:
        mend = asked_to_mend(order)
        if mend is None:
            raise
        return MainWindow(Session(order, mend))


def report_to(window: MainWindow) -> None:
    """Say what went wrong in a slot, and keep its trace in the log: no edit is lost by it."""
    log = state_folder().parent / "vivid-loom.log"
    log.parent.mkdir(parents=True, exist_ok=True)
    logging.basicConfig(filename=log, format="%(asctime)s %(levelname)s %(message)s")

    def told(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        if isinstance(error, LimitError):
            window.say(f"That cannot stand: {error}")
            return
        _log.error("in the window", exc_info=(kind, error, trace))
        window.files.mishaps.note(error, trace, window.here)
        window.say(
            f"Something went wrong ({kind.__name__}); nothing is lost. Noted in {log}; "
            "File, Report what went wrong… makes a text of it to send on."
        )

    sys.excepthook = told


def run(order: Path) -> int:
    """Open an order and stay until the window is closed; 2 when it cannot be taken."""
    app = _application()
    try:
        window = open_window(order)
    except (DocumentError, DraftError) as error:
        print(f"vivid-loom: {error}", file=sys.stderr)
        return 2
    report_to(window)
    collect_in_gui_thread()
    leave_to_stay()
    window.show()
    window.files.offer_recovery()
    make_rest(window, window.views, leave_to_stay)
    return app.exec()
