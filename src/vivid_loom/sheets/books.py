"""The printed packet as books, one for each who works from it: composed when it is looked at.

Each has its cover, its cautions and its key, so that it can be handed over by itself.
"""

from collections.abc import Callable, Sequence
from functools import cache, partial
from typing import Final, NamedTuple

from vivid_loom.boat import Assembly
from vivid_loom.drafting import Draft
from vivid_loom.order import Shop
from vivid_loom.sheets.lists import label_lists
from vivid_loom.sheets.pages.bench_pages import alive_pages, pull_pages, ring_pages
from vivid_loom.sheets.pages.board_change_pages import board_change_pages
from vivid_loom.sheets.pages.branch_pages import branch_pages
from vivid_loom.sheets.pages.change_pages import change_pages
from vivid_loom.sheets.pages.cover import cover, with_contents
from vivid_loom.sheets.pages.curve_pages import curve_pages
from vivid_loom.sheets.pages.fault_pages import fault_pages
from vivid_loom.sheets.pages.finding_pages import finding_pages
from vivid_loom.sheets.pages.fitting_pages import fuse_pages, landing_pages
from vivid_loom.sheets.pages.harness_pages import harness_pages
from vivid_loom.sheets.pages.install_pages import install_pages
from vivid_loom.sheets.pages.key_pages import key_pages
from vivid_loom.sheets.pages.label_pages import label_sheets
from vivid_loom.sheets.pages.office_pages import material_pages, schedule_pages
from vivid_loom.sheets.pages.panel_pages import panel_pages
from vivid_loom.sheets.pages.power_pages import power_pages
from vivid_loom.sheets.pages.recipe_pages import recipe_pages
from vivid_loom.sheets.pages.thread_pages import thread_pages
from vivid_loom.sheets.paper.drawing import Page
from vivid_loom.sheets.paper.layout import Setting, counted
from vivid_loom.sheets.proof import standing_errors
from vivid_loom.sheets.words.cautions import SHORT_CAUTION
from vivid_loom.workshop.harness.built import board_changes

__all__ = ["Book", "Section", "bound", "packet_books", "packet_pages", "packet_sections"]

NO_SHOP: Final = Shop()
Pages = Callable[[Draft, Setting], Sequence[Page]]


class Section(NamedTuple):
    """Sheets that belong together: composed when they are looked at or printed.

    Attributes:
        pages: makes the sheets; none where the order has nothing for them.
        slow: bundles have to be packed for it.
    """

    title: str
    pages: Callable[[], Sequence[Page]]
    slow: bool = False


class Book(NamedTuple):
    """What one who works on the boat is handed.

    Attributes:
        name: of its file.
        title: on its cover, which is its first section.
    """

    name: str
    title: str
    sections: tuple[Section, ...]


def _setting(draft: Draft, *, tried: bool) -> Setting:
    order = draft.aboard.order
    errors = sum(finding.severity == "error" for finding in draft.findings)
    if tried:
        errors = standing_errors(draft)
    stop = f"DRAFT, {errors} error{'s' * (errors > 1)}: do not build" if errors else ""
    if order.stop:
        stop = f"{order.stop.kind.upper()}: do not build"
    return Setting(
        f"{draft.aboard.boat.name} · hull {order.hull} · revision {order.revision}",
        SHORT_CAUTION,
        stop,
    )


