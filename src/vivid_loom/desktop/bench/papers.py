"""How far the order has come by what is proven; the log; the papers that go with the boat."""

from collections.abc import Iterator, Mapping
from pathlib import Path
from typing import Final

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QInputDialog, QVBoxLayout, QWidget

from vivid_loom.bench.logbook import Entry
from vivid_loom.bench.proven import STATES, Proofs, missing_for, reached
from vivid_loom.demo import is_shipped
from vivid_loom.desktop.bench.book import PRACTISING, BenchBook
from vivid_loom.desktop.widgets.button_row import ButtonRow, Deed
from vivid_loom.desktop.widgets.controls import small
from vivid_loom.desktop.widgets.plain import PlainLabel, plain
from vivid_loom.desktop.widgets.text_table import Cell, pane
from vivid_loom.desktop.work.latest_job import LatestJob
from vivid_loom.desktop.work.session import Session
from vivid_loom.order import OrderState, set_state
from vivid_loom.proving import proofs_beside
from vivid_loom.quantities import counted, kept_kind
from vivid_loom.quantities.atomic import write_atomically
from vivid_loom.sheets.lists.proof_lists import entry_words, log_json, log_table
from vivid_loom.sheets.pages.hand_over import hand_over_files, log_pages
from vivid_loom.sheets.paper.csv_file import csv_bytes
from vivid_loom.sheets.paper.pdf import pdf_bytes
from vivid_loom.sheets.words.cautions import SEALS_TELL

__all__ = ["PapersPage"]


def _told(entry: Entry, over: Mapping[int, str]) -> str:
    """Say what a record says, and why it proves nothing where it does not."""
    words = entry_words(entry)
    return f"{words}; {over[entry.number]}" if entry.number in over else words


LOG: Final = ("No.", "When", "By", "What", "Seal")


