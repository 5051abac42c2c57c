"""Python's cycle collector, kept to the GUI thread.

The collector runs in whichever thread allocates next. In a worker thread it would destroy Qt
objects that belong to the GUI thread, and Qt crashes. So it is switched off and run by a timer of
the application instead.
"""

import atexit
import gc

from PySide6.QtCore import QCoreApplication, QTimer

__all__ = ["collect_in_gui_thread", "leave_to_stay"]

EVERY_MS = 500
_NAME = "cycle collector"


def leave_to_stay() -> None:
    """Leave everything there is out of collections from now on: what stays until the end would be
    looked through each time, which takes longer than a turn of the loop may.
    """
    gc.freeze()


def _last() -> None:
    """Collect everything while Qt is whole: the interpreter's own last sweep comes later."""
    gc.unfreeze()
    gc.collect()


def _collect() -> None:
    """Collect the oldest generation that is due, as the collector itself would."""
    due = [
        g
        for g, (n, most) in enumerate(zip(gc.get_count(), gc.get_threshold(), strict=True))
        if n > most
    ]
    if due:
        gc.collect(max(due))


def collect_in_gui_thread() -> None:
    """Collect cycles on the GUI thread's clock from now on; calling it again changes nothing."""
    app = QCoreApplication.instance()
    if app is None or app.findChild(QTimer, _NAME) is not None:
        return
    gc.disable()
    atexit.register(_last)
    timer = QTimer(app)
    timer.setObjectName(_NAME)
    timer.timeout.connect(_collect)
    timer.start(EVERY_MS)
