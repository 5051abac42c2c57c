"""Time and memory of drafting, and its growth with size."""

import time
import tracemalloc
from collections.abc import Callable

import numpy as np

from vivid_loom.boat import read_boat
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo import DEMO_ORDER, find_boat
from vivid_loom.demo.generated import generated
from vivid_loom.drafting import draft
from vivid_loom.order import Override, move_loads, read_order, set_override

SIZES = (50, 200, 800, 3200)


def best_of(
    count: int, work: Callable[[], object], clock: Callable[[], float] = time.process_time
) -> float:
    """Return the shortest of several processor times, in s; other processes do not count.

    Args:
        clock: ``time.thread_time`` leaves out what goes on in other threads meanwhile.
    """
    times = []
    for _ in range(count):
        start = clock()
        work()
        times.append(clock() - start)
    return min(times)


def growth() -> None:
    """Print time and memory per size and the slope of the log–log line."""
    catalogue = shipped_catalogue()
    seconds = []
    print(f"{'circuits':>9} {'s':>8} {'ms/circuit':>11} {'peak MiB':>9}")
    for size in SIZES:
        order, boat = generated(1, size)
        taken = best_of(9 if size < 800 else 5, lambda o=order, b=boat: draft(o, b, catalogue))
        tracemalloc.start()
        draft(order, boat, catalogue)
        peak = tracemalloc.get_traced_memory()[1] / 2**20
        tracemalloc.stop()
        seconds.append(taken)
        print(f"{size:9d} {taken:8.3f} {1000 * taken / size:11.3f} {peak:9.1f}")
    slope = np.polyfit(np.log(SIZES[1:]), np.log(seconds[1:]), 1)[0]
    print(f"time grows as n^{slope:.2f} from {SIZES[1]} to {SIZES[-1]} circuits")


def again() -> None:
    """Print what drafting after an edit takes beside a full draft: a gauge set, a load moved."""
    demo = (read_order(DEMO_ORDER), read_boat(find_boat(DEMO_ORDER, "qh-86.boat.json")))
    catalogue = shipped_catalogue()
    for name, (order, boat) in (("hull 0417", demo), ("800 circuits", generated(1, 800))):
        before = draft(order, boat, catalogue)
        circuit = before.circuits[8]
        load = before.aboard.loads[circuit.planned.loads[0]]
        area = next(s.area for s in boat.stations if s.id == load.station)
        beside = next(s for s in boat.stations if s.area == area and s.id != load.station)
        gauge = Override(
            subject=circuit.id, field="gauge", value="10 AWG", reason="b", initials="b"
        )
        edits = {"a gauge set": set_override(gauge), "a load moved": move_loads([load], beside)}
        for what, (_, change) in edits.items():
            edited = change(order)
            whole = best_of(9, lambda o=edited, b=boat: draft(o, b, catalogue))
            after = best_of(9, lambda o=edited, b=boat, d=before: draft(o, b, catalogue, d))
            print(f"{name}, {what}: drafted again in {after / whole:.2f} of a full draft")


if __name__ == "__main__":
    growth()
    again()
