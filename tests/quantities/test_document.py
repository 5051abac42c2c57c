import json
from pathlib import Path

import pytest

from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.order import ORDER_FORMAT, ORDER_VERSION, Order, read_order, write_order
from vivid_loom.quantities.atomic import write_atomically
from vivid_loom.quantities.document import DocumentError, schema_of


def written(tmp_path: Path, change: dict[str, object]) -> Path:
    data = json.loads((DEMO_FOLDER / "hull-0417.loom.json").read_text())
    data.update(change)
    path = tmp_path / "order.loom.json"
    path.write_text(json.dumps(data))
    return path


def test_saving_again_changes_no_byte(tmp_path: Path) -> None:
    source = DEMO_FOLDER / "hull-0423.loom.json"
    write_order(tmp_path / "again.loom.json", read_order(source))
    assert (tmp_path / "again.loom.json").read_bytes() == source.read_bytes()


@pytest.mark.parametrize(
    ("change", "place", "words"),
    [
        ({"hull": 417}, "hull", "found 417"),
        ({"colour": "x"}, "colour", "found 'x'"),
        ({"version": 99}, "version", "newer program"),
        ({"version": "1"}, "version", "whole number"),
        ({"format": "else"}, "format", "vivid-loom-order"),
        ({"station_date": "soon"}, "station_date", "2026-12-07"),
        ({"profile": "mine"}, "profile", "'mine'"),
        ({"profile_changes": [["shape", 3]]}, "profile_changes[0]", "'shape'"),
        ({"profile_changes": [["bundling", "maybe"]]}, "profile_changes[0]", "'maybe'"),
        ({"profile_changes": [["shop_floor", "thin"]]}, "profile_changes[0]", "expected a gauge"),
        ({"overrides": [{"subject": "C01"}]}, "overrides[0].field", "found nothing"),
    ],
)
def test_a_bad_field_is_named_with_file_place_and_expectation(
    tmp_path: Path, change: dict[str, object], place: str, words: str
) -> None:
    path = written(tmp_path, change)
    with pytest.raises(DocumentError) as caught:
        read_order(path)
    assert caught.value.place == place
    assert words in str(caught.value)
    assert str(path) in str(caught.value)


@pytest.mark.parametrize("text", ["", "{", "[]", '{"format": 1}', "\x00", "[" * 100000])
def test_a_broken_file_is_refused(tmp_path: Path, text: str) -> None:
    path = tmp_path / "x.loom.json"
    path.write_text(text)
    with pytest.raises(DocumentError):
        read_order(path)


def test_a_missing_file_is_named(tmp_path: Path) -> None:
    with pytest.raises(DocumentError, match="cannot be read"):
        read_order(tmp_path / "none.loom.json")


def test_a_failed_write_leaves_the_old_file(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = tmp_path / "a.txt"
    write_atomically(path, b"old")

    def fail(self: Path, target: Path) -> None:
        raise OSError("disk full")

    monkeypatch.setattr(Path, "replace", fail)
    with pytest.raises(OSError, match="disk full"):
        write_atomically(path, b"new")
    assert path.read_bytes() == b"old"
    assert [p.name for p in tmp_path.iterdir()] == ["a.txt"]


def test_the_published_schemas_are_current() -> None:
    published = Path(__file__).parents[2] / "docs" / "formats" / f"{ORDER_FORMAT}.schema.json"
    assert json.loads(published.read_text()) == schema_of(Order, ORDER_FORMAT, ORDER_VERSION)
