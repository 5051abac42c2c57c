"""Names from files never make paths: every writer stays in the folder it was given."""

import json
from pathlib import Path

import pytest
from click.testing import CliRunner

from vivid_loom.cli import main
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.quantities import file_name

UP = "x/../../../escaped"


@pytest.fixture
def order(tmp_path: Path) -> Path:
    """An order and a boat whose hull, title and harnesses are called like ways out."""
    folder = tmp_path / "a" / "b" / "c"
    folder.mkdir(parents=True)
    told = json.loads((DEMO_FOLDER / "hull-0611.loom.json").read_text())
    boat = json.loads((DEMO_FOLDER / told["boat"]).read_text())
    names = {one["id"]: f"../../{one['id']}" for one in boat["assemblies"]}
    for one in boat["assemblies"]:
        one["id"] = names[one["id"]]
        one["name"] = f"/tmp/{one['name']}"
    for run in boat["runs"]:
        run["harness"] = names[run["harness"]]
    path = folder / "hull.loom.json"
    path.write_text(json.dumps({**told, "hull": UP, "title": UP, "customer": UP}))
    (folder / told["boat"]).write_text(json.dumps(boat))
    return path


@pytest.mark.parametrize(
    "words",
    [
        ("draft", "--out", "OUT"),
        ("papers", "--out", "OUT"),
        ("board", "--out", "OUT", "--paper", "A3"),
        ("labels", "--out", "OUT/labels.pdf"),
        ("cutplan", "--out", "OUT/plan.csv"),
        ("log export", "--out", "OUT/log.csv"),
        ("log export", "--out", "OUT/log.pdf"),
    ],
)
def test_nothing_is_written_outside_the_folder(order: Path, words: tuple[str, ...]) -> None:
    top = order.parents[3]
    out = order.parent / "out"
    out.mkdir()
    before = {p for p in top.rglob("*") if p.is_file()}
    command, *rest = (word.replace("OUT", str(out)) for word in words)
    done = CliRunner().invoke(main, [*command.split(), str(order), *rest])
    assert done.exit_code in (0, 1), done.output
    after = {p for p in top.rglob("*") if p.is_file()} - before
    written = {p for p in after if not p.name.startswith(".")}
    assert written and all(p.parent == out for p in written)


@pytest.mark.parametrize(
    "stem", [UP, "..", ".", "", "a/b\\c", "\0", "x" * 400, "é" * 200, "con:*?", " . "]
)
def test_a_file_name_is_one_name(stem: str, tmp_path: Path) -> None:
    made = file_name(stem, ".pdf")
    assert Path(made).name == made and made.endswith(".pdf") and len(made.encode()) <= 255
    (tmp_path / made).write_text("")
    assert (tmp_path / made).parent.resolve() == tmp_path.resolve()
