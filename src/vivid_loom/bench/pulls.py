"""Pull tests: which crimps are sampled, what they must bear, and what a failed one holds back."""

from collections import defaultdict
from collections.abc import Iterable, Iterator, Sequence
from typing import NamedTuple

from vivid_loom.drafting import Draft
from vivid_loom.drafting.making.wire import End, Wire
from vivid_loom.quantities import Gauge, in_reading_order
from vivid_loom.standards.conductor import area_mm2
from vivid_loom.standards.terminals import pull_n

__all__ = ["Crimp", "CrimpGroup", "Pull", "Remade", "crimp_groups", "held_back", "samples_left"]


class Crimp(NamedTuple):
    """An end of a wire with something crimped on: 'C17-P1/to'."""

    end: str
    label: str


class CrimpGroup(NamedTuple):
    """Crimps made with one terminal on one gauge with one setting of one tool, as they are made.

    Attributes:
        newton: what a sample bears for one minute.
        samples: numbers of the crimps with which a test piece is made: first, every so many, last.
    """

    terminal: str
    gauge: Gauge
    jaw: str
    crimps: tuple[Crimp, ...]
    newton: float
    samples: tuple[int, ...]

    @property
    def id(self) -> str:
        """Terminal, gauge and jaw."""
        return f"{self.terminal} | {self.gauge} | {self.jaw}"


class Pull(NamedTuple):
    """A test piece that was pulled.

    Attributes:
        number: of the crimp in its group that it stands for.
        newton: what it bore for a minute, or came off at.
        tool: the tool's number.
    """

    group: str
    number: int
    newton: float
    tool: str
    passed: bool


class Remade(NamedTuple):
    """Crimps that were cut off and made anew."""

    ends: tuple[str, ...]


def _ends(draft: Draft, wire: Wire) -> Iterator[tuple[str, End]]:
    """Yield the ends of a wire that are crimped in this order; one that moved keeps its other."""
    stays = wire.id in draft.reuse.moved
    for side, end in (("from", wire.start), ("to", wire.end)):
        if not stays or end in draft.reuse.new_ends(wire):
            yield f"{wire.id}/{side}", end


def _sampled(count: int, every: int) -> tuple[int, ...]:
    return tuple(sorted({1, *range(every, count + 1, every), count}))


def crimp_groups(draft: Draft, wires: Sequence[Wire], every: int) -> tuple[CrimpGroup, ...]:
    """Return the crimps by terminal, gauge and jaw.

    Args:
        wires: in the order they are built.
        every: so many crimps to a sample, beside the first and the last.

    Raises:
        ValueError: ``every`` is below 1.
    """
    if every < 1:
        raise ValueError(f"found a sample every {every} crimps, expected 1 or more")
    found: dict[tuple[str, Gauge, str], list[Crimp]] = defaultdict(list)
    for wire in wires:
        for name, end in _ends(draft, wire):
            if end.termination.jaw:
                key = (end.termination.kind, wire.gauge, end.termination.jaw)
                found[key].append(Crimp(name, end.label))
    groups = (
        CrimpGroup(*key, tuple(crimps), pull_n(key[1]), _sampled(len(crimps), every))
        for key, crimps in found.items()
    )
    return tuple(sorted(groups, key=lambda g: (g.jaw, area_mm2(g.gauge), in_reading_order(g.id))))


def samples_left(group: CrimpGroup, events: Iterable[Pull | Remade]) -> tuple[int, ...]:
    """Return the samples whose last pull did not pass, or that have none."""
    mine = (e for e in events if isinstance(e, Pull) and e.group == group.id)
    passed = {pull.number: pull.passed for pull in mine}
    return tuple(number for number in group.samples if not passed.get(number))


def held_back(group: CrimpGroup, events: Iterable[Pull | Remade]) -> tuple[Crimp, ...]:
    """Return the crimps that a failed sample holds back: all since the last that had passed.

    Those that came after it are held as well, up to the next that had passed. A crimp is let go
    once it has been made anew; that a later sample bears its pull says nothing of it.

    Args:
        events: in the order they happened.
    """
    passed: set[int] = set()
    held: dict[Crimp, None] = {}
    for event in events:
        if isinstance(event, Remade):
            again = frozenset(event.ends)
            held = {crimp: None for crimp in held if crimp.end not in again}
        elif event.group == group.id and event.passed:
            passed.add(event.number)
        elif event.group == group.id:
            passed.discard(event.number)
            before = max((n for n in passed if n < event.number), default=0)
            after = min((n for n in passed if n > event.number), default=len(group.crimps) + 1)
            held |= dict.fromkeys(group.crimps[before : after - 1])
    return tuple(held)
