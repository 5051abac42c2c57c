"""Light and dark: neutral pages, so that wire colours stand out."""

from functools import cache
from typing import Final

from PySide6.QtGui import QColor, QFont, QFontDatabase, QPalette
from PySide6.QtWidgets import QApplication, QWidget

from vivid_loom.sheets.paper.drawing import FONTS
from vivid_loom.sheets.paper.tones import Tones

__all__ = ["DARK", "LIGHT", "apply_theme", "current_tones", "dress", "font"]

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
    """Return what the palette cannot say. Only rules for the classes they are meant for: a rule
    that matches every widget makes a change of theme ten times as long.
    """
    return f"""
    QLabel, QPushButton, QLineEdit, QComboBox, QTableView, QTreeView, QListWidget, QTextBrowser,
    QHeaderView, QTabBar, QCheckBox, QAbstractSpinBox, QToolTip {{ font-family: B612;
        font-size: 12px; }}
    QToolTip {{ background: {t.part}; color: {t.ink}; border: 1px solid {t.rule}; }}
    QTableView, QTextBrowser, QTreeView, QListWidget {{ border: 1px solid {t.rule};
        selection-background-color: {t.band}; selection-color: {t.ink}; outline: 0; }}
    QTableView {{ gridline-color: {t.rule}; }}
    QLineEdit, QComboBox {{ background: {t.part}; border: 1px solid {t.rule}; padding: 4px 6px;
        border-radius: 4px; }}
    QComboBox::drop-down {{ border: 0; width: 18px; }}
    QComboBox::down-arrow {{ width: 0; height: 0; border-left: 4px solid {t.part};
        border-right: 4px solid {t.part}; border-top: 5px solid {t.quiet}; margin-right: 6px; }}
    QLineEdit:focus, QComboBox:focus, QListWidget:focus, QTableView:focus, QTextBrowser:focus,
    QTreeView:focus {{ border: 2px solid {t.focus}; }}
    QTableView::item {{ padding: 0 7px; }}
    QListWidget::item {{ padding: 4px 6px; }}
    QTableView::item:selected, QTableView::item:focus, QListWidget::item:selected,
    QTreeView::item:selected {{ background: {t.band}; color: {t.ink}; }}
    QTabBar::tab {{ background: {t.page}; color: {t.quiet}; padding: 6px 14px; border: 0;
        border-bottom: 2px solid {t.rule}; }}
    QTabBar::tab:selected {{ color: {t.ink}; border-bottom: 2px solid {t.focus}; }}
    QTabBar::tab:focus {{ background: {t.band}; }}
    QTabWidget::pane {{ border: 0; }}
    QHeaderView::section {{ background: {t.page}; color: {t.quiet}; border: 0;
        border-bottom: 1px solid {t.rule}; padding: 5px 6px; }}
    QScrollBar:vertical {{ background: {t.page}; width: 12px; margin: 0; border: 0; }}
    QScrollBar:horizontal {{ background: {t.page}; height: 12px; margin: 0; border: 0; }}
    QScrollBar::handle {{ background: {t.rule}; border-radius: 4px; margin: 2px;
        min-height: 24px; min-width: 24px; }}
    QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
    QScrollBar::add-page, QScrollBar::sub-page {{ background: {t.page}; }}
    QPushButton {{ background: {t.part}; color: {t.ink}; border: 1px solid {t.rule};
        border-radius: 5px; padding: 5px 9px; }}
    QPushButton[primary="true"] {{ border: 1px solid {t.quiet}; font-family: B612;
        font-weight: bold; }}
    QPushButton:hover {{ background: {t.band}; }}
    QPushButton:focus {{ border: 2px solid {t.focus}; }}
    QPushButton:disabled {{ color: {t.quiet}; }}
    QPushButton::menu-indicator {{ subcontrol-position: right center; right: 4px; }}
    QCheckBox:focus {{ border: 2px solid {t.focus}; }}
    QAbstractSpinBox {{ min-height: 24px; }}
    QScrollArea[plain="true"] {{ border: 0; }}
    QLabel[quiet="true"] {{ color: {t.quiet}; }}
    QLabel[title="true"] {{ font-family: B612; font-size: 15px; font-weight: bold; }}
    QLabel[caution="true"] {{ border: 1px solid {t.warn}; border-radius: 5px; padding: 6px; }}
    """


def dress(widget: QWidget) -> None:
    """Put the theme in force on a part of the window, where it does not wear it yet.

    Styling takes a millisecond or more a widget, so only what is looked at is dressed: a page
    that is not seen waits until it is opened.
    """
    sheet = _style_sheet(current_tones())
    if widget.styleSheet() != sheet:
        widget.setStyleSheet(sheet)


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
    """Give the application a theme's colours and the shipped fonts; see ``dress`` for the rest."""
    _load_fonts()
    app.setFont(font(12))
    palette = QPalette()
    role = QPalette.ColorRole
    for colour, roles in (
        (tones.page, (role.Window, role.Light)),
        (tones.part, (role.Base, role.Button, role.ToolTipBase)),
        (tones.ink, (role.Text, role.WindowText, role.ButtonText, role.ToolTipText)),
        (tones.ink, (role.HighlightedText, role.BrightText)),
        (tones.band, (role.Highlight, role.AlternateBase, role.Midlight)),
        (tones.rule, (role.Mid, role.Dark)),
        (tones.quiet, (role.PlaceholderText,)),
        (tones.focus, (role.Link, role.LinkVisited, role.Accent)),
    ):
        for each in roles:
            palette.setColor(each, QColor(colour))
    for each in (role.Text, role.WindowText, role.ButtonText):
        palette.setColor(QPalette.ColorGroup.Disabled, each, QColor(tones.quiet))
    app.setProperty("dark", tones is DARK)
    app.setPalette(palette)
