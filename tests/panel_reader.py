"""An independent reader of a panel: from the printed cut list alone, with a graph library.

It knows what a switch's marks mean, that blocks and batteries feed and buses take home, and
nothing of how the wiring came about.
"""

import re
from collections.abc import Iterable, Mapping
from typing import NamedTuple

import networkx as nx

__all__ = ["Kind", "Row", "Seen", "behaviour"]

Row = dict[str, str]
Node = tuple[str, str]


class Kind(NamedTuple):
    """What a switch is by its own sheet.

    Attributes:
        lamps: by name, the marks between which it hangs inside.
    """

    poles: int
    presses: tuple[str, ...]
    lamps: Mapping[str, tuple[str, str]]


class Seen(NamedTuple):
    """What a reader sees at one state of one switch, as names of leads and lamps."""

    runs: frozenset[str]
    lit: frozenset[str]
    shorted: bool


def _graph(rows: Iterable[Row]) -> "nx.Graph[Node]":
    graph: nx.Graph[Node] = nx.Graph()
    for row in rows:
        a, b = ((row[f"{side}_place"], row[f"{side}_point"]) for side in ("from", "to"))
        graph.add_edge(a, b)
    for place, point in list(graph):
        if re.fullmatch(r"pole \d+ in", point):  # a strip joins both sides of a pole
            graph.add_edge((place, point), (place, point.replace(" in", " out")))
        if point.startswith("cavity"):
            continue
    return graph


def behaviour(
    rows: list[Row],
    kinds: Mapping[str, Kind],
    states: Mapping[str, str],
    feeds: frozenset[str],
    homes: frozenset[str],
) -> Seen:
    """Return what runs and is lit with levers in these states, floats down.

    Args:
        rows: of the cut list.
        kinds: by place of the switch.
        states: by place of the switch, of those not at rest.
        feeds, homes: ids of places whose ways and studs feed, and whose screws take home.
    """
    graph = _graph(rows)
    for place, kind in kinds.items():
        state = states.get(place, "")
        if state in kind.presses:
            for pole in range(1, kind.poles + 1):
                graph.add_edge((place, f"{pole}C"), (place, f"{pole}{state[0].upper()}"))
    hot: set[Node] = set()
    cold: set[Node] = set()
    for group in nx.connected_components(graph):
        if any(n[0] in feeds and not n[1].startswith("minus") for n in group):
            hot |= group
        if any(n[0] in homes or (n[0] in feeds and n[1].startswith("minus")) for n in group):
            cold |= group
    lit = frozenset(
        f"{place} {name}"
        for place, kind in kinds.items()
        for name, (plus, minus) in kind.lamps.items()
        if (place, plus) in hot and (place, minus) in cold and (place, plus) not in cold
    )
    leads = ("plus", "manual", "up", "down", "lamp")  # the automatic lead waits for its float
    returns = {"up": ("down", "minus"), "down": ("up", "minus")}
    runs = frozenset(
        f"{place} {lead}"
        for place, lead in hot
        if lead in leads
        and place not in kinds
        and any((place, back) in cold for back in returns.get(lead, ("minus",)))
    )
    return Seen(runs, lit, bool(hot & cold))
