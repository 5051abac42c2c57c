"""An option that has left the model: the order opens with a repair, and nothing is lost."""

import dataclasses
from collections.abc import Callable
from pathlib import Path

import pytest
from PySide6.QtWidgets import QDialog

from vivid_loom.boat import Boat, Option, read_boat, write_boat
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.desktop.application import open_window
from vivid_loom.desktop.frame.lost_options import LostOptionsDialog
from vivid_loom.desktop.frame.window import MainWindow
from vivid_loom.drafting import DraftError
from vivid_loom.opening import issue_folder
from vivid_loom.order import (
    Revision,
    change_option,
    choose_option,
    issue_revision,
    read_order,
    write_order,
)

Open = Callable[[Path], MainWindow]
Answer = Callable[[Callable[[QDialog], None]], list[str]]


@pytest.fixture
def lost(small_order: Path) -> tuple[Path, str, Boat]:
    """An order, an option it has chosen and its model has lost, and the model before that."""
    order = read_order(small_order)
    model = read_boat(DEMO_FOLDER / order.boat)
    gone = next(o for o in model.options if not o.requires and not o.joins and o.adds.loads)
    others = tuple(o for o in model.options if gone.id not in (o.id, *o.requires, *o.excludes))
    chosen = dataclasses.replace(order, options=(gone.id,))
    write_order(small_order, chosen)
    write_boat(small_order.parent / order.boat, dataclasses.replace(model, options=others))
    return small_order, gone.id, model


def test_without_an_answer_nothing_opens_and_nothing_is_written(
    open_on: Open, lost: tuple[Path, str, Boat], answer: Answer
) -> None:
    path, name, _ = lost
    before = path.read_bytes()
    window = open_on(DEMO_FOLDER / "hull-0611.loom.json")
    here = window.session.path
    seen = answer(QDialog.reject)
    assert not window.files.open_order(path)
    assert seen == ["Options that the model has lost"] and window.session.path == here
    assert f"unknown option {name!r}" in window.message.text() and path.read_bytes() == before
    answer(QDialog.reject)
    with pytest.raises(DraftError, match="unknown option"):
        open_window(path)


def test_it_is_dropped_and_the_file_waits_for_a_save(
    open_on: Open, lost: tuple[Path, str, Boat], answer: Answer
) -> None:
    path, name, _ = lost
    window = open_on(DEMO_FOLDER / "hull-0611.loom.json")

    def drop(dialog: QDialog) -> None:
        assert isinstance(dialog, LostOptionsDialog)
        combo = dialog.choices[name]
        combo.setCurrentIndex(combo.findText("Drop it"))
        assert combo.currentIndex() == 0  # nothing was issued: there is no 'as it was'
        dialog.accept()

    answer(drop)
    assert window.files.open_order(path)
    assert window.session.order.options == () and not window.session.undo_stack.isClean()
    assert read_order(path).options == (name,)
    assert window.files.save() and read_order(path).options == ()


def test_another_takes_its_place(
    open_on: Open, lost: tuple[Path, str, Boat], answer: Answer
) -> None:
    path, name, model = lost
    other = next(o for o in model.options if o.id != name and not o.requires)
    write_boat(path.parent / read_order(path).boat, dataclasses.replace(model, options=(other,)))
    window = open_on(DEMO_FOLDER / "hull-0611.loom.json")

    def replace(dialog: QDialog) -> None:
        assert isinstance(dialog, LostOptionsDialog)
        dialog.choices[name].setCurrentText(f"{other.name} in its place")
        dialog.accept()

    answer(replace)
    assert window.files.open_order(path) and window.session.order.options == (other.id,)


def test_the_hull_keeps_it_as_it_was_issued(
    lost: tuple[Path, str, Boat], answer: Answer, open_on: Open
) -> None:
    """From the start, too: then there is no window yet that could ask."""
    path, name, model = lost
    revision = Revision(number=1, date="2026-12-02", initials="IM", text="first", digest="0")
    order = issue_revision(revision)[1](choose_option(name, name)[1](read_order(path)))
    own = Option(id="own", name="Own", group="This hull")
    write_order(path, change_option(own)[1](order))
    folder = issue_folder(path, 1)
    folder.mkdir(parents=True)
    write_boat(folder / order.boat, model)

    def keep(dialog: QDialog) -> None:
        assert isinstance(dialog, LostOptionsDialog)
        assert dialog.choices[name].currentText().startswith("Keep it as this hull's own")
        dialog.accept()

    answer(keep)
    window = open_window(path)
    gone = model.option(name)
    assert gone is not None and window.session.order.hull_changes.options == (own, gone)
    assert {load.id for load in gone.adds.loads} <= set(window.session.draft.aboard.loads)
    assert not window.session.undo_stack.isClean()
    window.session.save()
    window.close()
    window.deleteLater()
    again = open_on(path)  # and nobody is asked again
    assert again.session.order.options == (name,)
