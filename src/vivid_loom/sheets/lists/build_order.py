"""A harness's wires in the order in which a bench works: spool by spool, jaw by jaw."""

from collections.abc import Iterable

from vivid_loom.drafting import Draft
from vivid_loom.drafting.making.wire import Wire
from vivid_loom.sheets.lists.build_lists import CutRow, cut_rows
from vivid_loom.standards.conductor import area_mm2
from vivid_loom.workshop.harness.tree import is_with_panel

__all__ = ["bench_rows", "end_words", "in_build_order"]


def in_build_order(wires: Iterable[Wire]) -> list[Wire]:
    """Return wires spool by spool, thickest first, the same jaws together, the longest first."""

    def turn(wire: Wire) -> tuple[object, ...]:
        spool = (-area_mm2(wire.gauge), wire.colour.base, wire.colour.tracer, wire.cable)
        return (*spool, wire.start.termination.jaw, wire.end.termination.jaw, -wire.cut_mm)

    return sorted(wires, key=turn)


def bench_rows(draft: Draft, harness: str, *, with_panel: bool = False) -> tuple[CutRow, ...]:
    """Return the rows of a harness's cut list as its bench works.

    Args:
        with_panel: those of wires between switches, which are built with their panel, instead of
            those that lie on the board.
    """
    switches = {switch.place for switch in draft.switches}
    mine = (wire for wire in draft.assembled.wires if wire.harness == harness)
    made = (wire for wire in mine if is_with_panel(wire, switches) == with_panel)
    return cut_rows(draft, in_build_order(made))


def end_words(termination: str, tail: str, mates: str) -> str:
    """Name an end with the device's tail that it takes; a shared joint is told below."""
    return f"{termination} to {tail}" if tail and not mates else termination
