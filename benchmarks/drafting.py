"""Time and memory of drafting, and its growth with size."""

import time
import tracemalloc
from collections.abc import Callable

import numpy as np

from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo.generated import generated
from vivid_loom.drafting import draft

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


if __name__ == "__main__":
    growth()
