"""Papers for the owner and the yard: what was built, what was proven, and what to keep aboard."""

from collections.abc import Callable, Iterator, Sequence
from operator import attrgetter
from typing import Final

from vivid_loom.bench.logbook import Entry
from vivid_loom.bench.proven import Proofs, missing_for
from vivid_loom.drafting import Draft
from vivid_loom.drafting.making.wire import End
from vivid_loom.order import Deviation
from vivid_loom.sheets.lists.label_lists import record_name
from vivid_loom.sheets.lists.loose_lists import caps
from vivid_loom.sheets.lists.proof_lists import ProvenRow, certificate, entry_words, record_json
from vivid_loom.sheets.lists.spares_kit import spares_kit
from vivid_loom.sheets.pages.cover import front_page
from vivid_loom.sheets.pages.fitting_pages import fuse_pages
from vivid_loom.sheets.pages.key_pages import key_pages
from vivid_loom.sheets.pages.panel_pages import panel_pages
from vivid_loom.sheets.pages.thread_pages import thread_pages
from vivid_loom.sheets.paper.drawing import Page
from vivid_loom.sheets.paper.layout import Column, Printed, Setting, counted, paginate
from vivid_loom.sheets.paper.pdf import pdf_bytes
from vivid_loom.sheets.words.cautions import SEALS_TELL, SHORT_CAUTION
from vivid_loom.sheets.words.names import Names

__all__ = ["deviation_words", "hand_over_files", "hand_over_pages", "log_pages"]

TITLE: Final = "Papers of the boat"
FIGURE_MM: Final = 2.4


def deviation_words(draft: Draft, deviation: Deviation) -> str:
    """Say what was built otherwise than drawn."""
    names = Names(draft)
    row = draft.circuit(deviation.subject)
    what = f"{deviation.subject} {row.planned.label}" if row else deviation.subject
    if deviation.kind == "device":
        return f"{what}: a device of {deviation.value} A went in"
    if deviation.kind == "gauge":
        return f"{what}: {deviation.value} went in"
    if deviation.kind == "joint":
        return f"{what}: a joint at {names.station(deviation.value)}"
    stations = [names.station(s) for s in deviation.value.split(";") if s]
    return f"{what}: goes by way of {', '.join(stations) or 'the shortest way'}"


def _setting(draft: Draft, missing: Sequence[str]) -> Setting:
    order = draft.aboard.order
    revision = order.revisions[-1].number if order.revisions else 0
    stop = "NOT HANDED OVER: not everything is proven" if missing else ""
    return Setting(
        f"{draft.aboard.boat.name} · hull {order.hull} · as built, revision {revision}",
        SHORT_CAUTION,
        stop,
    )


def _cover(draft: Draft, setting: Setting, missing: Sequence[str], head: str) -> Page:
    order = draft.aboard.order
    proven = (
        [("Still missing:", 3.6, True), *((f"– {text}", 3.2, False) for text in missing)]
        if missing
        else [
            (
                "Every harness was rung out, every crimp setting pulled, every circuit made alive "
                "one by one and every lever tried once; the figures read are in these papers.",
                3.4,
                False,
            )
        ]
    )
    left = [
        (f"{draft.aboard.boat.name} · hull {order.hull}", 9.0, True),
        (order.title, 5.0, False),
        (f"For {order.customer}" if order.customer else "", 3.6, False),
        (
            "The boat's wiring as it was built: what hangs on what, what each label, fuse and "
            "switch is, what to keep aboard, and what was read when it was proven.",
            3.6,
            False,
        ),
        *proven,
        ("The log's last seal. Keep this line: by it anybody can tell whether", 3.2, True),
        ("the log was changed since.", 3.2, True),
        (head[:32], 3.2, False),
        (head[32:], 3.2, False),
        (SEALS_TELL, 2.9, False),
    ]
    signs = ("Wiring engineer, date", "Test hand, date", "Owner, date")
    return front_page(TITLE, setting, left, signs)


def _label_key(draft: Draft, setting: Setting) -> list[Page]:
    """Return what each wire's label stands for."""
    names = Names(draft)

    def where(end: End) -> str:
        return f"{names.place(end.place)}, {names.station(end.station)}"

    labels = {row.id: row.planned.label for row in draft.rows}
    columns = (
        Column("label", 20, attrgetter("id"), bold=True),
        Column("what", 33, lambda w: labels.get(w.circuit, w.circuit)),
        Column("wire", 21, lambda w: f"{w.gauge} {w.colour}"),
        Column("from", 30, lambda w: where(w.start)),
        Column("to", 29, lambda w: where(w.end)),
    )
    wires = sorted(draft.assembled.wires, key=lambda wire: wire.id)
    table = Printed(columns, wires, note="In order of the labels.", size=2.1)
    return paginate("Labels", [table], setting, lanes=2)


