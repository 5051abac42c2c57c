"""Kills an editing process at random moments and looks at what is left; run by test_store.

Each victim is forked, so that hundreds of kills take seconds. A victim tells each edit after it is
committed and each save after it is done; what was told must be there after the kill. Beside every
other victim a second window meddles: it edits, discards and saves elsewhere, and is killed as well.
"""

import dataclasses
import os
import random
import signal
import sys
import time
from pathlib import Path

from vivid_loom.order import Order, OrderStore, order_text, read_order

MEDDLED = "meddled"


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


def meddle_for_ever(path: Path, state: Path, seed: int) -> None:
    """Edit the same order in a window of its own, drop the edits, save them elsewhere."""
    rng, number = random.Random(seed), 0
    store = OrderStore(path, state)
    while True:
        number += 1
        order = dataclasses.replace(store.order, notes=f"{MEDDLED} {number}")
        store.commit(f"meddle {number}", order)
        if rng.random() < 0.5:
            store.discard()
        if rng.random() < 0.1:
            store.save_as(path.with_name("other.loom.json"), order).close()
            store = OrderStore(path, state)


def survivor(path: Path, state: Path) -> Order:
    """Return what restarts find: the recovered edits of the victim where there are any, else the
    file; and see to it that nothing is left over in the end.
    """
    found, told = None, 0
    while True:
        store = OrderStore(path, state)
        if store.recovered is None:
            break
        if not store.recovered.order.notes.startswith(MEDDLED):
            found, told = store.recovered.order, told + 1
        store.forget_recovered()
        store.close()
    store.lock()
    store.close()
    left = {p.name for p in (*state.glob("*"), *path.parent.glob(".*"))}
    if told > 1 or left - {f".{path.name}.lock", ".other.loom.json.lock"}:
        print(f"{path.parent}: {told} of one victim offered, {sorted(left)} left over")
        return dataclasses.replace(store.order, notes="0")
    return found or store.order


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
    heard += os.read(read_end, 65536)  # and edited it: the lock is its own
    second = 0
    if seed % 2:
        second = os.fork()
        if second == 0:
            try:
                meddle_for_ever(path, state, seed)
            finally:
                os._exit(1)
    for _ in range(rng.randrange(6)):  # some before the first edit, most amid the work
        heard += os.read(read_end, 65536)
    time.sleep(rng.uniform(0.0, 0.02))
    for each in (child, second) if second else (child,):
        os.kill(each, signal.SIGKILL)
        os.waitpid(each, 0)
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
