"""The first stage: the shop's queue, then one order's options, profile and paper."""

import dataclasses
from collections.abc import Sequence
from functools import partial
from pathlib import Path

from PySide6.QtGui import QHideEvent, QShowEvent
from PySide6.QtWidgets import (
    QFileDialog,
    QHBoxLayout,
    QMessageBox,
    QTabWidget,
    QVBoxLayout,
    QWidget,
)

from vivid_loom.bench.proven import missing_for
from vivid_loom.desktop.order.compare import CompareDialog, Side
from vivid_loom.desktop.order.decisions import Decisions
from vivid_loom.desktop.order.option_form import asked_change, asked_new
from vivid_loom.desktop.order.options import OrderOptions, toggled
from vivid_loom.desktop.order.paper import OrderPaper
from vivid_loom.desktop.order.profile import OrderProfile
from vivid_loom.desktop.order.queue import OrderQueue
from vivid_loom.desktop.widgets.controls import small
from vivid_loom.desktop.widgets.dialogs import opened
from vivid_loom.desktop.widgets.plain import PlainLabel, plain
from vivid_loom.desktop.widgets.theme import dress
from vivid_loom.desktop.work.aside import aside
from vivid_loom.desktop.work.session import TAKE_UP, Session
from vivid_loom.desktop.work.stage import Files, StageView
from vivid_loom.drafting import Draft
from vivid_loom.drafting.after.as_built import as_built
from vivid_loom.opening import issued_draft
from vivid_loom.order import (
    Edit,
    OrderState,
    read_survey,
    record_built,
    set_state,
    take_survey,
)
from vivid_loom.proving import proofs_beside
from vivid_loom.quantities.document import DocumentError
from vivid_loom.queue import queue_paths
from vivid_loom.sheets.packet import sheets_digest
from vivid_loom.sheets.paper.tones import Tones
from vivid_loom.sheets.words.cautions import SHORT_CAUTION
from vivid_loom.workshop.effects import effect, effect_words
from vivid_loom.workshop.harness.built import ticked_wires

__all__ = ["UNTICKED", "OrderStage"]

Buttons = QMessageBox.StandardButton
NAMED = 12  # wires told by name in a question
UNTICKED = "recorded as built without a tick"


