"""Drafting beside the window: it lives on, and nothing comes between an edit and its draft."""

import threading
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from PySide6.QtCore import QTimer
from pytestqt.qtbot import QtBot

from vivid_loom.desktop.frame.window import MainWindow
from vivid_loom.desktop.work import session as session_room
from vivid_loom.desktop.work.aside import aside, is_waiting
from vivid_loom.desktop.work.latest_job import LatestJob
from vivid_loom.drafting import Draft
from vivid_loom.order import Edit, set_heading

Slow = Callable[[Callable[[], None]], None]


def titled(title: str) -> Edit:
    return set_heading(title=title, customer="", notes="", station_date="2026-09-07")


@pytest.fixture
def slowly(monkeypatch: pytest.MonkeyPatch) -> Slow:
    """Have the next drafts take a while, and do something in the window's loop in the middle."""
    real = session_room.draft

    def arrange(meanwhile: Callable[[], None]) -> None:
        QTimer.singleShot(40, meanwhile)

        def slow(*given: object) -> Draft:
            time.sleep(0.25)
            return real(*given)  # type: ignore[arg-type]

        monkeypatch.setattr(session_room, "draft", slow)

    return arrange


def test_the_loop_turns_while_work_is_waited_for(qtbot: QtBot) -> None:
    seen: list[tuple[bool, bool]] = []
    done = threading.Event()
    timer = QTimer()
    timer.timeout.connect(lambda: (seen.append((is_waiting(), done.is_set())), done.set()))
    timer.start(5)

    def work() -> str:
        assert done.wait(10), "the loop does not turn"
        return threading.current_thread().name

    assert aside(work) == "aside" and not is_waiting()
    assert seen[0] == (True, False)


def test_what_work_raises_is_raised_where_it_is_waited_for(qtbot: QtBot) -> None:
    def fail() -> None:
        raise ValueError("no such boat")

    with pytest.raises(ValueError, match="no such boat"):
        aside(fail)
    assert not is_waiting()


def test_an_edit_in_the_making_shows_the_draft_before_it(window: MainWindow, slowly: Slow) -> None:
    before = window.session.draft
    seen: list[Draft] = []
    slowly(lambda: seen.append(window.session.draft))
    assert window.session.apply(titled("Another"))
    assert seen == [before] and window.session.order.title == "Another"


def test_no_edit_comes_between_an_edit_and_its_draft(window: MainWindow, slowly: Slow) -> None:
    """It would go on from an order that is about to go."""
    session, done = window.session, []
    slowly(lambda: done.append(session.apply(titled("Between"))))
    assert session.apply(titled("Another"))
    assert done == [False] and session.order.title == "Another"
    assert "another edit is being drafted" in window.message.text()
    session.undo_stack.undo()
    assert not session.undo_stack.canUndo()


def test_what_is_asked_while_something_is_waited_for_is_done_at_once(qtbot: QtBot) -> None:
    inner: list[str] = []
    done = threading.Event()

    def ask() -> None:
        inner.append(aside(lambda: threading.current_thread().name))
        done.set()

    QTimer.singleShot(5, ask)
    assert aside(lambda: done.wait(10)) and not is_waiting()
    assert inner == ["MainThread"]


def test_answers_wait_for_the_edit_being_made(
    window: MainWindow, qtbot: QtBot, slowly: Slow
) -> None:
    job = LatestJob(window)
    titles: list[str] = []
    job.answered.connect(lambda _: titles.append(window.session.order.title))

    def work() -> Iterator[object]:
        yield 1

    slowly(lambda: job.ask(work))
    window.session.apply(titled("Another"))
    assert titles == []
    qtbot.waitUntil(lambda: titles == ["Another"], timeout=5000)


def test_a_window_shut_in_the_middle_shuts_afterwards(
    window: MainWindow, qtbot: QtBot, slowly: Slow
) -> None:
    slowly(window.close)
    assert window.session.apply(titled("Another"))
    assert window.isVisible() and window.session.order.title == "Another"
    qtbot.waitUntil(lambda: not window.isVisible(), timeout=5000)


def test_a_file_changed_in_the_middle_is_told_afterwards(
    open_on: Callable[[Path], MainWindow], own_order: Path, qtbot: QtBot, slowly: Slow
) -> None:
    window = open_on(own_order)
    theirs = own_order.read_text().replace('"title": "', '"title": "Theirs ')

    def write() -> None:
        own_order.write_text(theirs)

    slowly(write)
    assert window.session.apply(titled("Mine"))
    assert window.session.order.title == "Mine"
    qtbot.waitUntil(lambda: "was changed by another" in window.message.text(), timeout=10_000)
    assert window.session.order.title == "Mine" and "Your edits stand" in window.message.text()


def test_work_that_fails_ends_and_is_told_in_the_window(qtbot: QtBot) -> None:
    """It does not leave a page waiting, and what was yielded before counts."""
    job, got, over = LatestJob(), [], []

    def work() -> Iterator[object]:
        yield 1
        raise IndexError("index -1 is out of bounds")

    job.answered.connect(got.append)
    job.finished.connect(lambda: over.append(job.running))
    with qtbot.capture_exceptions() as raised:
        job.ask(work)
        qtbot.waitUntil(lambda: bool(over), timeout=10_000)
        qtbot.wait(50)
    assert got == [1] and over == [False]
    assert [kind for kind, *_ in raised] == [IndexError]
    job.ask(lambda: iter([2]))
    qtbot.waitUntil(lambda: got == [1, 2], timeout=10_000)
