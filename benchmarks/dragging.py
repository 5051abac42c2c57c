"""Dragging a load on a boat of 300 loads: cost of a frame against an empty scene of the same size.

Both are painted in the same run, so the ratio holds on any machine. Beside it: how long a draft
and a bundle take that follow the hand off the GUI thread.
"""

import os
import statistics
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.setdefault("XDG_STATE_HOME", tempfile.mkdtemp(prefix="vivid-loom-bench-"))

from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QColor, QImage, QPainter, QPaintEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget

from vivid_loom.boat import write_boat
from vivid_loom.demo.generated import generated
from vivid_loom.desktop.frame.window import ORDER, RUNS, MainWindow
from vivid_loom.desktop.work.session import Session
from vivid_loom.drafting import draft
from vivid_loom.order import move_loads, write_order
from vivid_loom.workshop.packing import pack

LOADS = 300
FRAMES = 60


class _Empty(QWidget):
    def paintEvent(self, event: QPaintEvent) -> None:
        QPainter(self).fillRect(self.rect(), QColor("#f4f2ed"))


def _frames_ms(widget: QWidget, before: Callable[[int], None]) -> list[float]:
    image = QImage(widget.size(), QImage.Format.Format_ARGB32_Premultiplied)
    spent: list[float] = []
    for frame in range(FRAMES):
        before(frame)
        start = time.perf_counter()
        widget.render(image)
        spent.append(1000 * (time.perf_counter() - start))
    return spent


def main() -> int:
    app = QApplication.instance() or QApplication(sys.argv[:1])
    count = LOADS // 2
    order, boat = generated(7, count, "shop")
    while len(boat.fit.loads) + len(order.added.loads) < LOADS:
        count += 10
        order, boat = generated(7, count, "shop")
    folder = Path(tempfile.mkdtemp(prefix="vivid-loom-bench-"))
    write_boat(folder / order.boat, boat)
    write_order(folder / "bench.loom.json", order)
    window = MainWindow(Session(folder / "bench.loom.json"))
    window.resize(1280, 800)
    window.show()
    window.open_stage(RUNS)
    stage, view = window.views[RUNS], window.views[RUNS].view
    stage.wait_for_bundles()
    QTest.qWait(50)
    loads = window.session.draft.aboard.loads
    load = next(iter(loads.values()))
    view.select(station=load.station, load=load.id)
    empty = _Empty()
    empty.resize(view.size())
    nothing = _frames_ms(empty, lambda _: None)
    still = _frames_ms(view, lambda _: None)
    hand = next(b for b in view._boxes() if b[0] == load.id)
    start = QPointF(hand[2] + 12, hand[3] + 8).toPoint()
    QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=start)
    width, height = view.width(), view.height()

    def drag(frame: int) -> None:
        QTest.mouseMove(view, QPoint(20 + frame * (width - 40) // FRAMES, height // 4))
        app.processEvents()

    dragged = _frames_ms(view, drag)
    station = boat.stations[-1]
    edit = move_loads((load,), station)
    begin = time.perf_counter()
    draft(edit[1](window.session.order), boat, window.session.draft.catalogue)
    drafted = 1000 * (time.perf_counter() - begin)
    begin = time.perf_counter()
    pack(tuple((2.3, 2.6, 3.0, 3.5, 4.4, 6.1)[i * i % 6] for i in range(60)))
    packed = 1000 * (time.perf_counter() - begin)
    base = statistics.median(nothing)
    print(f"{len(loads)} loads, {len(boat.stations)} stations, view {width} × {height}")
    for name, frames in (("empty", nothing), ("at rest", still), ("dragging", dragged)):
        middle, worst = statistics.median(frames), max(frames)
        print(
            f"{name:9} frame median {middle:6.2f} ms, worst {worst:6.2f} ms, "
            f"{middle / base:5.1f} × empty"
        )
    print(
        f"draft that follows off the GUI thread {drafted:.0f} ms; 60 wires packed {packed:.0f} ms"
    )
    stage.stop()
    window.views[ORDER].stop()
    window.session.close()
    return 0


if __name__ == "__main__":
    sys.exit(main())
