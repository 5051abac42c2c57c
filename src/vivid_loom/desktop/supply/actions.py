"""What the buttons and keys of the Supply stage do."""

import dataclasses
from collections.abc import Callable, Sequence
from typing import Any, Protocol

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QInputDialog, QWidget

from vivid_loom.boat import (
    PASSING,
    SOURCES,
    WAYED,
    Battery,
    Bond,
    DeviceFamily,
    Feed,
    Grounding,
    HelmPanel,
    Home,
    Recorded,
    ReturnBus,
    Supply,
    generic_parts,
    parts_kept,
)
from vivid_loom.desktop.supply.words import words_for
from vivid_loom.desktop.widgets.dialogs import answered
from vivid_loom.desktop.widgets.record_form import RecordDialog
from vivid_loom.desktop.work.session import Session
from vivid_loom.drafting import Draft
from vivid_loom.order import Edit, add_fit, change_grounding, fit_part, remove_part
from vivid_loom.order.new_loads import sensing_for
from vivid_loom.quantities.document import DocumentError

__all__ = ["SupplyActions", "what_hangs_on"]

Part = Battery | Supply | ReturnBus | HelmPanel | Bond | Recorded
NEW = "A new one…"


def _usual_feed(source: Battery | Supply) -> Feed:
    """Return how a new part is usually fed from another: by a fuse on the post, by a way of a
    block, without a device behind what only lets through, else by one beside the stud.
    """
    if isinstance(source, Battery):
        return Feed(source=source.id, family="post fuse", distance_mm=60.0, stud=source.stud)
    if source.kind in ("key_switch", "relay", "contactor", "converter"):
        return Feed(source=source.id)
    family: DeviceFamily = source.family if source.ways else "bolt-down fuse"
    return Feed(source=source.id, family=family, distance_mm=100.0)


class SupplyDesk(Protocol):
    """What the actions need of the page they are pressed on."""

    session: Session

    @property
    def part(self) -> Part | None:
        """The selected part."""

    def tell(self, text: str) -> None:
        """Say what has happened."""

    def apply(self, edit: Edit, select: str = "") -> bool:
        """Make an edit, say what it changed and mark a part."""


def what_hangs_on(part: Part, draft: Draft) -> str:
    """Say what keeps a part from being taken off; '' for nothing."""
    boat = draft.aboard.boat
    fed = [s.name for s in boat.supplies for feed in s.feeds if feed.source == part.id]
    named = [c.label for c in draft.aboard.circuits if c.supply == part.id]
    named += [x.name for x in draft.aboard.loads.values() if x.lead_of == part.id]
    home = [bus.name for bus in boat.return_buses for h in bus.homes if part.id in (h.to, h.beside)]
    if isinstance(part, Battery) and len(boat.batteries) == 1:
        return f"{part.name} is the only battery"
    if fed or named:
        return f"{part.name} feeds {_listed([*fed, *named])}: feed that from elsewhere first"
    if home:
        return f"{_listed(home)} goes home by {part.name}: lead it home otherwise first"
    return ""


def _listed(names: Sequence[str]) -> str:
    shown = list(dict.fromkeys(names))
    more = f" and {len(shown) - 3} more" if len(shown) > 3 else ""
    return ", ".join(shown[:3]) + more


