"""Pictures of every main view, from demo data."""

from collections.abc import Callable
from pathlib import Path

from PySide6.QtTest import QTest

from vivid_loom.demo import DEMO_FOLDER, DEMO_ORDER
from vivid_loom.desktop.application import open_window
from vivid_loom.desktop.main_window import THREADS, MainWindow
from vivid_loom.desktop.theme import DARK, LIGHT

__all__ = ["take_shots"]


def _stage(index: int) -> Callable[[MainWindow], None]:
    return lambda window: window.open_stage(index)


def _threads(circuit: str) -> Callable[[MainWindow], None]:
    def show(window: MainWindow) -> None:
        window.open_stage(THREADS)
        window.session.select(circuit)

    return show


def _why(window: MainWindow) -> None:
    window.open_stage(THREADS)
    window.open_why("C08")


def _dark(window: MainWindow) -> None:
    window.use_theme(DARK)
    _threads("C07")(window)


SHOTS: tuple[tuple[str, Path, Callable[[MainWindow], None]], ...] = (
    ("order", DEMO_ORDER, _stage(0)),
    ("loads", DEMO_ORDER, _stage(1)),
    ("threads", DEMO_ORDER, _threads("C02")),
    ("threads-mistakes", DEMO_FOLDER / "hull-0423.loom.json", _threads("C08")),
    ("threads-dark", DEMO_FOLDER / "hull-0421.loom.json", _dark),
    ("why", DEMO_ORDER, _why),
    ("packet", DEMO_ORDER, _stage(3)),
)


def take_shots(folder: Path) -> list[Path]:
    """Write one PNG per main view at 1280 × 800; return their paths."""
    folder.mkdir(parents=True, exist_ok=True)
    written: list[Path] = []
    for name, order, prepare in SHOTS:
        window = open_window(order)
        window.use_theme(LIGHT)
        window.resize(1280, 800)
        window.show()
        prepare(window)
        QTest.qWait(120)
        path = folder / f"{name}.png"
        window.grab().save(str(path))
        window.close()
        window.deleteLater()
        written.append(path)
    return written
