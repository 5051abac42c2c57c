"""Shared demo data and the drafts made from it."""

import gc
import os
import shutil
import tempfile
from functools import cache
from pathlib import Path

import pytest

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp(prefix="vivid-loom-state-")

from vivid_loom.bench.devices.tester import BenchTester
from vivid_loom.boat import Boat, read_boat
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo import DEMO_FOLDER, DEMO_ORDER, demo_orders, find_boat
from vivid_loom.drafting import Draft, draft
from vivid_loom.order import Order, read_order


def pytest_unconfigure() -> None:
    """Leave nothing behind: every worker of a run has a state folder of its own."""
    shutil.rmtree(os.environ["XDG_STATE_HOME"], ignore_errors=True)


@cache
def drafted(path: Path) -> Draft:
    """Return the draft of a shipped order, made once."""
    order = read_order(path)
    return draft(order, read_boat(find_boat(path, order.boat)), shipped_catalogue())


@pytest.fixture
def counts_as_a_tester(monkeypatch: pytest.MonkeyPatch) -> None:
    """Let the stand-in take a tester's part: what it reads counts."""
    monkeypatch.setattr(BenchTester, "is_practice", False)


@pytest.fixture(scope="session")
def boat() -> Boat:
    """QH-86."""
    return read_boat(DEMO_FOLDER / "qh-86.boat.json")


@pytest.fixture(scope="session")
def order() -> Order:
    """Hull 0417, the full deck package."""
    return read_order(DEMO_ORDER)


@pytest.fixture(scope="session")
def full() -> Draft:
    """Draft of hull 0417."""
    return drafted(DEMO_ORDER)


@pytest.fixture(scope="session")
def mistakes() -> Draft:
    """Draft of hull 0423, the order with planted mistakes."""
    return drafted(DEMO_FOLDER / "hull-0423.loom.json")


@pytest.fixture(params=demo_orders(), ids=lambda path: path.name[:9], scope="session")
def any_draft(request: pytest.FixtureRequest) -> Draft:
    """Draft of each shipped order."""
    return drafted(request.param)


def pytest_addoption(parser: pytest.Parser) -> None:
    """Take how many generated orders and random edits to check."""
    parser.addoption("--orders", type=int, default=150, help="generated orders to draft and check")
    parser.addoption("--edits", type=int, default=60, help="random edits to draft again")


LONGEST = (
    "test_bad_input.py",
    "test_generated.py",
    "test_packet.py",
    "test_board.py",
    "test_bench_stage.py",
)
"""Files that take longest begin first, so that no worker is left with one at the end."""


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Put the longest files first; all else stays in its order."""
    last = len(LONGEST)
    turn = {name: i for i, name in enumerate(LONGEST)}
    items.sort(key=lambda item: turn.get(item.path.name, last))


def pytest_collection_finish() -> None:
    """Leave what there is before the first test out of the cycle collector's rounds."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(10_000)


@pytest.fixture(scope="session")
def orders(request: pytest.FixtureRequest) -> int:
    """How many generated orders to check."""
    return int(request.config.getoption("--orders"))
