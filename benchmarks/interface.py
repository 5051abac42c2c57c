"""What the window costs: start, an edit on every stage, the longest turn of its loop, the theme.

All figures are processor time of one run, each beside what it is measured against.
"""

import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from statistics import median
from typing import Any, NamedTuple
from unittest.mock import patch

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.setdefault("XDG_STATE_HOME", tempfile.mkdtemp(prefix="vivid-loom-bench-"))

from PySide6.QtCore import QEventLoop, QTimer
from PySide6.QtGui import QPixmap
from PySide6.QtWidgets import QApplication

from benchmarks.drafting import best_of
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo import DEMO_FOLDER, DEMO_ORDER
from vivid_loom.desktop.application import open_window
from vivid_loom.desktop.frame.window import MainWindow
from vivid_loom.desktop.power import stage as power_room
from vivid_loom.desktop.widgets.layer import Layer
from vivid_loom.desktop.widgets.theme import DARK, LIGHT
from vivid_loom.desktop.work import aside as aside_room
from vivid_loom.desktop.work import session as session_room
from vivid_loom.desktop.work.garbage import leave_to_stay
from vivid_loom.desktop.work.rest import make_rest
from vivid_loom.drafting import draft
from vivid_loom.order import Override, clear_override, move_loads, set_override
from vivid_loom.sheets import packet_pages
from vivid_loom.sheets.paper.pdf import pdf_bytes

REST_MS = 30
"""Before everything that is compared: what comes after a rest is slower than what goes on."""


def _process_s(code: str) -> float:
    """Return the processor time of a whole Python process."""

    def once() -> float:
        before = os.times()
        subprocess.run([sys.executable, "-c", code], check=True, capture_output=True)
        after = os.times()
        return (after.children_user + after.children_system) - (
            before.children_user + before.children_system
        )

    return min(once() for _ in range(4))


def starting() -> None:
    """Print what asking for help costs beside bare click, and showing the window."""
    bare = _process_s("import click")
    asked = _process_s(
        "import sys; sys.argv[1:] = ['draft', '--help']\n"
        "from vivid_loom.cli import main\nmain(standalone_mode=False)"
    )
    print(f"help of a command {1000 * asked:.0f} ms, {asked / bare:.2f} × Python with click")
    shown = _process_s(
        "import gc; gc.disable()\n"  # as the command does
        "import os; os.environ['QT_QPA_PLATFORM'] = 'offscreen'\n"
        "from vivid_loom.demo import DEMO_ORDER\n"
        "from vivid_loom.desktop.application import open_window\n"
        "from PySide6.QtWidgets import QApplication\n"
        "w = open_window(DEMO_ORDER); w.show(); QApplication.processEvents(); w.grab()\n"
        "os._exit(0)"
    )
    print(f"window shown on the demo order: {1000 * shown:.0f} ms of a whole process")


def _wait(milliseconds: int) -> None:
    """Let the loop of events run, as it does in the application: work beside it goes on."""
    loop = QEventLoop()
    QTimer.singleShot(milliseconds, loop.quit)
    loop.exec()


class _Waited:
    """Processor time of the window's own thread and of the work it waits for.

    Not of what follows when there is time: bundles, other sheets.
    """

    def __init__(self) -> None:
        self._aside_s = 0.0
        real = aside_room.aside

        def timed(work: Callable[[], object]) -> object:
            def run() -> object:
                before = time.thread_time()
                try:
                    return work()
                finally:
                    self._aside_s += time.thread_time() - before

            return real(run)

        for room in (session_room, power_room):
            setattr(room, "aside", timed)  # noqa: B010 (typed otherwise)

    def now(self) -> float:
        """Return what has been taken so far, s."""
        return time.thread_time() + self._aside_s


@contextmanager
def nothing_kept() -> Iterator[None]:
    """Have pages painted whole: one that keeps what it painted is not measured by keeping it."""
    real = Layer.of

    def whole(layer: Layer, *painted: Any) -> QPixmap:
        layer._pixmap = QPixmap()
        return real(layer, *painted)

    with patch.object(Layer, "of", whole):
        yield


def editing(window: MainWindow) -> None:
    """Print an edit to a repainted window, on every stage, beside a draft and a repaint."""
    session, waited = window.session, _Waited()
    override = Override(subject="C08", field="gauge", value="10 AWG", reason="b", initials="b")
    load = session.draft.aboard.loads[session.draft.circuits[7].planned.loads[0]]
    there = next(s for s in session.boat.stations if s.id != load.station)

    def took(edit: Callable[[], object]) -> float:
        """Return what an edit and the painting of it take, nothing else waiting to be done."""
        _wait(REST_MS)
        before = waited.now()
        edit()
        window.grab()
        return waited.now() - before

    def draft_s() -> float:
        _wait(REST_MS)
        return best_of(
            1,
            lambda: draft(session.order, session.model, shipped_catalogue()),
            time.thread_time,
        )

    def repaint_s() -> float:
        _wait(REST_MS)
        with nothing_kept():
            return best_of(2, window.grab, time.thread_time)

    def gauge() -> float:
        there_s = took(lambda: session.apply(set_override(override)))
        return (there_s + took(lambda: session.apply(clear_override("C08", "gauge")))) / 2

    def move() -> float:
        there_s = took(lambda: session.apply(move_loads((load,), there)))
        return (there_s + took(session.undo_stack.undo)) / 2

    for name in window.views:
        window.open_stage(name)
        _wait(400)
        for words, edit in (("a gauge set", gauge), ("a load moved", move)):
            rounds = [_Round(draft_s(), repaint_s(), edit()) for _ in range(11)]
            edit_ms, draft_ms, repaint_ms = (
                f"{1000 * min(times):.0f}"
                for times in zip(*((r.edit_s, r.draft_s, r.repaint_s) for r in rounds), strict=True)
            )
            one, half = (median(r.against(drafts) for r in rounds) for drafts in (1, 0.5))
            print(
                f"{name:8} {words:12} to repainted window {edit_ms} ms: draft {draft_ms} + repaint "
                f"{repaint_ms} = {one:.2f} ×, half a draft + repaint = {half:.2f} ×"
            )