class PapersPage(QWidget):
    """States proven and missing, the log's records, the papers.

    Signals:
        said (str): what has happened.
    """

    said = Signal(str)

    def __init__(self, session: Session, book: BenchBook) -> None:
        super().__init__()
        self.session, self.book = session, book
        self.state: OrderState = "drafting"
        self.told = PlainLabel()
        self.told.setWordWrap(True)
        self.missing = pane(("Missing for the next step",), "What is missing", 0)
        self.whole = small("")
        self.table = pane(LOG, "The log, the last record first", 3)
        self.job = LatestJob(self)
        self.job.answered.connect(self._answered)
        bar = ButtonRow(
            (
                Deed("Sign the state", self.sign, "Take the order to the state that is proven"),
                Deed("Write papers…", self.ask_papers, "The papers that go with the boat"),
                Deed("Export log…", self.ask_export, "As CSV, JSON or PDF"),
                Deed("Withdraw…", self.ask_withdraw, "A record was a mistake: say so in a new one"),
                Deed("Verify", self.verify, "Read the log anew and see that it is whole"),
                Deed("Begin anew…", self.ask_anew, "A log that is not as it was written"),
            )
        )
        head = QHBoxLayout()
        head.addWidget(bar, 1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 6, 0, 0)
        layout.setSpacing(6)
        layout.addLayout(head)
        layout.addWidget(self.told)
        layout.addWidget(self.missing, 1)
        layout.addWidget(self.whole)
        layout.addWidget(self.table, 2)
        layout.addWidget(small(SEALS_TELL))
        book.written.connect(lambda: self._show_log() if self.isVisible() else None)

    def proofs(self) -> Proofs:
        """Return what the state is proven by, as it stands."""
        return proofs_beside(self.session.draft, self.session.path)

    def refresh(self) -> None:
        """Work out beside the work how far the order has come."""
        proofs = self.proofs()

        def work() -> Iterator[object]:
            state = reached(proofs)
            after = STATES[min(STATES.index(state) + 1, len(STATES) - 1)]
            yield state, after, tuple(missing_for(after, proofs))

        self.told.setText("What is proven is being worked out…")
        self.job.ask(work)
        self._show_log()

    def _answered(self, answer: object) -> None:
        assert isinstance(answer, tuple)
        self.state, after, missing = answer
        now, proven = self.session.order.state, self.state
        words = f"Proven: {proven.replace('_', ' ')}. The order is called {now.replace('_', ' ')}."
        if missing:
            words += f" For {after.replace('_', ' ')} there is missing:"
        self.told.setText(words)
        self.missing.rows_model.fill([(str(i), (Cell(t),)) for i, t in enumerate(missing)])

    def _show_log(self) -> None:
        log = self.book.log
        if log is None:
            self.whole.setText("The log cannot be read.")
            return
        grave = [trouble for trouble in log.troubles if trouble.grave]
        if grave:
            told = f"NOT as it was written: line {grave[0].line} {grave[0].problem}."
        else:
            told = f"{counted(len(log.entries), 'record')}, whole. Last seal {log.head[:16]}…"
            told += "".join(f" Line {t.line} {t.problem}." for t in log.troubles)
            count = len(self.book.record.passed_over)
            proves = "proves" if count == 1 else "prove"
            told += f" {counted(count, 'record')} {proves} nothing." if count else ""
        practice = ""
        if log.is_practice:
            shipped = is_shipped(self.session.path)
            reads = "the order is shipped" if shipped else "no state and no paper reads it"
            practice = f" For practice: {reads}."
        self.whole.setText(f"{log.path.name}: {told}{practice}")
        over = dict(self.book.record.passed_over)
        self.table.rows_model.fill(
            [
                (
                    str(e.number),
                    (
                        Cell(str(e.number), bold=True),
                        Cell(e.time[:19].replace("T", " ")),
                        Cell(e.who),
                        Cell(_told(e, over), "warn" if e.number in over else ""),
                        Cell(e.hash[:12], "quiet"),
                    ),
                )
                for e in reversed(log.entries)
            ]
        )

    def verify(self) -> None:
        """Read the log anew."""
        self.book.open()
        self.said.emit(self.whole.text())

    def sign(self) -> None:
        """Take the order to the state that is proven, under somebody's initials."""
        missing = next(missing_for(self.state, self.proofs()), "")
        if self.book.practises:
            self.said.emit(PRACTISING)
        elif missing:
            self.said.emit(f"Not any more: {missing}.")
        elif self.state == self.session.order.state:
            self.said.emit(f"The order is called {self.state.replace('_', ' ')} already.")
        elif self.book.add("signed", {"state": self.state}) and self.session.apply(
            set_state(self.state)
        ):
            self.session.settle()
            self.said.emit(f"Signed as {self.state.replace('_', ' ')} by {self.book.who}.")

    def ask_withdraw(self) -> None:
        """Ask why the selected record is withdrawn."""
        keys = self.table.selected_keys()
        if not keys:
            self.said.emit("Pick a record first.")
            return
        words = f"Record {keys[0]} stays in the log; why does it count no more?"
        text, ok = QInputDialog.getText(self, "Withdraw a record", plain(words))
        if ok and text.strip():
            self.withdraw(int(keys[0]), text.strip())

    def withdraw(self, number: int, reason: str) -> None:
        """Add a record by which another counts no more."""
        self.book.add("correction", {"withdraws": number, "reason": reason})

    def ask_anew(self) -> None:
        """Ask what became of the log, and begin it anew."""
        log = self.book.log
        if log is None or log.is_whole:
            self.said.emit("The log is whole: it goes on as it is.")
            return
        words = "What is there is kept beside it; all is to be proven again. What became of it?"
        text, ok = QInputDialog.getText(self, "Begin the log anew", plain(words))
        if ok and text.strip() and self.book.begin_anew(text.strip()):
            self.said.emit("The log is begun anew; its first record says why.")

    def ask_papers(self) -> None:
        """Ask for a folder and write the papers."""
        folder = QFileDialog.getExistingDirectory(self, "Write the papers into")
        if folder:
            self.write_papers(Path(folder))

    def write_papers(self, folder: Path) -> None:
        """Write the papers that go with the boat, and each harness's record."""
        if self.book.practises:
            self.said.emit(PRACTISING)
            return
        head = self.book.log.head if self.book.log else ""
        names = []
        try:
            for name, data in hand_over_files(self.proofs(), head):
                write_atomically(folder / name, data)
                names.append(name)
        except OSError as error:
            self.said.emit(f"{folder} cannot be written to: {error.strerror}.")
            return
        self.said.emit(f"{len(names)} files are in {folder}: {', '.join(names[:2])} and so on.")

    def ask_export(self) -> None:
        """Ask for a file and write the log into it."""
        kinds = "CSV (*.csv);;JSON (*.json);;PDF (*.pdf)"
        path, _ = QFileDialog.getSaveFileName(self, "Write the log", "log.csv", kinds)
        if path:
            self.export(Path(path))

    def export(self, path: Path) -> None:
        """Write the log as the file's ending asks; never over an order, a boat or a log."""
        if kind := kept_kind(path.name):
            self.said.emit(f"{path.name} is {kind}: nothing else is written over it.")
            return
        entries = self.book.log.entries if self.book.log else ()
        hull = {"hull": self.session.order.hull}
        if path.suffix == ".pdf":
            data = pdf_bytes(log_pages(self.session.draft, entries), "Log")
        elif path.suffix == ".json":
            data = log_json(entries)
        else:
            data = csv_bytes(log_table(entries), hull)
        try:
            write_atomically(path, data)
        except OSError as error:
            self.said.emit(f"{path} cannot be written: {error.strerror}.")
        else:
            self.said.emit(f"{len(entries)} records are in {path}.")
