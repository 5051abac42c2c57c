"""Parts of a supply as bought: those that ship, and a shop's own."""

import json
from pathlib import Path

import pytest

from vivid_loom.boat import Feed, Supply, generic_parts, parts_kept
from vivid_loom.boat.supply import SupplyKind
from vivid_loom.quantities.document import DocumentError
from vivid_loom.standards.devices import DEVICES

OWN = {
    "id": "block-99",
    "name": "Wide block",
    "kind": "fuse_block",
    "total_max_a": 150.0,
    "ways": 32,
}


def write(folder: Path, *parts: dict[str, object]) -> None:
    body = {"format": "vivid-loom-parts", "version": 1, "parts": parts}
    (folder / "parts.json").write_text(json.dumps(body))


def test_every_kind_is_on_the_shelf() -> None:
    kinds = {part.kind for part in generic_parts()}
    assert kinds == set(SupplyKind.__args__)  # type: ignore[attr-defined]
    for part in generic_parts():
        blocks = part.kind in ("bus", "fuse_block", "breaker_panel")
        assert bool(part.ways) is blocks, part.id
        assert not part.ways or part.way_max_a <= part.total_max_a, part.id
        assert part.family in DEVICES and (part.output_v is None) == (part.kind != "converter")


def test_a_part_fits_in_the_place_of_another() -> None:
    feed = Feed(id="F03", source="BSW", family="breaker")
    old = Supply(
        id="HFB", name="Helm", station="helm", kind="fuse_block", level="unswitched", feeds=(feed,)
    )
    bought = next(part for part in generic_parts() if part.id == "panel-8")
    new = bought.fitted(old)
    assert (new.id, new.station, new.level, new.feeds) == ("HFB", "helm", "unswitched", (feed,))
    assert (new.kind, new.ways, new.family, new.total_max_a) == ("breaker_panel", 8, "breaker", 60)


def test_a_shop_adds_its_own(tmp_path: Path) -> None:
    assert parts_kept(tmp_path) == generic_parts()
    write(tmp_path, OWN)
    assert len(parts_kept(tmp_path)) == len(generic_parts()) + 1
    write(tmp_path, {**OWN, "id": "block-26"})  # in the place of one that ships
    kept = {part.id: part for part in parts_kept(tmp_path)}
    assert len(kept) == len(generic_parts()) and kept["block-26"].ways == 32


@pytest.mark.parametrize(
    ("parts", "words"),
    [
        ((OWN, OWN), "twice"),
        (({**OWN, "kind": "magnet"},), "'magnet'"),
        (({**OWN, "total_max_a": 0.0},), "greater than 0"),
    ],
)
def test_a_broken_file_is_named(
    tmp_path: Path, parts: tuple[dict[str, object], ...], words: str
) -> None:
    write(tmp_path, *parts)
    with pytest.raises(DocumentError, match=words):
        parts_kept(tmp_path)
