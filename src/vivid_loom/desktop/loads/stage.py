"""The second stage: every consumer, its amps and where the figure came from."""

from PySide6.QtCore import QItemSelectionModel, Qt, QTimer
from PySide6.QtGui import QKeySequence, QResizeEvent, QShortcut, QShowEvent
from PySide6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QHeaderView,
    QLineEdit,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.boat import Load
from vivid_loom.desktop.loads.actions import LoadActions
from vivid_loom.desktop.loads.fields import changed, field_named
from vivid_loom.desktop.loads.sheet import LoadSheet
from vivid_loom.desktop.widgets.button_row import ButtonRow, Deed
from vivid_loom.desktop.widgets.plain import PlainLabel
from vivid_loom.desktop.widgets.text_table import Cell, TextModel, TextTable
from vivid_loom.desktop.work.session import Session
from vivid_loom.desktop.work.stage import StageView
from vivid_loom.drafting import SCENARIOS, Draft, ScenarioTotal, scenario_total
from vivid_loom.drafting.after.scenarios import LoadUse
from vivid_loom.order import (
    Edit,
    change_loads,
)
from vivid_loom.order.roles import UNKNOWN
from vivid_loom.quantities import figure
from vivid_loom.sheets.paper.tones import Tones
from vivid_loom.workshop.effects import effect, effect_words

__all__ = ["LoadsStage"]

_HEADINGS = (
    "Load",
    "Place",
    "A",
    "W",
    "Peak A",
    "From",
    "Fuse ≤ A",
    "Smallest",
    "Class",
    "h/day",
    "Ah/day",
    "Circuit",
)
_RIGHT = (2, 3, 4, 6, 9, 10)
_EDITABLE = {
    0: "name",
    2: "running_a",
    4: "peak_a",
    5: "evidence_kind",
    6: "maker_fuse_a",
    7: "maker_smallest",
}
_RANK = {"unknown": 0, "estimate": 1}


NAMES_LEAST, LAST_COLUMN = 294, 86  # px that names and places, and the circuit, have at least
_WIDTHS = {2: 72, 3: 50, 4: 56, 5: 74, 6: 64, 7: 64, 8: 46, 9: 46, 10: 56}
_STATES = {  # beside the circuit, where there is little room; the sheet says it in full
    "fitted": "",
    "wired_for_later": ", later",
    "owner_supplied": ", owner's",
    "provisional_place": ", place?",
}
_FIRST_TO_GO = (8, 3, 10, 9, 4, 7, 6)  # the sheet beside the table has them all


def _urgency(load: Load) -> tuple[int, str]:
    """Sort what must be looked up first."""
    return _RANK.get(load.evidence.kind, 2), load.name


def _shown(value: float | None) -> str:
    return "" if value is None else figure(value)


