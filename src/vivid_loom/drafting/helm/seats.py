"""Switches in their places, with where their tabs are behind the panel."""

from collections.abc import Iterator
from typing import NamedTuple

from vivid_loom.boat import HelmPanel, SwitchRequest
from vivid_loom.catalogue import Catalogue, SwitchPart
from vivid_loom.drafting.helm.tabs import Spot, tab_at, tab_on_panel
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.patterns import Point
from vivid_loom.drafting.places.allocate import Allocation, switch_place

__all__ = ["Seat", "Tab", "seats"]


class Seat(NamedTuple):
    """A switch in its place; ``panel`` is None for one at a station of its own."""

    request: SwitchRequest
    part: SwitchPart
    place: str
    station: str
    panel: HelmPanel | None
    number: int

    @property
    def group(self) -> str:
        """What its lamps share a chain with: everything on its panel."""
        return self.panel.id if self.panel else self.request.id

    def spot(self, tab: str) -> Spot:
        """Return where a tab is behind its panel."""
        if self.panel is None:
            return tab_at(self.part, tab)
        return tab_on_panel(self.panel, self.number, self.part, tab)

    def point(self, tab: str) -> Point:
        """Return a tab as a point that conductors end on."""
        return Point(self.place, tab, self.station, "tab")


class Tab(NamedTuple):
    """A tab of a switch."""

    switch: Seat
    name: str

    @property
    def spot(self) -> Spot:
        """Where it is behind its panel."""
        return self.switch.spot(self.name)

    @property
    def point(self) -> Point:
        """It as a point that conductors end on."""
        return self.switch.point(self.name)


def seats(aboard: Aboard, allocation: Allocation, catalogue: Catalogue) -> Iterator[Seat]:
    """Yield what has tabs and stands somewhere, by position, then by id."""
    boat, positions = aboard.boat, allocation.positions
    for request in sorted(
        aboard.switches.values(), key=lambda s: (positions.get(s.id, len(positions) + 1), s.id)
    ):
        part = catalogue.switch(request.part)
        position = positions.get(request.id, 0)
        stands = boat.panel_at(position)
        if part is None or part.terminal != "tab" or not (stands or request.station):
            continue
        station = request.station or (stands.station if stands else "")
        number = position - boat.first_position(stands) + 1 if stands else 0
        place = switch_place(request, position)
        yield Seat(request, part, place, station, stands, number)
