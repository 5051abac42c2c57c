"""The third stage: route and measure; lengths, gauges and bundles change under the hand."""

from collections.abc import Iterator
from pathlib import Path

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QHideEvent, QKeySequence, QShortcut, QShowEvent
from PySide6.QtWidgets import (
    QComboBox,
    QDialog,
    QFileDialog,
    QHBoxLayout,
    QInputDialog,
    QLabel,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.boat import Run, Station, read_survey
from vivid_loom.desktop.latest_job import LatestJob
from vivid_loom.desktop.parts import button
from vivid_loom.desktop.run_dialogs import NewRunDialog, RunDialog, StationDialog
from vivid_loom.desktop.runs_panel import RunsPanel, moved_words
from vivid_loom.desktop.runs_view import RunsView
from vivid_loom.desktop.session import Session
from vivid_loom.drafting import Draft, DraftError
from vivid_loom.order import (
    Edit,
    add_run,
    change_run,
    change_station,
    join_runs,
    move_loads,
    remove_run,
    send_by_way,
    split_run,
    take_hull,
)
from vivid_loom.quantities import QuantityError, length_text, parse_length_m
from vivid_loom.quantities.document import DocumentError
from vivid_loom.quantities.grid import Row, grid_of_file
from vivid_loom.sheets.runs_drawing import MEASURES
from vivid_loom.sheets.threads import Tones
from vivid_loom.workshop.bundles import Member, Section, members, section
from vivid_loom.workshop.effects import effect, effect_words

__all__ = ["RunsStage"]


class RunsStage(QWidget):
    """Signals:

    said (str): a line for the status bar.
    circuit_picked (str): the circuit of the load that was selected.
    """

    said = Signal(str)
    circuit_picked = Signal(str)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.view, self.panel = RunsView(), RunsPanel()
        self.measure = QComboBox()
        self.measure.setAccessibleName("Weight the trunks by")
        for name, words in MEASURES:
            self.measure.addItem(words, name)
        self.shown = QComboBox()
        self.shown.setAccessibleName("Plan, profile or both")
        for words, shown in (("both", "both"), ("plan", "plan"), ("profile", "profile")):
            self.shown.addItem(words, shown)
        self.sections: dict[str, Section] = {}
        self._members: dict[str, tuple[Member, ...]] = {}
        self._packed_for: Draft | None = None
        self._tried = ""
        self._job = LatestJob(self)
        self._lay_out()
        self._connect()

    def _lay_out(self) -> None:
        bar = QHBoxLayout()
        bar.setSpacing(6)
        for text, slot, hint in (
            ("Measure…", self.ask_measure, "Length, enclosure and more of the selected run (E)"),
            ("Split…", self.ask_split, "Put a station on the selected run (Ctrl+T)"),
            ("Join…", self.ask_join, "Make one run of two that meet (Ctrl+J)"),
            ("New run…", self.ask_new_run, "From the selected station (Ctrl+R)"),
            ("New station…", self.ask_new_station, "Ctrl+Shift+T"),
            ("Place…", self.ask_place, "Where the selected station lies (P)"),
            ("Remove", self.remove_run, "Take the selected run out (Del)"),
            ("By way of…", self.ask_way, "Send the selected circuit by way of a station (V)"),
            ("Import…", self.ask_survey, "Stations and measured runs from a sheet (Ctrl+I)"),
        ):
            bar.addWidget(button(text, slot, hint))
        bar.addStretch(1)
        weigh = QHBoxLayout()
        weigh.addWidget(QLabel("Trunks by"))
        weigh.addWidget(self.measure, 1)
        weigh.addWidget(self.shown)
        right = QVBoxLayout()
        right.addLayout(weigh)
        right.addWidget(self.panel, 1)
        left = QVBoxLayout()
        left.setSpacing(6)
        left.addLayout(bar)
        left.addWidget(self.view, 1)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(12, 10, 12, 4)
        layout.setSpacing(12)
        layout.addLayout(left, 1)
        layout.addLayout(right)

    def _connect(self) -> None:
        self.measure.currentIndexChanged.connect(
            lambda _: self.view.set_measure(self.measure.currentData())
        )
        self.shown.currentIndexChanged.connect(
            lambda _: self.view.set_shown(self.shown.currentData())
        )
        self.view.station_picked.connect(lambda _: self._show_selected())
        self.view.run_picked.connect(lambda _: self._show_selected())
        self.view.load_picked.connect(self._load_picked)
        self.view.drop_changing.connect(self._try_move)
        self.view.drop_changed.connect(self.move_load)
        self.view.way_asked.connect(self.send_by)
        self.session.previewed.connect(self._show_tried)
        self._job.answered.connect(self._packed)
        for keys, slot in (
            ("E", self.ask_measure), ("Ctrl+T", self.ask_split), ("Ctrl+J", self.ask_join),
            ("Ctrl+R", self.ask_new_run), ("Ctrl+Shift+T", self.ask_new_station),
            ("P", self.ask_place), ("Del", self.remove_run), ("Ctrl+I", self.ask_survey),
        ):  # fmt: skip
            shortcut = QShortcut(QKeySequence(keys), self.view)
            shortcut.setContext(Qt.ShortcutContext.WidgetShortcut)
            shortcut.activated.connect(slot)

    def set_tones(self, tones: Tones) -> None:
        """Use a theme's neutral colours."""
        self.view.set_tones(tones)
        self.panel.set_tones(tones)

    def set_draft(self, draft: Draft) -> None:
        """Show a draft; bundles follow as they are packed."""
        self.view.set_draft(draft)
        self._tried = ""
        self.panel.show_tried([])
        if self.isVisible():
            self._pack()
        self._show_selected()

    def show_circuit(self, circuit_id: str) -> None:
        """Light up a circuit's path."""
        self.view.show_circuit(circuit_id)
        self._show_selected()

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self._pack()

    def hideEvent(self, event: QHideEvent) -> None:
        super().hideEvent(event)
        if self._job.running:
            self._job.stop()
            self._packed_for = None

    def stop(self) -> None:
        """Stop what is worked out off the GUI thread."""
        self._job.stop()

    def _pack(self) -> None:
        draft = self.session.draft
        if draft is self._packed_for:
            return
        self._packed_for = draft
        self._members = members(draft)
        runs = sorted(draft.aboard.boat.runs, key=lambda run: run.id != self.view.run)
        inside = self._members

        def work() -> Iterator[object]:
            made: dict[str, Section] = {}
            for run in runs:
                made[run.id] = section(draft, run, inside.get(run.id, ()))
                if len(made) == 1:
                    yield dict(made)  # the selected run first: it is looked at
            yield made

        self._job.ask(work)

    def _packed(self, made: object) -> None:
        assert isinstance(made, dict)
        self.sections = {**self.sections, **made}
        self.view.set_sections(self.sections)
        self._show_selected()

    def wait_for_bundles(self) -> None:
        """Pack here and now; for pictures and tests."""
        self._job.stop()
        draft = self.session.draft
        self._members, self._packed_for = members(draft), draft
        self._packed({r.id: section(draft, r, self._members.get(r.id, ()))
                      for r in draft.aboard.boat.runs})  # fmt: skip

    # what is selected

    @property
    def run(self) -> Run | None:
        """The selected run."""
        return next((r for r in self.session.boat.runs if r.id == self.view.run), None)

    @property
    def station(self) -> Station | None:
        """The selected station."""
        return next((s for s in self.session.boat.stations if s.id == self.view.station), None)

    def _show_selected(self) -> None:
        draft = self.session.draft
        if self.run:
            made = self.sections.get(self.run.id)
            self.panel.show_run(draft, self.run, made, self._members, self.session.selected)
        elif self.station:
            self.panel.show_station(draft, self.station.id)
        else:
            self.panel.show_nothing()

    def _load_picked(self, load_id: str) -> None:
        for row in self.session.draft.circuits:
            if load_id in row.planned.loads:
                self.circuit_picked.emit(row.id)
                break
        self._show_selected()

    # edits

    def apply(self, edit: Edit) -> bool:
        """Make an edit and say what it changed."""
        before = self.session.draft
        if not self.session.apply(edit):
            return False
        told = effect_words(effect(before, self.session.draft))
        self.said.emit(f"{edit[0]}: {told}. Ctrl+Z takes it back.")
        return True

    def _move(self, load_id: str, station_id: str) -> Edit:
        load = self.session.draft.aboard.loads[load_id]
        station = next(s for s in self.session.boat.stations if s.id == station_id)
        return move_loads((load,), station)

    def _try_move(self, load_id: str, station_id: str) -> None:
        here = load_id in self.session.draft.aboard.loads
        if not station_id or not here or (
            self.session.draft.aboard.loads[load_id].station == station_id
        ):  # fmt: skip
            self._tried = ""
            self.panel.show_tried([])
            return
        self._tried = load_id
        self.panel.show_tried(["working out…"])
        self.session.try_edit(self._move(load_id, station_id))

    def _show_tried(self, answer: object) -> None:
        if not self._tried:
            return
        if isinstance(answer, DraftError):
            self.panel.show_tried([f"Cannot go there: {answer.problem}"])
        elif isinstance(answer, Draft):
            self.panel.show_tried(moved_words(self.session.draft, answer, self._tried))

    def move_load(self, load_id: str, station_id: str) -> None:
        """Put a load at another station."""
        before = self.session.draft
        if self.apply(self._move(load_id, station_id)):
            self.view.select(station=station_id, load=load_id)
            self._show_selected()
            self.panel.show_tried(moved_words(before, self.session.draft, load_id))

    def _needs_run(self) -> Run | None:
        if self.run is None:
            self.said.emit("Pick a run first.")
        return self.run

    def _ask(self, dialog: QDialog) -> bool:
        return dialog.exec() == QDialog.DialogCode.Accepted

    def ask_measure(self) -> None:
        """Ask for everything about the selected run."""
        run = self._needs_run()
        if run is None:
            return
        dialog = RunDialog(run, self.session.boat, self.session.draft.aboard.profile.units, self)
        if self._ask(dialog) and dialog.run != run:
            what = "length" if dialog.run.length_m != run.length_m else "figures"
            self.apply(change_run(dialog.run, what))

    def ask_split(self) -> None:
        """Ask for a station on the selected run, and how far along it lies."""
        run = self._needs_run()
        if run is None:
            return
        units = self.session.draft.aboard.profile.units
        places = {s.id: s for s in self.session.boat.stations}
        first, last = (places[end] for end in run.ends)
        text, done = QInputDialog.getText(
            self, "Split run", f"How far from {first.name}, of {length_text(run.length_m, units)}?",
            text=length_text(run.length_m / 2, units),
        )  # fmt: skip
        if not done:
            return
        try:
            along = parse_length_m(text, units)
            share = along / run.length_m
            between = Station(
                id="", name="", area=run.area, x_m=first.x_m + share * (last.x_m - first.x_m),
                y_m=first.y_m + share * (last.y_m - first.y_m),
                z_m=first.z_m + share * (last.z_m - first.z_m),
            )  # fmt: skip
            dialog = StationDialog(self.session.boat, between, self, "Station on the run")
            dialog._start = None  # a new id, from the name given
            if self._ask(dialog) and self.apply(split_run(run, dialog.station, round(along, 4))):
                self.view.select(run=f"{run.id}a")
        except (QuantityError, ValueError) as error:
            self.said.emit(str(error))

    def ask_join(self) -> None:
        """Ask which run that meets the selected one is joined to it."""
        run = self._needs_run()
        if run is None:
            return
        others = [r for r in self.session.boat.runs
                  if r.id != run.id and len(set(r.ends) & set(run.ends)) == 1
                  and r.harness == run.harness]  # fmt: skip
        if not others:
            self.said.emit(f"No run of the same harness meets {run.id}.")
            return
        name, done = QInputDialog.getItem(
            self, "Join runs", f"Join {run.id} with", [r.id for r in others], 0, False
        )
        if done:
            self.join(run.id, name)

    def join(self, first_id: str, second_id: str) -> None:
        """Make one run of two that meet."""
        runs = {run.id: run for run in self.session.boat.runs}
        try:
            edit = join_runs(runs[first_id], runs[second_id])
        except ValueError as error:
            self.said.emit(str(error))
            return
        if self.apply(edit):
            self.view.select(run=f"{first_id}+{second_id}")
            self._show_selected()

    def ask_new_run(self) -> None:
        """Ask for a run from the selected station."""
        start = self.view.station or self.session.boat.helm.station
        units = self.session.draft.aboard.profile.units
        dialog = NewRunDialog(self.session.boat, start, units, self)
        if self._ask(dialog):
            run = dialog.run
            if self.apply(add_run(run)):
                self.view.select(run=run.id)
                self._show_selected()

    def ask_new_station(self) -> None:
        """Ask for a station."""
        dialog = StationDialog(self.session.boat, None, self, "New station")
        if self._ask(dialog):
            station = dialog.station
            if self.apply(change_station(station, new=True)):
                self.view.select(station=station.id)
                self._show_selected()

    def ask_place(self) -> None:
        """Ask where the selected station lies."""
        if self.station is None:
            self.said.emit("Pick a station first.")
            return
        dialog = StationDialog(self.session.boat, self.station, self, "Station")
        if self._ask(dialog) and dialog.station != self.station:
            self.apply(change_station(dialog.station))

    def remove_run(self) -> None:
        """Take the selected run out; wires go another way."""
        if (run := self._needs_run()) and self.apply(remove_run(run)):
            self.view.select()
            self._show_selected()

    def ask_way(self) -> None:
        """Ask by way of which station the selected circuit goes."""
        names = {s.name: s.id for s in self.session.boat.stations}
        shortest = "the shortest way"
        name, done = QInputDialog.getItem(
            self, "By way of", f"Send {self.session.selected} by way of",
            [shortest, *sorted(names)], 0, True,
        )  # fmt: skip
        if done and (name == shortest or name in names):
            self.send_by(names.get(name, ""))

    def send_by(self, station_id: str) -> None:
        """Send the selected circuit by way of a station; '' for the shortest way."""
        row = self.session.draft.circuit(self.session.selected)
        if row is None:
            self.said.emit("Pick a circuit first: a load's box, or a thread.")
            return
        already = self.session.order.way(row.id)
        if not station_id or station_id in already:
            self.apply(send_by_way(row.id, row.planned.label, ()))
            return
        station = next(s for s in self.session.boat.stations if s.id == station_id)
        self.apply(send_by_way(row.id, row.planned.label, (station,)))

    def ask_survey(self) -> None:
        """Ask for a sheet of stations and measured runs."""
        name, _ = QFileDialog.getOpenFileName(
            self, "Stations and runs", str(Path.home()), "Spreadsheets (*.csv *.tsv *.txt *.xlsx)"
        )
        if not name:
            return
        try:
            self.take_survey(grid_of_file(Path(name)))
        except DocumentError as error:
            self.said.emit(str(error))

    def take_survey(self, rows: tuple[Row, ...]) -> None:
        """Take stations and runs from rows, and name what was left out."""
        survey = read_survey(rows, self.session.boat)
        told = "; ".join(f"row {row}: {why}" for row, why in survey.left_out[:4])
        left = f" Left out {len(survey.left_out)}: {told}." if survey.left_out else ""
        if not survey.changes.stations and not survey.changes.runs:
            self.said.emit(f"No station and no run in that sheet.{left}")
            return
        if self.session.apply(take_hull(self.session.boat, survey.changes)):
            count = len(survey.changes.stations), len(survey.changes.runs)
            self.said.emit(f"Took {count[0]} stations and {count[1]} runs.{left}")
