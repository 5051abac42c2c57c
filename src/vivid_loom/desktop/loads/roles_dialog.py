"""What the names of a list say its loads are: shown, ticked, taken in one step."""

from PySide6.QtWidgets import QCheckBox, QDialog, QGridLayout, QVBoxLayout, QWidget

from vivid_loom.boat import GenericLoad, Load
from vivid_loom.desktop.loads.dialog_controls import answer_buttons
from vivid_loom.desktop.widgets.controls import scrolled, small
from vivid_loom.desktop.widgets.plain import PlainLabel
from vivid_loom.order.roles import Proposal

__all__ = ["RolesDialog"]


def _usual(kind: GenericLoad) -> str:
    """Say what comes with a kind of load."""
    told = [kind.function.replace("_", " "), f"demand {kind.demand}", f"{kind.drop} drop"]
    told += ["motor"] if kind.motor else []
    told += [f"safety word {kind.safety}"] if kind.safety else []
    return ", ".join([*told, f"usually fed by {kind.feeding}"])


class RolesDialog(QDialog):
    """Proposed roles; ``taken`` holds those that stay ticked."""

    def __init__(self, proposals: tuple[Proposal, ...], parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("What the loads are")
        self.resize(760, 480)
        self.rows: list[tuple[Load, GenericLoad, QCheckBox]] = []
        inner = QWidget()
        grid = QGridLayout(inner)
        grid.setColumnStretch(1, 1)
        for at, (load, kind) in enumerate(proposals):
            if kind is None:
                grid.addWidget(PlainLabel(load.name), at, 0)
                grid.addWidget(small("its name says nothing: type its function in the list"), at, 1)
                continue
            tick = QCheckBox(load.name)
            tick.setChecked(True)
            grid.addWidget(tick, at, 0)
            grid.addWidget(small(f"{kind.name}: {_usual(kind)}"), at, 1)
            self.rows.append((load, kind, tick))
        grid.setRowStretch(len(proposals), 1)
        layout = QVBoxLayout(self)
        layout.addWidget(
            small(
                "Taken from the words of each name. What comes with a function is usual for it and "
                "is noted so; the maker's word goes before it."
            )
        )
        layout.addWidget(scrolled(inner), 1)
        layout.addWidget(answer_buttons(self, "Take the ticked"))

    @property
    def taken(self) -> tuple[tuple[Load, GenericLoad], ...]:
        """The loads that are to become what their names say."""
        return tuple((load, kind) for load, kind, tick in self.rows if tick.isChecked())
