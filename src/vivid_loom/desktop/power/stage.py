"""The seventh stage: power the boat up, put a fault in it, and see what comes of it."""

from collections.abc import Iterator, Mapping

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeySequence, QShortcut
from PySide6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QSlider,
    QTabWidget,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.boat import Scenario
from vivid_loom.desktop.power.faults import FaultHands
from vivid_loom.desktop.power.finder_pane import FinderPane
from vivid_loom.desktop.power.panes import course_rows, energy_rows, proof_rows, scan_rows
from vivid_loom.desktop.power.view import PowerView
from vivid_loom.desktop.widgets.button_row import ButtonRow, Deed
from vivid_loom.desktop.widgets.picture_page import fill_page
from vivid_loom.desktop.widgets.plain import PlainLabel
from vivid_loom.desktop.widgets.text_table import pane
from vivid_loom.desktop.work.aside import aside
from vivid_loom.desktop.work.latest_job import LatestJob
from vivid_loom.desktop.work.session import Session
from vivid_loom.desktop.work.stage import StageView
from vivid_loom.drafting import Draft
from vivid_loom.network import NoOperatingPointError
from vivid_loom.power.board import Board
from vivid_loom.power.course import Course, course
from vivid_loom.power.energy import energy, mooring
from vivid_loom.power.fault import Fault, FaultError
from vivid_loom.power.powered import Powered, power_up
from vivid_loom.power.scan import Scanned, Tried, by_fault, scan_scenario, worst_first
from vivid_loom.power.setting import SCENARIOS, Setting, scenario_setting, setting_with
from vivid_loom.power.sneak import Sneak
from vivid_loom.power.sneak_boat import prove_draft
from vivid_loom.sheets.paper.tones import Tones
from vivid_loom.sheets.words.power_words import (
    course_words,
    fault_words,
    losses_words,
    told_powered,
)

__all__ = ["PowerStage"]

AT_REST = "At rest"


