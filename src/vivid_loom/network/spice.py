"""A network as SPICE text, for another program to find the same voltages."""

import re
from collections.abc import Callable

from vivid_loom.network.records import IDLE_SHARE, LEAK_S, Converter, Draw, Source
from vivid_loom.network.solve import OperatingPoint, Solver

__all__ = ["node_names", "spice_text"]

OPTIONS = ".options reltol=1e-7 abstol=1e-9 vntol=1e-10 gmin=1e-18 itl1=2000 numdgt=15"


def node_names(solver: Solver) -> list[str]:
    """Return what the text calls the solver's nodes: n1, n2 … as the network first names them."""
    names: dict[int, str] = {}
    for at in solver.node.values():
        names.setdefault(at, f"n{len(names) + 1}")
    return [names[at] for at in range(solver.size)]


class _Names:
    """Gives every id a word of its own that SPICE takes."""

    def __init__(self) -> None:
        self._taken: set[str] = set()

    def name(self, letter: str, told: str) -> str:
        word = re.sub(r"[^a-z0-9]+", "_", told.lower()).strip("_")
        found, count = f"{letter}_{word}", 2
        while found in self._taken:
            found, count = f"{letter}_{word}_{count}", count + 1
        self._taken.add(found)
        return found


def _figure(x: float) -> str:
    return f"{x:.17g}"


def _drawn(draw: Draw, v: str) -> str:
    """Return the current of a draw as an expression in the voltage over it."""
    amps, least = _figure(draw.amps), _figure(draw.least_v)
    idle_v = IDLE_SHARE * draw.volts
    size = f"abs({v})"
    span = _figure(draw.least_v - idle_v)
    share = f"min(max(({size}-{_figure(idle_v)})/{span},0),1)"
    if draw.law == "resistance":
        by_law = f"{size}/{_figure(draw.volts)}"
    elif draw.law == "current":
        by_law = share
    else:
        by_law = f"{_figure(draw.volts)}/max({size},{least})*{share}"
    sign = f"sgn({v})" if draw.both_ways else f"u({v})"
    return f"{sign}*{amps}*{by_law}"


def _given(source: Source, v: str) -> str:
    inside = f"({_figure(source.volts)}-{v})*{_figure(1 / source.ohm)}"
    return f"min(max({inside},0),{_figure(source.limit_a or 0.0)})"


def _taken(converter: Converter, given: str, v_out: str, v_in: str) -> str:
    least = _figure(converter.least_v)
    power = f"max({v_out}*{given},0)/{_figure(converter.efficiency)}"
    return f"{power}/max({v_in},{least})*min(max({v_in}/{least},0),1)"


class _Deck:
    """Collects the lines of one point."""

    def __init__(self, point: OperatingPoint, say: Callable[[str], str]) -> None:
        self.point, self.say = point, say
        self.solver, self.standing = point.solver, point.standing
        self.names, self.nodes_called = _Names(), node_names(point.solver)
        self.lines: list[str] = []

    def at(self, node: str) -> str:
        """Return what the text calls a node; '0' for one that is held at 0 V."""
        at = self.solver.node[node]
        return self.nodes_called[at] if self.standing.live[at] else "0"

    def over(self, plus: str, minus: str) -> str:
        minus_at = self.at(minus)
        return f"v({self.at(plus)},{minus_at})" if minus_at != "0" else f"v({self.at(plus)})"

    def floats(self, node: str) -> bool:
        return bool(self.standing.floating[self.solver.node[node]])

    def nodes(self) -> None:
        told: dict[str, list[str]] = {}
        for node in self.solver.node:
            if not self.floats(node):
                told.setdefault(self.at(node), []).append(self.say(node))
        self.lines.append("* nodes")
        self.lines += [f"* {name}: {'; '.join(nodes)}" for name, nodes in told.items()]

    def branches(self) -> None:
        self.lines.append("* conductors and contacts")
        siemens = self.standing.siemens.tolist()
        for branch, conducts in zip(self.solver.branches, siemens, strict=True):
            if conducts > 0 and not self.floats(branch.a):
                name = self.names.name("r", branch.id)
                ends = f"{self.at(branch.a)} {self.at(branch.b)}"
                self.lines += [f"* {self.say(branch.id)}", f"{name} {ends} {_figure(1 / conducts)}"]

    def sources(self) -> dict[str, tuple[str, str]]:
        """Write the sources; return of those with a limit what they give, over what."""
        self.lines.append("* sources")
        given: dict[str, tuple[str, str]] = {}
        limits = iter(self.standing.bent.limit_a.tolist())
        for source in self.solver.network.sources:
            limit_a = None if source.limit_a is None else next(limits)
            if self.floats(source.plus):
                continue
            plus, minus = self.at(source.plus), self.at(source.minus)
            self.lines.append(f"* {self.say(source.id)}")
            if limit_a is None:
                inner = self.names.name("i", source.id)
                self.lines += [
                    f"v{inner} {inner} {minus} {_figure(source.volts)}",
                    f"r{inner} {inner} {plus} {_figure(source.ohm)}",
                ]
                continue
            v = self.over(source.plus, source.minus)
            gives = _given(source._replace(limit_a=limit_a), v)
            given[source.id] = (gives, v)
            self._bent(source.id, (minus, plus), gives)
        return given

    def takers(self, given: dict[str, tuple[str, str]]) -> None:
        """Write what takes current; converters by what their outputs give."""
        self.lines.append("* loads")
        network, amps = self.solver.network, self.standing.bent.amps.tolist()
        taken = [
            (d.id, d.plus, d.minus, _drawn(d._replace(amps=now), self.over(d.plus, d.minus)))
            for d, now in zip(network.draws, amps, strict=True)
        ]
        taken += [
            (c.id, c.plus, c.minus, _taken(c, *given[c.source], self.over(c.plus, c.minus)))
            for c in network.converters
            if c.source in given
        ]
        for name, plus, minus, drawn in taken:
            if not self.floats(plus) and self.at(plus) != self.at(minus):
                self.lines.append(f"* {self.say(name)}")
                self._bent(name, (self.at(plus), self.at(minus)), drawn)

    def _bent(self, name: str, ends: tuple[str, str], expression: str) -> None:
        start, end = ends
        self.lines.append(f"{self.names.name('b', name)} {start} {end} i={expression}")
        self.lines.append(f"{self.names.name('r', name + ' leak')} {start} {end} {1 / LEAK_S:g}")


def spice_text(point: OperatingPoint, title: str, say: Callable[[str], str] = str) -> str:
    """Return a network as it stands; what is open, or joined to no source, is left out.

    The voltages found, to four places, are where the other program may begin: a source with
    a limit has no slope to begin from.

    Args:
        say: words for a node or id, for the comments beside them.
    """
    deck = _Deck(point, say)
    deck.nodes()
    deck.branches()
    deck.takers(deck.sources())
    start = zip(deck.nodes_called, point.standing.live.tolist(), point.x.tolist(), strict=True)
    begin = [
        f".nodeset v({name})={volts:.4f}"
        for name, live, volts in sorted(start, key=lambda each: int(each[0][1:]))
        if live
    ]
    return "\n".join([f"* {title}", *deck.lines, *begin, OPTIONS, ".op", ".end", ""])
