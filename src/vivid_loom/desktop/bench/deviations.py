"""What was built otherwise than drawn: noted, judged by drafting it, signed or refused."""

import datetime
from typing import Final, Literal, cast

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QComboBox,
    QCompleter,
    QHBoxLayout,
    QInputDialog,
    QLineEdit,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.bench.deviations import Judgement, joint_judged, judgement
from vivid_loom.desktop.bench.book import PRACTISING, BenchBook
from vivid_loom.desktop.widgets.controls import button, small, typed
from vivid_loom.desktop.widgets.plain import PlainLabel, plain
from vivid_loom.desktop.widgets.text_table import Cell, pane
from vivid_loom.desktop.work.session import Session
from vivid_loom.drafting import Draft, DraftError
from vivid_loom.order import (
    Deviation,
    drafted_as_built,
    note_deviation,
    refuse_deviation,
    sign_deviation,
)
from vivid_loom.quantities import one_line
from vivid_loom.sheets.pages.hand_over import deviation_words

__all__ = ["DeviationPage"]

KINDS: Final = (
    ("device", "another rating went in", "A, e.g. 10"),
    ("gauge", "another gauge went in", "e.g. 12 AWG"),
    ("way", "it goes another way", "stations; in turn"),
    ("joint", "a joint in a run (of a wire)", "station"),
)
Kind = Literal["device", "gauge", "way", "joint"]
PLACED: Final = ("way", "joint")  # what names stations
MOST_NAMED: Final = 4


def _told(judged: Judgement) -> str:
    """Say what a deviation does, in a line or two."""
    words = [judged.words] if judged.words else []
    for text, findings in (("Brings", judged.opens), ("Clears", judged.closes)):
        if findings:
            named = " ".join(f.sentence() for f in findings[:MOST_NAMED])
            more = len(findings) - MOST_NAMED
            words.append(f"{text}: {named}{f' and {more} more' if more > 0 else ''}")
    if judged.is_safe and not judged.opens:
        words.append("Drafted so, it brings no finding.")
    elif not judged.is_safe:
        words.append("NOT SAFE as it was built: refuse it, or clear the error.")
    return " ".join(words)