def _kit(draft: Draft, setting: Setting) -> list[Page]:
    """Return the spares to keep aboard, and what is wired for later or lies capped."""
    spares = Printed(
        (
            Column("spare", 90, attrgetter("item"), bold=True),
            Column("pieces", 16, attrgetter("quantity"), True),
            Column("fitted", 16, attrgetter("fitted"), True),
            Column("", 110, attrgetter("note")),
        ),
        spares_kit(draft).rows,
        "Spares to keep aboard",
    )
    later = Printed(
        (
            Column("label", 70, attrgetter("label"), bold=True),
            Column("where", 60, attrgetter("station")),
            Column("wire", 30, attrgetter("gauge")),
            Column("", 100, attrgetter("to_do")),
        ),
        caps(draft).rows,
        "Wired for later, and ends that lie capped",
    )
    settled = [d for d in draft.aboard.order.deviations if d.verdict == "signed"]
    built = Printed(
        (
            Column("", 10, lambda d: str(d.number), True),
            Column("built otherwise than first drawn", 110, lambda d: deviation_words(draft, d)),
            Column("why", 80, attrgetter("reason")),
            Column("by", 20, attrgetter("initials")),
            Column("answered for by", 30, attrgetter("signed_by")),
        ),
        settled,
        "Deviations",
    )
    return paginate("Spares and what is for later", [spares, later, built], setting)


def _certificate(proofs: Proofs, setting: Setting) -> list[Page]:
    columns = (
        Column("", 9, attrgetter("turn"), True),
        Column("what", 52, attrgetter("subject"), bold=True),
        Column("red probe", 46, attrgetter("red")),
        Column("black probe", 46, attrgetter("black")),
        Column("between", 34, attrgetter("between"), True),
        Column("read", 28, attrgetter("read"), True),
        Column("", 14, attrgetter("passed")),
        Column("by", 12, attrgetter("who")),
        Column("when", 30, attrgetter("time")),
    )
    rows: Sequence[ProvenRow] = certificate(
        proofs.draft, proofs.record, proofs.rings, proofs.alive
    ).rows
    steps = Printed(columns, rows, size=FIGURE_MM, group=attrgetter("place"))
    pulls = Printed(
        (
            Column("", 12, lambda e: str(e.number), True),
            Column("pull tests", 190, entry_words, bold=True),
            Column("by", 16, attrgetter("who")),
            Column("when", 50, lambda e: e.time[:16].replace("T", " ")),
        ),
        [e for e in proofs.record.entries if e.kind in ("pull", "remade")],
        size=FIGURE_MM,
    )
    return paginate("Test certificate", [steps, pulls], setting)


def _sections(proofs: Proofs, head: str) -> Iterator[Callable[[Setting], Sequence[Page]]]:
    draft, missing = proofs.draft, tuple(missing_for("handed_over", proofs))
    yield lambda setting: [_cover(draft, setting, missing, head)]
    yield lambda setting: key_pages(draft, setting)
    yield lambda setting: thread_pages(draft, setting)
    yield lambda setting: _label_key(draft, setting)
    yield lambda setting: fuse_pages(draft, setting)
    yield lambda setting: panel_pages(draft, setting)
    yield lambda setting: _kit(draft, setting)
    yield lambda setting: _certificate(proofs, setting)


def hand_over_pages(proofs: Proofs, head: str) -> list[Page]:
    """Return the papers that go with the boat.

    Args:
        head: hash of the log's last record.
    """
    setting = _setting(proofs.draft, tuple(missing_for("handed_over", proofs)))
    return counted([page for make in _sections(proofs, head) for page in make(setting)])


def log_pages(draft: Draft, entries: Sequence[Entry]) -> list[Page]:
    """Return the log on paper, record by record."""
    columns = (
        Column("", 10, lambda e: str(e.number), True),
        Column("when", 42, lambda e: e.time[:19].replace("T", " ")),
        Column("by", 12, attrgetter("who")),
        Column("what", 120, entry_words, bold=True),
        Column("sheets", 22, lambda e: e.revision[:8]),
        Column("seal", 66, lambda e: e.hash[:32]),
    )
    table = Printed(columns, entries, note="Each seal follows from the one above.", size=2.3)
    return counted(paginate("Log", [table], _setting(draft, ())))


def hand_over_files(proofs: Proofs, head: str) -> Iterator[tuple[str, bytes]]:
    """Yield the papers as PDF, and the record of each harness that its tag's square names."""
    order = proofs.draft.aboard.order
    yield "papers.pdf", pdf_bytes(hand_over_pages(proofs, head), f"Hull {order.hull}, as built")
    for plan in proofs.rings:
        name = record_name(order.hull, plan.specimen.id)
        yield name, record_json(proofs.draft, proofs.record, plan, head)
