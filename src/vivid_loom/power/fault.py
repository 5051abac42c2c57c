"""What can be wrong with a boat, and the network it makes of it."""

from collections.abc import Mapping
from typing import Final, Literal, NamedTuple, get_args

from vivid_loom.drafting.places.feeders import MINUS_STUD
from vivid_loom.netlist import Conductor, Device
from vivid_loom.network import Branch, Draw
from vivid_loom.power.board import Board

__all__ = ["HULL", "RETURN", "Fault", "FaultError", "Faulted", "faulted", "read_fault", "return_of"]

RETURN, HULL = "return", "hull"
SHORT_OHM: Final = 0.001  # copper on copper; our choice
CORRODED_OHM: Final = 0.2  # a green joint; our choice
Kind = Literal[
    "open",
    "short",
    "corroded",
    "welded",
    "dead",
    "device",
    "bridged",
    "reversed",
    "swapped",
    "stall",
]
_KINDS: Final[tuple[Kind, ...]] = get_args(Kind)


class FaultError(ValueError):
    """A fault that cannot be: what was found and what was expected."""


class Fault(NamedTuple):
    """Something that is wrong.

    Attributes:
        at: a wire or joint; a load that is shorted inside or whose motor is held; a switch whose
            contact is welded or dead; the circuit whose device it is; a battery that is turned
            round; a plug.
        to: what it touches: 'return', 'hull' or another wire; for swapped plugs the other one.
        share: how far along the wire, from where it starts.
        ohm: what corrosion adds.
        rating_a: of the wrong device; 0 for none fitted.
    """

    kind: Kind
    at: str
    to: str = RETURN
    share: float = 0.5
    ohm: float = CORRODED_OHM
    rating_a: float = 0.0

    def __str__(self) -> str:
        extra = ""
        if self.kind == "short":
            extra = f":{self.to}@{self.share:g}"
        elif self.kind == "swapped":
            extra = f":{self.to}"
        elif self.kind == "corroded":
            extra = f"={self.ohm:g}"
        elif self.kind == "device":
            extra = f"={self.rating_a:g}"
        return f"{self.kind}:{self.at}{extra}"


class Faulted(NamedTuple):
    """A board with something wrong.

    Attributes:
        opened, welded: ids of contacts and conductors that are interrupted, or never open.
        devices: by contact, the device that is there now; None for a bridge.
        parts: of a wire that is touched in between, the ids of its branches.
    """

    board: Board
    opened: frozenset[str] = frozenset()
    welded: frozenset[str] = frozenset()
    devices: Mapping[str, Device | None] = {}
    parts: tuple[str, ...] = ()


def read_fault(told: str) -> Fault:
    """Read 'short:C05-P2:hull@0.3', 'open:C05-P2', 'corroded:C05-P2=0.5', 'device:C05=30'.

    Raises:
        FaultError: what is none of these.
    """
    kind, _, rest = told.partition(":")
    if kind not in _KINDS or not rest:
        raise FaultError(f"found {told!r}, expected one of {', '.join(_KINDS)}, ':' and a place")
    rest, _, share = rest.partition("@")
    rest, _, figure = rest.partition("=")
    at, _, to = rest.partition(":")
    try:
        along, number = float(share or 0.5), float(figure or "nan")
    except ValueError:
        raise FaultError(f"found {told!r}, expected a number after '@' or '='") from None
    if not 0 <= along <= 1:
        raise FaultError(f"found {told!r}, expected a share from 0 to 1 after '@'")
    given = figure != ""
    return Fault(
        kind,
        at,
        to or RETURN,
        along,
        number if given and kind == "corroded" else CORRODED_OHM,
        number if given and kind == "device" else 0.0,
    )


def faulted(board: Board, fault: Fault) -> Faulted:
    """Return a board with a fault in it.

    Raises:
        FaultError: a place that is not there.
    """
    return _MAKERS[fault.kind](board, fault)


def _interrupted(board: Board, fault: Fault) -> Faulted:
    _branch(board, fault.at)
    return Faulted(board, opened=frozenset({fault.at}))


def _corroded(board: Board, fault: Fault) -> Faulted:
    old = _branch(board, fault.at)
    return Faulted(_with(board, {old.id: (old._replace(ohm=old.ohm + fault.ohm),)}))


def _shorted(board: Board, fault: Fault) -> Faulted:
    if fault.at in board.draft.aboard.loads:
        draw = next((d for d in board.network.draws if board.elements[d.id].part == fault.at), None)
        if draw is None:
            raise FaultError(f"{fault.at} draws nothing here: its current is not known")
        return Faulted(_joined(board, draw.plus, draw.minus), parts=(FAULT,))
    wire = _wire(board, fault.at)
    replaced, node = _split(board, wire, fault.share)
    if fault.to in board.conductors:
        more, other = _split(board, _wire(board, fault.to), fault.share)
        replaced |= more
    elif fault.to == RETURN:
        other = return_of(board, wire)
    elif fault.to == HULL:
        if board.draft.aboard.profile.negative_to_hull == "isolated":
            return Faulted(board)  # nothing flows into a hull that is tied to nothing
        other = board.network.reference
    else:
        raise FaultError(f"found {fault.to!r}, expected 'return', 'hull' or a wire")
    parts = tuple(branch.id for each in replaced.values() for branch in each)
    return Faulted(_joined(_with(board, replaced), node, other), parts=(*parts, FAULT))


FAULT: Final = "fault"


