"""What the buttons and keys of the Runs stage do."""

from pathlib import Path
from typing import Protocol

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QFileDialog, QInputDialog, QWidget

from vivid_loom.boat import Geography, Run, Station, read_survey
from vivid_loom.desktop.runs.dialogs import AreaDialog, NewRunDialog, RunDialog, StationDialog
from vivid_loom.desktop.runs.hull_words import HULL_WORDS
from vivid_loom.desktop.runs.view import RunsView
from vivid_loom.desktop.widgets.dialogs import answered
from vivid_loom.desktop.widgets.plain import plain
from vivid_loom.desktop.widgets.record_form import RecordDialog
from vivid_loom.desktop.work.aside import aside
from vivid_loom.desktop.work.session import Session
from vivid_loom.order import (
    Edit,
    add_run,
    change_area,
    change_geography,
    change_run,
    change_station,
    join_runs,
    remove_run,
    send_by_way,
    split_run,
    take_hull,
)
from vivid_loom.quantities import QuantityError, length_text, parse_length_m
from vivid_loom.quantities.document import DocumentError
from vivid_loom.quantities.grid import Row, grid_of_file

__all__ = ["RunActions"]


class RunsDesk(Protocol):
    """What the actions need of the page they are pressed on."""

    session: Session
    view: RunsView

    @property
    def run(self) -> Run | None:
        """The selected run."""

    @property
    def station(self) -> Station | None:
        """The selected station."""

    def tell(self, text: str) -> None:
        """Say what has happened."""

    def apply(self, edit: Edit) -> bool:
        """Make an edit and say what it changed."""

    def show_selected(self) -> None:
        """Show what is selected anew."""


