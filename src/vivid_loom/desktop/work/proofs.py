"""What an open order's states are proven by: its draft, and the log beside its file."""

from functools import partial
from pathlib import Path

from vivid_loom.bench.logbook import LogError
from vivid_loom.bench.proven import Proofs
from vivid_loom.bench.record import Record
from vivid_loom.drafting import Draft
from vivid_loom.opening import open_log
from vivid_loom.sheets.lists.bench_lists import draft_crimps
from vivid_loom.sheets.packet import sheets_digest
from vivid_loom.sheets.proof import standing_errors

__all__ = ["proofs_of"]


def proofs_of(draft: Draft, path: Path) -> Proofs:
    """Return what an order is proven by; a log that cannot be read proves nothing."""
    hull = draft.aboard.order.hull
    try:
        log = open_log(path)
        record = Record(log.entries, is_whole=log.is_whole, hull=hull, is_practice=log.is_practice)
    except LogError:
        record = Record((), is_whole=False)
    errors = partial(standing_errors, draft)
    return Proofs(draft, record, sheets_digest(draft), draft_crimps(draft), errors)
