"""What goes aboard for repairs: fuses, contacts, terminals, ready-made jumpers, a pump."""

import math
from collections import Counter
from typing import Final, NamedTuple

from vivid_loom.drafting import Draft
from vivid_loom.sheets.lists.schedule import number
from vivid_loom.sheets.lists.stores import devices, terminations
from vivid_loom.sheets.paper.table import Table
from vivid_loom.workshop.harness.tree import is_with_panel

__all__ = ["KitRow", "spares_kit"]

FUSE_SHARE: Final = 0.2  # of each rating that is fitted, at least two; our choice
END_SHARE: Final = 0.05  # of each kind of end, at least five; our choice
NO_SPARE: Final = ("post", "cap", "lug")  # what is not made aboard


class KitRow(NamedTuple):
    """Something to have aboard."""

    item: str
    quantity: str
    fitted: str
    note: str


def _spares(fitted: int, share: float, least: int) -> int:
    return max(least, math.ceil(share * fitted))


def _jumpers(draft: Draft) -> list[KitRow]:
    """Return one ready-made jumper of each kind behind the panels, as long as the longest."""
    switches = {switch.place for switch in draft.switches}
    behind = [w for w in draft.assembled.wires if is_with_panel(w, switches)]
    kinds = Counter(str(w.gauge) for w in behind)
    longest = {gauge: max(w.cut_mm for w in behind if str(w.gauge) == gauge) for gauge in kinds}
    rides = any("piggyback" in e.termination.kind for w in behind for e in (w.start, w.end))
    ends = "push-on and piggyback" if rides else "push-ons"
    return [
        KitRow(
            f"jumper {gauge}, {number(longest[gauge])} mm, {ends}",
            "2",
            str(count),
            "as long as the longest: any colour, label it",
        )
        for gauge, count in sorted(kinds.items())
    ]


def _pumps(draft: Draft) -> list[KitRow]:
    """Return a spare for every bilge pump, its leads made up like those of the one aboard."""
    rows: list[KitRow] = []
    for load in draft.aboard.loads.values():
        if load.function == "bilge_pump":
            ends = [
                end
                for wire in draft.assembled.wires
                for end in (wire.start, wire.end)
                if end.place == load.id
            ]
            made = ", ".join(f"{end.point}: {end.termination.kind}" for end in ends)
            rows.append(KitRow(f"spare for {load.name}", "1", "1", f"made up as fitted, {made}"))
    return rows


def spares_kit(draft: Draft) -> Table[KitRow]:
    """Return the kit for repairs aboard: shares of what is fitted, our choice."""
    ends = [end for wire in draft.assembled.wires for end in (wire.start, wire.end)]
    rows = [
        KitRow(
            f"{family} {number(rating)} A",
            str(_spares(count, FUSE_SHARE, 2)),
            str(count),
            "never a larger one",
        )
        for (family, rating), count in sorted(devices(draft).items())
        if family != "breaker"
    ]
    rows += [
        KitRow(kind, str(_spares(count, END_SHARE, 5)), str(count), "")
        for kind, count in sorted(terminations(ends).items())
        if not any(word in kind for word in NO_SPARE)
    ]
    rows += _jumpers(draft)
    rows += _pumps(draft)
    return Table("kit", "Spares kit", KitRow, tuple(rows))
