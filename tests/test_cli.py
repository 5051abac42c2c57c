import json
import shutil
import subprocess
import sys
from pathlib import Path

import pytest
from click.testing import CliRunner

from vivid_loom.cli import main
from vivid_loom.demo import DEMO_FOLDER, DEMO_ORDER
from vivid_loom.order import read_spools

MISTAKES = str(DEMO_FOLDER / "hull-0423.loom.json")


def run(*words: str) -> tuple[int, str]:
    result = CliRunner().invoke(main, list(words))
    return result.exit_code, result.output


def test_draft_writes_the_whole_packet(tmp_path: Path) -> None:
    code, text = run("draft", str(DEMO_ORDER), "--out", str(tmp_path / "p"))
    assert code == 0, text
    names = {path.name for path in (tmp_path / "p").iterdir()}
    assert {"schedule.csv", "cutlist.csv", "landing.csv", "packet.pdf", "findings.json"} <= names
    assert {"connectors.csv", "joints.csv", "branches.csv", "labels.csv", "materials.csv"} <= names
    assert {"cutplan.csv", "board.svg", "board.dxf", "schedule.xlsx"} <= names
    json.loads((tmp_path / "p" / "findings.json").read_text())


def test_check_exits_1_on_errors_and_0_without() -> None:
    code, text = run("check", MISTAKES)
    assert code == 1
    assert "C16 is protected at 30 A; its 16 AWG bears 25 A here." in text
    assert run("check", str(DEMO_ORDER))[0] == 0


def broken(tmp_path: Path, **change: object) -> Path:
    data = json.loads(DEMO_ORDER.read_text())
    data.update(change)
    path = tmp_path / "order.loom.json"
    path.write_text(json.dumps(data))
    return path


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"hull": None}, "hull: found None"),
        ({"boat": "none.boat.json"}, "none.boat.json: cannot be read"),
        ({"options": ["wings"]}, "options: found unknown option 'wings'"),
        ({"options": ["autopilot"]}, "without 'plotter_pack'"),
    ],
)
def test_bad_input_gets_one_clear_error_and_nothing_is_written(
    tmp_path: Path, change: dict[str, object], words: str
) -> None:
    path = broken(tmp_path, **change)
    out = tmp_path / "out"
    code, text = run("draft", str(path), "--out", str(out))
    assert code == 2
    assert words in text
    assert len(text.strip().splitlines()) == 1
    assert not out.exists()


def test_an_unknown_part_writes_nothing(tmp_path: Path) -> None:
    code, text = run("draft", str(DEMO_ORDER), "--out", str(tmp_path / "o"), "--only", "sketch")
    assert code == 2 and "sketch" in text
    assert not (tmp_path / "o").exists()


def test_diff_names_what_moved(tmp_path: Path) -> None:
    path = broken(tmp_path, options=[])
    code, text = run("diff", str(DEMO_ORDER), str(path))
    assert code == 1
    assert "C30: removed" in text
    assert run("diff", str(DEMO_ORDER), str(DEMO_ORDER)) == (0, "")


def test_schemas_are_written(tmp_path: Path) -> None:
    assert run("schemas", str(tmp_path))[0] == 0
    assert len(list(tmp_path.glob("*.schema.json"))) == 6


def test_compare_sets_two_profiles_side_by_side() -> None:
    code, text = run("compare", str(DEMO_ORDER), "iso")
    assert code == 0
    assert "copper, kg" in text and "ISO metric" in text and "mm²" in text
    assert run("compare", str(DEMO_ORDER), "none")[0] == 2


def test_stock_names_what_is_missing_and_what_may_go_in() -> None:
    code, text = run("stock", str(DEMO_ORDER))
    assert code == 1
    assert "C13 Wiper port: 7.5 A blade fuse" in text
    assert "may go in  10 A blade fuse: safe" in text
    assert "refused    5 A blade fuse" in text


