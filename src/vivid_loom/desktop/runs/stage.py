"""The third stage: route and measure; lengths, gauges and bundles change under the hand."""

from collections.abc import Iterator

from PySide6.QtCore import Qt
from PySide6.QtGui import QHideEvent, QKeySequence, QResizeEvent, QShortcut, QShowEvent
from PySide6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.boat import Run, Station
from vivid_loom.desktop.runs.actions import RunActions
from vivid_loom.desktop.runs.panel import RunsPanel, moved_words
from vivid_loom.desktop.runs.view import RunsView
from vivid_loom.desktop.widgets.button_row import ButtonRow, Deed
from vivid_loom.desktop.widgets.plain import PlainLabel
from vivid_loom.desktop.work.latest_job import LatestJob
from vivid_loom.desktop.work.session import Session
from vivid_loom.desktop.work.stage import StageView
from vivid_loom.drafting import Draft, DraftError
from vivid_loom.drafting.beside.occupants import Occupant
from vivid_loom.order import (
    Edit,
    move_loads,
)
from vivid_loom.sheets.drawings.runs_drawing import MEASURES
from vivid_loom.sheets.paper.tones import Tones
from vivid_loom.workshop.bundles import Section, section
from vivid_loom.workshop.effects import effect, effect_words

__all__ = ["RunsStage"]