class _Binder:
    """Makes a draft's books."""

    def __init__(self, draft: Draft, shop: Shop, *, tried: bool) -> None:
        self.draft, self.shop, self.setting = draft, shop, _setting(draft, tried=tried)
        self.tried = tried
        # one key for three books: composed once
        self.key = Section("Key to the codes", cache(partial(key_pages, draft, self.setting)))

    def section(self, title: str, make: Pages, *, slow: bool = False) -> Section:
        return Section(title, partial(make, self.draft, self.setting), slow)

    def book(self, name: str, title: str, hand: str, *sections: Section) -> Book:
        """Return a book behind its cover, which the engineer and ``hand`` sign."""
        signs, closed = ("Wiring engineer, date", f"{hand}, date"), self.shop.closed_days
        made = partial(cover, self.draft, self.setting, closed, title, signs, tried=self.tried)
        front = Section(title, lambda: (made(),))
        return Book(name, title, (front, *sections))

    def harnesses(self) -> Book:
        used = {wire.harness for wire in self.draft.assembled.wires}
        parts = (
            self.section(assembly.name, partial(_assembly_pages, assembly), slow=True)
            for assembly in self.draft.aboard.boat.assemblies
            if assembly.id in used
        )
        recipes = self.section("Recipes and jaws", recipe_pages)
        labels = self.section("Labels", _label_pages)
        title, hand = "Build packet: the harnesses", "Harness builder"
        first = [self.key]
        if board_changes(self.draft):  # before anything else is cut
            first.insert(0, self.section("Built otherwise since", board_change_pages))
        return self.book("packet", title, hand, *first, recipes, *parts, labels)

    def aboard(self) -> Book:
        sections = [
            self.section("Installing the harnesses", install_pages, slow=True),
            self.section("Landing list", landing_pages),
            self.section("Switch panels", panel_pages),
            self.section("Fuse chart", fuse_pages),
        ]
        if self.draft.aboard.order.built:
            sections.append(self.section("Changes to the built boat", change_pages))
        return self.book("aboard", "Build packet: aboard", "Installer", self.key, *sections)

    def proof(self) -> Book:
        return self.book(
            "proof",
            "Build packet: proof",
            "Test hand",
            self.key,
            self.section("Ringing out", ring_pages, slow=True),
            self.section("Pull tests", pull_pages),
            self.section("Making alive", alive_pages, slow=True),
        )

    def office(self) -> Book:
        sections = [
            self.section("Threads", thread_pages),
            self.section("Circuit schedule", schedule_pages),
            self.section("Materials", partial(_material_pages, self.shop), slow=True),
            self.section("Findings", finding_pages, slow=True),
            self.section("Powered up", power_pages),
        ]
        wrong = any(finding.severity == "error" for finding in self.draft.findings)
        if not wrong:  # a boat that is drawn wrong is not worth breaking
            sections.append(self.section("What one fault does", fault_pages, slow=True))
        sections.append(self.section("Protection curves", curve_pages))
        return self.book("office", "Build packet: engineer and office", "Purchasing", *sections)


def packet_books(draft: Draft, shop: Shop = NO_SHOP, *, tried: bool = True) -> tuple[Book, ...]:
    """Return the packet's books, in the order of work.

    First what the harness builder needs, then the installer, then who proves the work; last what
    the engineer signs for and the office orders by.

    Args:
        shop: its closed days and stock.
        tried: covers and every page say what states and single faults have shown, which takes
            seconds to work out; else covers say that it is not known yet.
    """
    make = _Binder(draft, shop, tried=tried)
    return make.harnesses(), make.aboard(), make.proof(), make.office()


def _material_pages(shop: Shop, draft: Draft, setting: Setting) -> Sequence[Page]:
    return material_pages(draft, shop, setting)


def _label_pages(draft: Draft, setting: Setting) -> list[Page]:
    """Return plugs', branches', tags' and capped ends' labels; wires' go to a tape printer."""
    rows = [row for row in label_lists.labels(draft).rows if row.kind != "wire"]
    return label_sheets(rows, setting)


def _assembly_pages(assembly: Assembly, draft: Draft, setting: Setting) -> list[Page]:
    """Return a harness's map and branches, then what to cut for it and how its ends are made."""
    return [
        *branch_pages(draft, assembly, setting),
        *harness_pages(draft, assembly, setting),
    ]


def packet_sections(draft: Draft, shop: Shop = NO_SHOP) -> tuple[Section, ...]:
    """Return the sections of all books; see ``packet_books``."""
    return tuple(part for book in packet_books(draft, shop) for part in book.sections)


def packet_pages(draft: Draft, shop: Shop = NO_SHOP) -> tuple[Page, ...]:
    """Return every sheet of all books."""
    books = packet_books(draft, shop)
    return tuple(
        page for book in books for page in bound([(s.title, s.pages()) for s in book.sections])
    )


def bound(sections: Sequence[tuple[str, Sequence[Page]]]) -> list[Page]:
    """Return composed sections as one book: counted, with its contents on the first page."""
    pages = [page for _, made in sections for page in made]
    firsts: list[tuple[str, int]] = []
    number = 1
    for title, made in sections:
        if made and number > 1:
            firsts.append((title, number))
        number += len(made)
    return counted([with_contents(pages[0], firsts), *pages[1:]])