class OrderStage(StageView):
    """The queue of a folder, and the open order's own pages."""

    about_selection = False
    shows_caution = True

    def __init__(self, session: Session, files: Files, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self._files = files
        self.folder: Path | None = None
        self._queued_for: Path | None = None
        self.subtitle = small("")
        self.queue = OrderQueue()
        self.options = OrderOptions()
        self.profile = OrderProfile()
        self.paper = OrderPaper()
        self.decisions = Decisions(session, self)
        self.tabs = QTabWidget()
        self.tabs.setDocumentMode(True)
        self.tabs.tabBar().setDrawBase(False)
        self.tabs.addTab(self.queue, "Shop &queue")
        self.tabs.addTab(self.options, "&Options")
        self.tabs.addTab(self.profile, "&Profile")
        self.tabs.addTab(self.paper, "&Wishes and revisions")
        caution = self.caution = PlainLabel(SHORT_CAUTION)
        caution.setProperty("caution", True)
        caution.setWordWrap(True)
        top = QHBoxLayout()
        top.addWidget(self.subtitle, 3)
        top.addWidget(caution, 2)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 12, 16, 10)
        layout.addLayout(top)
        layout.addWidget(self.tabs, 1)
        self._connect()

    def _connect(self) -> None:
        files = self._files
        self.queue.order_opened.connect(lambda path: files.open_order(Path(path)))
        self.queue.new_asked.connect(files.new_order)
        self.queue.duplicate_asked.connect(files.duplicate)
        self.queue.boat_asked.connect(files.new_boat)
        self.queue.folder_asked.connect(self._choose_folder)
        self.options.option_toggled.connect(self.toggle_option)
        self.options.new_asked.connect(self.ask_new_option)
        self.options.change_asked.connect(self.ask_option)
        self.profile.edit_made.connect(self._apply)
        self.paper.edit_made.connect(self._apply)
        self.paper.issue_asked.connect(self.decisions.issue)
        self.paper.withdraw_asked.connect(self.decisions.ask_withdrawal)
        self.paper.stop_asked.connect(self.decisions.ask_stop)
        self.paper.go_on_asked.connect(self.decisions.ask_to_go_on)
        self.paper.initials_typed.connect(partial(setattr, self.decisions, "initials"))
        self.decisions.said.connect(self.said)
        self.paper.since_asked.connect(self.show_since)
        self.paper.built_asked.connect(self.record_as_built)
        self.paper.change_order_asked.connect(files.change_order)
        self.paper.refused.connect(self.said)
        self.paper.state_asked.connect(self.call_state)
        self.paper.survey_asked.connect(self.ask_survey)
        self.tabs.currentChanged.connect(lambda _: self._work_out())
        self.session.undo_stack.cleanChanged.connect(self._saved)

    def set_tones(self, tones: Tones) -> None:
        """Use a theme's neutral colours."""
        self.queue.set_tones(tones)
        for model in (self.paper.wishes, self.paper.revisions):
            model.tones = tones

    def set_draft(self, draft: Draft) -> None:
        """Show an order."""
        order, model = draft.aboard.order, self.session.model
        self.subtitle.setText(" ".join(p for p in (f"{order.customer}.", order.notes) if p != "."))
        self.options.set_draft(draft, model)
        self.profile.set_draft(draft, model)
        self.paper.set_draft(draft, sheets_digest(draft) if order.revisions else "")
        if self.isVisible() and self._queued_for != self.session.path:
            self.refresh_queue()

    def refresh_queue(self) -> None:
        """List the folder's orders anew, as after opening, saving or choosing a folder."""
        self._queued_for = self.session.path
        folder = self.folder or self.session.path.parent
        paths = queue_paths(folder, with_demo=self.folder is None)
        self.queue.set_queue(paths, self.session.path, self.session.shop)

    def dress(self) -> None:
        """Wear the theme in force: what stands above the pages, and the page that is seen."""
        for part in (self.subtitle, self.caution, self.tabs.tabBar(), self.tabs.currentWidget()):
            dress(part)

    def takes_keys(self) -> QWidget:
        """Return the queue's table."""
        return self.queue.table

    def _saved(self, clean: bool) -> None:
        """The open order is on disk: its line of the queue may say something else now."""
        if clean and self.isVisible():
            self.refresh_queue()

    def _choose_folder(self) -> None:
        """Show the queue of another folder."""
        start = str(self.folder or Path.home())
        if name := QFileDialog.getExistingDirectory(self, "Folder of orders", start):
            self.folder = Path(name)
            self.refresh_queue()

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.refresh_queue()
        self._work_out()

    def hideEvent(self, event: QHideEvent) -> None:
        super().hideEvent(event)
        self.stop()

    def _work_out(self) -> None:
        """Work out the page that is looked at; what the others were at waits."""
        self.dress()
        for page in (self.queue, self.options, self.profile):
            if page.isVisible():
                page.work_out()
            else:
                page.pause()

    def stop(self) -> None:
        """Stop what is worked out off the GUI thread."""
        for page in (self.queue, self.options, self.profile):
            page.pause()

    def _apply(self, edit: Edit) -> None:
        before = self.session.draft
        if self.session.apply(edit):
            told = effect_words(effect(before, self.session.draft))
            self.said.emit(f"{edit[0]}: {told}. Ctrl+Z takes it back.")
        else:
            self.set_draft(self.session.draft)

    def toggle_option(self, option_id: str, on: bool) -> None:
        """Tick an option with all it requires, or untick it, as one undoable edit."""
        option = self.session.model.option(option_id)
        if option is not None:
            self._apply(toggled(self.session.model, option, on))

    def ask_new_option(self) -> None:
        """Make an option of what the order adds of its own."""
        self._take(asked_new(self.session.order, self.session.model, self))

    def ask_option(self) -> None:
        """Change an option's words and conditions."""
        self._take(asked_change(self.session.model, self))

    def _take(self, answer: Edit | str | None) -> None:
        if isinstance(answer, str):
            self.said.emit(answer)
        elif answer:
            self._apply(answer)

    def show_since(self) -> None:
        """Show what has changed since a revision was issued, or between two of them."""
        path, draft = self.session.path, self.session.draft
        numbers = [revision.number for revision in draft.aboard.order.revisions]
        if not numbers:
            self.said.emit("Nothing has been issued yet.")
            return
        sides = [Side(f"revision {n}", partial(issued_draft, path, n)) for n in numbers]
        sides.append(Side("now", lambda: draft))
        last = len(numbers)
        opened(CompareDialog(f"Hull {draft.aboard.order.hull}", sides, (last - 1, last), self))

    def call_state(self, state: OrderState) -> None:
        """Call the order further than it was, as far as that is proven; or step back."""
        draft = self.session.draft
        if draft.aboard.order.state == "handed_over":
            self.decisions.ask_correction(state)
            return
        path = self.session.path
        missing = aside(lambda: next(missing_for(state, proofs_beside(draft, path)), ""))
        if missing:
            self.said.emit(f"Not {state.replace('_', ' ')} yet: {missing}.")
        else:
            self._apply(set_state(state))

    def ask_survey(self) -> None:
        """Ask for a survey and take it in."""
        path, _ = QFileDialog.getOpenFileName(self, "Take in a survey", "", "Survey (*.csv)")
        if path:
            self.take_survey(Path(path))

    def take_survey(self, path: Path) -> None:
        """Start from what was found in the boat."""
        try:
            found = read_survey(path)
        except DocumentError as error:
            self.said.emit(str(error))
            return
        if self.session.apply(take_survey(found, self.session.order.hull)):
            unknown = len(self.session.draft.reuse.unknown)
            words = f"; {unknown} are not known well enough: look at them first" if unknown else ""
            self.said.emit(f"{len(found)} conductors were found{words}.")

    def record_as_built(self) -> None:
        """Keep what was ticked as lying in the boat, and ask about every wire that was not."""
        if stop := self.session.order.stop:
            self.said.emit(f"Not recorded: the order is {stop.kind}. {TAKE_UP}")
            return
        draft = self.session.draft
        done = ticked_wires(draft) | draft.reuse.kept.keys()
        missing = [wire.id for wire in draft.assembled.wires if wire.id not in done]
        answer = self._ask_unticked(missing, len(draft.assembled.wires))
        if answer not in (Buttons.Yes, Buttons.No):
            return
        lies = as_built(draft, without=missing if answer == Buttons.No else ())
        unsure = frozenset(missing)
        wires = tuple(
            dataclasses.replace(wire, note=UNTICKED) if wire.id in unsure else wire
            for wire in lies.wires
        )
        recorded = record_built(wires, lies.circuits, lies.landings, lies.beside)
        if self.session.apply(recorded, correcting=True):  # what lies there is no other boat
            left = (
                f"; {len(missing)} are left out" if len(wires) < len(draft.assembled.wires) else ""
            )
            beside = f" Bonds and spares with them, of which no tick tells: {len(lies.beside)}."
            told = f"{len(wires)} conductors are recorded as built{left}."
            self.said.emit(told + beside * bool(lies.beside))

    def _ask_unticked(self, missing: Sequence[str], count: int) -> QMessageBox.StandardButton:
        """Ask whether wires that nobody ticked lie in the boat; 'yes' where every one is ticked."""
        if not missing:
            return Buttons.Yes
        told = ", ".join(missing[:NAMED]) + (" and more" if len(missing) > NAMED else "")
        return QMessageBox.question(
            self,
            "Not ticked as built",
            plain(
                f"{len(missing)} of {count} wires are not ticked as built: {told}. Do they lie in "
                "the boat all the same? Yes records them with a note that nobody ticked them, No "
                "leaves them out."
            ),
            Buttons.Yes | Buttons.No | Buttons.Cancel,
        )
