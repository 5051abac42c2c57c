"""A shop's queue: every order of a folder, with what its file and its draft say."""

from pathlib import Path

from vivid_loom.demo import demo_orders
from vivid_loom.drafting import Draft
from vivid_loom.opening import boat_of, due_of, open_draft
from vivid_loom.order import OrderState, Shop, read_order, read_shop
from vivid_loom.quantities import computed
from vivid_loom.quantities.document import DocumentError
from vivid_loom.sheets.proof import proven, standing_errors
from vivid_loom.workshop.hours import bench_hours

__all__ = ["QueueEntry", "queue_entry", "queue_paths", "with_figures"]


@computed
class QueueEntry:
    """One order of the shop's queue.

    Attributes:
        due: ISO date; one working day before ``station_date``.
        hours: estimated bench hours; None while not drafted.
        state: as the record bears it out, once it is drafted; as the file has it before.
        stopped: 'on hold' or 'dropped'; '' while work goes on.
        errors, to_judge: findings of rules and proofs.
        problem: why the file cannot be taken; '' where it can.
    """

    path: Path
    hull: str = ""
    model: str = ""
    title: str = ""
    state: str = ""
    stopped: str = ""
    station_date: str = ""
    due: str = ""
    hours: float | None = None
    errors: int | None = None
    to_judge: int | None = None
    problem: str = ""


def queue_paths(folder: Path, *, with_demo: bool) -> tuple[Path, ...]:
    """Return the order files of a folder, and the shipped ones where they are asked for."""
    here = sorted(folder.glob("*.loom.json"))
    return tuple(dict.fromkeys([*here, *(demo_orders() if with_demo else ())]))


def queue_entry(path: Path, shop: Shop | None = None) -> QueueEntry:
    """Return what an order's file says, without drafting it."""
    try:
        order = read_order(path)
        model = boat_of(path, order).name
        due = due_of(order, shop or read_shop(path.parent))
    except DocumentError as error:
        return QueueEntry(path=path, problem=str(error).removeprefix(f"{path}: "))
    return QueueEntry(
        path=path,
        hull=order.hull,
        model=model,
        title=order.title,
        state=order.state.replace("_", " "),
        stopped=order.stop.kind if order.stop else "",
        station_date=order.station_date,
        due=due.isoformat(),
    )


def _borne_out(drafted: Draft, path: Path) -> OrderState:
    """Return what an order is still to be called by its record."""
    if drafted.aboard.order.state == "drafting":
        return "drafting"
    from vivid_loom.bench.proven import standing
    from vivid_loom.proving import proofs_beside  # what solves is loaded late

    return standing(proofs_beside(drafted, path))[0]


def with_figures(entry: QueueEntry) -> QueueEntry:
    """Return the entry with bench hours, findings and the state that stands, by its draft."""
    if entry.problem:
        return entry
    try:
        drafted = open_draft(entry.path)
        shop = read_shop(entry.path.parent)
    except DocumentError as error:
        return QueueEntry(**{**vars(entry), "problem": str(error).removeprefix(f"{entry.path}: ")})
    return QueueEntry(
        **{
            **vars(entry),
            "state": _borne_out(drafted, entry.path).replace("_", " "),
            "hours": bench_hours(drafted, shop.standard_minutes),
            "errors": standing_errors(drafted),
            "to_judge": sum(
                f.severity == "judge" for f in (*drafted.findings, *proven(drafted).standing)
            ),
        }
    )
