"""A layer that paints only what differs shows what one painted anew shows, point for point."""

import random
from collections import Counter

import numpy as np
import pytest
from PySide6.QtCore import QPoint
from PySide6.QtGui import QColor, QImage
from PySide6.QtWidgets import QWidget
from pytestqt.qtbot import QtBot

from vivid_loom.desktop.widgets import layer
from vivid_loom.desktop.widgets.layer import HERE, Layer
from vivid_loom.sheets.paper.drawing import Circle, Line, Primitive, Rect, Text

COLOURS = ("#334455", "#aa2211", "#eeddcc", "#118833")
ROUNDED = 4  # of 255: an edge is smoothed a little otherwise where it is cut off


def any_item(dice: random.Random) -> Primitive:
    x, y, colour = dice.uniform(-20, 320), dice.uniform(-20, 220), dice.choice(COLOURS)
    kind = dice.randrange(5)
    if kind == 0:
        ends = ((x, y), (dice.uniform(0, 300), dice.uniform(0, 200)))
        return Line(ends, colour, dice.uniform(0.8, 9), dice.choice(((), (6, 5))), "round")
    if kind == 1:
        return Line(tuple((x + 9 * i, y + dice.uniform(-9, 9)) for i in range(5)), colour, 1.2)
    if kind == 2:
        return Circle(x, y, dice.uniform(2, 9), colour, dice.choice(COLOURS), 1.3)
    if kind == 3:
        return Rect(x, y, dice.uniform(4, 60), dice.uniform(4, 30), colour, "#000000", 1.1, 4)
    word = dice.choice(("Forward bilge", "12", "Wijdte ftgjy"))
    return Text(x, y, word, 10.5, colour, dice.random() < 0.5, dice.choice(("start", "end")))


def pixels(
    shown: Layer, items: tuple[Primitive, ...], widget: QWidget, ground: QColor, at: QPoint = HERE
) -> np.ndarray:
    image = shown.of(items, widget, ground, at).toImage()
    image = image.convertToFormat(QImage.Format.Format_ARGB32_Premultiplied)
    flat = np.frombuffer(image.constBits(), dtype=np.uint8).astype(int)
    return flat.reshape(image.height(), image.width(), 4)


def test_what_differs_is_painted_as_a_whole_picture_is(qtbot: QtBot) -> None:
    widget = QWidget()
    qtbot.addWidget(widget)
    widget.resize(300, 200)
    for ground, at in ((QColor("#f4f1ea"), QPoint(30, 25)), (QColor(0, 0, 0, 0), HERE)):
        dice = random.Random(7)
        kept, items = Layer(), [any_item(dice) for _ in range(40)]
        for _ in range(60):
            for _ in range(dice.randrange(4)):
                change = dice.randrange(4)
                if change == 0:
                    items.insert(dice.randrange(len(items) + 1), any_item(dice))
                elif change == 1 and len(items) > 1:
                    items.pop(dice.randrange(len(items)))
                elif change == 2:
                    items[dice.randrange(len(items))] = any_item(dice)
                else:
                    a, b = dice.randrange(len(items)), dice.randrange(len(items))
                    items[a], items[b] = items[b], items[a]
            now = tuple(items)
            there = pixels(kept, now, widget, ground, at)
            anew = pixels(Layer(), now, widget, ground, at)
            assert np.abs(there - anew).max() <= ROUNDED, "nothing is left over or left out"


def test_what_is_there_again_stands_for_one_thing_that_was_there() -> None:
    dice = random.Random(11)
    things = [any_item(dice) for _ in range(6)]
    for _ in range(400):
        before, now = (tuple(dice.choices(things, k=dice.randrange(9))) for _ in range(2))
        was = layer._found_again(now, before)
        again = [k for k in was if k >= 0]
        assert len(was) == len(now) and len(set(again)) == len(again)
        assert all(before[k] == item for item, k in zip(now, was, strict=True) if k >= 0)
        assert len(again) == (Counter(now) & Counter(before)).total(), "as many as can be"


def test_what_is_scrolled_to_is_that_part_of_the_picture(qtbot: QtBot) -> None:
    widget = QWidget()
    qtbot.addWidget(widget)
    widget.resize(300, 200)
    dice, shown, ground = random.Random(3), Layer(), QColor("#f4f1ea")
    items = tuple(any_item(dice) for _ in range(60))
    whole = pixels(shown, items, widget, ground)
    part = pixels(shown, items, widget, ground, QPoint(40, 30))
    assert np.abs(part[:170, :260] - whole[30:, 40:]).max() <= ROUNDED
    assert np.abs(pixels(shown, items, widget, ground) - whole).max() == 0, "and back again"


def test_a_layer_without_ground_is_seen_through(qtbot: QtBot) -> None:
    widget = QWidget()
    qtbot.addWidget(widget)
    widget.resize(300, 200)
    dot = (Rect(100, 100, 20, 20, "#aa2211"),)
    for ground in (QColor(0, 0, 0, 0), QColor("#f4f1ea"), QColor(0, 0, 0, 0)):
        shown = Layer()
        shown.of((), widget, ground)
        image = shown.of(dot, widget, ground).toImage()
        assert image.pixelColor(110, 110) == QColor("#aa2211")
        for x, y in ((5, 5), (98, 98)):
            assert image.pixelColor(x, y).alpha() == ground.alpha()


def test_a_small_change_paints_little(qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> None:
    widget = QWidget()
    qtbot.addWidget(widget)
    widget.resize(300, 200)
    painted: list[int] = []
    play = layer.play
    monkeypatch.setattr(
        layer, "play", lambda p, items: (painted.append(len(items)), play(p, items))
    )
    far = tuple(Circle(10 + 20 * i, 10, 4, "#334455") for i in range(14))
    shown, ground = Layer(), QColor("white")
    shown.of((*far, Text(20, 150, "before", 11)), widget, ground)
    shown.of((*far, Text(20, 150, "after", 11)), widget, ground)
    assert painted == [15, 1]
    shown.of((*far, Text(20, 150, "after", 11)), widget, QColor("black"))
    widget.resize(310, 200)
    shown.of((*far, Text(20, 150, "after", 11)), widget, QColor("black"))
    assert painted[2:] == [15, 15], "another ground or size paints all of it"
