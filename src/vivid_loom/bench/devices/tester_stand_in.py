"""A stand-in for the bench tester: an order's harnesses and its boat, with known faults."""

import contextlib
import csv
import math
import socket
import threading
import time
from collections.abc import Callable, Iterable, Sequence
from typing import Final, Literal

from vivid_loom.bench.devices.listener import Listener
from vivid_loom.bench.devices.simulated import BuiltHarness, Flaw, FlawError
from vivid_loom.bench.devices.simulated_boat import BuiltBoat, BuiltBoatError
from vivid_loom.bench.devices.tester import OVERLOAD
from vivid_loom.bench.ringing.plan import RingPlan, ring_plans
from vivid_loom.drafting import Draft
from vivid_loom.network import NoOperatingPointError
from vivid_loom.power.fault import Fault

__all__ = ["IDENTITY", "Misbehaviour", "StandInTester"]

IDENTITY: Final = "Quillhaven,practice tester,1,1.0"
OPTIONS: Final = "FRES,INS,DIOD,VOLT,CURR,RES,TEMP,NULL,CONF,SIM"
LEADS_MOHM: Final = 6.5  # of its own, as worn leads have
SECONDS: Final = 600.0
MOST_BYTES: Final = 65_536  # of a line that does not end
TORN_S: Final = 0.2
Misbehaviour = Literal[
    "silent",
    "garbage",
    "drop",
    "range",
    "stranger",
    "doubled",
    "surplus",
    "late",
    "torn",
    "unit",
    "flood",
]
_LINE: Final = ("silent", "doubled", "surplus", "late", "torn", "flood")
"""What is wrong with a line of answers, not with a reading."""
_NO_ERROR: Final = '0,"No error"'


