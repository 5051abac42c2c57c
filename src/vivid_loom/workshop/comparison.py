"""One order under two profiles, side by side: sums, findings, and every circuit that differs."""

from collections import Counter
from typing import NamedTuple

from vivid_loom.drafting import Draft, DraftedCircuit
from vivid_loom.quantities import figure, percent_text
from vivid_loom.workshop.effects import figures_of

__all__ = ["CircuitDifference", "Comparison", "Difference", "compared"]


class Difference(NamedTuple):
    """One line: what, as it is in the first draft and in the second."""

    what: str
    first: str
    second: str


class CircuitDifference(NamedTuple):
    """A circuit, and its figures that differ."""

    what: str
    figures: tuple[Difference, ...]


class Comparison(NamedTuple):
    """Two drafts of one order.

    Attributes:
        sums: wires, metres, masses, cost, hours, findings; always all of them.
        findings: codes that occur more often in one, with their counts.
        circuits: those that differ, figure by figure; '—' where one draft has no such figure.
    """

    first: str
    second: str
    sums: tuple[Difference, ...]
    findings: tuple[Difference, ...]
    circuits: tuple[CircuitDifference, ...]


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


def _figures(row: DraftedCircuit | None) -> dict[str, str]:
    """Return a circuit's figures by name."""
    if row is None:
        return {"circuit": "not there"}
    if row.sized is None:
        return {"circuit": "not sized"}
    held = row.sized.protection
    return {
        "gauge": str(row.sized.gauge.value),
        "device, A": figure(held.value) if held else "none",
        "colour +": row.letters[0],
        "colour −": row.letters[1],
        "drop, %": percent_text(row.sized.drop_percent),
        "wires": str(len(row.wires)),
    }


def _differences(
    first: DraftedCircuit | None, second: DraftedCircuit | None
) -> tuple[Difference, ...]:
    """Return the figures of one circuit that differ, one a line."""
    a, b = _figures(first), _figures(second)
    return tuple(
        Difference(name, a.get(name, "—"), b.get(name, "—"))
        for name in dict.fromkeys((*a, *b))
        if a.get(name) != b.get(name)
    )


def compared(first: Draft, second: Draft) -> Comparison:
    """Set two drafts side by side, the feeders before the circuits."""
    names = list(dict.fromkeys(row.id for row in (*first.rows, *second.rows)))
    circuits = []
    for name in names:
        row = first.circuit(name) or second.circuit(name)
        assert row is not None
        if found := _differences(first.circuit(name), second.circuit(name)):
            circuits.append(CircuitDifference(f"{name} {row.planned.label}", found))
    return Comparison(
        first.aboard.profile.name,
        second.aboard.profile.name,
        _sums(first, second),
        _findings(first, second),
        tuple(circuits),
    )