class DeviationPage(QWidget):
    """Deviations with their judgement.

    Signals:
        said (str): what has happened.
    """

    said = Signal(str)

    def __init__(self, session: Session, book: BenchBook) -> None:
        super().__init__()
        self.session, self.book = session, book
        self.kind = QComboBox()
        self.kind.setAccessibleName("What is otherwise")
        for name, words, _ in KINDS:
            self.kind.addItem(words, name)
        self.subject, self.value, self.reason = QLineEdit(), QLineEdit(), QLineEdit()
        self.answer = QLineEdit()
        fields = (
            (self.subject, "circuit or wire", 110),
            (self.value, KINDS[0][2], 130),
            (self.reason, "why", 0),
            (self.answer, "answer, e.g. replaced at the next haul-out", 0),
        )
        for field, words, wide in fields:
            field.setPlaceholderText(words)
            field.setAccessibleName(words)
            if wide:
                field.setFixedWidth(wide)
        self.kind.currentIndexChanged.connect(self._kind_chosen)
        self.table = pane(("No.", "Built otherwise", "Why", "By", "Answer"), "Deviations", 1)
        self.table.selectionModel().selectionChanged.connect(lambda *_: self._judge())
        self.judged = PlainLabel()
        self.judged.setWordWrap(True)
        self._lay_out()
        session.previewed.connect(self._previewed)
        self._asked: Deviation | None = None
        self._judgement: Judgement | None = None
        self._offered = ""

    def _lay_out(self) -> None:
        note = QHBoxLayout()
        note.setSpacing(8)
        for widget in (self.subject, self.kind, self.value):
            note.addWidget(widget)
        note.addWidget(self.reason, 1)
        note.addWidget(
            button("Note it", self.note, "Record what was built otherwise, and judge it")
        )
        settle = QHBoxLayout()
        settle.setSpacing(8)
        settle.addWidget(self.answer, 1)
        settle.addWidget(button("Sign", self.sign, "Answer for it: the order is drafted so"))
        settle.addWidget(button("Refuse", self.refuse, "It is to be built as drawn"))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 6, 0, 0)
        layout.setSpacing(6)
        layout.addWidget(
            small(
                "Another device went in, a wire went another way, a joint was needed: note it with "
                "its reason; it is judged by drafting the boat so, then signed or refused."
            )
        )
        layout.addLayout(note)
        layout.addWidget(self.table, 1)
        layout.addWidget(self.judged)
        layout.addLayout(settle)

    def _kind_chosen(self, index: int) -> None:
        """Say what is expected; where it is a station, offer their names."""
        self.value.setPlaceholderText(KINDS[index][2])
        names = [station.name for station in self.session.draft.aboard.boat.stations]
        offered = QCompleter(names if KINDS[index][0] in PLACED else [], self.value)
        offered.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        offered.setFilterMode(Qt.MatchFlag.MatchContains)
        self.value.setCompleter(offered)

    def set_draft(self, draft: Draft) -> None:
        """Show an order's deviations."""
        rows = []
        for d in draft.aboard.order.deviations:
            verdict = d.verdict if d.verdict == "open" else f"{d.verdict} by {d.signed_by}"
            answer = f"{verdict}: {d.answer}" if d.answer else verdict
            cells = (
                Cell(str(d.number), bold=True),
                Cell(deviation_words(draft, d)),
                Cell(d.reason),
                Cell(d.initials),
                Cell(answer, "warn" if d.verdict == "open" else ""),
            )
            rows.append((str(d.number), cells))
        self.table.rows_model.fill(rows)
        self._judge()

    @property
    def deviation(self) -> Deviation | None:
        """The one that is looked at."""
        keys = self.table.selected_keys()
        found = (d for d in self.session.order.deviations if keys and str(d.number) == keys[0])
        return next(found, None)

    def show_circuit(self, circuit_id: str) -> None:
        """Offer the selected circuit, where nobody has typed another."""
        if circuit_id and typed(self.subject) in ("", self._offered):
            self._offered = circuit_id
            self.subject.setText(circuit_id)

    def note(self) -> None:
        """Note a deviation."""
        subject, value, reason = typed(self.subject), self._value(), typed(self.reason)
        if self.book.practises:
            self.said.emit(PRACTISING)
        elif not self.book.who:
            self.said.emit("Who is there? Put your initials into their field first.")
        elif not self._is_known(subject, value):
            return
        elif not value or not reason:
            self.said.emit("Say what went in, and why.")
        else:
            kind = cast(Kind, self.kind.currentData())
            made = Deviation(
                number=1,
                kind=kind,
                subject=subject,
                value=value,
                reason=reason,
                initials=self.book.who,
                date=datetime.date.today().isoformat(),
            )
            if self.session.apply(note_deviation(made)):
                if not self._log(self.session.order.deviations[-1]):
                    self.session.take_back()
                    return
                self.session.settle()
                self.value.clear()
                self.reason.clear()
                self.table.selectRow(len(self.session.order.deviations) - 1)

    def _value(self) -> str:
        """Return what was typed, stations by their ids whether name or id was typed."""
        value = typed(self.value)
        if self.kind.currentData() not in PLACED:
            return value
        called = {s.name.casefold(): s.id for s in self.session.draft.aboard.boat.stations}
        parts = [part.strip() for part in value.split(";") if part.strip()]
        return ";".join(called.get(part.casefold(), part) for part in parts)

    def _is_known(self, subject: str, value: str) -> bool:
        draft, kind = self.session.draft, self.kind.currentData()
        if kind == "joint":
            known = any(wire.id == subject for wire in draft.assembled.wires)
        else:
            known = draft.circuit(subject) is not None
        if not known:
            what = "a wire" if kind == "joint" else "a circuit or feeder"
            self.said.emit(f"Found {subject!r}, expected {what} of this order.")
            return False
        stations = draft.aboard.boat.stations_by_id
        if kind in PLACED:
            wrong = [s for s in value.split(";") if s not in stations]
            if wrong:
                named = ", ".join(station.name for station in stations.values())
                self.said.emit(f"Found {wrong[0]!r}, expected a station: {named}.")
                return False
        return True

    def _log(self, deviation: Deviation) -> bool:
        words = {
            "number": deviation.number,
            "verdict": deviation.verdict,
            "what": deviation_words(self.session.draft, deviation),
            "reason": deviation.reason,
            "answer": deviation.answer,
        }
        return self.book.add("deviation", words)

    def _judge(self) -> None:
        """Draft the boat as it was built, beside the work, and say what comes of it."""
        deviation = self._asked = self.deviation
        self._judgement = None
        if deviation is None:
            self.judged.setText("")
        elif deviation.kind == "joint":
            self._show(joint_judged(self.session.draft, deviation))
        elif deviation.verdict == "signed":
            self.judged.setText("It is drafted as it was built.")
        else:
            self.judged.setText("Drafting it as it was built…")
            self.session.try_edit(drafted_as_built(deviation))

    def _previewed(self, built: object) -> None:
        if self._asked is None or self._asked != self.deviation or not self.isVisible():
            return
        if isinstance(built, DraftError):
            self.judged.setText(f"It cannot be drafted so: {built.problem}")
        elif isinstance(built, Draft):
            self._show(judgement(self.session.draft, built))

    def _show(self, judged: Judgement) -> None:
        self._judgement = judged
        self.judged.setText(_told(judged))

    def sign(self) -> None:
        """Answer for the deviation that is looked at."""
        self._settle(sign=True)

    def refuse(self) -> None:
        """Ask for it to be built as drawn."""
        self._settle(sign=False)

    def _settle(self, *, sign: bool) -> None:
        deviation, who = self.deviation, self.book.who
        if self.book.practises:
            self.said.emit(PRACTISING)
        elif deviation is None or deviation.verdict != "open":
            self.said.emit("Pick a deviation that waits for an answer.")
        elif not who:
            self.said.emit("Who is there? Put your initials into their field first.")
        elif not sign:
            self._answered(deviation, who, signs=False)
        elif who == deviation.initials:
            self.said.emit(f"{who} noted it: somebody else answers for it.")
        elif self._judgement is None:
            self.said.emit("It is still being judged: look at what it does first.")
        elif self._judgement.is_safe:
            self._answered(deviation, who)
        elif not typed(self.answer):
            self.said.emit("It is NOT SAFE: say why it may stay, or what is done about it.")
        else:
            self._ask_second(deviation, who)

    def _ask_second(self, deviation: Deviation, who: str) -> None:
        """Ask who else answers for what is not safe."""
        words = "It is NOT SAFE as it was built. Who else answers for it? Initials"
        text, ok = QInputDialog.getText(self, "Two answer for it", plain(words))
        other = one_line(text).strip().upper()
        if ok and other in ("", who, deviation.initials):
            self.said.emit(f"Found {other!r}, expected somebody besides {who}.")
        elif ok:
            self._answered(deviation, f"{who} and {other}")

    def _answered(self, deviation: Deviation, who: str, *, signs: bool = True) -> None:
        """Put an answer into the order and the log; nothing undoes past it."""
        settle = sign_deviation if signs else refuse_deviation
        edit = settle(deviation, signed_by=who, answer=typed(self.answer))
        if self.session.apply(edit):
            every = self.session.order.deviations
            if not self._log(next(d for d in every if d.number == deviation.number)):
                self.session.take_back()
                return
            self.session.settle()
            self.answer.clear()
