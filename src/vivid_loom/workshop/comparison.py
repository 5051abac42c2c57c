"""One order under two profiles, side by side: sums, findings, and every circuit that differs."""

from collections import Counter
from typing import NamedTuple

from vivid_loom.drafting import Draft, DraftedCircuit
from vivid_loom.quantities import figure
from vivid_loom.workshop.effects import figures_of

__all__ = ["Comparison", "Difference", "compared"]


class Difference(NamedTuple):
    """One line: what, as it is in the first draft and in the second."""

    what: str
    first: str
    second: str


class Comparison(NamedTuple):
    """Two drafts of one order.

    Attributes:
        sums: wires, metres, masses, cost, hours, findings; always all of them.
        findings: codes that occur more often in one, with their counts.
        circuits: figures of circuits that differ; '—' where one draft does not have it.
    """

    first: str
    second: str
    sums: tuple[Difference, ...]
    findings: tuple[Difference, ...]
    circuits: tuple[Difference, ...]


def _sums(first: Draft, second: Draft) -> tuple[Difference, ...]:
    a, b = figures_of(first), figures_of(second)

    def counted(draft: Draft, severity: str) -> str:
        return str(sum(f.severity == severity for f in draft.findings))

    return (
        Difference("circuits", str(a.circuits), str(b.circuits)),
        Difference("wires", str(a.wires), str(b.wires)),
        Difference("wire to cut, m", f"{a.metres:.1f}", f"{b.metres:.1f}"),
        Difference("wire, kg", f"{a.wire_kg:.1f}", f"{b.wire_kg:.1f}"),
        Difference("copper, kg", f"{a.copper_kg:.1f}", f"{b.copper_kg:.1f}"),
        Difference("wire and cable, cost", f"{a.cost:.0f}", f"{b.cost:.0f}"),
        Difference("bench hours", f"{a.hours:.1f}", f"{b.hours:.1f}"),
        Difference("errors", counted(first, "error"), counted(second, "error")),
        Difference("to judge", counted(first, "judge"), counted(second, "judge")),
        Difference("notes", counted(first, "note"), counted(second, "note")),
    )


def _findings(first: Draft, second: Draft) -> tuple[Difference, ...]:
    kinds = {f.code: f.kind for f in (*first.findings, *second.findings)}
    a, b = (Counter(f.code for f in draft.findings) for draft in (first, second))
    return tuple(
        Difference(f"{code} {kinds[code].title}", str(a[code]), str(b[code]))
        for code in sorted(kinds)
        if a[code] != b[code]
    )


def _told(row: DraftedCircuit | None) -> str:
    if row is None:
        return "—"
    if row.sized is None:
        return "not sized"
    held = row.sized.protection
    fuse = f"{figure(held.value)} A" if held else "no device"
    colours = f"{row.colours.positive.value} {row.colours.negative.value}"
    drop = f"{row.sized.drop_percent:.2f} %"
    wires = "1 wire" if len(row.wires) == 1 else f"{len(row.wires)} wires"
    return f"{row.sized.gauge.value} · {fuse} · {colours} · {drop} · {wires}"


def compared(first: Draft, second: Draft) -> Comparison:
    """Set two drafts side by side, the feeders before the circuits."""
    names = list(dict.fromkeys(row.id for row in (*first.rows, *second.rows)))
    circuits = []
    for name in names:
        a, b = first.circuit(name), second.circuit(name)
        row = a or b
        assert row is not None
        if _told(a) != _told(b):
            circuits.append(Difference(f"{name} {row.planned.label}", _told(a), _told(b)))
    return Comparison(
        first.aboard.profile.name,
        second.aboard.profile.name,
        _sums(first, second),
        _findings(first, second),
        tuple(circuits),
    )
