"""The chafe scan: every wire and joint broken, shorted and corroded, in every scenario.

What each fault does is worked out from the scenario's one factorisation, all of them side by
side: a fault, a device that opens and a relay that lets go are changes of a few branches.
"""

import math
from collections import defaultdict
from collections.abc import Iterable, Iterator, Mapping, Sequence
from contextlib import suppress
from types import MappingProxyType
from typing import Final, Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

from vivid_loom.boat import Scenario
from vivid_loom.drafting.drafted import Draft
from vivid_loom.network import NoOperatingPointError
from vivid_loom.network.changed import Change, Changes
from vivid_loom.power.bands import FRESH, Edges, left, passed
from vivid_loom.power.board import Board
from vivid_loom.power.course import LASTING_S, MOST_EVENTS, wires_of
from vivid_loom.power.fault import CORRODED_OHM, SHORT_OHM, Fault, return_of
from vivid_loom.power.powered import MOST_PULLS, Powered, power_up, pulled, running
from vivid_loom.power.setting import SCENARIOS, Setting, scenario_setting
from vivid_loom.quantities.once import once
from vivid_loom.standards import heating
from vivid_loom.standards.short_circuit import FAR_END_LIMIT_S

__all__ = [
    "Probe",
    "Scan",
    "Scanned",
    "Tried",
    "by_fault",
    "is_safety",
    "probes_of",
    "scan_draft",
    "scan_scenario",
    "worst_first",
]

Floats = NDArray[np.float64]
ProbeKind = Literal["open", "short near", "short far", "corroded"]
FLOWS_A: Final = 1.0  # a short that passes less than this is no fire; our choice


class Probe(NamedTuple):
    """A fault that the scan tries.

    Attributes:
        at: id of the wire or contact.
        circuit: what it belongs to; '' for a part of several.
    """

    kind: ProbeKind
    at: str
    circuit: str

    @property
    def fault(self) -> Fault:
        """The fault to put into a boat."""
        if self.kind in ("short near", "short far"):
            return Fault("short", self.at, share=0.0 if self.kind == "short near" else 1.0)
        return Fault("open" if self.kind == "open" else "corroded", self.at)


class Scanned(NamedTuple):
    """What a fault does in one scenario.

    Attributes:
        opens: ids of the contacts whose devices open, in order; ``or_opens`` those that may open
            before the first.
        early_s, late_s: until the first of them opens.
        amps: through the fault at first; of a short, else 0.
        flows_on: a short that still flows at rest, in A.
        burnt: the hottest wire beyond what it stands, and how hot; ('', 0.0) where none is.
        lost: ids of the elements of other circuits that ran before and do not at rest.
        own: those of its own circuit.
        chatters: relays that pull and let go in turn.
    """

    probe: Probe
    scenario: Scenario
    opens: tuple[str, ...]
    or_opens: tuple[str, ...]
    early_s: float
    late_s: float
    amps: float
    flows_on: float
    burnt: tuple[str, float]
    lost: tuple[str, ...]
    own: tuple[str, ...]
    chatters: tuple[str, ...]


def probes_of(board: Board) -> tuple[Probe, ...]:
    """Return every fault to be tried: wires, and the joints between them."""
    found: list[Probe] = []
    for wire in board.net.conductors:
        kinds: tuple[ProbeKind, ...] = ("open", "corroded")
        if wire.role != "return":
            kinds = ("open", "short near", "short far", "corroded")
        found += [Probe(kind, wire.id, wire.circuit) for kind in kinds]
    landed: dict[str, set[str]] = defaultdict(set)
    for wire in board.net.conductors:
        for end in wire.ends:
            landed[end].add(wire.circuit)
    for contact in board.net.contacts:
        listed = contact.device.listed if contact.device else ""
        circuits = landed[contact.ends[0]] & landed[contact.ends[1]]
        circuit = listed or (next(iter(circuits)) if len(circuits) == 1 else "")
        found += [Probe("open", contact.id, circuit), Probe("corroded", contact.id, circuit)]
    return tuple(found)


