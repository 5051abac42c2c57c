"""Which position of the panels each switch gets."""

from collections.abc import Iterable

from vivid_loom.boat import Boat, SwitchRequest
from vivid_loom.catalogue import Catalogue, SwitchPart
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.places.planned import Shortage

__all__ = ["helm_positions"]


def helm_positions(aboard: Aboard, catalogue: Catalogue) -> tuple[dict[str, int], list[Shortage]]:
    """Give the panels' switches their positions: overridden and issued ones first, then by rank.

    Emergency switches come first; among those of a rank, switches for the same kind of load, or
    for loads in the same area, stand together, by id. Sorting is the best assignment where a
    position costs its reach times how often and how urgently it is pressed (rearrangement
    inequality).
    Positions are numbered through from panel to panel; a switch that names its panel stays on it,
    another goes where its body fits the hole while such a place is free.
    """
    boat = aboard.boat
    on_panels = [switch for switch in aboard.switches.values() if not switch.station]
    fixed: dict[str, int] = {}
    for switch in on_panels:
        override = aboard.order.override(switch.id, "helm_position")
        if override and override.value.isdigit() and 1 <= int(override.value) <= boat.positions:
            fixed[switch.id] = int(override.value)
    for switch in on_panels:  # what was issued in a position stays, where nobody overrules it
        issued = aboard.order.landing("position", switch.id)
        at = issued.number if issued and issued.number <= boat.positions else 0
        stays = not switch.panel or _panel_id(boat, at) == switch.panel
        if at and stays and switch.id not in fixed and at not in fixed.values():
            fixed[switch.id] = at
    free = [p for p in range(1, boat.positions + 1) if p not in fixed.values()]
    groups = _groups(on_panels, aboard)
    waiting = sorted(
        (s for s in on_panels if s.id not in fixed), key=lambda s: (s.rank, groups[s.id], s.id)
    )
    taken: dict[str, int] = {}
    short: list[Shortage] = []
    everywhere = ", ".join(panel.id for panel in boat.panels) or "a boat without a panel"
    for switch in sorted(waiting, key=lambda s: not s.panel):  # those that are choosy first
        here = [p for p in free if not switch.panel or _panel_id(boat, p) == switch.panel]
        part = catalogue.switch(switch.part)
        position = next((p for p in here if _fits(boat, p, part)), next(iter(here), None))
        if position is None:
            short.append(Shortage("position", switch.id, switch.panel or everywhere))
        else:
            taken[switch.id] = position
            free.remove(position)
    return {**fixed, **taken}, short


def _groups(switches: Iterable[SwitchRequest], aboard: Aboard) -> dict[str, str]:
    """Return for each switch the first of those of its rank that it belongs with."""
    by_area = aboard.profile.switches_together == "area"
    areas = aboard.boat.area_at
    use: dict[str, str] = {}
    for circuit in aboard.circuits:
        load = aboard.loads[circuit.loads[0]] if circuit.loads else None
        belongs = "" if load is None else areas[load.station].id if by_area else load.function
        for contact in circuit.contacts:
            use.setdefault(contact.switch, belongs)
    first: dict[tuple[int, str], str] = {}
    ordered = sorted(switches, key=lambda s: s.id)
    for switch in ordered:
        first.setdefault((switch.rank, use.get(switch.id, switch.id)), switch.id)
    return {s.id: first[s.rank, use.get(s.id, s.id)] for s in ordered}


def _fits(boat: Boat, position: int, part: SwitchPart | None) -> bool:
    """Tell whether a switch's body fits a position's hole, as far as both are known."""
    panel = boat.panel_at(position)
    return panel is None or part is None or panel.takes(part.cut_out)


def _panel_id(boat: Boat, position: int) -> str:
    panel = boat.panel_at(position)
    return panel.id if panel else ""
