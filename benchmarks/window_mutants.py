"""Mutants of the window: what comes between an edit and its draft, what is laid out and when."""

from benchmarks.mutant import Mutant

__all__ = ["WINDOW"]

ASIDE = "tests/desktop/test_aside.py"
SCENE = "tests/desktop/test_scene_view.py"
TABLE = "tests/desktop/test_text_table.py"

LAYER = "tests/desktop/test_layer.py"

WINDOW = (
    Mutant(
        "what an edit has taken out stays marked on Power",
        "desktop/power/stage.py",
        "if not _is_there(board, *self.view.selected):",
        "if False:",
        "tests/desktop/test_power_stage.py",
    ),
    Mutant(
        "what has gone stays on a layer",
        "desktop/widgets/layer.py",
        "for k in set(range(len(self._items))).difference(was):",
        "for k in ():",
        LAYER,
    ),
    Mutant(
        "what a layer shows stands for two",
        "desktop/widgets/layer.py",
        "            left.remove(i + moved)\n",
        "",
        "tests/desktop/test_layer.py",
    ),
    Mutant(
        "what lies over others now is not painted again",
        "desktop/widgets/layer.py",
        "stays = _rising([k for k in was if k >= 0])",
        "stays = {k for k in was if k >= 0}",
        LAYER,
    ),
    Mutant(
        "letters on a layer measured as on paper",
        "desktop/widgets/layer.py",
        "edge += ceil(len(item.text) / 2)",
        "pass",
        LAYER,
    ),
    Mutant(
        "a layer that nobody sees through",
        "desktop/widgets/layer.py",
        "self._pixmap.fill(ground)",
        "pass",
        LAYER,
    ),
    Mutant(
        "marked cells keep their own colour",
        "desktop/widgets/text_table.py",
        "painter.setPen(palette.highlightedText().color())",
        "painter.setPen(QColor(getattr(model.tones, tone or 'ink')))",
        TABLE,
    ),
    Mutant(
        "what wraps is cut to a line",
        "desktop/widgets/text_table.py",
        "if option.features & QStyleOptionViewItem.ViewItemFeature.WrapText:",
        "if False:",
        TABLE,
    ),
    Mutant(
        "words reach the edge of their cell",
        "desktop/widgets/text_table.py",
        "_cut(text, bold, inside.width())",
        "text",
        TABLE,
    ),
    Mutant(
        "cells begin beside their heading",
        "desktop/widgets/text_table.py",
        "BESIDE_PX: Final = 6",
        "BESIDE_PX: Final = 9",
        TABLE,
    ),
    Mutant(
        "an edit comes between an edit and its draft",
        "desktop/work/session.py",
        "if is_waiting():  # whatever",
        "if False:  # whatever",
        ASIDE,
    ),
    Mutant(
        "a file is read anew in the middle of an edit",
        "desktop/work/session.py",
        "if is_waiting():\n            QTimer",
        "if False:\n            QTimer",
        ASIDE,
    ),
    Mutant(
        "answers come in the middle of an edit",
        "desktop/work/latest_job.py",
        "if is_waiting():",
        "if False:",
        ASIDE,
    ),
    Mutant(
        "a window shuts in the middle of an edit",
        "desktop/frame/window.py",
        "if is_waiting():",
        "if False:",
        ASIDE,
    ),
    Mutant(
        "what is worked out aside fails unheard",
        "desktop/work/aside.py",
        "if raised:",
        "if False:",
        ASIDE,
    ),
    Mutant(
        "a column is as wide as its shortest words",
        "desktop/widgets/text_table.py",
        "widest = max((",
        "widest = min((",
        TABLE,
    ),
    Mutant(
        "a table shown again keeps its widths",
        "desktop/widgets/text_table.py",
        "if not self._measured:",
        "if False:",
        TABLE,
    ),
    Mutant(
        "a picture nobody sees is laid out",
        "desktop/widgets/scene_view.py",
        "if self.isVisible():\n            self._set_scroll_range()\n            self.viewport()",
        "if True:\n            self._set_scroll_range()\n            self.viewport()",
        SCENE,
    ),
    Mutant(
        "every other height lays a picture out anew",
        "desktop/widgets/scene_view.py",
        "return (self.page_width(),)",
        "return (self.page_width(), float(self.height()))",
        SCENE,
    ),
    Mutant(
        "a switch without a legend breaks its panel",
        "sheets/drawings/panel/plate.py",
        "if wide else usual",
        "if True else usual",
        "tests/desktop/test_helm_stage.py",
    ),
    Mutant(
        "a plate is bought beside its breaker panel",
        "sheets/lists/shelf_parts.py",
        "if p.id not in _faces(draft)",
        "if True",
        "tests/sheets/test_build_lists.py",
    ),
    Mutant(
        "a step nobody knows is one that failed",
        "bench/devices/tester.py",
        'if answer not in ("0", "1"):',
        "if False:",
        "tests/bench/test_tester.py",
    ),
    Mutant(
        "ids of any length",
        "quantities/texts.py",
        "lambda t: len(t) <= _LONGEST_ID",
        "lambda t: True",
        "tests/quantities/test_limits.py",
    ),
    Mutant(
        "what is scrolled to stays undrawn",
        "desktop/power/view.py",
        "top = self.verticalScrollBar().value()",
        "top = 0",
        "tests/desktop/test_power_stage.py",
    ),
    Mutant(
        "a load half in sight is not drawn",
        "sheets/drawings/power_drawing.py",
        "return self.y <= bottom and self.y + ROW_H >= top",
        "return self.y >= top and self.y + ROW_H <= bottom",
        "tests/desktop/test_power_stage.py",
    ),
    Mutant(
        "a contact without throws",
        "quantities/limits.py",
        "return not value or len(set(value)) < len(value)",
        "return len(set(value)) < len(value)",
        "tests/quantities/test_limits.py",
    ),
    Mutant(
        "a throw twice on one contact",
        "quantities/limits.py",
        "return not value or len(set(value)) < len(value)",
        "return not value",
        "tests/quantities/test_limits.py",
    ),
    Mutant(
        "a picture scrolled on stays where it was",
        "desktop/widgets/layer.py",
        "if not same or (ground, at) != self._under:",
        "if not same or ground != self._under[0]:",
        "tests/desktop/test_layer.py",
    ),
    Mutant(
        "where a scrolled picture differs is looked for at its top",
        "desktop/widgets/layer.py",
        "painter.setClipRegion(region)",
        "painter.setClipRegion(region.translated(at))",
        "tests/desktop/test_layer.py",
    ),
)
