"""A bench tester on the network, talked to in SCPI lines over TCP.

It measures four-wire resistance, insulation, diodes, volts, amps and resistance; the stand-in takes
``SIM`` commands besides, which stand for the hand that holds the probes.
"""

import datetime
import math
import re
from collections.abc import Iterable, Mapping
from typing import Final, Literal

from vivid_loom.bench.devices.scpi_link import LinkError, ScpiLink
from vivid_loom.bench.logbook import STAND_IN
from vivid_loom.bench.ringing.limits import BENCH_C
from vivid_loom.bench.ringing.plan import USUAL_C
from vivid_loom.bench.sitting import Sitting

__all__ = ["OVERLOAD", "BenchTester", "BenchTesterError", "Quantity", "quoted"]

OVERLOAD: Final = 9.9e37  # SCPI 1999, 7.2.1.4: infinity
NOT_A_NUMBER: Final = 9.91e37  # SCPI 1999, 7.2.1.5
SECONDS: Final = 3.0
NUMBER: Final = re.compile(r"[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?", re.ASCII)
"""NR1, NR2 and NR3 of IEEE 488.2, 8.7.2 to 8.7.4, from memory."""
FIELDS: Final = 4  # of an identity: maker, model, serial number, firmware (IEEE 488.2)

Quantity = Literal["FRES", "INS", "DIOD", "VOLT", "CURR", "RES", "TEMP"]
_PLAUSIBLE: Final[dict[Quantity, tuple[float, float]]] = {
    "FRES": (-0.01, 1e9),  # Ω
    "INS": (0.0, 1e15),  # Ω
    "DIOD": (-10.0, 10.0),
    "VOLT": (-1000.0, 1000.0),
    "CURR": (-10_000.0, 10_000.0),
    "RES": (-1.0, 1e12),
    "TEMP": BENCH_C,
}


class BenchTesterError(Exception):
    """A tester that cannot be reached, does not answer, or answers what cannot be a reading."""


def quoted(text: str) -> str:
    """Return a text as a SCPI string."""
    doubled = text.replace('"', '""')
    return f'"{doubled}"'


