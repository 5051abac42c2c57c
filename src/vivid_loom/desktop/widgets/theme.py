"""Light and dark: neutral pages, so that wire colours stand out."""

from functools import cache
from typing import Final

from PySide6.QtGui import QColor, QFont, QFontDatabase, QPalette
from PySide6.QtWidgets import QApplication

from vivid_loom.sheets.drawing import FONTS
from vivid_loom.sheets.tones import Tones

__all__ = ["DARK", "LIGHT", "apply_theme", "current_tones", "font"]

LIGHT: Final = Tones(
    page="#f4f2ed",
    ink="#1b1d21",
    quiet="#5f6368",
    rule="#d6d1c6",
    band="#e9e4da",
    part="#fdfcf9",
    wire_edge="#4a4d52",
    alarm="#a3211b",
    warn="#8a5a00",
    bar="#868a90",
    focus="#2b4a78",
)
DARK: Final = Tones(
    page="#24272c",
    ink="#eceae4",
    quiet="#a6a9ae",
    rule="#3c4047",
    band="#2d3138",
    part="#33373e",
    wire_edge="#c9ccd1",
    alarm="#ff8a80",
    warn="#e6b450",
    bar="#8d9299",
    focus="#8fb4ea",
)


def font(pixels: float, *, bold: bool = False) -> QFont:
    """Return the application's type at a pixel size."""
    made = QFont("B612")
    made.setPixelSize(max(1, round(pixels)))
    made.setBold(bold)
    return made


def _style_sheet(t: Tones) -> str:
    return f"""
    * {{ font-family: B612; font-size: 12px; }}
    QMainWindow, QWidget {{ background: {t.page}; color: {t.ink}; }}
    QToolTip {{ background: {t.part}; color: {t.ink}; border: 1px solid {t.rule}; }}
    QListView, QTableView, QTextBrowser, QTreeView, QLineEdit, QComboBox, QScrollArea,
    QAbstractItemView {{ background: {t.part}; color: {t.ink}; border: 1px solid {t.rule};
        selection-background-color: {t.band}; selection-color: {t.ink}; }}
    QLineEdit, QComboBox {{ padding: 4px 6px; border-radius: 4px; }}
    QAbstractSpinBox {{ min-height: 24px; }}
    QTabBar::tab {{ background: {t.page}; color: {t.quiet}; padding: 6px 14px; border: 0;
        border-bottom: 2px solid {t.rule}; }}
    QTabBar::tab:selected {{ color: {t.ink}; border-bottom: 2px solid {t.focus}; }}
    QTabBar::tab:focus {{ background: {t.band}; }}
    QTabWidget::pane {{ border: 0; }}
    QLineEdit:focus, QComboBox:focus, QListView:focus, QTableView:focus, QTextBrowser:focus
        {{ border: 2px solid {t.focus}; }}
    QHeaderView::section {{ background: {t.page}; color: {t.quiet}; border: 0;
        border-bottom: 1px solid {t.rule}; padding: 5px 6px; }}
    QComboBox::drop-down {{ border: 0; width: 18px; }}
    QComboBox::down-arrow {{ width: 0; height: 0; border-left: 4px solid {t.part};
        border-right: 4px solid {t.part}; border-top: 5px solid {t.quiet}; margin-right: 6px; }}
    QTableView::item {{ padding: 0 7px; }}
    QListView::item {{ padding: 4px 6px; }}
    QListView::item:selected {{ background: {t.band}; color: {t.ink}; }}
    QScrollBar:vertical {{ background: {t.page}; width: 12px; margin: 0; border: 0; }}
    QScrollBar:horizontal {{ background: {t.page}; height: 12px; margin: 0; border: 0; }}
    QScrollBar::handle {{ background: {t.rule}; border-radius: 4px; margin: 2px;
        min-height: 24px; min-width: 24px; }}
    QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
    QScrollBar::add-page, QScrollBar::sub-page {{ background: {t.page}; }}
    QTableView {{ gridline-color: {t.rule}; }}
    QPushButton {{ background: {t.part}; color: {t.ink}; border: 1px solid {t.rule};
        border-radius: 5px; padding: 5px 9px; }}
    QPushButton[primary="true"] {{ border: 1px solid {t.quiet}; font-weight: bold; }}
    QPushButton:hover {{ background: {t.band}; }}
    QPushButton::menu-indicator {{ subcontrol-position: right center; right: 4px; }}
    QPushButton:focus, QCheckBox:focus {{ border: 2px solid {t.focus}; }}
    QPushButton:disabled {{ color: {t.quiet}; }}
    QScrollArea[plain="true"] {{ border: 0; background: {t.page}; }}
    QTableView {{ outline: 0; }}
    QTableView::item:selected, QTableView::item:focus {{ background: {t.band};
        color: {t.ink}; }}
    QLabel[quiet="true"] {{ color: {t.quiet}; }}
    QLabel[title="true"] {{ font-size: 15px; font-weight: bold; }}
    QLabel[caution="true"] {{ border: 1px solid {t.warn}; border-radius: 5px; padding: 6px; }}
    QMenuBar, QMenu, QStatusBar {{ background: {t.page}; color: {t.ink}; }}
    QMenuBar::item:selected, QMenu::item:selected {{ background: {t.band}; }}
    """


@cache
def _load_fonts() -> None:
    for path in FONTS.values():
        QFontDatabase.addApplicationFont(str(path))
    QApplication.setStyle("Fusion")


def current_tones() -> Tones:
    """Return the theme the application is dressed in."""
    app = QApplication.instance()
    dressed = app.property("dark") if app else False
    return DARK if dressed else LIGHT


def apply_theme(app: QApplication, tones: Tones) -> None:
    """Dress the application in a theme, with the shipped fonts; styling anew is slow, so a
    theme that is already on is left alone.
    """
    _load_fonts()
    if app.styleSheet() == _style_sheet(tones):
        return
    palette = QPalette()
    for role, colour in (
        (QPalette.ColorRole.Window, tones.page),
        (QPalette.ColorRole.Base, tones.part),
        (QPalette.ColorRole.Text, tones.ink),
        (QPalette.ColorRole.WindowText, tones.ink),
        (QPalette.ColorRole.Button, tones.part),
        (QPalette.ColorRole.ButtonText, tones.ink),
        (QPalette.ColorRole.Highlight, tones.focus),
        (QPalette.ColorRole.Link, tones.focus),
        (QPalette.ColorRole.LinkVisited, tones.focus),
    ):
        palette.setColor(role, QColor(colour))
    app.setProperty("dark", tones is DARK)
    app.setPalette(palette)
    app.setStyleSheet(_style_sheet(tones))
