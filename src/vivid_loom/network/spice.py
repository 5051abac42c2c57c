"""A network as SPICE text, for another program to find the same voltages."""

import re
from collections.abc import Callable

from vivid_loom.network.records import IDLE_SHARE, LEAK_S, Converter, Draw, Source
from vivid_loom.network.solve import OperatingPoint, Solver, Standing

__all__ = ["node_name", "spice_text"]

OPTIONS = ".options reltol=1e-7 abstol=1e-9 vntol=1e-10 gmin=1e-18 itl1=2000 numdgt=15"


def node_name(solver: Solver, standing: Standing, node: str) -> str:
    """Return what the text calls a node; '0' for one that is held at 0 V."""
    at = solver.node[node]
    return f"n{at + 1}" if standing.live[at] else "0"


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


def spice_text(point: OperatingPoint, title: str, say: Callable[[str], str] = str) -> str:
    """Return a network as it stands; what is open, or joined to no source, is left out.

    The voltages found, to four places, are where the other program may begin: a source with
    a limit has no slope to begin from.

    Args:
        say: words for a node or id, for the comments beside them.
    """
    solver, standing = point.solver, point.standing
    network, names = solver.network, _Names()

    def at(node: str) -> str:
        return node_name(solver, standing, node)

    def over(plus: str, minus: str) -> str:
        return f"v({at(plus)},{at(minus)})" if at(minus) != "0" else f"v({at(plus)})"

    floats = standing.floating
    lines = [f"* {title}", "* nodes"]
    told: dict[str, list[str]] = {}
    for node in solver.node:
        if not floats[solver.node[node]]:
            told.setdefault(at(node), []).append(say(node))
    lines += [f"* {name}: {'; '.join(nodes)}" for name, nodes in told.items()]
    lines.append("* conductors and contacts")
    for branch, siemens in zip(solver.branches, standing.siemens.tolist(), strict=True):
        if siemens > 0 and not floats[solver.node[branch.a]]:
            a, b = at(branch.a), at(branch.b)
            name = names.name("r", branch.id)
            lines += [f"* {say(branch.id)}", f"{name} {a} {b} {_figure(1 / siemens)}"]
    lines.append("* sources")
    limited: dict[str, tuple[str, str]] = {}
    limits = dict(
        zip(
            (s.id for s in network.sources if s.limit_a is not None),
            standing.bent.limit_a.tolist(),
            strict=True,
        )
    )
    for source in network.sources:
        source = source._replace(limit_a=limits.get(source.id))
        if floats[solver.node[source.plus]]:
            continue
        plus, minus = at(source.plus), at(source.minus)
        lines.append(f"* {say(source.id)}")
        if source.limit_a is None:
            inner = f"{names.name('i', source.id)}"
            lines += [
                f"v{inner} {inner} {minus} {_figure(source.volts)}",
                f"r{inner} {inner} {plus} {_figure(source.ohm)}",
            ]
        else:
            v = over(source.plus, source.minus)
            given = _given(source, v)
            limited[source.id] = (given, v)
            lines.append(f"{names.name('b', source.id)} {minus} {plus} i={given}")
            lines.append(f"{names.name('r', source.id + ' leak')} {plus} {minus} {1 / LEAK_S:g}")
    lines.append("* loads")
    takers: list[tuple[str, str, str, str]] = [
        (d.id, d.plus, d.minus, _drawn(d._replace(amps=amps), over(d.plus, d.minus)))
        for d, amps in zip(network.draws, standing.bent.amps.tolist(), strict=True)
    ]
    takers += [
        (c.id, c.plus, c.minus, _taken(c, *limited[c.source], over(c.plus, c.minus)))
        for c in network.converters
        if c.source in limited
    ]
    for name, plus, minus, drawn in takers:
        if floats[solver.node[plus]] or at(plus) == at(minus):
            continue
        lines.append(f"* {say(name)}")
        lines.append(f"{names.name('b', name)} {at(plus)} {at(minus)} i={drawn}")
        lines.append(f"{names.name('r', name + ' leak')} {at(plus)} {at(minus)} {1 / LEAK_S:g}")
    start = zip(standing.live.tolist(), point.x.tolist(), strict=True)
    begin = [f".nodeset v(n{i})={volts:.4f}" for i, (live, volts) in enumerate(start, 1) if live]
    return "\n".join([*lines, *begin, OPTIONS, ".op", ".end", ""])
