"""Boats of many kinds from nothing to a packet: no error, proven, cross-checked, in few steps."""

from collections.abc import Callable
from pathlib import Path

import pytest

from tests.checker import packet_problems
from tests.desktop.hand import Answer, errors
from tests.jobs.boats import JOBS
from tests.jobs.builder import Builder, Job
from vivid_loom.desktop.frame.window import MainWindow
from vivid_loom.sheets import packet_files
from vivid_loom.sheets.proof import proven


def test_there_are_two_dozen() -> None:
    assert len({job.name for job in JOBS}) == len(JOBS) >= 24


@pytest.mark.parametrize("job", JOBS, ids=[job.name for job in JOBS])
def test_a_boat_is_built_from_nothing(
    job: Job,
    open_on: Callable[[Path], MainWindow],
    own_order: Path,
    answer: Answer,
    monkeypatch: pytest.MonkeyPatch,
    capsys: pytest.CaptureFixture[str],
) -> None:
    """Every load fed, no error by rule or proof, and nothing that the checker holds against it."""
    window = open_on(own_order)
    hand = Builder(window, answer, monkeypatch)
    hand.boat(own_order.parent, job.boat)
    if job.first:
        job.first(hand)
    for item in job.loads:
        hand.take(item)
    done = window.session.draft
    assert errors(window) == []
    assert [f.sentence() for f in proven(done).standing if f.severity == "error"] == []
    files = packet_files(done, frozenset({"schedule", "cutlist"}))
    assert packet_problems(files, done.aboard.boat, done.aboard.profile.bundling) == []
    fed = {name for row in done.circuits for name in row.planned.loads}
    assert fed == set(done.aboard.loads)
    with capsys.disabled():
        print(f"\n    {job.name}: {hand.steps} steps", end="")
    assert hand.steps == job.steps