class PowerStage(StageView):
    """Levers, loads and where their volts go; below them a fault's course, the scan, energy."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.view = PowerView()
        self.board: Board | None = None
        self.setting: Setting | None = None
        self.fault: Fault | None = None
        self.course: Course | None = None
        self.scanned: list[Tried] = []
        self._found: list[Scanned] = []
        self._sneaks: tuple[Sneak, ...] = ()
        self._pulled: dict[str, str] = {}
        self.job = LatestJob(self)
        self.job.answered.connect(self._scan_found)
        self.told = PlainLabel()
        self.told.setWordWrap(True)
        self.losses = PlainLabel()
        self.losses.setWordWrap(True)
        self.losses.setAccessibleName("Where the picked load's volts go")
        self.scenario = QComboBox()
        self.scenario.addItems([name.capitalize() for name in SCENARIOS])
        self.scenario.setCurrentIndex(1)
        self.scenario.setAccessibleName("Scenario")
        self.scenario.setToolTip("Whose states everything starts from")
        self.scenario.activated.connect(self.start_scenario)
        self.hands = FaultHands(self, self)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setAccessibleName("Course of the fault, event by event")
        self.slider.valueChanged.connect(self._show_moment)
        self.moment = PlainLabel()
        self.events = pane(("When", "What opens", "Through it", "Hottest wire"), "Course", 1)
        self.scan = pane(("Fault", "Where", "Scenario", "What comes of it"), "Chafe scan", 3)
        self.finder = FinderPane()
        self.finder.said.connect(self.said)
        self.proof = pane(("What", "Brought about by"), "Sneak proof", 1)
        self.energy = pane(
            ("Scenario", "Ah a day", "Charged", "Lasts", "With other banks"), "Energy", 4
        )
        self.below = QTabWidget()
        self._lay_out()
        self.view.spot_picked.connect(self._picked)
        self.view.lever_asked.connect(self.move_lever)
        self.scan.activated.connect(lambda index: self.try_scanned(index.row()))
        self.below.currentChanged.connect(lambda _: self._fill_below())
        self.proof.activated.connect(lambda index: self.set_levers(index.row()))
        self._take_keys()

    def _lay_out(self) -> None:
        do = self.hands
        bar = ButtonRow(
            (
                Deed("Press", self.press_selected, "The selected lever, its next state (Space)"),
                Deed("Break", do.break_it, "The selected wire or joint (B)"),
                Deed("Short…", do.short_it, "The selected wire, to what it may touch (S)"),
                Deed("Corrode", do.corrode_it, "0.2 Ω more in the selected wire or joint (C)"),
                Deed("Hold motor", do.hold_motor, "The selected load's shaft (H)"),
                Deed("Other…", do.ask_other, "Welded, dead, another device, swapped plugs… (O)"),
                Deed("Whole again", self.mend, "Take the fault away (Del)"),
                Deed("Scan", self.start_scan, "Every wire and joint, in every scenario (F5)"),
                Deed("Dead ones too", self.show_all, "Show loads without current (A)"),
                Deed("Start over", self.start_scenario, "The scenario's own states (0)"),
            )
        )
        head = QHBoxLayout()
        head.setSpacing(8)
        head.addWidget(self.scenario)
        head.addWidget(bar, 1)
        course_page = QWidget()
        in_course = QVBoxLayout(course_page)
        in_course.setContentsMargins(0, 4, 0, 0)
        time = QHBoxLayout()
        time.addWidget(self.slider, 1)
        time.addWidget(self.moment)
        in_course.addLayout(time)
        in_course.addWidget(self.events, 1)
        self.below.addTab(course_page, "Course of a fault")
        self.below.addTab(self.scan, "Chafe scan")
        self.below.addTab(self.finder, "Fault finder")
        self.below.addTab(self.proof, "Sneak proof")
        self.below.addTab(self.energy, "Energy")
        fill_page(self, (head, self.told, self.losses), self.view, self.below, (376, 140))

    def _take_keys(self) -> None:
        do = self.hands
        for keys, slot in (
            ("B", do.break_it),
            ("S", do.short_it),
            ("C", do.corrode_it),
            ("H", do.hold_motor),
            ("O", do.ask_other),
            ("Del", self.mend),
            ("A", self.show_all),
            ("0", self.start_scenario),
            ("F5", self.start_scan),
            ("W", self._ask_why),
        ):
            shortcut = QShortcut(QKeySequence(keys), self.view)
            shortcut.setContext(Qt.ShortcutContext.WidgetShortcut)
            shortcut.activated.connect(slot)

    def set_draft(self, draft: Draft) -> None:
        """Power a draft up in the states it stood in; a lever that is gone is at rest."""
        self.board = board = aside(lambda: Board(draft))
        if not _is_there(board, *self.view.selected):
            self.view.selected = ("", "")
        self.scanned = []
        self.scan.rows_model.fill([])
        self.job.stop()
        if self.setting is None:
            self.start_scenario()
            return
        known = board.net.actuators_by_id
        kept = {
            name: state
            for name, state in self.setting.states.items()
            if name in known and state in known[name].states
        }
        self.setting = setting_with(kept, draft, self.scenario_name)
        self._power()
        self._fill_below()

    def set_tones(self, tones: Tones) -> None:
        """Use a theme's neutral colours."""
        self.view.set_tones(tones)

    def takes_keys(self) -> QWidget:
        """Return the picture."""
        return self.view

    def stop(self) -> None:
        """Stop the scan and the finder."""
        self.job.stop()
        self.finder.stop()

    def reveal(self, subject: str) -> bool:
        """Select a load or a lever."""
        if self.board is None:
            return False
        element = next((e.id for e in self.board.net.elements if e.part == subject), "")
        if subject in self.board.draft.aboard.loads and element:
            self.view.select("load", element)
            self._tell_losses()
            return True
        if subject in self.board.net.actuators_by_id:
            self.view.select("lever", subject)
            return True
        return False

    def show_circuit(self, circuit_id: str) -> None:
        """Mark the first load of a circuit."""
        if self.board is None or self._circuit_of_selected() == circuit_id:
            return
        row = self.board.draft.circuit(circuit_id)
        loads = row.planned.loads if row else ()
        element = next((e.id for e in self.board.net.elements if e.part in loads), "")
        if element:
            self.view.select("load", element)
            self._tell_losses()

    # states

    @property
    def scenario_name(self) -> Scenario:
        """The scenario whose states everything started from."""
        return SCENARIOS[self.scenario.currentIndex()]

    def start_scenario(self, *_: object) -> None:
        """Put every lever where the scenario has it."""
        if self.board is not None:
            self.setting = scenario_setting(self.board.draft, self.scenario_name)
            self._power()
            self._fill_below()

    def press_selected(self) -> None:
        """Move the selected lever."""
        kind, name = self.view.selected
        if kind == "lever":
            self.move_lever(name)
        else:
            self.tell("Pick a lever first.")

    def move_lever(self, name: str) -> None:
        """Move a lever to its next state."""
        if self.board is None or self.setting is None:
            return
        actuator = self.board.net.actuators_by_id[name]
        states = actuator.states
        now = self.setting.states.get(name, states[0])
        then = states[(states.index(now) + 1) % len(states)]
        self.setting = self.setting.moved({name: then})
        self._power(pulled=self._pulled)

    def show_all(self) -> None:
        """Show loads without current too, or hide them again."""
        self.view.all_loads = not self.view.all_loads
        self.view.lay_out_again()

    # faults

    def put(self, fault: Fault) -> None:
        """Put a fault into the boat."""
        self.fault = fault
        self.below.setCurrentIndex(0)
        self._power()
        wire = self.board.conductors.get(fault.at) if self.board else None
        if wire is not None:
            self.circuit_picked.emit(wire.circuit)

    def mend(self) -> None:
        """Take the fault away."""
        self.fault = None
        self._power()

    def tell(self, text: str) -> None:
        """Say what has happened."""
        self.said.emit(text)

    def _power(self, pulled: Mapping[str, str] | None = None) -> None:
        """Power the boat up as it stands, with the fault if there is one.

        Args:
            pulled: what coils hold already.
        """
        if self.board is None or self.setting is None:
            return
        board, setting, fault = self.board, self.setting, self.fault
        self.course = None
        try:
            if fault:
                self.course = aside(lambda: course(board, setting, fault))
                now = self.course.rest
            else:
                now = aside(lambda: power_up(board, setting, before=pulled))
                coils = {pull.actuator for pull in board.pulls}
                self._pulled = {k: v for k, v in now.states.items() if k in coils}
        except FaultError as error:
            self.fault = None
            self.tell(f"{error}.")
            self._power()
            return
        except NoOperatingPointError as error:
            self.view.set_powered(None)
            self.told.setText(f"{error}.")
            return
        self._tell_course(now)

    def _tell_course(self, now: Powered) -> None:
        draft = now.board.draft
        if self.course is None:
            self.told.setText(told_powered(now))
            self.events.rows_model.fill([])
            self.moment.setText("No fault: pick a piece of a way and press B, S or C.")
            self._set_slider(0)
            self.view.set_powered(now)
            self._tell_losses()
            return
        words = " ".join(course_words(draft, self.course))
        self.told.setText(f"{fault_words(self.course.fault)}. {words}")
        self.events.rows_model.fill(course_rows(self.course))
        self._set_slider(len(self.course.events))
        self._show_moment(self.slider.value())

    def _set_slider(self, last: int) -> None:
        self.slider.blockSignals(True)
        self.slider.setRange(0, last)
        self.slider.setValue(last)
        self.slider.setEnabled(last > 0)
        self.slider.blockSignals(False)

    def _show_moment(self, index: int) -> None:
        """Show what flows before the fault, until something opens, or at rest."""
        if self.course is None:
            return
        events = self.course.events
        if index == 0:
            self.view.set_powered(self.course.before)
            self.moment.setText("Before")
        else:
            event = events[index - 1]
            gone = self.course.before.running - event.powered.running
            self.view.set_powered(event.powered, gone)
            until = f"Until {event.late_s:.3g} s" if event.opens else AT_REST
            self.moment.setText(until)
        self._tell_losses()

    # scan and energy

    def start_scan(self) -> None:
        """Try every fault in every scenario, beside the work."""
        if self.board is None:
            return
        board, self.scanned, self._found = self.board, [], []
        self.below.setCurrentIndex(1)
        self.tell("Scanning: every wire and joint broken, shorted and corroded…")

        def work() -> Iterator[object]:
            for scenario in SCENARIOS:
                try:
                    yield scan_scenario(board, scenario)
                except NoOperatingPointError as error:
                    yield f"{scenario}: {error}"

        self.job.ask(work)

    def _scan_found(self, answer: object) -> None:
        if self.board is None:
            return
        if isinstance(answer, str):
            self.tell(answer)
            return
        assert isinstance(answer, list)
        self._found += answer
        self.scanned = by_fault(worst_first(self.board.draft, self._found))
        self.scan.rows_model.fill(scan_rows(self.board, self.scanned))
        burnt = sum(bool(tried.worst.burnt[0]) for tried in self.scanned)
        on = sum(bool(tried.worst.flows_on) for tried in self.scanned)
        told = f"{burnt} burn a wire, {on} nothing clears"
        self.tell(f"{len(self.scanned)} faults change something: {told}")

    def try_scanned(self, index: int) -> None:
        """Put a fault of the scan into the boat, in the scenario it was found in."""
        if index >= len(self.scanned):
            return
        row = self.scanned[index].worst
        self.scenario.setCurrentIndex(SCENARIOS.index(row.scenario))
        if self.board is not None:
            self.setting = scenario_setting(self.board.draft, row.scenario)
        self.put(row.probe.fault)

    def set_levers(self, index: int) -> None:
        """Set the levers that bring a sneak about, all others at rest."""
        if self._sneaks and index > 0 and self.setting is not None:
            states = self._sneaks[index - 1].states
            self.setting = Setting(
                states=dict(states), idle=frozenset(), charging=self.setting.charging
            )
            self._power()

    def _fill_below(self) -> None:
        """Fill the pane that is looked at, where it is worked out only then."""
        if self.board is None:
            return
        draft = self.board.draft
        if self.below.currentWidget() is self.finder:
            self.finder.show_for(self.board, self.scenario_name)
        if self.below.currentWidget() is self.proof:
            proof = prove_draft(draft, self.board.net)
            self._sneaks = proof.sneaks
            self.proof.rows_model.fill(proof_rows(draft, proof))
        if self.below.currentWidget() is not self.energy:
            return
        days = [energy(draft, scenario) for scenario in SCENARIOS]
        self.energy.rows_model.fill(energy_rows(draft, days, mooring(draft)))

    # selection

    def _circuit_of_selected(self) -> str:
        kind, name = self.view.selected
        if self.board is None:
            return ""
        if kind == "piece" and name in self.board.conductors:
            return self.board.conductors[name].circuit
        if kind == "load":
            part = self.board.elements[name].part
            rows = self.board.draft.circuits
            return next((row.id for row in rows if part in row.planned.loads), "")
        return ""

    def _picked(self, kind: str, name: str) -> None:
        circuit = self._circuit_of_selected()
        if circuit:
            self.circuit_picked.emit(circuit)
        if kind == "piece":
            self.hands.tell_piece(name)
        self._tell_losses()

    def _tell_losses(self) -> None:
        """Say where the volts of the picked load go."""
        kind, name = self.view.selected
        ways = self.view.ways
        if kind == "load" and ways is not None and name in ways.now.board.elements:
            self.losses.setText(losses_words(ways, name))
        else:
            self.losses.setText("Pick a load to read where its volts go.")

    def _ask_why(self) -> None:
        if self.session.selected:
            self.why_asked.emit(self.session.selected)


def _is_there(board: Board, kind: str, name: str) -> bool:
    """Tell whether a lever, a load or a piece of its way is still aboard."""
    if kind == "lever":
        return name in board.net.actuators_by_id
    if kind == "load":
        return name in board.elements
    return name in board.conductors or name in board.contacts
