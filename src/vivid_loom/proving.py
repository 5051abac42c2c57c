"""What an order's states are proven by: its draft, and the log beside its file."""

from functools import partial
from pathlib import Path

from vivid_loom.bench.logbook import Logbook, LogError
from vivid_loom.bench.proven import Proofs
from vivid_loom.bench.record import Record
from vivid_loom.drafting import Draft
from vivid_loom.opening import open_log
from vivid_loom.sheets.lists.bench_lists import draft_crimps
from vivid_loom.sheets.packet import sheets_digest
from vivid_loom.sheets.proof import standing_errors

__all__ = ["proofs_beside", "proofs_of"]


def proofs_of(draft: Draft, log: Logbook | None) -> Proofs:
    """Return what a draft is proven by; without a log nothing is."""
    record = Record((), is_whole=False) if log is None else Record.of(log, draft.aboard.order.hull)
    errors = partial(standing_errors, draft)
    return Proofs(draft, record, sheets_digest(draft), draft_crimps(draft), errors)


def proofs_beside(draft: Draft, order: Path) -> Proofs:
    """Return what a draft is proven by in the log beside its order's file.

    A log that cannot be read proves nothing.
    """
    try:
        log = open_log(order)
    except LogError:
        log = None
    return proofs_of(draft, log)