class BenchTester:
    """A tester that is connected to.

    Attributes:
        where: its host and port.
        identity: what it says it is.
        options: what it can do, as it says.
        sitting: what it reads counts as one sitting, at the temperature it measures or is told.
    """

    def __init__(
        self, host: str, port: int, *, seconds: float = SECONDS, copper_c: float = USUAL_C
    ) -> None:
        """Connect, and make sure that it is a tester.

        Args:
            copper_c: of the bench, where it has no thermometer of its own.

        Raises:
            BenchTesterError: it cannot be reached, or is none.
        """
        self.where = f"{host}:{port}"
        try:
            self._link = ScpiLink(host, port, seconds)
        except LinkError as error:
            raise BenchTesterError(f"{self.where}: {error}") from error
        try:
            self.identity = self.ask("*IDN?")
        except BenchTesterError as error:
            self.close()
            told = f"{self.where}: cannot be reached, or nothing there says what it is"
            raise BenchTesterError(told) from error
        options = self.ask("*OPT?").split(",") if self.identity.count(",") == FIELDS - 1 else []
        lacking = [name for name in ("FRES", "INS") if name not in options]
        if lacking:
            self.close()
            told = (
                f"found {self.identity!r}, expected a tester that reads resistance and insulation"
            )
            raise BenchTesterError(f"{self.where}: {told}")
        self.options = frozenset(options)
        try:
            celsius = self.read("TEMP") if self.has_thermometer else copper_c
        except BenchTesterError:
            self.close()
            raise
        now = datetime.datetime.now().isoformat(timespec="microseconds")
        named = f"{STAND_IN} {self.identity}" if self.is_practice else self.identity
        self.sitting = Sitting(f"{named} {now}", celsius)

    @property
    def is_stand_in(self) -> bool:
        """Whether it takes the hand's part as well."""
        return "SIM" in self.options

    @property
    def is_practice(self) -> bool:
        """Whether what it reads proves nothing of a boat."""
        return self.is_stand_in

    @property
    def has_thermometer(self) -> bool:
        """Whether it measures the bench's temperature."""
        return "TEMP" in self.options

    def ask(self, line: str) -> str:
        """Send a line and return the answer.

        Raises:
            BenchTesterError: no answer, or not to this; nothing is known of a reading then, and the
                connection is closed.
        """
        try:
            return self._link.ask(line)
        except LinkError as error:
            raise BenchTesterError(f"{self.where}: {error}") from error

    def tell(self, line: str) -> None:
        """Send a line that has no answer, and see that it was taken.

        Raises:
            BenchTesterError: it was refused.
        """
        code, _, words = self.ask(f"{line};:SYST:ERR?").partition(",")
        if code.strip() not in ("0", "+0"):
            raise BenchTesterError(f"{self.where}: {line} was refused: {words or code}")

    def read(self, quantity: Quantity) -> float:
        """Return a reading in Ω, V, A or °C; infinite where it is over the range.

        A tester that tells what it has measured is asked: a reading of anything else is none.

        Raises:
            BenchTesterError: no reading, or one that cannot be.
        """
        answer = self.ask(f"MEAS:{quantity}?" + (";:CONF?" if "CONF" in self.options else ""))
        if "CONF" in self.options:
            answer, _, measured = answer.partition(";")
            if measured.strip().strip('"').partition(" ")[0] != quantity:
                told = (
                    f"found a reading of {measured[:40] or 'nothing'}, expected one of {quantity}"
                )
                raise BenchTesterError(f"{self.where}: {told}")
        if NUMBER.fullmatch(answer) is None:
            told = answer[:40] or "nothing"
            raise BenchTesterError(f"{self.where}: found {told!r}, expected a reading")
        value = float(answer)
        if value >= OVERLOAD and value < NOT_A_NUMBER:
            return math.inf
        low, high = _PLAUSIBLE[quantity]
        if not low <= value <= high:
            told = f"found {value:g}, expected a reading from {low:g} to {high:g}"
            raise BenchTesterError(f"{self.where}: {told}")
        return value

    def zero(self) -> None:
        """Take off what the leads read that are held to one another; a tester without it does not.

        Raises:
            BenchTesterError: it was refused.
        """
        if "NULL" in self.options:
            self.tell("CALC:NULL:ACQ")

    def hold(self, red: str, black: str = "") -> None:
        """Hold the probes to two pins; asked of a stand-in, done by hand elsewhere."""
        if self.is_stand_in:
            self.tell(f"SIM:PROB {quoted(red)},{quoted(black)}")

    def lift(self, pins: Iterable[str]) -> None:
        """Take pins off the common bar, where all others lie."""
        if self.is_stand_in:
            self.tell("SIM:LIFT " + ",".join(map(quoted, pins)))

    def stand(self, states: Mapping[str, str], circuit: str) -> None:
        """Stand the levers so, with a circuit's loads on."""
        if self.is_stand_in:
            told = [circuit, *(text for pair in states.items() for text in pair)]
            self.tell("SIM:STAT " + ",".join(map(quoted, told)))

    def take(self, harness: str) -> None:
        """Lay a harness on the bench; '' goes aboard."""
        if self.is_stand_in:
            self.tell(f"SIM:HARN {quoted(harness)}")

    def mend(self, names: Iterable[str]) -> None:
        """Mend wires and plugs of the harness on the bench; asked of a stand-in."""
        if self.is_stand_in:
            self.tell("SIM:MEND " + ",".join(map(quoted, names)))

    def look(self, step: str) -> bool:
        """Return what eyes find of a step that is looked at; a stand-in only.

        Raises:
            BenchTesterError: it knows of no such step.
        """
        answer = self.ask(f"SIM:LOOK? {quoted(step)}")
        if answer not in ("0", "1"):
            raise BenchTesterError(f"{self.where}: found {answer!r}, expected 1 or 0")
        return answer == "1"

    def close(self) -> None:
        """Let the tester go."""
        self._link.close()
