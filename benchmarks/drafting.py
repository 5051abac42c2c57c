"""Time and memory of drafting, its growth with size, and one edit against a full draft."""

import os
import time
import tracemalloc
from collections.abc import Callable

import numpy as np

from vivid_loom.boat import read_boat
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo import DEMO_ORDER, find_boat
from vivid_loom.demo.generated import generated
from vivid_loom.drafting import draft
from vivid_loom.order import read_order

SIZES = (50, 200, 800, 3200)


def best_of(count: int, work: Callable[[], object]) -> float:
    """Return the shortest of several processor times, in s; other processes do not count."""
    times = []
    for _ in range(count):
        start = time.process_time()
        work()
        times.append(time.process_time() - start)
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


def one_edit() -> None:
    """Print the time of one edit → new draft → repaint beside a full draft."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from vivid_loom.desktop.application import open_window
    from vivid_loom.order import Override, clear_override, set_override

    order = read_order(DEMO_ORDER)
    boat = read_boat(find_boat(DEMO_ORDER, order.boat))
    full = best_of(10, lambda: draft(order, boat, shipped_catalogue()))
    window = open_window(DEMO_ORDER)
    window.show()
    window.grab()
    override = Override(subject="C08", field="gauge", value="10 AWG", reason="b", initials="b")

    def edit() -> None:
        window.session.apply(set_override(override))
        window.grab()
        window.session.apply(clear_override("C08", "gauge"))
        window.grab()

    repaint = best_of(10, window.grab)
    each = best_of(10, edit) / 2
    print(
        f"demo order: full draft {1000 * full:.0f} ms, repaint alone {1000 * repaint:.0f} ms, "
        f"edit to repainted window {1000 * each:.0f} ms ({each / full:.1f} × a full draft)"
    )


if __name__ == "__main__":
    growth()
    one_edit()
