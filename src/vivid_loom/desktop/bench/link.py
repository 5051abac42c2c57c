"""The tester that the bench talks to: connected, read off the GUI thread, lost."""

import datetime
import random
import threading
from collections.abc import Callable, Iterator

from PySide6.QtCore import QObject, Signal

from vivid_loom.bench.devices.simulated import practice_flaws
from vivid_loom.bench.devices.tester import BenchTester, BenchTesterError
from vivid_loom.bench.devices.tester_stand_in import StandInTester
from vivid_loom.bench.ringing.plan import USUAL_C
from vivid_loom.bench.sitting import Sitting
from vivid_loom.desktop.work.latest_job import LatestJob
from vivid_loom.drafting import Draft

__all__ = ["TesterLink"]

HOST = "127.0.0.1"


class TesterLink(QObject):
    """A connection to a tester, or to a stand-in within this program.

    Attributes:
        by_hand_c: the bench's temperature, where no tester measures it.

    Signals:
        changed: it is connected, or not any more.
        read (object, object): what was asked for, and the reading; None and None where something
            was only told.
        said (str): what went wrong.
    """

    changed = Signal()
    read = Signal(object, object)
    said = Signal(str)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.tester: BenchTester | None = None
        self.by_hand_c = USUAL_C
        self._switched_on: list[StandInTester] = []
        """Stand-ins of this program that nobody has switched off yet, connected or not."""
        self._job = LatestJob(self)
        self._job.answered.connect(self._answered)

    @property
    def busy(self) -> bool:
        """Whether something is being read or connected."""
        return self._job.running

    def told(self) -> str:
        """Say what is connected."""
        if self.tester is None:
            return "No tester is connected: answer by hand, or connect one."
        maker, model, number, _ = self.tester.identity.split(",")
        return f"{model.strip()} no. {number.strip()}, {maker.strip()}, at {self.tester.where}"

    @property
    def sitting(self) -> Sitting:
        """What is read with now: the tester, or a meter in the hand."""
        if self.tester is not None:
            sitting = self.tester.sitting
            if self.tester.has_thermometer:
                return sitting
            return sitting._replace(copper_c=self.by_hand_c)
        return Sitting(f"by hand {datetime.date.today()}", self.by_hand_c)

    def connect_to(self, address: str) -> None:
        """Connect to a tester at 'host:port'."""
        host, _, port = address.strip().rpartition(":")
        if not host or not port.isdigit() or not 0 < int(port) < 65536:
            self.said.emit(f"Found {address!r}, expected a host and a port: 127.0.0.1:5025.")
            return
        self.release()
        self._ask(lambda: BenchTester(host, int(port)))

    def stand_in(self, draft: Draft, *, practise: bool) -> None:
        """Connect to a stand-in of this program; to practise, two things are wrong in its boat."""
        self.release()

        switched_on = self._switched_on

        def make() -> tuple[StandInTester, BenchTester]:
            flaws = practice_flaws(draft, 2, random.Random()) if practise else ()
            made = StandInTester(draft, flaws)
            switched_on.append(made)
            threading.Thread(target=made.serve, daemon=True).start()
            return made, BenchTester(HOST, made.port)

        self._ask(make)

    def ask(self, what: object, read: Callable[[BenchTester], float]) -> None:
        """Read something; the answer comes by ``read``."""
        tester = self.tester
        if tester is None or self.busy:
            return
        self._ask(lambda: (what, read(tester)))

    def tell(self, do: Callable[[BenchTester], None]) -> None:
        """Have the tester do something that has no answer; a slow one does not stop the window."""
        tester = self.tester
        if tester is None:
            return

        def work() -> tuple[None, None]:
            do(tester)
            return None, None

        self._ask(work)

    def _ask(self, work: Callable[[], object]) -> None:
        def run() -> Iterator[object]:
            try:
                made = work()
            except (BenchTesterError, OSError) as error:
                made = BenchTesterError(str(error))
            try:
                yield made
            except GeneratorExit:  # nobody waits for it any more
                for each in made if isinstance(made, tuple) else (made,):
                    if isinstance(each, BenchTester | StandInTester):
                        each.close()
                raise

        self._job.ask(run)
        self.changed.emit()

    def _answered(self, answer: object) -> None:
        if isinstance(answer, BenchTesterError):
            self._lost(str(answer))
            return
        if isinstance(answer, BenchTester):
            self.tester = answer
        else:
            assert isinstance(answer, tuple)
            what, value = answer
            if isinstance(what, StandInTester):
                self.tester = value
            else:
                self._job.running = False
                self.changed.emit()
                self.read.emit(what, value)
                return
        self._job.running = False
        self.changed.emit()

    def _lost(self, why: str) -> None:
        """Let the tester go; what was read is kept, what was not read stays open."""
        self.release()
        self.said.emit(f"{why}. Nothing was recorded; connect again to go on where it stood.")

    def release(self) -> None:
        """Let go of tester and stand-in."""
        if self.tester is not None:
            self.tester.close()
        while self._switched_on:
            self._switched_on.pop().close()
        self.tester = None
        self.changed.emit()

    def stop(self) -> None:
        """Stop what is being read, and let go."""
        self._job.stop()
        self.release()