class RunActions(QObject):
    """Asks, then edits the hull of a stage's session."""

    def __init__(self, stage: RunsDesk, parent: QWidget) -> None:
        super().__init__(parent)
        self._stage, self._parent = stage, parent

    @property
    def session(self) -> Session:
        """The stage's session."""
        return self._stage.session

    def _needs_run(self) -> Run | None:
        if self._stage.run is None:
            self._stage.tell("Pick a run first.")
        return self._stage.run

    def ask_measure(self) -> None:
        """Ask for everything about the selected run."""
        run = self._needs_run()
        if run is None:
            return
        dialog = RunDialog(
            run,
            self.session.boat,
            self.session.draft.aboard.profile.units,
            self._parent,
        )
        if answered(dialog) and dialog.run != run:
            what = "length" if dialog.run.length_m != run.length_m else "figures"
            self._stage.apply(change_run(dialog.run, what))

    def ask_split(self) -> None:
        """Ask for a station on the selected run, and how far along it lies."""
        run = self._needs_run()
        if run is None:
            return
        units = self.session.draft.aboard.profile.units
        places = self.session.boat.stations_by_id
        first, last = (places[end] for end in run.ends)
        text, done = QInputDialog.getText(
            self._parent,
            "Split run",
            plain(f"How far from {first.name}, of {length_text(run.length_m, units)}?"),
            text=length_text(run.length_m / 2, units),
        )
        if not done:
            return
        try:
            along = parse_length_m(text, units)
            share = along / run.length_m
            between = Station(
                id="",
                name="",
                area=run.area,
                x_m=first.x_m + share * (last.x_m - first.x_m),
                y_m=first.y_m + share * (last.y_m - first.y_m),
                z_m=first.z_m + share * (last.z_m - first.z_m),
            )
            dialog = StationDialog(self.session.boat, between, self._parent, "Station on the run")
            dialog._start = None  # a new id, from the name given
            if answered(dialog) and self._stage.apply(
                split_run(run, dialog.station, round(along, 4))
            ):
                self._stage.view.select(run=f"{run.id}a")
        except (QuantityError, ValueError) as error:
            self._stage.tell(str(error))

    def ask_join(self) -> None:
        """Ask which run that meets the selected one is joined to it."""
        run = self._needs_run()
        if run is None:
            return
        others = [
            r
            for r in self.session.boat.runs
            if r.id != run.id and len(set(r.ends) & set(run.ends)) == 1 and r.harness == run.harness
        ]
        if not others:
            self._stage.tell(f"No run of the same harness meets {run.id}.")
            return
        name, done = QInputDialog.getItem(
            self._parent,
            "Join runs",
            plain(f"Join {run.id} with"),
            [r.id for r in others],
            0,
            False,
        )
        if done:
            self.join(run.id, name)

    def join(self, first_id: str, second_id: str) -> None:
        """Make one run of two that meet."""
        runs = self.session.boat.runs_by_id
        try:
            edit = join_runs(runs[first_id], runs[second_id])
        except ValueError as error:
            self._stage.tell(str(error))
            return
        if self._stage.apply(edit):
            self._stage.view.select(run=f"{first_id}+{second_id}")
            self._stage.show_selected()

    def ask_new_run(self) -> None:
        """Ask for a run from the selected station."""
        start = self._stage.view.station or self.session.boat.helm_station
        units = self.session.draft.aboard.profile.units
        dialog = NewRunDialog(self.session.boat, start, units, self._parent)
        if answered(dialog):
            run = dialog.run
            if self._stage.apply(add_run(run)):
                self._stage.view.select(run=run.id)
                self._stage.show_selected()

    def ask_new_station(self) -> None:
        """Ask for a station."""
        dialog = StationDialog(self.session.boat, None, self._parent, "New station")
        if answered(dialog):
            station = dialog.station
            if self._stage.apply(change_station(station, new=True)):
                self._stage.view.select(station=station.id)
                self._stage.show_selected()

    def ask_place(self) -> None:
        """Ask where the selected station lies."""
        if self._stage.station is None:
            self._stage.tell("Pick a station first.")
            return
        dialog = StationDialog(self.session.boat, self._stage.station, self._parent, "Station")
        if answered(dialog) and dialog.station != self._stage.station:
            self._stage.apply(change_station(dialog.station))

    def ask_area(self) -> None:
        """Ask for the zone attributes of the selected run's or station's area."""
        chosen = self._stage.run or self._stage.station
        if chosen is None:
            self._stage.tell("Pick a run or a station in the area first.")
            return
        area = next(a for a in self.session.boat.areas if a.id == chosen.area)
        dialog = AreaDialog(area, self._parent)
        if answered(dialog) and dialog.area != area:
            self._stage.apply(change_area(dialog.area))

    def ask_hull(self) -> None:
        """Ask for the hull's lines, its areas and its harnesses."""
        boat = self.session.boat
        standing = Geography(hull=boat.hull, areas=boat.areas, assemblies=boat.assemblies)
        title = "Hull, areas and harnesses"
        dialog = RecordDialog(title, standing, HULL_WORDS, taking="Take it", parent=self._parent)
        if answered(dialog) and dialog.answer != standing:
            self._stage.apply(change_geography(dialog.answer))

    def remove_run(self) -> None:
        """Take the selected run out; wires go another way."""
        if (run := self._needs_run()) and self._stage.apply(remove_run(run)):
            self._stage.view.select()
            self._stage.show_selected()

    def ask_way(self) -> None:
        """Ask by way of which station the selected circuit goes."""
        names = {s.name: s.id for s in self.session.boat.stations}
        shortest = "the shortest way"
        name, done = QInputDialog.getItem(
            self._parent,
            "By way of",
            plain(f"Send {self.session.selected} by way of"),
            [shortest, *sorted(names)],
            0,
            True,
        )
        if done and (name == shortest or name in names):
            self.send_by(names.get(name, ""))

    def send_by(self, station_id: str) -> None:
        """Send the selected circuit by way of a station; '' for the shortest way."""
        row = self.session.draft.circuit(self.session.selected)
        if row is None:
            self._stage.tell("Pick a circuit first: a load's box, or a thread.")
            return
        already = self.session.order.way(row.id)
        if not station_id or station_id in already:
            self._stage.apply(send_by_way(row.id, row.planned.label, ()))
            return
        station = next(s for s in self.session.boat.stations if s.id == station_id)
        self._stage.apply(send_by_way(row.id, row.planned.label, (station,)))

    def ask_survey(self) -> None:
        """Ask for a sheet of stations and measured runs."""
        name, _ = QFileDialog.getOpenFileName(
            self._parent,
            "Stations and runs",
            str(Path.home()),
            "Spreadsheets (*.csv *.tsv *.txt *.xlsx)",
        )
        if not name:
            return
        try:
            self.take_survey(aside(lambda: grid_of_file(Path(name))))
        except DocumentError as error:
            self._stage.tell(str(error))

    def take_survey(self, rows: tuple[Row, ...]) -> None:
        """Take stations and runs from rows, and name what was left out."""
        survey = read_survey(rows, self.session.boat)
        told = "; ".join(f"row {row}: {why}" for row, why in survey.left_out[:4])
        left = f" Left out {len(survey.left_out)}: {told}." if survey.left_out else ""
        if not survey.changes.stations and not survey.changes.runs:
            self._stage.tell(f"No station and no run in that sheet.{left}")
            return
        if self.session.apply(take_hull(self.session.boat, survey.changes)):
            count = len(survey.changes.stations), len(survey.changes.runs)
            self._stage.tell(f"Took {count[0]} stations and {count[1]} runs.{left}")
