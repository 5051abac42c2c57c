import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest

from vivid_loom.boat import read_boat, write_boat
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.quantities.document import DocumentError

SOURCE = DEMO_FOLDER / "qh-86.boat.json"


def test_saving_again_changes_no_byte(tmp_path: Path) -> None:
    write_boat(tmp_path / "b.json", read_boat(SOURCE))
    assert (tmp_path / "b.json").read_bytes() == SOURCE.read_bytes()


def test_the_demo_boat_is_of_real_size() -> None:
    boat = read_boat(SOURCE)
    loads = len(boat.fit.loads) + sum(len(option.adds.loads) for option in boat.options)
    assert loads >= 45
    assert len(boat.stations) >= 30


def set_in(*path: str | int, value: object) -> Callable[[Any], None]:
    def change(data: Any) -> None:
        for part in path[:-1]:
            data = data[part]
        data[path[-1]] = value

    return change


@pytest.mark.parametrize(
    ("change", "place", "words"),
    [
        (set_in("runs", 0, "ends", 1, value="nowhere"), "runs[0].ends[1]", "'nowhere'"),
        (set_in("runs", 2, "length_m", value=-1.0), "runs[2].length_m", "greater than 0"),
        (set_in("stations", 1, "area", value="attic"), "stations[1].area", "'attic'"),
        (set_in("stations", 1, "id", value="transom"), "stations", "twice"),
        (
            set_in("supplies", 1, "feeds", 0, "source", value="GEN"),
            "supplies[1].feeds[0].source",
            "'GEN'",
        ),
        (
            set_in("supplies", 0, "feeds", 0, "source", value="IGN"),
            "supplies[0].feeds",
            "circle",
        ),
        (set_in("fit", "loads", 3, "station", value="moon"), "fit.loads[3].station", "'moon'"),
        (
            set_in("fit", "loads", 0, "maker_smallest", value="thin"),
            "fit.loads[0].maker_smallest",
            "expected a gauge",
        ),
        (
            set_in("fit", "loads", 0, "running_a", value=0.0),
            "fit.loads[0].running_a",
            "greater than 0",
        ),
    ],
)
def test_a_bad_boat_is_refused_by_place(
    tmp_path: Path, change: Callable[[Any], None], place: str, words: str
) -> None:
    data = json.loads(SOURCE.read_text())
    change(data)
    path = tmp_path / "bad.boat.json"
    path.write_text(json.dumps(data))
    with pytest.raises(DocumentError) as caught:
        read_boat(path)
    assert caught.value.place == place
    assert words in caught.value.problem