class _Run:
    """One fault on its way to rest.

    Attributes:
        still: what is wrong, and stays.
        relays: contacts that coils have moved since.
        passed: shares of both edges of its band that each device has come.
    """

    def __init__(self, probe: Probe, still: tuple[Change, ...], states: Mapping[str, str]) -> None:
        self.probe, self.still, self.states = probe, still, dict(states)
        self.relays: tuple[Change, ...] = ()
        self.gone: list[str] = []
        self.or_opens: tuple[str, ...] = ()
        self.passed: dict[str, Edges] = {}
        self.early = self.late = 0.0
        self.amps: float | None = None
        self.pulls: list[dict[str, str]] = []
        self.chatters: tuple[str, ...] = ()
        self.events = 0
        self.burnt: tuple[str, float] = ("", 0.0)

    @property
    def changes(self) -> tuple[Change, ...]:
        opened = tuple(Change(0.0, branch=name) for name in self.gone)
        return (*self.still, *self.relays, *opened)


class Scan:
    """One scenario of a board, or any setting of it.

    Args:
        setting: in place of the scenario's.
        corroded_ohm: what corrosion adds to a wire or contact, where not the usual.
    """

    def __init__(
        self,
        board: Board,
        scenario: Scenario,
        setting: Setting | None = None,
        corroded_ohm: Mapping[str, float] = MappingProxyType({}),
    ) -> None:
        self.board, self.scenario, self.corroded_ohm = board, scenario, corroded_ohm
        self.setting = setting or scenario_setting(board.draft, scenario)
        self.base: Powered = power_up(board, self.setting)
        self.changes = Changes(self.base.point)
        self.wires = wires_of(board)
        solver = board.solver
        self.devices = [c for c in board.devices if c.id in solver.branch_index]
        self._at = np.array([solver.branch_index[c.id] for c in self.devices], dtype=np.int64)
        self._rated = np.array([c.device.rating_a for c in self.devices if c.device])
        self._wire_at = np.array([solver.branch_index[n] for n in self.wires.ids], dtype=np.int64)
        through = np.abs(self.base.point.branch_a[self._wire_at])
        self._start_c = np.minimum(
            heating.resting_c(through, self.wires.area_mm2, self.wires.time_constant_s),
            self.wires.insulation_c,
        )
        self._by_circuit = self._elements_by_circuit()
        self.afresh = 0

    def _elements_by_circuit(self) -> dict[str, frozenset[str]]:
        loads: dict[str, set[str]] = defaultdict(set)
        for row in self.board.draft.circuits:
            loads[row.id] |= set(row.planned.loads)
        found: dict[str, set[str]] = defaultdict(set)
        for element in self.board.net.elements:
            for circuit, names in loads.items():
                if element.part in names:
                    found[circuit].add(element.id)
        return {circuit: frozenset(ids) for circuit, ids in found.items()}

    def run(self, probes: Iterable[Probe]) -> list[Scanned]:
        """Try every fault; those that can do nothing here are left out."""
        return [scanned for scanned, _ in self.rests(probes)]

    def rests(self, probes: Iterable[Probe]) -> list[tuple[Scanned, Floats]]:
        """Return what ``run`` does, each with the volts of the solver's nodes at rest."""
        runs = [run for probe in probes if (run := self._begun(probe))]
        celsius = np.repeat(self._start_c[:, None], len(runs), axis=1)
        waiting = list(range(len(runs)))
        found: dict[int, tuple[Scanned, Floats]] = {}
        while waiting:
            solved = self.changes.of([runs[i].changes for i in waiting])
            self.afresh += solved.afresh
            steps = [self._step(runs[i], solved.x[:, k]) for k, i in enumerate(waiting)]
            done = np.array([step.seconds is not None for step in steps])
            if done.any():
                self._heat(
                    [runs[i] for i, d in zip(waiting, done, strict=True) if d],
                    celsius,
                    np.array(waiting)[done],
                    solved.x[:, done],
                    np.array([step.seconds for step in steps if step.seconds is not None]),
                )
            for k, i in enumerate(waiting):
                if steps[k].rests:
                    x = solved.x[:, k]
                    found[i] = (self._scanned(runs[i], x), x)
            waiting = [i for k, i in enumerate(waiting) if not steps[k].rests]
        return [found[i] for i in range(len(runs))]

    def _begun(self, probe: Probe) -> _Run | None:
        """Return a fault ready to be tried; None where nothing flows that it could change."""
        solver, standing = self.board.solver, self.base.point.standing
        index = solver.branch_index.get(probe.at)
        if index is None:
            return None
        if probe.kind in ("open", "corroded"):
            if abs(self.base.point.branch_a[index]) < 1e-3 or standing.siemens[index] <= 0:
                return None
            change = Change(self.siemens_of(probe), branch=probe.at)
            return _Run(probe, (change,), self.base.states)
        wire = self.board.conductors[probe.at]
        bare = wire.ends[0 if probe.kind == "short near" else 1]
        home = return_of(self.board, wire)
        volts = self.base.point.across(bare, home)
        if not abs(volts) > 0.5:
            return None
        return _Run(probe, (Change(1 / SHORT_OHM, a=bare, b=home),), self.base.states)

    def corroded(self, ohm: Mapping[str, float]) -> "Scan":
        """Return the same scan with other losses by corrosion, by the wire's or contact's id."""
        return Scan(self.board, self.scenario, self.setting, ohm)

    def siemens_of(self, probe: Probe) -> float:
        """Return what a wire or contact conducts once it is broken, corroded, or as it is."""
        siemens = float(self.board.solver.siemens[self.board.solver.branch_index[probe.at]])
        if probe.kind == "open":
            return 0.0
        if probe.kind != "corroded":
            return siemens
        return 1 / (1 / siemens + self.corroded_ohm.get(probe.at, CORRODED_OHM))

    def _step(self, run: _Run, x: Floats) -> "_Step":
        """Let a fault go one step further: coils first, then what opens next."""
        if self._coils(run, x):
            return _Step(None, rests=False)
        amps = self._device_amps(run, x)
        if run.amps is None:
            run.amps = self._fault_amps(run, x)
        still = self._left(run, amps)
        opening = min(still, key=lambda i: still[i].late, default=-1)
        run.events += 1
        if opening < 0 or still[opening].late == math.inf or run.events > MOST_EVENTS:
            return _Step(LASTING_S, rests=True)
        early, late = still[opening]
        name = self.devices[opening].id
        if not run.gone:
            run.early, run.late = early, late
            run.or_opens = tuple(
                sorted(
                    self.devices[i].id for i, e in still.items() if i != opening and e.early < late
                )
            )
        for i in still:
            device = self.devices[i]
            if device.device is not None:
                gone = run.passed.get(device.id, FRESH)
                run.passed[device.id] = passed(device.device, float(amps[i]), late, gone)
        run.gone.append(name)
        run.pulls = []
        return _Step(late, rests=False)

    def _coils(self, run: _Run, x: Floats) -> bool:
        """Let coils move what they move; tell whether anything did."""
        if not self.board.pulls or run.chatters:
            return False
        volts = {
            element: float(x[self._node(element, True)] - x[self._node(element, False)])
            for pull in self.board.pulls
            for element in pull.by
        }
        now = pulled(self.board, run.states, volts)
        actuators = self.board.net.actuators_by_id
        if all(run.states.get(k, actuators[k].states[0]) == v for k, v in now.items()):
            return False
        if now in run.pulls or len(run.pulls) > MOST_PULLS:
            cycle = run.pulls[run.pulls.index(now) :] if now in run.pulls else run.pulls
            run.chatters = tuple(
                sorted(k for k in now if len({each[k] for each in (*cycle, now)}) > 1)
            )
            return False
        run.pulls.append(now)
        run.states |= now
        run.relays = tuple(self._moved(run.states, now))
        return True

    def _node(self, element: str, plus: bool) -> int:
        ends = self.board.elements[element]
        return self.board.solver.node[ends.plus if plus else ends.minus]

    def _moved(self, states: Mapping[str, str], by_coil: Mapping[str, str]) -> Iterator[Change]:
        """Yield the contacts that coils have moved from where they were in the base."""
        solver, base = self.board.solver, self.base.point.standing.siemens
        for contact in self.board.moving:
            if contact.actuator in by_coil and contact.id in solver.branch_index:
                index = solver.branch_index[contact.id]
                closed = states[contact.actuator] in contact.closed_in
                siemens = float(solver.siemens[index]) if closed else 0.0
                if siemens != base[index]:
                    yield Change(siemens, branch=contact.id)

    def _device_amps(self, run: _Run, x: Floats) -> Floats:
        a, b = self.board.solver.branch_ends[:, self._at]
        siemens = self.base.point.standing.siemens[self._at].copy()
        for change in run.changes:
            for i, device in enumerate(self.devices):
                if change.branch == device.id:
                    siemens[i] = change.siemens
        through: Floats = np.abs(siemens * (x[a] - x[b]))
        return through

    def _fault_amps(self, run: _Run, x: Floats) -> float:
        change = run.still[0]
        if change.branch:
            return 0.0
        node = self.board.solver.node
        return abs(change.siemens * float(x[node[change.a]] - x[node[change.b]]))

    def _left(self, run: _Run, amps: Floats) -> dict[int, Edges]:
        """Return for the devices that are overloaded how long they hold, and have opened by."""
        found = {}
        for i in np.flatnonzero(amps > self._rated).tolist():
            device = self.devices[i]
            if device.id not in run.gone and device.device is not None:
                gone = run.passed.get(device.id, FRESH)
                found[i] = left(device.device, float(amps[i]), gone)
        return found

    def _heat(
        self,
        runs: Sequence[_Run],
        celsius: Floats,
        at: NDArray[np.int64],
        x: Floats,
        seconds: Floats,
    ) -> None:
        """Heat the wires of several faults, each for its own time."""
        wires, solver = self.wires, self.board.solver
        a, b = solver.branch_ends[:, self._wire_at]
        siemens = np.repeat(
            self.base.point.standing.siemens[self._wire_at][:, None], len(runs), axis=1
        )
        row = {name: i for i, name in enumerate(wires.ids)}
        for k, run in enumerate(runs):
            for change in run.still:
                if change.branch in row:
                    siemens[row[change.branch], k] = change.siemens
        amps = np.abs(siemens * (x[a] - x[b]))
        area, tau = wires.area_mm2[:, None], wires.time_constant_s[:, None]
        celsius[:, at] = heating.after_c(celsius[:, at], amps, seconds, area, tau)
        limit = np.where(seconds > FAR_END_LIMIT_S, wires.insulation_c, wires.short_c) + 0.5
        over = np.where(celsius[:, at] > limit, celsius[:, at], 0.0)
        hottest = np.argmax(over, axis=0)
        for k, run in enumerate(runs):
            most = float(over[hottest[k], k])
            if most > run.burnt[1]:
                run.burnt = (wires.ids[hottest[k]], most)

    def _scanned(self, run: _Run, x: Floats) -> Scanned:
        probe = run.probe
        runs_now = frozenset(running(self.board, self.setting, x))
        gone = self.base.running - runs_now
        mine = self._by_circuit.get(probe.circuit, frozenset())
        flows = self._fault_amps(run, x)
        return Scanned(
            probe,
            self.scenario,
            tuple(run.gone),
            run.or_opens,
            run.early,
            run.late,
            run.amps or 0.0,
            flows if flows > FLOWS_A else 0.0,
            run.burnt,
            tuple(sorted(gone - mine)),
            tuple(sorted(gone & mine)),
            run.chatters,
        )