class SupplyActions(QObject):
    """Asks, then edits the supply of a stage's session."""

    def __init__(self, stage: SupplyDesk, parent: QWidget) -> None:
        super().__init__(parent)
        self._stage, self._parent = stage, parent

    @property
    def _draft(self) -> Draft:
        return self._stage.session.draft

    def _ask(self, title: str, value: Any, *, new: bool) -> None:
        """Show a record, and fit what comes of it."""
        taken = self._taken() if new else set()

        def problem(record: Any) -> str:
            if not record.id.strip():
                return "Id: found nothing, expected a short name such as HFB"
            if record.id in taken:
                return f"Id: found {record.id}, which something aboard has already"
            return ""

        dialog = RecordDialog(
            title,
            value,
            words_for(self._draft, new=new),
            check=problem,
            templates=self._as_bought() if isinstance(value, Supply) else (),
            parent=self._parent,
        )
        if answered(dialog):
            verb = "add" if new else "change"
            record = self._numbered(dialog.answer)
            self._stage.apply(fit_part(record, f"{verb} {record.name}"), record.id)

    def _as_bought(self) -> tuple[tuple[str, Callable[[Any], Any]], ...]:
        """Return the parts the shop keeps; only those that ship where its own file is broken."""
        try:
            parts = parts_kept(self._stage.session.path.parent)
        except DocumentError as error:
            self._stage.tell(str(error))
            parts = generic_parts()
        return tuple((part.name, part.fitted) for part in parts)

    def _numbered(self, part: Part) -> Part:
        """Give feeders without a number the next free ones, which they keep from now on; what has
        no ways loses those that its form began with.
        """
        free = self._draft.aboard.boat.network.free_numbers()
        if isinstance(part, Supply):
            ways = part.ways if part.kind in WAYED else 0
            part = dataclasses.replace(part, ways=ways)
            feeds = (f if f.id else dataclasses.replace(f, id=next(free)) for f in part.feeds)
            return dataclasses.replace(part, feeds=tuple(feeds))
        if isinstance(part, ReturnBus):
            homes = (
                home if home.id or home.beside else dataclasses.replace(home, id=next(free))
                for home in part.homes
            )
            return dataclasses.replace(part, homes=tuple(homes))
        return part

    def _taken(self) -> set[str]:
        boat, aboard = self._draft.aboard.boat, self._draft.aboard
        found = {*boat.places_by_id, *boat.buses_by_id}
        found |= {panel.id for panel in boat.panels} | {bond.id for bond in boat.bonds}
        found |= {item.id for item in boat.recorded}
        return found | {*aboard.loads, *(circuit.id for circuit in aboard.circuits)}

    def _free_id(self, stem: str) -> str:
        taken = self._taken()
        if stem not in taken:
            return stem
        return next(name for i in range(2, 999) if (name := f"{stem}{i}") not in taken)

    def ask_part(self) -> None:
        """Ask for a new part, fed from the selected one."""
        boat = self._draft.aboard.boat
        part = self._stage.part
        source = part if isinstance(part, Battery | Supply) else boat.battery
        level = self._draft.aboard.levels[source.id]
        feed = _usual_feed(source)
        fresh = Supply(
            id=self._free_id("BLK"),
            name="Fuse block",
            station=source.station,
            kind="fuse_block",
            level=level,
            feeds=(feed,),
            ways=6,
        )
        self._ask("A new part of the supply", fresh, new=True)

    def ask_battery(self) -> None:
        """Ask for one more battery."""
        first = self._draft.aboard.boat.battery
        fresh = dataclasses.replace(first, id=self._free_id("BAT"), name="Second battery")
        self._ask("One more battery", fresh, new=True)

    def ask_bus(self) -> None:
        """Ask for one more negative bus."""
        boat = self._draft.aboard.boat
        home = Home(to=boat.return_buses[0].id if boat.return_buses else boat.battery.id)
        fresh = ReturnBus(
            id=self._free_id("NB"),
            name="Negative bus",
            station=boat.helm_station,
            screws=20,
            homes=(home,),
        )
        self._ask("One more negative bus", fresh, new=True)

    def ask_panel(self) -> None:
        """Ask for one more switch panel."""
        fresh = HelmPanel(
            id=self._free_id("panel"),
            name="Switch panel",
            station=self._draft.aboard.boat.helm_station,
            positions=8,
        )
        self._ask("One more switch panel", fresh, new=True)

    def ask_change(self) -> None:
        """Ask for everything about the selected part."""
        part = self._needs_part()
        if part is not None:
            self._ask(part.name, part, new=False)

    def _needs_part(self) -> Part | None:
        if self._stage.part is None:
            self._stage.tell("Pick a battery, a part, a bus or a panel first.")
        return self._stage.part

    def ask_feed(self) -> None:
        """Ask what the selected part is to be fed from."""
        part = self._needs_part()
        if not isinstance(part, Supply):
            if part is not None:
                self._stage.tell(f"{part.name} is not fed from anything: change it instead.")
            return
        boat = self._draft.aboard.boat
        behind = {s.id for s in boat.supplies if self._is_behind(s.id, part.id)}
        offered = [(b.id, b.name) for b in boat.batteries]
        offered += [
            (s.id, f"{s.id} {s.name}") for s in boat.supplies if s.id not in {*behind, part.id}
        ]
        now = part.feeds[0].source if part.feeds else ""
        words = [name for _, name in offered]
        at = next((i for i, (name, _) in enumerate(offered) if name == now), 0)
        chosen, taken = QInputDialog.getItem(
            self._parent, f"Feed {part.name} from", "Source", words, at, editable=False
        )
        if not taken:
            return
        source = offered[words.index(chosen)][0]
        first = part.feeds[0] if part.feeds else Feed(source=source)
        feeds = (dataclasses.replace(first, source=source), *part.feeds[1:])
        changed = self._numbered(dataclasses.replace(part, feeds=feeds))
        self._stage.apply(fit_part(changed, f"feed {part.name} from {source}"), part.id)

    def _is_behind(self, place: str, part: str) -> bool:
        network = self._draft.aboard.boat.network
        return any(network.fed_by(name) == part for name in network.upstream(place))

    def insert(self) -> None:
        """Put a switch into the feeder of the selected part; its device stays at the source."""
        part = self._needs_part()
        if not isinstance(part, Supply) or not part.feeds:
            if part is not None:
                self._stage.tell(f"{part.name} has no feeder to put anything into.")
            return
        first = part.feeds[0]
        fresh = Supply(
            id=self._free_id("SWI"),
            name=f"Switch before {part.name}",
            station=part.station,
            kind="battery_switch",
            level=part.level,
            feeds=(first,),
            total_max_a=part.total_max_a,
        )
        dialog = RecordDialog(
            f"Put into the feeder of {part.name}",
            fresh,
            words_for(self._draft, new=True),
            parent=self._parent,
        )
        if not answered(dialog):
            return
        between: Supply = dialog.answer
        own: DeviceFamily | None = None if between.kind in PASSING else "bolt-down fuse"
        feed = Feed(source=between.id, family=own, stud=first.stud)
        moved = self._numbered(dataclasses.replace(part, feeds=(feed, *part.feeds[1:])))
        name = f"put {between.name} into the feeder of {part.name}"
        one, two = fit_part(between)[1], fit_part(moved)[1]
        self._stage.apply((name, lambda order: two(one(order))), between.id)

    def remove(self) -> None:
        """Take the selected part off."""
        part = self._needs_part()
        if part is None:
            return
        if held := what_hangs_on(part, self._draft):
            self._stage.tell(f"Cannot remove {part.name}: {held}.")
            return
        self._stage.apply(remove_part(part))

    def ask_bonds(self) -> None:
        """Ask for a bond, or which of those there are to change."""
        boat = self._draft.aboard.boat
        fresh = Bond(id=self._free_id("bond"), name="Metal part", station=boat.battery.station)
        self._one_of("Bonds", boat.bonds, fresh)

    def ask_recorded(self) -> None:
        """Ask for a recorded system, or which of those there are to change."""
        boat = self._draft.aboard.boat
        fresh = Recorded(
            id=self._free_id("rec"),
            name="Recorded cable",
            kind="mains",
            start=boat.battery.station,
            end=boat.helm_station,
            diameter_mm=10.0,
        )
        self._one_of("Recorded systems", boat.recorded, fresh)

    def _one_of(self, title: str, parts: Sequence[Bond | Recorded], fresh: Bond | Recorded) -> None:
        if not parts:
            self._ask(title, fresh, new=True)
            return
        words = [NEW, *(f"{part.id} {part.name}" for part in parts)]
        chosen, taken = QInputDialog.getItem(self._parent, title, "Which", words, 0, editable=False)
        if taken and chosen == NEW:
            self._ask(title, fresh, new=True)
        elif taken:
            self._ask(title, parts[words.index(chosen) - 1], new=False)

    def ask_sense(self) -> None:
        """Ask which battery the selected charging source is to read."""
        part = self._needs_part()
        if part is None:
            return
        if not isinstance(part, Supply) or part.kind not in SOURCES:
            self._stage.tell(f"{part.name} charges nothing: a sense lead is a charging source's.")
            return
        aboard = self._draft.aboard
        names = {battery.name: battery.id for battery in aboard.boat.batteries}
        chosen, taken = QInputDialog.getItem(
            self._parent, f"{part.name} reads", "Battery", list(names), 0, editable=False
        )
        if taken:
            used = self._taken() | {*aboard.switches}
            fit = sensing_for(part, aboard.boat.network.fused_post(names[chosen]), used)
            self._stage.apply((f"sense lead of {part.name}", add_fit(fit)[1]), part.id)

    def ask_grounding(self) -> None:
        """Ask for whose mains lie aboard, the bonding bus and where negative joins the hull."""
        boat = self._draft.aboard.boat
        value = Grounding(
            ac_aboard=boat.ac_aboard,
            bonding_station=boat.bonding_station,
            hull_joins=boat.hull_joins,
        )
        dialog = RecordDialog(
            "Mains, bonding and hull",
            value,
            words_for(self._draft, new=False),
            parent=self._parent,
        )
        if answered(dialog):
            self._stage.apply(change_grounding(dialog.answer))
