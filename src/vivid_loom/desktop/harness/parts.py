"""What is built in one go: what lies on a harness's board, and what is wired behind its panels."""

from collections.abc import Mapping
from typing import Final, NamedTuple

from vivid_loom.drafting import Draft
from vivid_loom.drafting.making.wire import Wire
from vivid_loom.workshop.harness.built import ticked_wires
from vivid_loom.workshop.harness.tree import is_with_panel

__all__ = ["NOTHING_TO_BUILD", "Part", "built_by", "part_with", "parts_of"]


class Part(NamedTuple):
    """A part of the work.

    Attributes:
        harness: id of the assembly.
        with_panel: what joins its switches, and lies on no board.
    """

    name: str
    harness: str
    with_panel: bool


NOTHING_TO_BUILD: Final = Part("", "", False)


def _key(harness: str, with_panel: bool) -> str:
    return f"{harness}, panels" if with_panel else harness


def part_with(draft: Draft, wire: Wire) -> str:
    """Return the key of the part that a wire belongs to; see ``parts_of``."""
    return _key(wire.harness, is_with_panel(wire, {switch.place for switch in draft.switches}))


def parts_of(draft: Draft) -> dict[str, Part]:
    """Return the parts that have wires, by their keys; a board's key is its harness."""
    switches = {switch.place for switch in draft.switches}
    wires = draft.assembled.wires
    used = {_key(wire.harness, is_with_panel(wire, switches)) for wire in wires}
    found: dict[str, Part] = {}
    for assembly in draft.aboard.boat.assemblies:
        for with_panel, name in ((False, assembly.name), (True, f"{assembly.name}, panels")):
            if (key := _key(assembly.id, with_panel)) in used:
                found[key] = Part(name, assembly.id, with_panel)
    return found


def built_by(draft: Draft) -> Mapping[str, str]:
    """Return who has built each wire that is ticked and still asked for so; '' for nobody named."""
    built = ticked_wires(draft)
    return {tick.wire: tick.by for tick in draft.aboard.order.ticks if tick.wire in built}
