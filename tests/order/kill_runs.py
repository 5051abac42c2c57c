"""Kills an editing process at random moments and looks at what is left; run by test_store.

Each victim is forked, so that hundreds of kills take seconds. A victim tells each edit after it is
committed and each save after it is done; what was told must be there after the kill.
"""

import dataclasses
import os
import random
import signal
import sys
import time
from pathlib import Path

from vivid_loom.order import Order, OrderStore, order_text, read_order


def edit_for_ever(store: OrderStore, told: int, seed: int) -> None:
    """Commit numbered edits and save now and then, telling each when it is done."""
    rng = random.Random(seed)
    order, number = store.order, 0
    os.write(told, b"0\n")
    while True:
        number += 1
        notes = f"{number} " + "x" * rng.randrange(4000)
        order = dataclasses.replace(order, notes=notes)
        store.commit(f"edit {number}", order)
        os.write(told, f"{number}\n".encode())
        if rng.random() < 0.3:
            store.save(order)


def survivor(path: Path, state: Path) -> Order:
    """Return what a restart finds: the recovered edits where there are any, else the file."""
    store = OrderStore(path, state)
    store.close()
    return store.recovered.order if store.recovered else store.order


def one_kill(path: Path, state: Path, seed: int) -> tuple[int, int]:
    """Return (last edit told before the kill, edit found after it)."""
    read_end, write_end = os.pipe()
    child = os.fork()
    if child == 0:
        os.close(read_end)
        try:
            edit_for_ever(OrderStore(path, state), write_end, seed)
        finally:
            os._exit(1)
    os.close(write_end)
    heard = os.read(read_end, 2)  # the victim has opened the order
    rng = random.Random(seed)
    for _ in range(rng.randrange(6)):  # some before the first edit, most amid the work
        heard += os.read(read_end, 65536)
    time.sleep(rng.uniform(0.0, 0.02))
    os.kill(child, signal.SIGKILL)
    os.waitpid(child, 0)
    while chunk := os.read(read_end, 65536):
        heard += chunk
    os.close(read_end)
    last = int(heard.split(b"\n")[-2])
    read_order(path)  # whole, whatever happened
    notes = survivor(path, state).notes
    return last, int(notes.split(" ")[0]) if notes else 0


def main() -> int:
    folder, count = Path(sys.argv[1]), int(sys.argv[2])
    clean = (folder / "clean.loom.json").read_bytes()
    order_text(read_order(folder / "clean.loom.json"))  # warm before forking: victims start at once
    torn = edited = 0
    for seed in range(count):
        here = folder / str(seed)
        here.mkdir()
        path = here / "order.loom.json"
        path.write_bytes(clean)
        told, found = one_kill(path, here / "state", seed)
        edited += told > 0
        if found < told:
            torn += 1
            print(f"seed {seed}: told {told}, found {found}")
    print(f"{count} kills, {edited} while editing, {torn} lost edits")
    return 1 if torn else 0


if __name__ == "__main__":
    sys.exit(main())