def _joined(board: Board, a: str, b: str) -> Board:
    branches = (*board.network.branches, Branch(FAULT, a, b, SHORT_OHM))
    return board.altered(branches=branches)


def _split(
    board: Board, wire: Conductor, share: float
) -> tuple[dict[str, tuple[Branch, ...]], str]:
    """Return what a wire becomes with a node in it, and that node."""
    if share <= 0 or share >= 1:
        return {}, wire.ends[1 if share >= 1 else 0]
    old, node = _branch(board, wire.id), f"{wire.id} bare"
    first = Branch(old.id, old.a, node, old.ohm * share)
    last = Branch(f"{old.id} beyond", node, old.b, old.ohm * (1 - share))
    return {old.id: (first, last)}, node


def _with(board: Board, replaced: Mapping[str, tuple[Branch, ...]]) -> Board:
    branches = (b for old in board.network.branches for b in replaced.get(old.id, (old,)))
    return board.altered(branches=tuple(branches))


def _branch(board: Board, name: str) -> Branch:
    found = next((b for b in board.network.branches if b.id == name), None)
    if found is None:
        raise FaultError(f"found {name!r}, expected the id of a wire or a contact")
    return found


def _wire(board: Board, name: str) -> Conductor:
    if name not in board.conductors:
        raise FaultError(f"found {name!r}, expected the id of a wire")
    return board.conductors[name]


def return_of(board: Board, wire: Conductor) -> str:
    """Return the terminal of the return that runs beside a wire: its load's, or its bus's bar.

    Beside what leads to a device lies the negative of what it leaves.
    """
    terminals, net = board.net.terminals_by_id, board.draft.aboard.boat.network
    for end in reversed(wire.ends):
        part = terminals[end].part
        minus = f"{part} minus"
        if part in board.draft.aboard.loads and minus in terminals:
            return minus
    row = board.draft.circuit(wire.circuit)
    place = ""
    if row is not None:
        place = row.planned.bus or net.bus_at(row.planned.feeds or row.planned.source)
        if any(each.stub and each.id == wire.id for each in row.wires):
            place = net.bus_at(row.planned.source)
    bar = f"{place} {MINUS_STUD if place in net.supplies else 'bar'}"
    return bar if bar in terminals else board.network.reference


def _moved(board: Board, fault: Fault) -> Faulted:
    """Return a switch whose contacts are welded or dead."""
    mine = frozenset(c.id for c in board.moving if c.actuator == fault.at)
    if not mine:
        raise FaultError(f"found {fault.at!r}, expected a switch, key, relay or float")
    return Faulted(board, welded=mine) if fault.kind == "welded" else Faulted(board, opened=mine)


def _device(board: Board, fault: Fault) -> Faulted:
    held = next((c for c in board.devices if c.device and c.device.listed == fault.at), None)
    if held is None or held.device is None:
        raise FaultError(f"found {fault.at!r}, expected a circuit or feeder with a device")
    if fault.kind == "bridged":
        return Faulted(board, devices={held.id: None})
    if fault.rating_a <= 0:
        return Faulted(board, opened=frozenset({held.id}))
    other = held.device._replace(rating_a=fault.rating_a)
    return Faulted(board, devices={held.id: other})


def _reversed(board: Board, fault: Fault) -> Faulted:
    if fault.at not in board.batteries:
        raise FaultError(f"found {fault.at!r}, expected one of {', '.join(board.batteries)}")
    sources = tuple(
        s._replace(plus=s.minus, minus=s.plus) if s.id == fault.at else s
        for s in board.network.sources
    )
    return Faulted(board.altered(sources=sources))


def _swapped(board: Board, fault: Fault) -> Faulted:
    """Return two plugs mated crosswise, as far as they have the same cavities."""
    sides = [
        {
            c.id.rpartition(" – ")[0].split(" cavity ")[1].split()[0]: c
            for c in board.net.contacts
            if c.part == plug and " cavity " in c.id
        }
        for plug in (fault.at, fault.to)
    ]
    if not all(sides):
        raise FaultError(f"found {fault.at!r} and {fault.to!r}, expected two plugs")
    replaced: dict[str, tuple[Branch, ...]] = {}
    for cavity in sides[0].keys() | sides[1].keys():
        one, other = (side.get(cavity) for side in sides)
        for mine, theirs in ((one, other), (other, one)):
            if mine is None:
                continue
            old = _branch(board, mine.id)
            replaced[mine.id] = (old._replace(b=theirs.ends[1]),) if theirs else ()
    return Faulted(_with(board, replaced))


def _stalled(board: Board, fault: Fault) -> Faulted:
    load = board.draft.aboard.loads.get(fault.at)
    if load is None or not load.motor or not load.running_a:
        raise FaultError(f"found {fault.at!r}, expected a load with a motor whose current is known")
    held_a = load.locked_rotor_a or 5 * load.running_a  # usual where nobody says; our choice

    def held(draw: Draw) -> Draw:
        if board.elements[draw.id].part != fault.at:
            return draw
        return draw._replace(law="resistance", amps=held_a)

    return Faulted(board.altered(draws=tuple(held(d) for d in board.network.draws)))


_MAKERS: Final = {
    "open": _interrupted,
    "short": _shorted,
    "corroded": _corroded,
    "welded": _moved,
    "dead": _moved,
    "device": _device,
    "bridged": _device,
    "reversed": _reversed,
    "swapped": _swapped,
    "stall": _stalled,
}
