"""Whatever stands in a file, the answer is a draft or one clear error; never a traceback."""

import copy
import json
from pathlib import Path
from typing import Any

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.opening import open_draft
from vivid_loom.quantities.document import DocumentError
from vivid_loom.sheets import packet_table
from vivid_loom.sheets.packet import TABLES

BOAT = json.loads((DEMO_FOLDER / "qh-86.boat.json").read_text())
ORDER = json.loads((DEMO_FOLDER / "hull-0423.loom.json").read_text())
ODD = st.sampled_from(
    [
        None,
        "",
        "x",
        -1,
        0,
        1e9,
        True,
        [],
        {},
        ["a", "a"],
        "=1+1",
        "F01",
        "BAT",
        "HFB",
        "helm",
        "<b>",
        "0 AWG",
        "40 AWG",
        "NaN",
        3,
        "breaker",
        "unswitched",
    ]
)


def paths(value: Any, at: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    """Return the path of every leaf and branch."""
    found = [at] if at else []
    if isinstance(value, dict | list):
        items = value.items() if isinstance(value, dict) else enumerate(value)
        for key, child in items:
            found += paths(child, (*at, key))
    return found


BOAT_PATHS, ORDER_PATHS = paths(BOAT), paths(ORDER)


def put(data: Any, path: tuple[Any, ...], value: Any, *, drop: bool) -> None:
    for part in path[:-1]:
        data = data[part]
    if drop:
        del data[path[-1]]
    else:
        data[path[-1]] = value


SLOW = ("branches", "install", "cutplan", "ringout", "alive")
"""Tables that pack bundles, search plans or power the boat up: one of them every other try."""
ONE_OR_NONE = st.one_of(st.just(""), st.sampled_from(SLOW))


def attempt(folder: Path, order: Any, boat: Any, slow: str) -> None:
    (folder / "b.boat.json").write_text(json.dumps(boat))
    order["boat"] = "b.boat.json"
    (folder / "o.loom.json").write_text(json.dumps(order))
    try:
        draft = open_draft(folder / "o.loom.json")
        names = [name for name in TABLES if name not in SLOW]
        tables = [packet_table(draft, name) for name in (*names, "materials", slow) if name]
    except DocumentError as error:
        assert error.problem
        assert len(str(error).splitlines()) == 1
    else:
        assert all(len(row) == len(t.columns) for t in tables for row in t.rows)


@settings(
    max_examples=60, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture]
)
@given(path=st.sampled_from(BOAT_PATHS), value=ODD, drop=st.booleans(), slow=ONE_OR_NONE)
def test_any_change_to_a_boat(tmp_path: Path, path: Any, value: Any, drop: bool, slow: str) -> None:
    boat = copy.deepcopy(BOAT)
    put(boat, path, value, drop=drop)
    attempt(tmp_path, copy.deepcopy(ORDER), boat, slow)


@settings(
    max_examples=60, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture]
)
@given(path=st.sampled_from(ORDER_PATHS), value=ODD, drop=st.booleans(), slow=ONE_OR_NONE)
def test_any_change_to_an_order(
    tmp_path: Path, path: Any, value: Any, drop: bool, slow: str
) -> None:
    order = copy.deepcopy(ORDER)
    put(order, path, value, drop=drop)
    attempt(tmp_path, order, copy.deepcopy(BOAT), slow)