class StandInTester(Listener):
    """Answers SCPI lines over TCP as a tester would, to several connections.

    Args:
        flaws: of the harnesses: each is built into the first that can have it.
        faults: of the boat.
        misbehaves: what it does instead of measuring, to try what comes of it.
        after: so many readings later.
    """

    def __init__(
        self,
        draft: Draft,
        flaws: Iterable[Flaw] = (),
        faults: Iterable[Fault] = (),
        *,
        port: int = 0,
        seed: int = 1,
        copper_c: float = 20.0,
        misbehaves: Misbehaviour | None = None,
        after: int = 0,
        told: Callable[[str], None] = lambda _: None,
    ) -> None:
        self.told, self.copper_c = told, copper_c
        self.misbehaves, self._left = misbehaves, after
        plans = ring_plans(draft, copper_c)
        waiting = list(flaws)
        self._steps = {step.id: step for plan in plans for step in plan.steps}
        self._built = {plan.specimen.id: self._build(plan, waiting, seed) for plan in plans}
        if waiting:
            raise FlawError(f"found {waiting[0]}, which none of the harnesses can have")
        self._boat = BuiltBoat(draft, faults, seed=seed)
        self._harness = plans[0].specimen.id if plans else ""
        self._probes = ("", "")
        self._zero_mohm = 0.0
        self._lifted: tuple[str, ...] = ()
        self._error = _NO_ERROR
        self._measured_last, self._enabled = "", "0"
        self._wrong: str | None = None  # with the line that is about to be sent
        self._kept_back = b""
        self._one_at_a_time = threading.Lock()
        super().__init__(port)

    @staticmethod
    def _build(plan: RingPlan, waiting: list[Flaw], seed: int) -> BuiltHarness:
        """Build a harness with those of the flaws that it can have."""
        mine: list[Flaw] = []
        for flaw in list(waiting):
            try:
                BuiltHarness(plan.specimen, [flaw])
            except FlawError:
                continue
            mine.append(flaw)
            waiting.remove(flaw)
        return BuiltHarness(plan.specimen, mine, seed=seed, copper_c=plan.copper_c)

    def mend(self, names: Sequence[str]) -> None:
        """Build the harness on the bench anew without the flaws of these wires and plugs.

        With none on the bench it is the boat that is mended.
        """
        if not self._harness:
            self._boat = self._boat.mended(names)
            return
        old = self._built[self._harness]
        kept = [flaw for flaw in old.flaws if frozenset(names).isdisjoint(flaw.touches)]
        self._built[self._harness] = BuiltHarness(old.specimen, kept, copper_c=old.copper_c)

    def talk(self, link: socket.socket) -> None:
        """Answer one connection until it ends."""
        link.settimeout(SECONDS)
        with contextlib.suppress(OSError):
            self._talk(link)
        self.told("the connection was closed")

    def _talk(self, link: socket.socket) -> None:
        waiting = b""
        while part := link.recv(4096):
            waiting += part
            *lines, waiting = waiting.split(b"\n")
            if len(waiting) > MOST_BYTES:
                self.told(f"found a line of more than {MOST_BYTES} bytes")
                return
            for line in lines:
                with self._one_at_a_time:
                    self._wrong = None
                    commands = _commands(line.decode("utf-8", "replace"))
                    spoken = [x for x in map(self._answer, commands) if x is not None]
                    wrong = self._wrong
                if "drop" in spoken:
                    return
                if spoken:
                    self._speak(link, ";".join(spoken).encode() + b"\n", wrong)

    def _speak(self, link: socket.socket, line: bytes, wrong: str | None) -> None:
        """Send a line of answers, or what is wrong instead of it."""
        late, self._kept_back = self._kept_back, b""
        if wrong == "silent":
            return
        if wrong == "late":
            self._kept_back = line
        elif wrong == "torn":
            link.sendall(line[:3])
            time.sleep(TORN_S)
            link.sendall(line[3:])
        elif wrong == "flood":
            for _ in range(64):
                link.sendall(b"7" * 4096)
        else:
            before = b"5.0E0\n" if wrong == "surplus" else b""
            link.sendall(late + before + line * (2 if wrong == "doubled" else 1))

    def _answer(self, line: str) -> str | None:
        head, _, rest = line.strip().lstrip(":").partition(" ")
        try:
            given = next(csv.reader([rest], skipinitialspace=True), []) if rest else []
            return self._done(head.upper(), given)
        except (FlawError, BuiltBoatError, KeyError, ValueError) as error:
            self._error = f'-200,"{str(error).strip(chr(39))}"'
        except NoOperatingPointError as error:
            self._error = f'-200,"{error}"'
        except IndexError:
            self._error = '-109,"Missing parameter"'
        return str(OVERLOAD) if head.endswith("?") else None

    def _done(self, head: str, given: Sequence[str]) -> str | None:
        if head == "*IDN?":
            return "nobody" if self.misbehaves == "stranger" else IDENTITY
        if head == "*OPT?":
            return OPTIONS
        if head == "*ESE?":
            return self._enabled
        if head == "CONF?":
            return f'"{self._measured_last}"'
        if head == "SYST:ERR?":
            told, self._error = self._error, _NO_ERROR
            return told
        if head in ("*RST", "*CLS"):
            self._error = _NO_ERROR
        elif head == "*ESE":
            self._enabled = str(int(given[0]))
        elif head == "SIM:PROB":
            self._probes = (given[0], given[1])
        elif head == "CALC:NULL:ACQ":
            self._zero_mohm = LEADS_MOHM + self._held_mohm()
        elif head == "SIM:LIFT":
            self._lifted = tuple(given)
        elif head == "SIM:HARN":
            if given[0] and given[0] not in self._built:
                raise FlawError(f"found {given[0]!r}, expected a harness")
            self._harness = given[0]
        elif head == "SIM:MEND":
            self.mend(given)
        elif head == "SIM:STAT":
            self._boat.set(dict(zip(given[1::2], given[2::2], strict=True)), given[0])
        elif head == "SIM:LOOK?":
            return self._looked(given[0])
        elif head.startswith("MEAS:") and head.endswith("?"):
            return self._measured(head[5:-1])
        else:
            self._error = f'-113,"Undefined header: {head}"'
        return None

    def _looked(self, step: str) -> str:
        kind, _, subject = step.partition(" ")
        if step == "seen":
            return ",".join(self._boat.seen())
        found = self._steps.get(step)
        wire = self._steps.get(f"wire {subject}") if kind == "print" else None
        if found is None and wire is not None:
            found = wire._replace(kind="print")
        if found is None:
            raise FlawError(f"found {step!r}, expected a step of its harnesses")
        return "1" if self._built[self._harness].looks(found) else "0"

    def _held_mohm(self) -> float:
        """Return what lies between the probes, without their leads; nothing where they touch."""
        red, black = self._probes
        return self._built[self._harness].read_mohm(red, black) if red else 0.0

    def _measured(self, quantity: str) -> str:
        self._measured_last = quantity
        if quantity == "TEMP":
            return f"{self.copper_c:.1f}"
        if self.misbehaves and self._left <= 0:
            wrong, self.misbehaves = self.misbehaves, None
            if wrong == "drop":
                return wrong
            if wrong == "unit":
                self._measured_last = "TEMP"
            if wrong in _LINE:
                self._wrong = wrong
            if wrong in ("garbage", "range"):
                return "1.2.3 mangled" if wrong == "garbage" else "-7.7E12"
        self._left -= 1
        red, black = self._probes
        if quantity == "VOLT":
            return f"{self._boat.read_volts(red, black):.4f}"
        if quantity == "CURR":
            return f"{self._boat.read_amps(red):.4f}"
        if quantity == "RES":
            return _shown(self._boat.read_ohm(red, black))
        harness = self._built[self._harness]
        if quantity == "FRES":
            return _shown((self._held_mohm() + LEADS_MOHM - self._zero_mohm) / 1000)
        if quantity == "DIOD":
            return _shown(harness.read_diode(red, black))
        if quantity == "INS":
            return _shown(harness.read_insulation(red, self._lifted) * 1e6)
        raise ValueError(f"{quantity} is not measured")


def _commands(line: str) -> list[str]:
    """Return the commands of a line: apart at semicolons outside strings."""
    parts, inside, at = [""], False, 0
    for sign in line:
        inside ^= sign == '"'
        if sign == ";" and not inside:
            parts.append("")
            at += 1
        else:
            parts[at] += sign
    return [part for part in parts if part.strip()]


def _shown(ohm: float) -> str:
    return f"{OVERLOAD:.1E}" if math.isinf(ohm) else f"{ohm:.7E}"
