"""A picture is laid out when it is seen, and again only where its width changes."""

import pytest
from pytestqt.logging import _QtMessageCapture as LogCapture
from pytestqt.qtbot import QtBot

from vivid_loom.desktop.widgets.scene_view import SceneView
from vivid_loom.sheets.paper.drawing import Rect, Scene, Spot


class Ladder(SceneView):
    """Ten rungs as wide as the page."""

    ON_TOP = ("rung",)

    def __init__(self) -> None:
        super().__init__("ladder", "Ladder")
        self.widths: list[float] = []

    def scene(self) -> Scene:
        width = self.page_width()
        self.widths.append(width)
        spots = tuple(Spot("rung", str(i), (0, 50.0 * i, width, 40)) for i in range(10))
        items = tuple(Rect(*spot.rect, "#aaaaaa") for spot in spots)
        return Scene(items, spots, width, 500)


@pytest.fixture
def ladder(qtbot: QtBot) -> Ladder:
    view = Ladder()
    qtbot.addWidget(view)
    view.resize(300, 200)
    return view


def test_what_nobody_sees_is_not_laid_out(ladder: Ladder, qtbot: QtBot) -> None:
    ladder.mark("rung", "3")
    ladder.lay_out_again()
    assert ladder.widths == []
    ladder.show()
    qtbot.waitExposed(ladder)
    qtbot.waitUntil(lambda: ladder.viewport().width() < 300)  # beside its scroll bar
    assert ladder.widths == [ladder.viewport().width()]  # where it had been laid out already
    assert ladder.verticalScrollBar().maximum() == 500 - ladder.viewport().height()


def test_only_another_width_lays_it_out_again(ladder: Ladder, qtbot: QtBot) -> None:
    ladder.show()
    qtbot.waitExposed(ladder)
    before = len(ladder.widths)
    ladder.resize(300, 260)
    assert len(ladder.widths) == before
    assert ladder.verticalScrollBar().maximum() == 500 - ladder.viewport().height()
    ladder.resize(360, 260)
    assert len(ladder.widths) == before + 1
    for _ in range(2):
        ladder.mark("rung", "9")  # a second time it is marked already
        assert len(ladder.widths) == before + 2


def test_a_thing_selected_before_it_is_seen_can_be_found(ladder: Ladder) -> None:
    ladder.select("rung", "2")
    assert ladder.selected == ("rung", "2") and len(ladder.spots()) == 10


def test_a_picture_that_cannot_be_drawn_takes_nothing_down(
    ladder: Ladder, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch, qtlog: LogCapture
) -> None:
    """The painter is let go of: one left active breaks every window painted after it."""
    ladder.show()
    qtbot.waitExposed(ladder)

    def torn() -> Scene:
        raise ZeroDivisionError

    with monkeypatch.context() as broken, qtbot.captureExceptions() as errors:
        broken.setattr(ladder, "scene", torn)
        ladder._scene = None
        ladder.viewport().update()
        qtbot.waitUntil(lambda: bool(errors))
    assert any(kind is ZeroDivisionError for kind, *_ in errors)
    ladder.viewport().update()
    qtbot.waitUntil(lambda: ladder._scene is not None)
    assert [r.message for r in qtlog.records if "aint" in r.message] == []