def test_presses_say_what_runs_and_exit_1_where_it_is_not_meant() -> None:
    code, text = run("presses", str(DEMO_ORDER))
    assert code == 0 and "0 not as meant" in text
    assert "runs All-round light, Side light port, Side light starboard" in text
    code, text = run("presses", MISTAKES)
    assert code == 1 and "NOT AS MEANT: Live-tank pump starboard runs unasked" in text
    code, text = run("presses", str(DEMO_ORDER), "--press", "s_horn=up", "--press", "SW5=down")
    assert code == 0 and "Runs by it: All-round light, Horn." in text
    for words, told in (("s_nav=left", "expected off, up, down"), ("s_boat=up", "expected one of")):
        code, text = run("presses", str(DEMO_ORDER), "--press", words)
        assert code == 2 and told in text and len(text.strip().splitlines()) == 1


def test_the_cut_plan_is_printed_written_and_booked(tmp_path: Path) -> None:
    for name in ("hull-0609.loom.json", "qh-62.boat.json", "spools.csv"):
        (tmp_path / name).write_bytes((DEMO_ORDER.parent / name).read_bytes())
    order, plan = tmp_path / "hull-0609.loom.json", tmp_path / "plan.csv"
    before = (tmp_path / "spools.csv").read_text()
    code, text = run("cutplan", str(order), "--out", str(plan))
    assert code == 0 and "no plan takes less" in text
    assert (tmp_path / "spools.csv").read_text() == before
    assert len(plan.read_text().splitlines()) > 100
    code, text = run("cutplan", str(order), "--commit")
    assert code == 0 and "spools and remnants left" in text
    booked = (tmp_path / "spools.csv").read_text()
    assert booked != before
    code, text = run("cutplan", str(order), "--commit")
    assert code == 2 and "booked already" in text and "hull 0609" in text
    assert (tmp_path / "spools.csv").read_text() == booked


def test_two_bookings_at_once_take_what_both_cut(tmp_path: Path) -> None:
    """Each read the shelf before the other wrote it: 129 m of wire were lost."""
    for name in ("hull-0609", "hull-0611"):
        source = DEMO_ORDER.parent / f"{name}.loom.json"
        (tmp_path / source.name).write_bytes(source.read_bytes())
    for source in (*DEMO_ORDER.parent.glob("*.boat.json"), DEMO_ORDER.parent / "spools.csv"):
        (tmp_path / source.name).write_bytes(source.read_bytes())
    orders = ("hull-0609.loom.json", "hull-0611.loom.json")
    folders = ("forward", "backward", "both")
    for folder in folders:
        shutil.copytree(tmp_path, tmp_path / folder, ignore=shutil.ignore_patterns(*folders))
    for folder, names in (("forward", orders), ("backward", orders[::-1])):
        for name in names:
            assert run("cutplan", str(tmp_path / folder / name), "--commit")[0] == 0
    command = [sys.executable, "-m", "vivid_loom.cli", "cutplan"]
    at_once = [
        subprocess.Popen(
            [*command, str(tmp_path / "both" / name), "--commit"], stdout=subprocess.DEVNULL
        )
        for name in orders
    ]
    assert [each.wait() for each in at_once] == [0, 0]
    one, other, both = (set(read_spools(tmp_path / folder / "spools.csv")) for folder in folders)
    assert both in (one, other)
    assert len((tmp_path / "both" / "spools-booked.csv").read_text().splitlines()) == 3


def test_the_shipped_spools_are_never_booked() -> None:
    shipped = DEMO_ORDER.parent / "spools.csv"
    before = shipped.read_bytes()
    code, text = run("cutplan", str(DEMO_ORDER), "--commit")
    assert code == 2 and "never written to" in text
    assert shipped.read_bytes() == before


def test_boards_are_written_sheet_by_sheet(tmp_path: Path) -> None:
    order = str(DEMO_ORDER.parent / "hull-0609.loom.json")
    code, text = run("board", order, "--out", str(tmp_path), "--harness", "deck", "--paper", "A2")
    assert code == 0 and "sheets, board 4.8 × 1.2 m" in text
    assert [p.name for p in tmp_path.iterdir()] == ["board-deck-a2.pdf"]
    for wrong, told in (
        (("--paper", "A9"), "expected one of A4, A3, A2, roll"),
        (("--size", "big"), "expected two lengths"),
        (("--harness", "keel"), "expected one of"),
    ):
        code, text = run("board", order, "--out", str(tmp_path), *wrong)
        assert code == 2 and told in text
