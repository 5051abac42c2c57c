"""Names of circuits on the ladders of the supply picture."""

import re

import pytest

from vivid_loom.drafting import Draft
from vivid_loom.sheets.drawings.supply_drawing import supply_picture
from vivid_loom.sheets.paper.drawing import Text
from vivid_loom.sheets.paper.tones import PAPER


def names(draft: Draft, width: float) -> list[str]:
    """Return what is written on the rungs."""
    scene = supply_picture(draft, width, states={}, selected="", tones=PAPER)
    begins = {
        (round(spot.rect[0] + 66), round(spot.rect[1] + 12))
        for spot in scene.spots
        if spot.kind == "way"
    }
    return [
        item.text
        for item in scene.items
        if isinstance(item, Text) and (round(item.x), round(item.y)) in begins
    ]


@pytest.mark.parametrize("width", [900.0, 1190.0])
def test_no_two_circuits_of_a_block_read_alike(any_draft: Draft, width: float) -> None:
    told = names(any_draft, width)
    labels = [row.planned.label for row in any_draft.circuits]
    assert len(told) >= len(any_draft.circuits) - 1  # a sensor hangs on its instrument
    for text in set(told):
        alike = sum(_fits(text, label) for label in set(labels))
        assert told.count(text) <= max(1, alike), text


def _fits(text: str, label: str) -> bool:
    return bool(re.fullmatch(re.escape(text).replace("…", ".*"), label))


def test_with_room_every_name_is_whole(any_draft: Draft) -> None:
    wide = names(any_draft, 2400.0)
    assert sum("…" in name for name in wide) <= sum(
        "…" in name for name in names(any_draft, 1190.0)
    )
    fed = {row.planned.label for row in any_draft.circuits if not row.planned.signals}
    longest = sorted(fed, key=lambda label: (len(label), label))[-6:-2]
    assert set(longest) <= set(wide)
