"""The ninth stage: what was drawn is proven, on the bench and aboard, and somebody signs for it."""

from collections.abc import Iterator

from PySide6.QtCore import QSignalBlocker, QTimer
from PySide6.QtWidgets import (
    QDoubleSpinBox,
    QHBoxLayout,
    QLineEdit,
    QTabWidget,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.bench.ringing.limits import BENCH_C
from vivid_loom.bench.ringing.plan import USUAL_C
from vivid_loom.bench.sitting import Sitting
from vivid_loom.desktop.bench.book import BenchBook
from vivid_loom.desktop.bench.courses import RingCourse, courses
from vivid_loom.desktop.bench.deviations import DeviationPage
from vivid_loom.desktop.bench.guided import GuidedPage
from vivid_loom.desktop.bench.link import TesterLink
from vivid_loom.desktop.bench.papers import PapersPage
from vivid_loom.desktop.bench.pulls import PullPage
from vivid_loom.desktop.widgets.controls import button, typed
from vivid_loom.desktop.widgets.plain import PlainLabel
from vivid_loom.desktop.work.latest_job import LatestJob
from vivid_loom.desktop.work.session import Session
from vivid_loom.desktop.work.stage import StageView
from vivid_loom.drafting import Draft
from vivid_loom.sheets.paper.tones import Tones

__all__ = ["BenchStage"]


class BenchStage(StageView):
    """Ring out, pull tests, make alive, deviations, log and papers, as pages."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self._draft: Draft | None = None
        self._sitting: Sitting | None = None
        self._rings: list[RingCourse] = []
        self._path = session.path
        self.book = BenchBook(session, self)
        self.link = TesterLink(self)
        self.ring = GuidedPage(self.book, self.link, "Harness")
        self.pulls = PullPage(self.book)
        self.alive = GuidedPage(self.book, self.link, "Boat")
        self.deviations = DeviationPage(session, self.book)
        self.papers = PapersPage(session, self.book)
        self.job = LatestJob(self)
        self.job.answered.connect(self._planned)
        self._later = QTimer(self)  # plans are worked out once the hand has come to rest
        self._later.setSingleShot(True)
        self._later.setInterval(120)
        self._later.timeout.connect(self._plan)
        self._lay_out()
        for teller in (self.ring, self.pulls, self.alive, self.deviations, self.papers):
            teller.said.connect(self.said)
        for page in (self.ring, self.alive):
            page.circuit_picked.connect(self.circuit_picked)
        self.book.said.connect(self.said)
        self.link.said.connect(self.said)
        self.link.changed.connect(self._link_changed)
        self._link_changed()

    def _lay_out(self) -> None:
        self.who, self.address = QLineEdit(), QLineEdit("127.0.0.1:5025")
        self.who.setPlaceholderText("initials")
        self.who.setAccessibleName("Initials of whoever is at the bench")
        self.who.setFixedWidth(80)
        self.who.textChanged.connect(self._who_typed)
        self.meter = QLineEdit()
        self.meter.setPlaceholderText("meter no., calibrated until")
        self.meter.setAccessibleName("Number of the meter in the hand, and its calibration's date")
        self.meter.setToolTip("Readings typed by hand name it, as METER 12, 2027-05-01")
        self.meter.setFixedWidth(180)
        self.meter.textChanged.connect(self._meter_typed)
        self.address.setAccessibleName("Host and port of the bench tester")
        self.address.setFixedWidth(140)
        self.celsius = _celsius_box()
        self.celsius.valueChanged.connect(self._warmed)
        self.linked = PlainLabel()
        row = QHBoxLayout()
        row.setSpacing(8)
        row.addWidget(self.who)
        row.addWidget(self.meter)
        row.addWidget(self.celsius)
        row.addWidget(self.address)
        row.addWidget(
            button("Connect", self.connect_tester, "Connect to the tester at this address")
        )
        row.addWidget(
            button(
                "Stand-in",
                lambda: self.stand_in(practise=False),
                "A tester within this program, for practice: it proves nothing",
            )
        )
        row.addWidget(
            button(
                "Practise",
                lambda: self.stand_in(practise=True),
                "A stand-in whose harnesses have two things wrong in them",
            )
        )
        row.addWidget(
            button("Disconnect", self.link.release, "Let go of the tester, or leave practice")
        )
        row.addWidget(self.linked, 1)
        self.tabs = QTabWidget()
        self.tabs.setDocumentMode(True)
        self.tabs.tabBar().setDrawBase(False)
        self.tabs.addTab(self.ring, "&Ring out")
        self.tabs.addTab(self.pulls, "&Pull tests")
        self.tabs.addTab(self.alive, "&Make alive")
        self.tabs.addTab(self.deviations, "&Deviations")
        self.tabs.addTab(self.papers, "&Log and papers")
        self.tabs.currentChanged.connect(lambda _: self._show_page())
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 10, 12, 4)
        layout.setSpacing(6)
        layout.addLayout(row)
        layout.addWidget(self.tabs, 1)

    def _who_typed(self) -> None:
        self.session.who = typed(self.who).upper()

    def _meter_typed(self) -> None:
        self.book.meter = typed(self.meter)

    def _link_changed(self) -> None:
        link = self.link
        self.book.practise(link.tester is not None and link.tester.is_practice)
        self.linked.setText("Connecting or reading…" if link.busy else link.told())
        measured = link.tester is not None and link.tester.has_thermometer
        self.celsius.setEnabled(not measured)
        with QSignalBlocker(self.celsius):
            self.celsius.setValue(link.sitting.copper_c)
        self._sit_down()

    def _warmed(self, celsius: float) -> None:
        self.link.by_hand_c = celsius
        self._sit_down()

    def _sit_down(self) -> None:
        """Go on with another meter; at another temperature the plans are made anew."""
        sitting = self.link.sitting
        if sitting == self._sitting:
            return
        self._sitting = sitting
        self._rings = [c.at(sitting) for c in self._rings if c.copper_c == sitting.copper_c]
        self.ring.set_courses(self._rings)
        if not self._rings:
            self._later.start()

    def connect_tester(self) -> None:
        """Connect to the tester at the address that is typed."""
        self.link.connect_to(typed(self.address))

    def stand_in(self, *, practise: bool) -> None:
        """Connect to a stand-in within this program."""
        if self._draft is not None:
            self.link.stand_in(self._draft, practise=practise)

    def set_draft(self, draft: Draft) -> None:
        """Show a draft; its plans are worked out beside the work."""
        if self.session.path != self._path:
            self._path = self.session.path
            self.link.release()
            self.book.open()
        self._draft = draft
        if typed(self.who).upper() != self.session.who:  # typed on Harness since
            self.who.setText(self.session.who)
        self.pulls.set_draft(draft)
        self.deviations.set_draft(draft)
        self._later.start()
        self._show_page()

    def _show_page(self) -> None:
        if self.tabs.currentWidget() is self.papers and self._draft is not None:
            self.papers.refresh()

    def _plan(self) -> None:
        draft = self._draft
        if draft is None:
            return

        sitting = self.link.sitting

        def work() -> Iterator[object]:
            yield draft, sitting, courses(draft, sitting)

        self.job.ask(work)

    def _planned(self, answer: object) -> None:
        assert isinstance(answer, tuple)
        draft, sitting, (rings, alive) = answer
        if draft is self._draft and sitting == self.link.sitting:
            self._rings = rings
            self.ring.set_courses(rings)
            self.alive.set_courses([alive])

    def wait_for_plans(self) -> None:
        """Work the plans out at once; for pictures."""
        self._later.stop()
        if self._draft is not None:
            sitting = self.link.sitting
            self._planned((self._draft, sitting, courses(self._draft, sitting)))

    def set_tones(self, tones: Tones) -> None:
        """Use a theme's neutral colours."""
        for page in (self.ring, self.alive):
            page.view.update()

    def show_circuit(self, circuit_id: str) -> None:
        """Offer the selected circuit where something about one is noted."""
        self.deviations.show_circuit(circuit_id)

    def reveal(self, subject: str) -> bool:
        """Show the step of a wire."""
        for index, course in enumerate(self.ring.courses):
            for step in course.progress(self.book.record).steps:
                if step.kind == "wire" and step.subject == subject:
                    self.tabs.setCurrentWidget(self.ring)
                    self.ring.choice.setCurrentIndex(index)
                    self.ring.at = step.id
                    self.ring.refresh()
                    return True
        return False

    def takes_keys(self) -> QWidget:
        """Return the step in large type."""
        return self.ring.view

    def stop(self) -> None:
        """Stop what is worked out or read off the GUI thread."""
        self._later.stop()
        self.job.stop()
        self.papers.job.stop()
        self.link.stop()


def _celsius_box() -> QDoubleSpinBox:
    """Return the field for the bench's temperature."""
    box = QDoubleSpinBox()
    box.setAccessibleName("Temperature of the harnesses on the bench")
    box.setToolTip("Copper that is warmer reads more: the limits follow it")
    box.setRange(*BENCH_C)
    box.setDecimals(1)
    box.setSuffix(" °C")
    box.setKeyboardTracking(False)
    box.setValue(USUAL_C)
    return box