class LoadsStage(StageView):
    """The table of consumers, the sheet of the selected ones, totals per source and scenario."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self._total: ScenarioTotal | None = None
        self.search, self.scenario = QLineEdit(), QComboBox()
        self.search.setPlaceholderText("Search loads")
        self.search.setAccessibleName("Search loads")
        self.search.setClearButtonEnabled(True)
        self.search.setFixedWidth(170)
        self.scenario.addItems(list(SCENARIOS))
        self.scenario.setAccessibleName("Scenario")
        self.model = TextModel(_HEADINGS, _RIGHT)
        self.model.edited = self._cell_edited
        self.model.editable = frozenset(_EDITABLE)
        self.table = TextTable(self.model, "Loads")
        self.table.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        header = self.table.horizontalHeader()
        header.setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
        header.resizeSection(len(_HEADINGS) - 1, LAST_COLUMN)  # its least: it takes what is left
        header.setStretchLastSection(True)
        self.totals, self.work = PlainLabel(), PlainLabel()
        self.totals.setWordWrap(True)
        self.totals.setMinimumHeight(32)
        self.totals.setObjectName("load_totals")
        self.sheet = LoadSheet()
        self.hands = LoadActions(self, self)
        self._lay_out()
        self._connect()

    def _lay_out(self) -> None:
        do = self.hands
        bar = ButtonRow(
            (
                Deed("Add…", do.add_from_catalogue, "From the catalogue of generic loads (Ins)"),
                Deed("Import…", do.ask_import, "A CSV or XLSX load list (Ctrl+I)"),
                Deed("Paste", do.paste, "Rows copied from a spreadsheet (Ctrl+V)"),
                Deed("Move…", do.ask_move, "Put the selected loads at another station (M)"),
                Deed("Feed…", do.ask_feed, "How the selected load's circuit is fed (F)"),
                Deed("Functions…", do.ask_roles, "What the names of new loads say they are (G)"),
                Deed("Together…", do.put_together, "The selected loads on one circuit (T)"),
                Deed("Circuit…", do.ask_circuit, "Pattern, contacts, cable of its circuit (C)"),
                Deed("Switch…", do.ask_switch, "Part, legend, rank, panel or station (S)"),
                Deed("Leads…", do.ask_load, "Leads and all other figures of a load (L)"),
                Deed("Replace…", do.replace, "Another kind of load in its place (R)"),
                Deed("Remove", do.remove, "Leave the selected loads out (Del)"),
                Deed("Supply…", do.propose_supply, "Blocks and helm sized from the list (Ctrl+U)"),
                Deed("Spares…", do.plan_spares, "Spare conductors and pull lines (Ctrl+P)"),
            )
        )
        sums = QHBoxLayout()
        sums.addWidget(self.totals, 1)
        sums.addWidget(self.scenario)
        lines = QHBoxLayout()
        lines.addWidget(self.work, 1)
        lines.addWidget(self.search)
        left = QVBoxLayout()
        left.addWidget(bar)
        left.addLayout(sums)
        left.addLayout(lines)
        left.addWidget(self.table, 1)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(16, 10, 12, 8)
        layout.setSpacing(14)
        layout.addLayout(left, 1)
        layout.addWidget(self.sheet)

    def _connect(self) -> None:
        do = self.hands
        self.table.selectionModel().selectionChanged.connect(lambda *_: self._selected())
        self.search.textChanged.connect(lambda _: self._fill())
        self.scenario.currentIndexChanged.connect(lambda _: self._show_scenario())
        self.sheet.edit_made.connect(self.apply)
        self.sheet.refused.connect(self.said)
        for keys, slot in (
            ("Ins", do.add_from_catalogue),
            ("Del", do.remove),
            ("R", do.replace),
            ("F", do.ask_feed),
            ("G", do.ask_roles),
            ("T", do.put_together),
            ("C", do.ask_circuit),
            ("S", do.ask_switch),
            ("L", do.ask_load),
            ("M", do.ask_move),
            ("Ctrl+V", do.paste),
            ("Ctrl+I", do.ask_import),
            ("Ctrl+U", do.propose_supply),
            ("Ctrl+P", do.plan_spares),
        ):
            shortcut = QShortcut(QKeySequence(keys), self.table)
            shortcut.setContext(Qt.ShortcutContext.WidgetShortcut)
            shortcut.activated.connect(slot)

    def set_tones(self, tones: Tones) -> None:
        """Use a theme's neutral colours."""
        self.model.tones = tones
        self.sheet.leads.tones = tones

    def takes_keys(self) -> QWidget:
        """Return the table."""
        return self.table

    def reveal(self, subject: str) -> bool:
        """Select a load, whatever is filtered."""
        if subject not in self.session.draft.aboard.loads:
            return False
        self.search.clear()
        self.select_loads((subject,))
        return True

    def tell(self, text: str) -> None:
        """Say what has happened."""
        self.said.emit(text)

    def set_draft(self, draft: Draft) -> None:
        """Show a draft's loads, unknowns and estimates first."""
        self._show_scenario()
        loads = draft.aboard.loads
        unknown = [x.name for x in loads.values() if x.evidence.kind == "unknown"]
        guessed = sum(x.evidence.kind == "estimate" for x in loads.values())
        parts = []
        nameless = sum(load.function == UNKNOWN for load in loads.values())
        if nameless:
            parts.append(f"{nameless} loads without a function: G proposes them")
        if unknown:
            more = f" and {len(unknown) - 3} more" if len(unknown) > 3 else ""
            parts.append(f"To look up: {', '.join(unknown[:3])}{more}")
        if guessed:
            parts.append(f"{guessed} figures are estimates")
        spares = sum(s.count for s in draft.aboard.order.spares)
        if spares:
            parts.append(f"{spares} spares planned")
        self.work.setText(".   ".join(parts) + "." if parts else "Every figure has its evidence.")

    def _show_scenario(self) -> None:
        draft = self.session.draft
        self._total = scenario_total(draft, SCENARIOS[self.scenario.currentIndex()])
        names = {n: place.name for n, place in draft.aboard.boat.places_by_id.items()}
        amps = "   ".join(f"{names[s]} {figure(a)} A" for s, a in self._total.amps.items())
        days = self._total.days
        lasts = (
            ""
            if days == float("inf")
            else (
                f"; half of {self._total.capacity_ah:g} Ah lasts "
                + (f"{days:.1f} days" if days >= 2 else f"{24 * days:.1f} h")
            )
        )
        known = [x.running_a for x in draft.aboard.loads.values() if x.running_a]
        self.totals.setText(
            f"{len(draft.aboard.loads)} loads, {figure(sum(known))} A with everything on.   "
            f"{self._total.scenario.capitalize()}: {amps or 'nothing in use'}, "
            f"{figure(self._total.ah)} Ah a day{lasts}, charging left out."
        )
        self._fill()

    def _fill(self) -> None:
        draft, total = self.session.draft, self._total
        assert total is not None
        kept = self.table.selected_keys()
        stations = {station.id: station.name for station in draft.aboard.boat.stations}
        feeds: dict[str, list[str]] = {}
        for row in draft.circuits:
            for name in row.planned.loads:
                feeds.setdefault(name, []).append(row.id)
        uses = {use.load.id: use for use in total.uses}
        words = self.search.text().lower().split()
        rows: list[tuple[str, tuple[Cell, ...]]] = []
        for load in sorted(draft.aboard.loads.values(), key=_urgency):
            place = stations[load.station]
            if all(w in f"{load.name} {place} {load.function}".lower() for w in words):
                cells = self._cells(load, place, feeds.get(load.id, []), uses.get(load.id))
                rows.append((load.id, cells))
        self.model.fill(rows)
        self._fit_columns()
        if kept and self.table.selected_keys() != kept:
            self.select_loads(kept)
        self._selected()

    def _cells(
        self, load: Load, place: str, feeds: list[str], use: LoadUse | None
    ) -> tuple[Cell, ...]:
        nominal = self.session.boat.nominal_v
        tone = {"unknown": "alarm", "estimate": "warn"}.get(load.evidence.kind, "")
        watts = "" if load.running_a is None else figure(load.running_a * nominal)
        return (
            Cell(load.name),
            Cell(place),
            Cell(
                figure(load.running_a) if load.running_a else "unknown",
                "" if load.running_a else "alarm",
                not load.running_a,
            ),
            Cell(watts, "quiet"),
            Cell(_shown(load.peak_a)),
            Cell(load.evidence.kind, tone, bool(tone)),
            Cell(_shown(load.maker_fuse_a)),
            Cell(load.maker_smallest or ""),
            Cell(load.demand),
            Cell(f"{use.hours:g}" if use else "", "quiet" if use and use.usual else ""),
            Cell(figure(use.ah) if use else ""),
            Cell(
                (" ".join(feeds) or "no feed") + _STATES[load.state],
                "" if feeds else "alarm",
            ),
        )

    def _fit_columns(self) -> None:
        """Give every column its width; where the page is narrow the last in rank stay away."""
        room = self.table.viewport().width() - NAMES_LEAST - LAST_COLUMN
        shown = set(_WIDTHS)
        for column in _FIRST_TO_GO:
            if sum(_WIDTHS[c] for c in shown) <= room:
                break
            shown.discard(column)
        for column, width in _WIDTHS.items():
            self.table.setColumnHidden(column, column not in shown)
            self.table.setColumnWidth(column, width)
        left = max(NAMES_LEAST, room + NAMES_LEAST - sum(_WIDTHS[c] for c in shown))
        self.table.setColumnWidth(0, left * 11 // 20)
        self.table.setColumnWidth(1, left * 9 // 20)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.sheet.setFixedWidth(296 if self.width() >= 1100 else 272)
        QTimer.singleShot(0, self, self._fit_columns)  # once the table has its new size

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        QTimer.singleShot(0, self, self._fit_columns)

    def selected_loads(self) -> tuple[Load, ...]:
        """Return the selected loads."""
        loads = self.session.draft.aboard.loads
        return tuple(loads[key] for key in self.table.selected_keys() if key in loads)

    def select_loads(self, ids: tuple[str, ...]) -> None:
        """Select loads by id."""
        chosen = self.table.selectionModel()
        flags = QItemSelectionModel.SelectionFlag
        mode = flags.ClearAndSelect | flags.Rows
        for load_id in ids:
            if load_id in self.model.keys:
                index = self.model.index(self.model.keys.index(load_id), 0)
                chosen.setCurrentIndex(index, mode)
                mode = flags.Select | flags.Rows

    def _selected(self) -> None:
        loads = self.selected_loads()
        self.sheet.show_loads(self.session.draft, loads)
        if len(loads) == 1 and self.isVisible():
            for row in self.session.draft.circuits:
                if loads[0].id in row.planned.loads:
                    self.circuit_picked.emit(row.id)
                    return

    def apply(self, edit: Edit) -> bool:
        """Make an edit and say what it changed."""
        before = self.session.draft
        if not self.session.apply(edit):
            self._selected()
            return False
        told = effect_words(effect(before, self.session.draft))
        self.said.emit(f"{edit[0]}: {told}. Ctrl+Z takes it back.")
        return True

    def _cell_edited(self, key: str, column: int, text: str) -> bool:
        field = field_named(_EDITABLE[column])
        load = self.session.draft.aboard.loads[key]
        try:
            loads = changed((load,), field, text, self.session.boat.nominal_v)
        except ValueError as error:
            self.said.emit(f"{field.label}: {error}")
            return False
        return bool(loads) and self.apply(change_loads(loads, field.label.lower()))
