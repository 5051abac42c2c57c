"""A survey: what is found is taken as found, what is blank stays unknown, what is wrong is told."""

from pathlib import Path

import pytest
from click.testing import CliRunner

from vivid_loom.cli import main
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.order import read_order, read_survey, take_survey
from vivid_loom.quantities.document import DocumentError

GOOD = """wire_id,circuit_id,from,to,gauge,colour,length,path,state,note
W1,C01,HFB way 1,Horn plus,14 AWG,BN/WH,3.2 m,T1;T2,,seen at both ends
,,HFB way 2,,?,,,,,disappears behind the tank
W3,C02,NB1 screw 4,Bilge pump minus,,YE,12 ft,,capped,
"""


def survey(folder: Path, text: str) -> Path:
    path = folder / "survey.csv"
    path.write_text(text, encoding="utf-8")
    return path


def test_what_is_found_and_what_is_unknown(tmp_path: Path) -> None:
    first, second, third = read_survey(survey(tmp_path, GOOD))
    assert (first.id, first.gauge, first.colour, first.length_mm) == ("W1", "14 AWG", "BN/WH", 3200)
    assert first.runs == ("T1", "T2")
    assert (second.id, second.gauge, second.colour, second.end) == ("found 2", "", "", "")
    assert second.length_mm == 0
    assert third.state == "capped"
    assert third.length_mm == pytest.approx(12 * 304.8)


@pytest.mark.parametrize(
    ("row", "told"),
    [
        ("W1,C01,,,14 AWG,BN,1,,,", "line 2: found neither from nor to"),
        ("W1,C01,a 1,b 1,thick,BN,1,,,", "line 2, gauge: "),
        ("W1,C01,a 1,b 1,14 AWG,mauve,1,,,", "line 2, colour: "),
        ("W1,C01,a 1,b 1,14 AWG,BN,far,,,", "line 2, length: "),
        ("W1,C01,a 1,b 1,14 AWG,BN,1,,gone,", "line 2, state: found 'gone', expected one of"),
        ("W1,,a 1,b 1,,,,,,\nW1,,a 2,b 2,,,,,,", "line 3, wire_id: found 'W1' a second time"),
    ],
)
def test_what_is_wrong_is_told_by_its_place(tmp_path: Path, row: str, told: str) -> None:
    heading = GOOD.splitlines()[0]
    with pytest.raises(DocumentError) as caught:
        read_survey(survey(tmp_path, f"{heading}\n{row}\n"))
    assert told in str(caught.value)


def test_a_file_that_is_no_survey_is_refused(tmp_path: Path) -> None:
    with pytest.raises(DocumentError, match="line 1: found a, b, expected wire_id"):
        read_survey(survey(tmp_path, "a,b\n1,2\n"))
    with pytest.raises(DocumentError, match="cannot be read"):
        read_survey(tmp_path / "nothing.csv")


@pytest.mark.parametrize("text", ["x" * 140_000, GOOD + "W4," + "x" * 140_000])
def test_a_cell_that_holds_a_book_is_told_by_its_line(tmp_path: Path, text: str) -> None:
    with pytest.raises(DocumentError, match=r"line \d+: is no CSV: field larger"):
        read_survey(survey(tmp_path, text))


def test_the_order_starts_from_what_was_found(tmp_path: Path) -> None:
    order = read_order(DEMO_FOLDER / "hull-0611.loom.json")
    name, edit = take_survey(read_survey(survey(tmp_path, GOOD)), order.hull)
    made = edit(order)
    assert name == "take in a survey of 3 conductors"
    assert (len(made.built), made.based_on) == (3, "0611")
    path = survey(tmp_path, GOOD)
    out = tmp_path / "hull-0611-B.loom.json"
    told = ["survey", str(DEMO_FOLDER / "hull-0611.loom.json"), str(path), "--out", str(out)]
    done = CliRunner().invoke(main, told)
    assert done.exit_code == 0, done.output
    assert "0 stay, 0 move, 1 come off, 1 are unknown" in done.output  # W3 lies capped already
    assert read_order(out).built == made.built
    assert CliRunner().invoke(main, told).exit_code == 2  # never over a file that is there
