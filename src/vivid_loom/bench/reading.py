"""A step read by a tester: where the probes go, and the reading in the step's unit."""

from typing import Final

from vivid_loom.bench.aboard.plan import AliveStep
from vivid_loom.bench.devices.tester import BenchTester, Quantity
from vivid_loom.bench.ringing.plan import Step
from vivid_loom.bench.ringing.specimen import Specimen

__all__ = ["read_aboard", "read_step"]

_ABOARD: Final[dict[str, Quantity]] = {"volts": "VOLT", "amps": "CURR", "ohm": "RES"}


def read_step(tester: BenchTester, specimen: Specimen, step: Step) -> float:
    """Return what a tester reads in a step of ringing out, in its unit.

    Raises:
        BenchTesterError: there is no reading.
    """
    tester.take(specimen.id)
    if step.kind == "zero":
        tester.hold("", "")
        tester.zero()
        return tester.read("FRES") * 1000
    if step.kind == "net":
        tester.lift(specimen.net_of[step.red].pins)
        tester.hold(step.red)
        return tester.read("INS") / 1e6
    tester.hold(step.red, step.black)
    if step.kind == "lamp":
        return tester.read("DIOD")
    return tester.read("FRES") * 1000


def read_aboard(tester: BenchTester, step: AliveStep) -> float:
    """Return what a meter reads in a step of making alive, in its unit.

    Raises:
        BenchTesterError: there is no reading.
    """
    alone = step.subject if step.part in ("circuits", "find") else ""
    tester.stand(step.states, alone)
    tester.hold(step.red, step.black)
    return tester.read(_ABOARD[step.kind])
