"""What proofs find are findings: nobody signs past a wire that burns or a sneak circuit."""

import dataclasses
import json
from pathlib import Path

import pytest
from click.testing import CliRunner

from vivid_loom.boat import read_boat
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.cli import main
from vivid_loom.demo import DEMO_FOLDER, find_boat
from vivid_loom.drafting import Draft, Finding, draft
from vivid_loom.opening import open_draft
from vivid_loom.order import Acceptance, Override, accept_finding, set_override, write_order
from vivid_loom.power.scan import scan_draft
from vivid_loom.queue import queue_entry, with_figures
from vivid_loom.sheets import packet_books, packet_files
from vivid_loom.sheets.paper.drawing import Page, Text
from vivid_loom.sheets.proof import proven, standing_errors

CLEAN = ("0417", "0421", "0611", "1104")


def opened(hull: str) -> Draft:
    return open_draft(DEMO_FOLDER / f"hull-{hull}.loom.json")


def again(done: Draft, *edits: object) -> Draft:
    order = done.aboard.order
    for edit in edits:
        order = edit[1](order)  # type: ignore[index]
    path = DEMO_FOLDER / f"hull-{order.hull}.loom.json"
    return draft(order, read_boat(find_boat(path, order.boat)), shipped_catalogue())


def answer(finding: Finding, second: str) -> Acceptance:
    return Acceptance(
        code=finding.code,
        subjects=finding.subjects,
        sentence=finding.sentence(),
        reason="tried on the bench",
        initials="TW",
        second=second,
        date="2026-12-01",
    )


def printed(pages: tuple[Page, ...]) -> str:
    return " ".join(i.text for page in pages for i in page.items if isinstance(i, Text))


def burning() -> Draft:
    """The deck bus's feeder of hull 1104 at 14 AWG, which two people answer for: a short on it
    burns it before the main fuse has opened, and that is a finding of its own.
    """
    thin = Override(
        subject="F11", field="gauge", value="14 AWG", reason="on the shelf", initials="TW"
    )
    done = again(opened("1104"), set_override(thin))
    (ahead,) = (f for f in done.findings if f.code == "K17")
    return again(done, set_override(thin), accept_finding(answer(ahead, "AB")))


@pytest.mark.parametrize("hull", CLEAN)
def test_no_clean_demo_order_hides_a_burning_wire_or_a_sneak(hull: str) -> None:
    done = opened(hull)
    assert standing_errors(done) == 0
    assert not [row for row in scan_draft(done) if row.burnt[0]]


def test_what_goes_dark_is_called_by_its_load() -> None:
    done = opened("0417")
    dark = [f for f in proven(done).standing if f.code == "W06"]
    assert dark and all(name in done.aboard.loads for f in dark for name in f.subjects)


def test_a_wire_that_burns_is_an_error_wherever_somebody_would_sign() -> None:
    done = burning()
    assert not [f for f in done.findings if f.severity == "error"]
    (burns,) = (f for f in proven(done).standing if f.code == "W03")
    assert burns.subjects == ("F11-S1",) and standing_errors(done) == 1
    cover = printed(packet_books(done)[0].sections[0].pages())
    assert "1 errors" in cover and "Do not build" in cover
    assert "Error K17 accepted by TW and AB: tried on the bench" in cover
    files = packet_files(done, frozenset({"findings"}))
    told = json.loads(files["findings.json"])
    assert {"W03", "K17"} <= {f["code"] for f in told}
    assert next(f for f in told if f["code"] == "K17")["accepted"]["second"] == "AB"


def test_check_and_queue_say_so_and_check_ends_with_1(tmp_path: Path) -> None:
    done = burning()
    for name in (done.aboard.order.boat, "shop.json"):
        (tmp_path / name).write_bytes((DEMO_FOLDER / name).read_bytes())
    path = tmp_path / "hull-1104.loom.json"
    write_order(path, done.aboard.order)
    ran = CliRunner().invoke(main, ["check", str(path)])
    assert ran.exit_code == 1 and "error  W03 F11-S1 reaches" in ran.output
    assert with_figures(queue_entry(path)).errors == 1


def test_an_error_wants_two_initials_and_a_judgement_one() -> None:
    done = opened("0423")
    order = dataclasses.replace(done.aboard.order, accepted=())
    error = next(f for f in done.findings if f.severity == "error")
    judged = next(f for f in done.findings if f.severity == "judge")
    for finding, second, holds in (
        (error, "", False),
        (error, "tw", False),
        (error, "AB", True),
        (judged, "", True),
    ):
        asked = accept_finding(answer(finding, second))[1](order)
        path = DEMO_FOLDER / "hull-0423.loom.json"
        model = read_boat(find_boat(path, order.boat))
        accepted = {f for f, _ in draft(asked, model, shipped_catalogue()).accepted}
        assert (finding in accepted) is holds, (finding.code, second)


def test_sneaks_are_errors_with_what_brings_them_about() -> None:
    done = opened("0423")
    sneaks = [f for f in proven(done).standing if f.code == "W01"]
    assert sneaks and all(f.severity == "error" for f in sneaks)
    assert any("Sump pump" in f.sentence() for f in sneaks)
    assert not [f for f in proven(done).standing if f.code == "W03"]  # drawn wrong: not broken yet
