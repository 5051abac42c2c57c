"""Asks for the reason and the initials that stand beside a decision of an engineer."""

from PySide6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QFormLayout,
    QLineEdit,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.desktop.widgets.controls import small, typed

__all__ = ["ReasonDialog"]


class ReasonDialog(QDialog):
    """A reason and initials; it is not accepted without both."""

    def __init__(self, what: str, usual: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(what)
        self.resize(440, 150)
        self.reason, self.initials = QLineEdit(usual), QLineEdit()
        self.reason.setAccessibleName("Reason")
        self.initials.setAccessibleName("Initials")
        self.initials.setMaxLength(6)
        self.note = small("Kept in the order and printed.")
        form = QFormLayout()
        form.addRow("Reason", self.reason)
        form.addRow("Initials", self.initials)
        buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel
        )
        buttons.accepted.connect(self._take)
        buttons.rejected.connect(self.reject)
        layout = QVBoxLayout(self)
        layout.addLayout(form)
        layout.addWidget(self.note)
        layout.addWidget(buttons)

    @property
    def words(self) -> str:
        """The reason."""
        return typed(self.reason)

    @property
    def signed(self) -> str:
        """The initials."""
        return typed(self.initials)

    def _take(self) -> None:
        if self.words and self.signed:
            self.accept()
        else:
            self.note.setText("It wants a reason and initials.")