class RunsStage(StageView):
    """The picture, and a panel that tells of what is selected in it."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.view, self.panel = RunsView(), RunsPanel()
        self.measure = QComboBox()
        self.measure.setAccessibleName("Weight the trunks by")
        self.measure.setSizeAdjustPolicy(
            QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon
        )
        self.measure.setMinimumContentsLength(8)
        for name, words in MEASURES:
            self.measure.addItem(words, name)
        self.shown = QComboBox()
        self.shown.setAccessibleName("Plan, profile or both")
        for words, shown in (("both", "both"), ("plan", "plan"), ("profile", "profile")):
            self.shown.addItem(words, shown)
        self.sections: dict[str, Section] = {}
        self._members: dict[str, tuple[Occupant, ...]] = {}
        self._packed_for: Draft | None = None
        self._tried = ""
        self._job = LatestJob(self)
        self.hands = RunActions(self, self)
        self._lay_out()
        self._connect()

    def _lay_out(self) -> None:
        do = self.hands
        bar = ButtonRow(
            (
                Deed("Measure…", do.ask_measure, "Length, enclosure and more of the run (E)"),
                Deed("Way…", do.ask_way, "Send the selected circuit by way of a station (V)"),
                Deed("+ Run…", do.ask_new_run, "From the selected station (Ctrl+R)"),
                Deed("+ Station…", do.ask_new_station, "Ctrl+Shift+T"),
                Deed("Place…", do.ask_place, "Where the selected station lies (P)"),
                Deed("Area…", do.ask_area, "Water, heat and fuel vapour of its area (A)"),
                Deed("Hull…", do.ask_hull, "Hull lines, areas and harnesses (H)"),
                Deed("Split…", do.ask_split, "Put a station on the selected run (Ctrl+T)"),
                Deed("Join…", do.ask_join, "Make one run of two that meet (Ctrl+J)"),
                Deed("Remove", do.remove_run, "Take the selected run out (Del)"),
                Deed("Import…", do.ask_survey, "Stations and measured runs (Ctrl+I)"),
            )
        )
        weigh = QHBoxLayout()
        weigh.addWidget(PlainLabel("Trunks by"))
        weigh.addWidget(self.measure, 1)
        weigh.addWidget(self.shown)
        right = QVBoxLayout()
        right.addLayout(weigh)
        right.addWidget(self.panel, 1)
        left = QVBoxLayout()
        left.setSpacing(6)
        left.addWidget(bar)
        left.addWidget(self.view, 1)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(12, 10, 12, 4)
        layout.setSpacing(12)
        layout.addLayout(left, 1)
        layout.addLayout(right)

    def _connect(self) -> None:
        do = self.hands
        self.measure.currentIndexChanged.connect(
            lambda _: self.view.set_measure(self.measure.currentData())
        )
        self.shown.currentIndexChanged.connect(
            lambda _: self.view.set_shown(self.shown.currentData())
        )
        self.view.station_picked.connect(lambda _: self.show_selected())
        self.view.run_picked.connect(lambda _: self.show_selected())
        self.view.load_picked.connect(self._load_picked)
        self.view.drop_changing.connect(self._try_move)
        self.view.drop_changed.connect(self.move_load)
        self.view.way_asked.connect(do.send_by)
        self.session.previewed.connect(self._show_tried)
        self._job.answered.connect(self._packed)
        for keys, slot in (
            ("E", do.ask_measure),
            ("Ctrl+T", do.ask_split),
            ("Ctrl+J", do.ask_join),
            ("Ctrl+R", do.ask_new_run),
            ("Ctrl+Shift+T", do.ask_new_station),
            ("P", do.ask_place),
            ("A", do.ask_area),
            ("H", do.ask_hull),
            ("Del", do.remove_run),
            ("Ctrl+I", do.ask_survey),
        ):
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
        self.sections = {}  # of another draft; figures that are not true any more are not shown
        self.view.set_sections(self.sections)
        if self.isVisible():
            self._pack()
        self.show_selected()

    def takes_keys(self) -> QWidget:
        """Return the picture."""
        return self.view

    def reveal(self, subject: str) -> bool:
        """Select a run."""
        if subject not in self.session.boat.runs_by_id:
            return False
        self.view.select(run=subject)
        self.show_selected()
        return True

    def tell(self, text: str) -> None:
        """Say what has happened."""
        self.said.emit(text)

    def show_circuit(self, circuit_id: str) -> None:
        """Light up a circuit's path."""
        self.view.show_circuit(circuit_id)
        self.show_selected()

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self._pack()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.panel.setFixedWidth(318 if self.width() >= 1100 else 264)

    def hideEvent(self, event: QHideEvent) -> None:
        super().hideEvent(event)
        if self._job.running:
            self._packed_for = None
        self._job.stop()

    def stop(self) -> None:
        """Stop what is worked out off the GUI thread."""
        self._job.stop()

    def _pack(self) -> None:
        draft = self.session.draft
        if draft is self._packed_for:
            return
        self._packed_for = draft
        self._members = draft.occupants
        runs = sorted(draft.aboard.boat.runs, key=lambda run: run.id != self.view.run)
        inside = self._members

        def work() -> Iterator[object]:
            made: dict[str, Section] = {}
            for run in runs:
                made[run.id] = section(draft, run, inside.get(run.id, ()))
                # the selected run first: it is looked at; between the others it may be stopped
                yield dict(made) if len(made) == 1 else {}
            yield made  # all at once: trunks are weighted against the thickest

        self._job.ask(work)

    def _packed(self, made: object) -> None:
        assert isinstance(made, dict)
        if not made:
            return
        self.sections = {**self.sections, **made}
        if len(self.sections) == len(self.session.boat.runs):
            self.view.set_sections(self.sections)
        self.show_selected()

    def wait_for_bundles(self) -> None:
        """Pack here and now; for pictures and tests."""
        self._job.stop()
        draft = self.session.draft
        self._members, self._packed_for = draft.occupants, draft
        self._packed(
            {r.id: section(draft, r, self._members.get(r.id, ())) for r in draft.aboard.boat.runs}
        )

    # what is selected

    @property
    def run(self) -> Run | None:
        """The selected run."""
        return next((r for r in self.session.boat.runs if r.id == self.view.run), None)

    @property
    def station(self) -> Station | None:
        """The selected station."""
        return next((s for s in self.session.boat.stations if s.id == self.view.station), None)

    def show_selected(self) -> None:
        """Tell of the selected run or station."""
        draft = self.session.draft
        if self.run:
            made = self.sections.get(self.run.id)
            self.panel.show_run(draft, self.run, made, self._members, self.session.selected)
        elif self.station:
            self.panel.show_station(draft, self.station.id)
        else:
            self.panel.show_nothing(draft)

    def _load_picked(self, load_id: str) -> None:
        for row in self.session.draft.circuits:
            if load_id in row.planned.loads:
                self.circuit_picked.emit(row.id)
                break
        self.show_selected()

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
        if (
            not station_id
            or not here
            or (self.session.draft.aboard.loads[load_id].station == station_id)
        ):
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
            self.show_selected()
            self.panel.show_tried(moved_words(before, self.session.draft, load_id))