class _Round(NamedTuple):
    """A draft, a repaint and an edit to a repainted window, one right after another.

    The machine's own speed changes by half from minute to minute: what is compared with what is
    taken within a round.
    """

    draft_s: float
    repaint_s: float
    edit_s: float

    def against(self, drafts: float) -> float:
        """Return the edit as a multiple of so many drafts and a repaint."""
        return self.edit_s / (drafts * self.draft_s + self.repaint_s)


class _Turns:
    """Watches how long the loop of events takes for one turn, in processor time of its thread."""

    def __init__(self) -> None:
        self.worst_s, self._last = 0.0, time.thread_time()
        self._timer = QTimer()
        self._timer.timeout.connect(self._turn)
        self._timer.start(0)

    def _turn(self) -> None:
        now = time.thread_time()
        self.worst_s, self._last = max(self.worst_s, now - self._last), now

    def over(self, work: Callable[[], object], wait_ms: int) -> float:
        """Do something, let the loop run, and return its longest turn in s."""
        _wait(30)
        self.worst_s, self._last = 0.0, time.thread_time()
        work()
        _wait(wait_ms)
        return self.worst_s


def turns(window: MainWindow) -> None:
    """Print the longest turn of the loop on every stage, after an edit and on opening it."""
    watch = _Turns()
    leave_to_stay()  # as the application does
    rest = watch.over(lambda: make_rest(window, window.views, leave_to_stay, 0), 4000)
    print(f"making the other pages: longest turn {1000 * rest:.0f} ms")
    override = Override(subject="C08", field="gauge", value="10 AWG", reason="b", initials="b")
    for name in window.views:
        opened = watch.over(lambda n=name: window.open_stage(n), 500)
        edited = watch.over(lambda: window.session.apply(set_override(override)), 500)
        window.session.undo_stack.undo()
        window.session.undo_stack.setClean()
        print(f"{name:8} longest turn: opening {1000 * opened:.0f} ms, an edit {1000 * edited:.0f}")


def queue_of_200() -> None:
    """Print the longest turn while a queue of 200 orders is worked out."""
    folder = Path(tempfile.mkdtemp(prefix="vivid-loom-bench-"))
    text = (DEMO_FOLDER / "hull-0609.loom.json").read_text()
    for number in range(200):
        (folder / f"hull-{5000 + number}.loom.json").write_text(
            text.replace('"hull": "0609"', f'"hull": "{5000 + number}"')
        )
    window = open_window(folder / "hull-5000.loom.json")
    window.show()
    watch = _Turns()
    worst = watch.over(lambda: window.open_stage("Order"), 6000)
    print(f"a queue of 200 orders: longest turn {1000 * worst:.0f} ms")
    window.close()


def theme(window: MainWindow) -> None:
    """Print what a change of theme and opening an order anew cost."""
    window.session.undo_stack.clear()  # nothing is to be asked about

    def dress() -> None:
        for tones in (DARK, LIGHT):
            window.use_theme(tones)
            QApplication.processEvents()
            window.grab()

    print(f"change of theme {500 * best_of(3, dress):.0f} ms", end=", ")

    def open_anew() -> None:
        for path in (DEMO_FOLDER / "hull-0421.loom.json", DEMO_ORDER):
            window.files.open_order(path)
            window.grab()

    print(f"opening another order {500 * best_of(3, open_anew):.0f} ms")


def printing(window: MainWindow) -> None:
    """Print what laying the packet out and writing its PDF cost."""
    done = window.session.draft
    pages = packet_pages(done)
    print(
        f"packet of {len(pages)} pages: laid out "
        f"{1000 * best_of(3, lambda: packet_pages(done)):.0f}"
        f" ms, written as PDF {1000 * best_of(3, lambda: pdf_bytes(pages, 'bench')):.0f} ms"
    )


def main() -> None:
    starting()
    window = open_window(DEMO_ORDER)
    window.resize(1280, 800)
    window.show()
    editing(window)
    turns(window)
    theme(window)
    printing(window)
    window.session.undo_stack.setClean()
    window.close()
    queue_of_200()


if __name__ == "__main__":
    main()
