"""A harness's wires in the order in which a bench works: spool by spool, jaw by jaw."""

from collections.abc import Sequence

from vivid_loom.drafting import Draft
from vivid_loom.sheets.lists.build_lists import CutRow, cut_rows
from vivid_loom.workshop.harness.tree import is_with_panel

__all__ = ["bench_rows", "end_words", "in_build_order", "spool_of"]


def spool_of(row: CutRow) -> tuple[float, str, str]:
    """Return what tells its spool, to sort by: gauge, thickest first, then colour."""
    return (-float(row.area_mm2), row.colour, row.tracer)


def in_build_order(rows: Sequence[CutRow]) -> list[CutRow]:
    """Return wires spool by spool, the same jaws together, the longest first."""
    return sorted(
        rows,
        key=lambda r: (spool_of(r), r.cable_id, r.from_jaw, r.to_jaw, -float(r.cut_length_mm)),
    )


def bench_rows(draft: Draft, harness: str) -> list[CutRow]:
    """Return the rows of a harness's cut list but for what is built with a switch panel."""
    switches = {switch.place for switch in draft.switches}
    mine = (wire for wire in draft.assembled.wires if wire.harness == harness)
    return [*cut_rows(draft, (wire for wire in mine if not is_with_panel(wire, switches)))]


def end_words(termination: str, tail: str, mates: str) -> str:
    """Name an end with the device's tail that it takes; a shared joint is told below."""
    return f"{termination} to {tail}" if tail and not mates else termination