class _Step(NamedTuple):
    """How a fault goes on: how long it stood so, None while coils move, and whether it rests."""

    seconds: float | None
    rests: bool


@once
def scan_draft(draft: Draft) -> tuple[Scanned, ...]:
    """Try every fault in every scenario that has an operating point; the worst come first."""
    board, rows = Board(draft), list[Scanned]()
    for scenario in SCENARIOS:
        with suppress(NoOperatingPointError):
            rows += scan_scenario(board, scenario)
    return tuple(worst_first(draft, rows))


def scan_scenario(board: Board, scenario: Scenario) -> list[Scanned]:
    """Try every fault in one scenario; those that change nothing in it are left out."""
    return Scan(board, scenario).run(probes_of(board))


def worst_first(draft: Draft, rows: Iterable[Scanned]) -> list[Scanned]:
    """Sort what was found: fire, then what nothing clears, then safety, then what else is lost."""

    def rank(row: Scanned) -> tuple[bool, bool, bool, int, float, str]:
        safety = any(is_safety(draft, element) for element in row.lost)
        return (
            not row.burnt[0],
            not row.flows_on,
            not safety,
            -len(row.lost),
            -row.late_s,
            row.probe.at,
        )

    return sorted(rows, key=rank)


class Tried(NamedTuple):
    """A fault in the scenario where it is worst, and how many others it shows in."""

    worst: Scanned
    others: int


def by_fault(rows: Iterable[Scanned]) -> list[Tried]:
    """Return each fault once, in the order given: the first of its rows is its worst."""
    found: dict[Probe, list[Scanned]] = {}
    for row in rows:
        found.setdefault(row.probe, []).append(row)
    return [Tried(same[0], len(same) - 1) for same in found.values()]


def is_safety(draft: Draft, element: str) -> bool:
    """Tell whether an element is of a load that must not go out with another."""
    load = draft.aboard.loads.get(element.rpartition(" ")[0])
    return bool(load and load.separation)
