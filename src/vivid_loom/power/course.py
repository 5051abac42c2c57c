"""What comes of a fault, in order: what opens first, what that changes, and on to rest."""

import math
from collections.abc import Mapping
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from vivid_loom.netlist import Device
from vivid_loom.power.bands import FRESH, Edges, left, passed
from vivid_loom.power.board import Board
from vivid_loom.power.fault import Fault, Faulted, faulted
from vivid_loom.power.powered import Powered, power_up
from vivid_loom.power.setting import Setting
from vivid_loom.standards import ampacity, conductor, heating, short_circuit
from vivid_loom.standards.source import NotInTableError

__all__ = ["Course", "Event", "Wires", "course", "wires_of"]

MOST_EVENTS: Final = 24
LASTING_S: Final = 3600.0  # what stands for an hour stands: temperatures are taken then
Floats = NDArray[np.float64]


class Wires(NamedTuple):
    """The wires of a board as arrays, all of shape (n,).

    Attributes:
        ambient_c: around them, so that their derating is in it.
        insulation_c: what they may stand for good; ``short_c`` for a few seconds.
    """

    ids: tuple[str, ...]
    area_mm2: Floats
    ampacity_a: Floats
    time_constant_s: Floats
    insulation_c: float
    short_c: float


def wires_of(board: Board) -> Wires:
    """Return the wires of a board."""
    insulation_c = board.draft.aboard.profile.insulation_c
    area, bears = [], []
    for wire in board.net.conductors:
        row = board.draft.circuit(wire.circuit)
        derating = row.sized.derating if row and row.sized else 1.0
        area.append(conductor.area_mm2(wire.gauge))
        try:
            bears.append(derating * ampacity.ampacity_a(wire.gauge, insulation_c))
        except NotInTableError:  # what a maker ties in may be thinner than the table prints
            bears.append(derating * 5.0 * conductor.area_mm2(wire.gauge))
    areas, amps = np.array(area), np.array(bears)
    return Wires(
        tuple(board.conductors),
        areas,
        amps,
        heating.time_constant_s(areas, amps, insulation_c),
        float(insulation_c),
        short_circuit.short_limit_c(insulation_c),
    )


class Event(NamedTuple):
    """Something that opens, or the rest that follows.

    Attributes:
        early_s, late_s: since the fault: when it opens at the earliest, and for certain.
        opens: id of the contact whose device opens; '' at rest.
        or_opens: others that may open before it: their bands overlap.
        amps: through it.
        powered: what flows until then.
        hottest: the wire that is hottest then; ``hottest_c`` how hot.
    """

    early_s: float
    late_s: float
    opens: str
    or_opens: tuple[str, ...]
    amps: float
    powered: Powered
    hottest: str
    hottest_c: float


class Course(NamedTuple):
    """What comes of a fault.

    Attributes:
        before: as it was.
        burnt: wires that became hotter than they stand, with how hot.
        lost: ids of what ran before and does not at rest.
        woken: what runs at rest and did not before.
    """

    fault: Fault
    before: Powered
    events: tuple[Event, ...]
    burnt: tuple[tuple[str, float], ...]
    lost: tuple[str, ...]
    woken: tuple[str, ...]

    @property
    def rest(self) -> Powered:
        """What stands in the end."""
        return self.events[-1].powered

    @property
    def opened(self) -> tuple[str, ...]:
        """Ids of the contacts whose devices opened, in order."""
        return tuple(event.opens for event in self.events if event.opens)


class _Devices:
    """How far each device has come towards opening: shares of both edges of its band."""

    def __init__(self, board: Board, other: Mapping[str, Device | None]) -> None:
        held = {c.id: other.get(c.id, c.device) for c in board.devices}
        self.held = {name: device for name, device in held.items() if device}
        self.passed = dict.fromkeys(self.held, FRESH)

    def left(self, amps: Mapping[str, float]) -> dict[str, Edges]:
        """Return for each device how long it still holds for certain, and has opened by."""
        return {
            name: left(device, abs(amps.get(name, 0.0)), self.passed[name])
            for name, device in self.held.items()
        }

    def pass_(self, amps: Mapping[str, float], seconds: float) -> None:
        """Let time go by at these currents."""
        for name, device in self.held.items():
            gone = self.passed[name]
            self.passed[name] = passed(device, abs(amps.get(name, 0.0)), seconds, gone)


