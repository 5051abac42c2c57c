"""What becomes of the conductors a panel arrives with: those that join two circuits are cut."""

from collections.abc import Iterator
from typing import NamedTuple

from vivid_loom.boat import FactoryLink, HelmPanel
from vivid_loom.drafting.drafted import Draft
from vivid_loom.drafting.making.switch import HelmSwitch
from vivid_loom.drafting.making.wire import Wire

__all__ = ["LinkEnd", "LinkFate", "link_fates"]


class LinkEnd(NamedTuple):
    """A tab that a factory link lands on.

    Attributes:
        switch: the one in that position; None for a free one.
        feed: the wire that feeds the tab from elsewhere; None for none.
    """

    position: int
    tab: str
    switch: HelmSwitch | None
    feed: Wire | None

    @property
    def words(self) -> str:
        """The tab by its switch, or by its position where none is fitted."""
        place = self.switch.place if self.switch else f"position {self.position}"
        return f"{place} {self.tab}"


class LinkFate(NamedTuple):
    """A factory link and whether it stays."""

    panel: HelmPanel
    link: FactoryLink
    start: LinkEnd
    end: LinkEnd
    stays: bool

    @property
    def freed_mm(self) -> float:
        """The lead that stays on its first tab once it is cut close to the other."""
        return self.link.length_mm

    @property
    def reaches(self) -> bool:
        """Whether that lead is long enough to be the first tab's new feed."""
        feed = self.start.feed
        return feed is not None and self.freed_mm >= feed.cut_mm


def link_fates(draft: Draft) -> Iterator[LinkFate]:
    """Yield every factory link of the panels with its fate.

    What joins the minus tabs of two lamps stays, as drafted; what joins feeds or outputs is cut,
    since every switch aboard has a circuit and a device of its own. Nothing goes dark by it.
    """
    at = {switch.position: switch for switch in draft.switches if switch.position}
    feeds = {
        (wire.end.place, wire.end.point): wire
        for wire in draft.assembled.wires
        if wire.live == "source" and not wire.jumper
    }
    for panel in draft.aboard.boat.panels:
        first = draft.aboard.boat.first_position(panel)
        for link in panel.links:
            ends = []
            for text in (link.from_tab, link.to_tab):
                number, _, tab = text.partition(" ")
                position = first + int(number) - 1 if number.isdigit() else 0
                switch = at.get(position)
                feed = feeds.get((switch.place, tab)) if switch else None
                ends.append(LinkEnd(position, tab, switch, feed))
            stays = all(end.switch and end.tab.endswith("-") for end in ends)
            yield LinkFate(panel, link, ends[0], ends[1], stays)
