"""Dialogs that go when they have been answered."""

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog

from vivid_loom.desktop.widgets.theme import dress

__all__ = ["answered", "opened"]


def answered(dialog: QDialog) -> bool:
    """Show a dialog until it is answered; tell whether it was accepted.

    Its fields can be read until control goes back to the event loop; then it goes. A dialog that
    stays would be styled again with every change of theme, for as long as its window lives.
    """
    dress(dialog)
    accepted = dialog.exec() == QDialog.DialogCode.Accepted
    dialog.deleteLater()
    return accepted


def opened(dialog: QDialog) -> None:
    """Show a dialog beside the work; it goes when it is closed."""
    dress(dialog)
    dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    dialog.open()