def course(board: Board, setting: Setting, fault: Fault) -> Course:
    """Return what comes of a fault in a setting.

    Raises:
        FaultError: a fault that cannot be.
        NoOperatingPointError: no balance was found.
    """
    before = power_up(board, setting)
    made = faulted(board, fault)
    events, burnt = _events(made, setting, before)
    first, last = before.running, events[-1].powered.running
    own = _touched(board, fault)
    return Course(
        fault,
        before,
        events,
        burnt,
        tuple(sorted(e for e in first - last if board.elements[e].part != own)),
        tuple(sorted(last - first)),
    )


def _touched(board: Board, fault: Fault) -> str:
    return fault.at if fault.at in board.draft.aboard.loads else ""


def _events(
    made: Faulted, setting: Setting, before: Powered
) -> tuple[tuple[Event, ...], tuple[tuple[str, float], ...]]:
    board, wires = made.board, wires_of(made.board)
    branches = _branches_of(made, wires)
    celsius = heating.resting_c(
        _through(before.amps, [(name,) for name in wires.ids]),
        wires.area_mm2,
        wires.time_constant_s,
    )
    celsius = np.minimum(celsius, wires.insulation_c)
    devices = _Devices(board, made.devices)
    hot: dict[str, float] = {}
    gone = set(made.opened)
    early = late = 0.0
    events: list[Event] = []
    states = before.states
    while True:
        now = power_up(board, setting, opened=gone, welded=made.welded, before=states)
        states = now.states
        amps = _through(now.amps, branches)
        still = {k: v for k, v in devices.left(now.amps).items() if k not in gone}
        opening = min(still, key=lambda name: still[name].late, default="")
        lasts = not opening or still[opening].late == math.inf or len(events) >= MOST_EVENTS
        seconds = LASTING_S if lasts else still[opening].late
        celsius = heating.after_c(celsius, amps, seconds, wires.area_mm2, wires.time_constant_s)
        limit = wires.insulation_c if seconds > short_circuit.FAR_END_LIMIT_S else wires.short_c
        for i in np.flatnonzero(celsius > limit + 0.5).tolist():
            hot[wires.ids[i]] = max(float(celsius[i]), hot.get(wires.ids[i], 0.0))
        hottest = int(np.argmax(celsius)) if len(celsius) else 0
        first = still[opening].early if not lasts else 0.0
        others = tuple(
            sorted(n for n, edge in still.items() if n != opening and edge.early < seconds)
        )
        event = Event(
            early + first,
            late + (0.0 if lasts else seconds),
            "" if lasts else opening,
            () if lasts else others,
            abs(now.amps.get(opening, 0.0)) if not lasts else 0.0,
            now,
            wires.ids[hottest] if wires.ids else "",
            float(celsius[hottest]) if wires.ids else 0.0,
        )
        events.append(event)
        if lasts:
            return tuple(events), tuple(sorted(hot.items(), key=lambda item: -item[1]))
        devices.pass_(now.amps, seconds)
        early, late = event.early_s, event.late_s
        gone.add(opening)


def _branches_of(made: Faulted, wires: Wires) -> list[tuple[str, ...]]:
    """Return by wire the branches it consists of: two where it is touched in between."""
    beyond = {name for name in made.parts if name.endswith(" beyond")}
    return [(n, f"{n} beyond") if f"{n} beyond" in beyond else (n,) for n in wires.ids]


def _through(amps: Mapping[str, float], branches: list[tuple[str, ...]]) -> Floats:
    """Return the greatest current in any branch of each wire."""
    return np.array([max(abs(amps.get(n, 0.0)) for n in each) for each in branches], dtype=float)
