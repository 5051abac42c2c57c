"""Opening an order from disk: with its boat, its draft, its log, and what was issued of it."""

import datetime
from functools import lru_cache
from hashlib import sha256
from pathlib import Path

import platformdirs

from vivid_loom.bench.logbook import Logbook
from vivid_loom.boat import Boat, Option, read_boat
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo import find_boat, is_shipped
from vivid_loom.drafting import Draft, DraftError, draft
from vivid_loom.order import SHOP_FILE, Order, Shop, due_date, order_text, read_order
from vivid_loom.quantities.atomic import write_atomically
from vivid_loom.quantities.document import DocumentError

__all__ = [
    "boat_of",
    "carry_log",
    "due_of",
    "issue_folder",
    "issued_draft",
    "issued_option",
    "keep_issue",
    "open_draft",
    "open_log",
    "practice_log",
]


def due_of(order: Order, shop: Shop) -> datetime.date:
    """Return the day an order's harness is due."""
    return due_date(datetime.date.fromisoformat(order.station_date), shop.closed_days)


def boat_of(path: Path, order: Order) -> Boat:
    """Return an order's boat; of one file many orders are read.

    Raises:
        DocumentError: a file that cannot be taken.
    """
    boat = find_boat(path, order.boat)
    try:
        stamp = boat.stat()
    except OSError:
        return read_boat(boat)  # says what is wrong
    return _boat_as_it_was(boat, stamp.st_mtime_ns, stamp.st_size)


@lru_cache(maxsize=8)
def _boat_as_it_was(path: Path, mtime_ns: int, size: int) -> Boat:
    return read_boat(path)


def open_draft(path: Path) -> Draft:
    """Read an order with its boat and draft it.

    Raises:
        DocumentError: a file that cannot be taken, or order and boat that do not fit together.
    """
    order = read_order(path)
    boat = boat_of(path, order)
    try:
        return draft(order, boat, shipped_catalogue())
    except DraftError as error:
        raise DocumentError(path, error.place, error.problem) from error


def open_log(order: Path) -> Logbook:
    """Return an order's log; of a shipped order one to practise with, kept with the user's state.

    Raises:
        LogError: it cannot be read.
    """
    if is_shipped(order):
        return practice_log(order)
    return Logbook(order, Path(platformdirs.user_state_path("vivid-loom")) / "seals")


def practice_log(order: Path) -> Logbook:
    """Return the log of what was practised on an order, kept with the user's state; no paper and no
    state reads it.

    Raises:
        LogError: it cannot be read.
    """
    state = Path(platformdirs.user_state_path("vivid-loom"))
    folder = state / "practice"
    if not is_shipped(order):
        folder /= sha256(str(order.resolve().parent).encode()).hexdigest()[:16]
    folder.mkdir(parents=True, exist_ok=True)
    return Logbook(folder / order.name, state / "seals", is_practice=True)


def carry_log(order: Path, other: Path, hulls: tuple[str, str]) -> None:
    """Let another order of the same boat go on with an order's log; what was practised stays.

    Args:
        hulls: what the boat is called in the one and in the other.

    Raises:
        LogError: it cannot be read, or not written.
    """
    if not is_shipped(order) and not is_shipped(other):
        state = Path(platformdirs.user_state_path("vivid-loom"))
        open_log(order).carry_to(other, state / "seals", hulls=hulls)


def issue_folder(order: Path, number: int) -> Path:
    """Return where a revision of an order is kept as it was issued."""
    stem = order.name.removesuffix(".json").removesuffix(".loom")
    return order.with_name(f"{stem}.issued") / f"revision-{number}"


def keep_issue(order: Path, issued: Order) -> tuple[str, ...]:
    """Keep an order as it is issued, with its boat and its shop; of a shipped one nothing is kept.

    Returns:
        What is kept, a line each: the file's name and its digest.

    Raises:
        OSError: it cannot be written.
    """
    if is_shipped(order):
        return ()
    boat, shop = find_boat(order, issued.boat), order.with_name(SHOP_FILE)
    kept = {order.name: order_text(issued).encode(), Path(issued.boat).name: boat.read_bytes()}
    if shop.exists():
        kept[SHOP_FILE] = shop.read_bytes()
    folder = issue_folder(order, issued.revisions[-1].number)
    folder.mkdir(parents=True, exist_ok=True)
    for name, data in kept.items():
        write_atomically(folder / name, data)
    return tuple(f"{name} {sha256(data).hexdigest()}" for name, data in kept.items())


def issued_option(order: Path, taken: Order, name: str) -> Option | None:
    """Return an option as the model offered it when a revision was last issued; None for never."""
    for revision in reversed(taken.revisions):
        try:
            model = read_boat(issue_folder(order, revision.number) / Path(taken.boat).name)
        except DocumentError:
            continue
        if found := model.option(name):
            return found
    return None


def issued_draft(order: Path, number: int) -> Draft:
    """Draft an order as a revision of it was issued.

    Raises:
        DocumentError: it was not kept, or cannot be taken any more.
    """
    kept = issue_folder(order, number) / order.name
    if not kept.exists():
        raise DocumentError(kept, "", f"nothing is kept of revision {number}")
    return open_draft(kept)
