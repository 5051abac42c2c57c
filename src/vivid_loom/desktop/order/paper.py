"""What stands on the order's paper: heading, customer's wishes, revisions, as built."""

import datetime
from typing import get_args

from PySide6.QtCore import Signal
from PySide6.QtWidgets import (
    QComboBox,
    QFormLayout,
    QHBoxLayout,
    QHeaderView,
    QLineEdit,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.desktop.widgets.controls import button, heading, row_of, small, typed
from vivid_loom.desktop.widgets.plain import PlainLabel
from vivid_loom.desktop.widgets.text_table import Cell, TextModel, TextTable
from vivid_loom.drafting import Draft
from vivid_loom.order import Order, OrderState, Wish, set_heading, set_wishes

__all__ = ["OrderPaper"]


class OrderPaper(QWidget):
    """Signals:

    edit_made (object): an ``Edit`` of heading or wishes.
    issue_asked (str, str): issue a revision: what it is about, initials.
    since_asked: show what has changed since the last one.
    built_asked: record the draft as built.
    change_order_asked: start a change order from what is built.
    refused (str): why something typed cannot stand.
    survey_asked: what was found in a boat is to be taken in.
    withdraw_asked: nobody may build by the last revision any more.
    stop_asked (str): the order is to be put 'on hold', or 'dropped'.
    go_on_asked: it is to be taken up again.
    initials_typed (str): whose hand decides.
    state_asked (str): the order is to be called this, once that is proven.
    """

    edit_made = Signal(object)
    issue_asked = Signal(str, str)
    since_asked = Signal()
    withdraw_asked = Signal()
    stop_asked = Signal(str)
    go_on_asked = Signal()
    initials_typed = Signal(str)
    built_asked = Signal()
    change_order_asked = Signal()
    refused = Signal(str)
    state_asked = Signal(str)
    survey_asked = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._order: Order | None = None
        self.fields = {name: QLineEdit() for name in ("title", "customer", "station_date", "notes")}
        form = QFormLayout()
        for name, label in (
            ("title", "Order"),
            ("customer", "Customer"),
            ("station_date", "Hull at station"),
            ("notes", "Notes"),
        ):
            self.fields[name].setAccessibleName(label)
            self.fields[name].editingFinished.connect(self._heading_edited)
            form.addRow(label, self.fields[name])
        self.state = QComboBox()
        self.state.setAccessibleName("State")
        for state in get_args(OrderState):
            self.state.addItem(state.replace("_", " "), state)
        self.state.activated.connect(lambda index: self._state_picked(self.state.itemData(index)))
        form.addRow("State", self.state)
        self.stopped = small("")
        self.hold = button("Put on hold…", lambda: self.stop_asked.emit("on hold"), "With a reason")
        self.drop = button("Drop…", lambda: self.stop_asked.emit("dropped"), "With a reason")
        self.go_on = button("Take up again…", self.go_on_asked.emit, "With a reason")
        work = row_of(self.hold, self.drop, self.go_on)
        work.insertWidget(0, self.stopped, 1)
        form.addRow("Work", work)
        self.wishes = TextModel(("Customer's wish", "What became of it"))
        self.wishes.editable = frozenset((0, 1))
        self.wishes.edited = self._wish_edited
        self.wish_table = TextTable(self.wishes, "Customer's wishes")
        self.wish_table.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        self.new_wish = QLineEdit()
        self.new_wish.setPlaceholderText("A further wish; Enter adds it")
        self.new_wish.setAccessibleName("A further wish")
        self.new_wish.returnPressed.connect(self._add_wish)
        self.revisions = TextModel(("No.", "Date", "By", "What it is about"))
        self.revision_table = TextTable(self.revisions, "Revisions")
        self.revision_table.fit([0, 1, 2])
        self.revision_table.horizontalHeader().setSectionResizeMode(
            3, QHeaderView.ResizeMode.Stretch
        )
        self.about, self.initials = QLineEdit(), QLineEdit()
        self.about.setPlaceholderText("What this revision is about")
        self.about.setAccessibleName("What this revision is about")
        self.initials.setPlaceholderText("Initials")
        self.initials.setAccessibleName("Initials")
        self.initials.setFixedWidth(80)
        self.initials.textChanged.connect(lambda _: self.initials_typed.emit(typed(self.initials)))
        self.since = small("")
        self.built = PlainLabel()
        self.built.setWordWrap(True)
        self._lay_out(form)

    def _lay_out(self, form: QFormLayout) -> None:
        left, right = QVBoxLayout(), QVBoxLayout()
        for column in (left, right):
            column.setSpacing(7)
        form.setSpacing(7)
        left.addWidget(heading("Heading"))
        left.addLayout(form)
        left.addSpacing(10)
        left.addWidget(heading("Wishes"))
        left.addWidget(self.wish_table, 1)
        left.addWidget(self.new_wish)
        right.addWidget(heading("Revisions"))
        right.addWidget(self.revision_table, 1)
        right.addWidget(self.since)
        issue = QHBoxLayout()
        issue.setSpacing(7)
        issue.addWidget(self.about, 1)
        issue.addWidget(self.initials)
        issue.addWidget(button("Issue", self._issue, "Record that these sheets were issued"))
        since = button(
            "What changed…", self.since_asked.emit, "This order beside what was issued last"
        )
        issue.addWidget(since)
        withdraw = button(
            "Withdraw…", self.withdraw_asked.emit, "Nobody may build by the last revision any more"
        )
        issue.addWidget(withdraw)
        right.addLayout(issue)
        right.addSpacing(10)
        right.addWidget(heading("As built"))
        right.addWidget(self.built)
        right.addLayout(
            row_of(
                button(
                    "Record as built",
                    self.built_asked.emit,
                    "Keep every wire of this draft as a conductor that lies in the boat",
                ),
                button(
                    "Take in a survey…",
                    self.survey_asked.emit,
                    "What was found in a boat without drawings, from CSV; what is blank is unknown",
                ),
                button(
                    "Start a change order…",
                    self.change_order_asked.emit,
                    "A new order on the same hull that starts from what is built",
                ),
            )
        )
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 8, 0, 0)
        layout.setSpacing(28)
        layout.addLayout(left, 1)
        layout.addLayout(right, 1)

    def set_draft(self, draft: Draft, digest: str) -> None:
        """Show an order's paper; ``digest`` is that of its sheets as they stand."""
        order = draft.aboard.order
        self._order = order
        self.state.setCurrentIndex(self.state.findData(order.state))
        self.stopped.setText(f"{order.stop.kind}: {order.stop.why}" if order.stop else "goes on")
        self.hold.setVisible(order.stop is None)
        self.drop.setVisible(order.stop is None)
        self.go_on.setVisible(order.stop is not None)
        for name, field in self.fields.items():
            field.setText(getattr(order, name))
        self.wishes.fill(
            [
                (str(i), (Cell(w.text), Cell(w.answer or "open", "" if w.answer else "warn")))
                for i, w in enumerate(order.wishes)
            ]
        )
        self.revisions.fill(
            [
                (
                    str(r.number),
                    (
                        Cell(str(r.number), "", True),
                        Cell(r.date),
                        Cell(r.initials),
                        Cell(
                            f"{r.text}. WITHDRAWN: {r.withdrawn}" if r.withdrawn else r.text,
                            "alarm" if r.withdrawn else "",
                        ),
                    ),
                )
                for r in reversed(order.revisions)
            ]
        )
        if not order.revisions:
            self.since.setText("Nothing has been issued yet.")
        elif order.revisions[-1].withdrawn:
            self.since.setText("The last revision is withdrawn: nothing may be built.")
        elif order.revisions[-1].digest == digest:
            self.since.setText("The sheets are those of the last revision.")
        else:
            self.since.setText("Schedule or cut list have changed since the last revision.")
        self._show_built(draft)

    def _show_built(self, draft: Draft) -> None:
        order, reuse = draft.aboard.order, draft.reuse
        if not order.built:
            self.built.setText("Designed, not built: every wire is new.")
            return
        new = len(draft.assembled.wires) - len(reuse.kept) - len(reuse.moved)
        moves = f"lands {len(reuse.moved)} anew, " if reuse.moved else ""
        self.built.setText(
            f"{len(order.built)} conductors lie in hull {order.based_on or order.hull}. "
            f"This draft keeps {len(reuse.kept)}, {moves}adds {new}, "
            f"takes off {len(reuse.comes_off)}"
            + (f"; {len(reuse.unknown)} are unknown: look first." if reuse.unknown else ".")
        )

    def _state_picked(self, state: OrderState) -> None:
        assert self._order is not None
        self.state.setCurrentIndex(self.state.findData(self._order.state))
        if state != self._order.state:
            self.state_asked.emit(state)

    def _heading_edited(self) -> None:
        if self._order is None:
            return
        now = {name: typed(field) for name, field in self.fields.items()}
        if all(now[name] == getattr(self._order, name) for name in now):
            return
        try:
            datetime.date.fromisoformat(now["station_date"])
        except ValueError:
            self.refused.emit(f"Found {now['station_date']!r}, expected a date like 2026-12-07.")
            self.fields["station_date"].setText(self._order.station_date)
            return
        self.edit_made.emit(set_heading(**now))

    def _add_wish(self) -> None:
        text = typed(self.new_wish)
        if text and self._order:
            self.new_wish.clear()
            self.edit_made.emit(set_wishes((*self._order.wishes, Wish(text=text)), "add a wish"))

    def _wish_edited(self, key: str, column: int, text: str) -> bool:
        assert self._order is not None
        wishes = list(self._order.wishes)
        old = wishes[int(key)]
        if column == 0 and not text.strip():
            del wishes[int(key)]
        elif column == 0:
            wishes[int(key)] = Wish(text=text.strip(), answer=old.answer)
        else:
            answer = "" if text.strip() == "open" else text.strip()
            wishes[int(key)] = Wish(text=old.text, answer=answer)
        self.edit_made.emit(set_wishes(wishes, "change a wish"))
        return True

    def _issue(self) -> None:
        about, initials = typed(self.about), typed(self.initials)
        if not about or not initials:
            self.refused.emit("A revision wants a word on what it is about, and initials.")
            return
        self.about.clear()
        self.issue_asked.emit(about, initials)
