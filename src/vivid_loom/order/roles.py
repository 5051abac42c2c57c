"""What a load is, proposed from the words of its name, with what is usual for such a load."""

import dataclasses
import re
from collections.abc import Iterator, Sequence
from typing import Final, NamedTuple

from vivid_loom.boat import CircuitRequest, Fit, GenericLoad, Load, SwitchRequest, generic_loads
from vivid_loom.order.edits import Edit
from vivid_loom.order.load_edits import add_fit, change_loads

__all__ = ["UNKNOWN", "Proposal", "proposals", "proposed_kind", "take_roles", "with_role"]

UNKNOWN: Final = "unknown"
_SHORTEST, _LONGER = 4, 2  # 'light' finds 'lights' and 'demist' finds 'demister'


class Proposal(NamedTuple):
    """A load nobody has said the function of, and the kind its name sounds like; None for none."""

    load: Load
    kind: GenericLoad | None


def _words(text: str) -> list[str]:
    return re.findall(r"[a-z0-9]+", text.lower())


def _goes_by(kind: GenericLoad) -> Iterator[list[str]]:
    yield _words(kind.name.split(",")[0])
    yield from (_words(phrase) for phrase in kind.also)


def _is_in(phrase: list[str], name: list[str]) -> bool:
    """Tell whether the words of a phrase stand in a name in order, the last one maybe longer."""
    for start in range(len(name) - len(phrase) + 1):
        pairs = list(zip(phrase, name[start:], strict=False))
        if phrase and all(_alike(a, b) for a, b in pairs):
            return True
    return False


def _alike(word: str, written: str) -> bool:
    goes_on = written.startswith(word) and len(written) <= len(word) + _LONGER
    return word == written or (len(word) >= _SHORTEST and goes_on)


def proposed_kind(name: str) -> GenericLoad | None:
    """Return the kind of load a name sounds like: the one with most of its letters; None for none.

    Of several with the same words the first by id, so that a list reads the same every time.
    """
    words = _words(name)
    best: tuple[tuple[int, int], GenericLoad] | None = None
    for kind in sorted(generic_loads(), key=lambda kind: kind.id):
        for at, phrase in enumerate(_goes_by(kind)):
            score = (sum(map(len, phrase)), min(at, 1))  # words given for it before its name
            if _is_in(phrase, words) and (best is None or score > best[0]):
                best = (score, kind)
    return best[1] if best else None


def proposals(loads: Sequence[Load]) -> tuple[Proposal, ...]:
    """Return what the loads without a function are, as far as their names tell."""
    return tuple(
        Proposal(load, proposed_kind(load.name)) for load in loads if load.function == UNKNOWN
    )


def with_role(load: Load, kind: GenericLoad) -> Load:
    """Return the load with function, motor, demand, drop class and safety word of a kind."""
    return dataclasses.replace(
        load,
        function=kind.function,
        motor=kind.motor,
        demand=kind.demand,
        drop=kind.drop,
        safety=kind.safety,
        role_note=f"usual for this function: {kind.name}",
    )


def take_roles(
    taken: Sequence[tuple[Load, GenericLoad]],
    circuits: Sequence[CircuitRequest],
    switches: Sequence[SwitchRequest],
) -> Edit:
    """Give loads the roles their names propose, and their switches the rank that goes with them.

    Args:
        circuits, switches: all that are aboard.
    """
    ranks: dict[str, int] = {}
    for load, kind in taken:
        for circuit in circuits:
            if load.id in circuit.loads:
                for contact in circuit.contacts:
                    ranks[contact.switch] = min(ranks.get(contact.switch, 9), kind.rank)
    ranked = tuple(
        dataclasses.replace(s, rank=ranks[s.id])
        for s in switches
        if ranks.get(s.id, s.rank) != s.rank
    )
    given = change_loads(tuple(with_role(load, kind) for load, kind in taken), "function")[1]
    put = add_fit(Fit(switches=ranked))[1]
    whose = f"functions of {len(taken)} loads"
    if len(taken) == 1:
        whose = f"function of {taken[0][0].name}"
    return f"take the {whose}", lambda order: put(given(order))
