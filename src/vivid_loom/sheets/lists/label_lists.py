"""Every label of an order: wires and cables at both ends, plugs, branches, tags, capped ends."""

from collections.abc import Iterator
from typing import Final, NamedTuple

from vivid_loom.drafting import Draft
from vivid_loom.drafting.making.plugs import Plug
from vivid_loom.drafting.making.wire import Wire
from vivid_loom.quantities import file_name
from vivid_loom.sheets.lists.loose_lists import caps
from vivid_loom.sheets.lists.schedule import number
from vivid_loom.sheets.paper.metrics import text_width
from vivid_loom.sheets.paper.table import Table
from vivid_loom.sheets.words.names import Names
from vivid_loom.standards.sleeves import sleeve_bore_mm, sleeve_length_mm

__all__ = ["LabelRow", "labels", "record_name"]

LETTER_MM: Final = 3.0  # as large as letters get
FLAG_BORE_MM: Final = 12.7  # a flag around a branch or behind a plug
FLAG_MM: Final = 60.0
CAP_BORE_MM: Final = 4.8  # over a capped end
TAG_MM: Final = 70.0
EDGE_MM: Final = 2.0  # of a sleeve at each end, that stays blank


class LabelRow(NamedTuple):
    """A label to print: its text in two lines, and the sleeve that it goes on.

    ``qr`` is what the square on a harness tag says; '' for none.
    """

    kind: str
    label: str
    line_1: str
    line_2: str
    letter_mm: str
    sleeve_bore_mm: str
    length_mm: str
    wire_id: str
    end: str
    harness: str
    place: str
    point: str
    qr: str


def _letter_mm(lines: tuple[str, str], length_mm: float) -> float:
    """Return how large letters may be so that both lines stay on the sleeve, in mm."""
    wide = max(text_width(lines[0], 1.0, bold=True), text_width(lines[1], 1.0))
    return min(LETTER_MM, (length_mm - 2 * EDGE_MM) / wide) if wide else LETTER_MM


def _row(
    kind: str,
    lines: tuple[str, str],
    bore_mm: float,
    length_mm: float,
    about: tuple[str, str, str, str, str] = ("", "", "", "", ""),
    qr: str = "",
) -> LabelRow:
    letter = _letter_mm(lines, length_mm - (length_mm / 3 if qr else 0.0))
    text = " ".join(line for line in lines if line)
    sizes = (f"{letter:.2f}", number(bore_mm), number(length_mm))
    return LabelRow(kind, text, *lines, *sizes, *about, qr)


def _wears_its_labels(draft: Draft, wire: Wire) -> bool:
    """Tell whether a wire got its labels in an earlier order: what a survey found has none."""
    lies, now = draft.reuse.kept.get(wire.id), draft.aboard.order.hull
    return lies is not None and lies.id == wire.id and lies.made_in not in ("", now)


def _wire_labels(draft: Draft) -> Iterator[LabelRow]:
    over_mm = {wire.gauge: wire.diameter_mm for wire in draft.catalogue.wires}
    for wire in sorted(draft.assembled.wires, key=lambda w: w.harness):
        if _wears_its_labels(draft, wire):
            continue
        thick = over_mm[str(wire.gauge)]
        for side, end in (("from", wire.start), ("to", wire.end)):
            lines = (wire.id, end.label.removeprefix(wire.id).strip())
            about = (wire.id, side, wire.harness, end.place, end.point)
            yield _row("wire", lines, sleeve_bore_mm(thick), sleeve_length_mm(thick), about)


def _plug_labels(plug: Plug, names: Names) -> Iterator[LabelRow]:
    for harness, other, gender in (
        (plug.live, plug.dead, "sockets"),
        (plug.dead, plug.live, "pins"),
    ):
        lines = (
            f"{plug.id} key {plug.key}",
            f"{gender}, to {other}, {names.station(plug.station)}",
        )
        yield _row("plug", lines, FLAG_BORE_MM, FLAG_MM, ("", "", harness, plug.id, ""))


def _branch_labels(draft: Draft, names: Names) -> Iterator[LabelRow]:
    used = {run for wire in draft.assembled.wires for run in wire.runs}
    for run in draft.aboard.boat.runs:
        if run.id in used:
            first, last = (names.station(end) for end in run.ends)
            lines = (run.id, f"{first} – {last}")
            yield _row("branch", lines, FLAG_BORE_MM, FLAG_MM, ("", "", run.harness, run.id, ""))


def _recorded_labels(draft: Draft, names: Names) -> Iterator[LabelRow]:
    for item in draft.recorded:
        for piece in item.pieces:
            for label, station in zip(piece.labels, (piece.start, piece.end), strict=True):
                lines = (label, f"{item.record.name}, {names.station(station)}")
                yield _row("recorded", lines, FLAG_BORE_MM, FLAG_MM, ("", "", "", piece.id, ""))


def record_name(hull: str, harness: str) -> str:
    """Return the name of the file that keeps what a harness is made of and what was read in it."""
    return file_name(f"hull-{hull}-{harness.replace(' ', '-')}", ".record.json")


def _tag_words(draft: Draft, harness: str) -> str:
    """Return what the square on a harness's tag says; the last word names its record."""
    order = draft.aboard.order
    about = f"hull={order.hull} harness={harness} revision={order.revision}"
    return f"vivid-loom {about} record={record_name(order.hull, harness)}"


def _tags(draft: Draft) -> Iterator[LabelRow]:
    order = draft.aboard.order
    used = {wire.harness for wire in draft.assembled.wires}
    for assembly in draft.aboard.boat.assemblies:
        if assembly.id in used:
            lines = (
                assembly.name,
                f"{draft.aboard.boat.name} hull {order.hull} rev {order.revision}",
            )
            about = ("", "", assembly.id, "", "")
            yield _row(
                "harness", lines, FLAG_BORE_MM, TAG_MM, about, _tag_words(draft, assembly.id)
            )


def labels(draft: Draft) -> Table[LabelRow]:
    """Return every label to print: wires' two each, plugs, branches, tags, recorded cables, capped
    ends.
    """
    names = Names(draft)
    rows = [*_wire_labels(draft)]
    rows += [row for plug in draft.assembled.plugs for row in _plug_labels(plug, names)]
    rows += _branch_labels(draft, names)
    rows += _tags(draft)
    rows += _recorded_labels(draft, names)
    told = {row.label for row in rows}  # the wire that waits for its device has its label
    rows += [
        _row("cap", (row.label, row.to_do), CAP_BORE_MM, FLAG_MM, ("", "", "", row.what, row.end))
        for row in caps(draft).rows
        if row.label not in told
    ]
    return Table("labels", "Labels", LabelRow, tuple(rows))
