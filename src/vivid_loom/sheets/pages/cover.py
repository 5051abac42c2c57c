"""The packet's first page: what it is for, when it is due, what is open, and the cautions."""

import datetime
from collections.abc import Iterator, Sequence

from vivid_loom.drafting import Draft
from vivid_loom.order import Order, due_date
from vivid_loom.sheets.lists import stores
from vivid_loom.sheets.paper.drawing import Page, Primitive, Rect, Text
from vivid_loom.sheets.paper.layout import (
    HEIGHT_MM,
    MARGIN_MM,
    WIDTH_MM,
    Setting,
    boxed,
    frame,
    paragraphs,
)
from vivid_loom.sheets.proof import Proven, proven
from vivid_loom.sheets.words.cautions import CAUTIONS

__all__ = ["cover", "due_text", "front_page", "with_contents"]

CONTENTS_ROWS = 6


def due_text(draft: Draft, closed: frozenset[datetime.date] = frozenset()) -> str:
    """Return the harness due date: one working day before the hull's station.

    Args:
        closed: days the shop does not work, besides Saturdays and Sundays.
    """
    return _day(due_date(datetime.date.fromisoformat(draft.aboard.order.station_date), closed))


def _day(date: datetime.date) -> str:
    return f"{date:%a} {date.day} {date:%b %Y}"


def cover(
    draft: Draft,
    setting: Setting,
    closed: frozenset[datetime.date],
    title: str,
    signs: tuple[str, ...],
    *,
    tried: bool,
) -> Page:
    """Return the first page of a book.

    Args:
        closed: days the shop does not work.
        signs: captions of the boxes to sign.
        tried: it says what states and single faults have shown.
    """
    order, profile = draft.aboard.order, draft.aboard.profile
    metres = sum(stores.wire_totals(draft).values())
    left = [
        (f"{draft.aboard.boat.name} · hull {order.hull}", 9.0, True),
        (order.title, 5.0, False),
        (f"For {order.customer}" if order.customer else "", 3.6, False),
        (
            f"Harness due {due_text(draft, closed)}; hull at its wiring station "
            f"{_day(datetime.date.fromisoformat(order.station_date))}.",
            3.6,
            True,
        ),
        (
            f"Drafted under {profile.name}: {profile.series.replace('mm2', 'mm²')}, insulation "
            f"{profile.insulation_c} °C, drop {profile.critical_drop_percent:g} % critical, "
            f"{profile.other_drop_percent:g} % other, conductor at {profile.conductor_c:g} °C.",
            3.2,
            False,
        ),
        (
            f"{len(draft.circuits)} circuits, {len(draft.feeders)} feeders, "
            f"{len(draft.assembled.wires)} wires, {len(draft.assembled.plugs)} plugs, "
            f"{metres:.0f} m of wire.",
            3.2,
            False,
        ),
        *_standing(order),
        *_findings(draft, tried=tried),
        (f"Notes: {order.notes}" if order.notes else "", 3.2, False),
    ]
    return front_page(title, setting, left, signs)


def _standing(order: Order) -> Iterator[tuple[str, float, bool]]:
    """Yield why no work is done on an order, and which of its revisions nobody may build by."""
    if order.stop:
        yield f"The order is {order.stop.kind}: {order.stop.why}. Do not build.", 3.6, True
    for one in order.revisions:
        if one.withdrawn:
            yield f"Revision {one.number} is withdrawn: {one.withdrawn}. Destroy it.", 3.2, True


def _findings(draft: Draft, *, tried: bool) -> Iterator[tuple[str, float, bool]]:
    """Yield what rules and proofs have found, whether it may be built from, and what two answer
    for.
    """
    proofs = proven(draft) if tried else Proven((), ())
    found = (*draft.findings, *proofs.standing)
    count = {s: sum(f.severity == s for f in found) for s in ("error", "judge", "note")}
    told = f"Findings: {count['error']} errors, {count['judge']} to judge, {count['note']} notes."
    if count["error"]:
        yield f"{told} Do not build from this packet before the errors are cleared.", 3.2, True
    elif tried:
        yield f"{told} Every state of its switches and every single fault was tried.", 3.2, False
    else:
        yield f"{told} States and single faults are still being tried: do not sign yet.", 3.2, True
    for finding, answer in (*draft.accepted, *proofs.accepted):
        if finding.severity == "error":
            told = f"Error {finding.code} accepted by {answer.signed}: {answer.reason}"
            yield told, 3.2, True


def front_page(
    title: str, setting: Setting, told: Sequence[tuple[str, float, bool]], signs: Sequence[str]
) -> Page:
    """Return a first page: what it is about, the cautions beside, boxes to sign at its foot.

    Args:
        told: paragraphs of (text, size, bold); '' is left out.
    """
    items: list[Primitive] = frame(title, setting, 1)
    written, _ = paragraphs([line for line in told if line[0]], MARGIN_MM, 26, 150)
    items += written
    warned, below = paragraphs([(line, 2.9, False) for line in CAUTIONS], 179, 35, 97)
    wide, high = WIDTH_MM - MARGIN_MM - 175, below - 27 + 2
    items.append(Rect(175, 27, wide, high, "#fbf3dc", "#8a5a00", 0.5, 1.5))
    items.append(Text(179, 33.5, "Cautions", 4.4, "#1c1e22", True))
    items += warned
    for i, caption in enumerate(signs):
        items += boxed(MARGIN_MM + i * 92, HEIGHT_MM - 45, 86, 28, caption)
    return Page(title, WIDTH_MM, HEIGHT_MM, tuple(items))


def with_contents(page: Page, sections: Sequence[tuple[str, int]]) -> Page:
    """Return the first page with what is in the packet.

    Args:
        sections: title and first page of each, in order.
    """
    items: list[Primitive] = [Text(MARGIN_MM, 122, "Contents", 4.4, "#1c1e22", True)]
    for i, (title, first) in enumerate(sections):
        x, y = MARGIN_MM + i // CONTENTS_ROWS * 66, 129 + i % CONTENTS_ROWS * 5.0
        items.append(Text(x, y, title, 3.2, "#1c1e22"))
        items.append(Text(x + 58, y, str(first), 3.2, "#1c1e22", False, "end"))
    return page._replace(items=(*page.items, *items))
