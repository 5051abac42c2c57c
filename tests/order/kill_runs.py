"""Kills an editing process at random moments and looks at what is left; run by test_store.

Each victim is forked, so that hundreds of kills take seconds. It edits, saves, exports, logs and
books, and tells each of these after it is done; what was told must be there after the kill. Beside
every other victim a second window meddles: it edits, discards and saves elsewhere, and is killed
as well.
"""

import dataclasses
import os
import random
import re
import signal
import sys
import time
from pathlib import Path

from vivid_loom.bench.logbook import Logbook
from vivid_loom.order import Order, OrderStore, Spool, booking, order_text, read_order, spools_text
from vivid_loom.quantities.atomic import write_atomically

MEDDLED, LENGTH_M = "meddled", 5000.0
TORN = re.compile(r"\.[a-z0-9_]{8}$")
SPOOL = Spool(id="S1", wire="14 AWG", colour="RD", length_m=LENGTH_M)


def edit_for_ever(store: OrderStore, told: int, seed: int) -> None:
    """Commit numbered edits, save, export, log and book, telling each when it is done."""
    rng = random.Random(seed)
    order, number = store.order, 0
    log = Logbook(store.path, store.path.parent / "seals")
    os.write(told, b"edit 0\n")
    while True:
        number += 1
        notes = f"{number} " + "x" * rng.randrange(4000)
        order = dataclasses.replace(order, notes=notes)
        store.commit(f"edit {number}", order)
        os.write(told, f"edit {number}\n".encode())
        deed = rng.random()
        if deed < 0.3:
            store.save(order)
        elif deed < 0.45:
            entry = log.append("result", "IM", {"x": "y" * 300}, revision="")
            os.write(told, f"log {entry.number}\n".encode())
        elif deed < 0.6:
            with booking(store.path.parent) as shelf:
                (spool,) = shelf.spools
                cut = dataclasses.replace(spool, length_m=spool.length_m - 1)
                shelf.book(f"cuts {cut.length_m}", "hull 1", (cut,))
            os.write(told, f"book {LENGTH_M - cut.length_m:.0f}\n".encode())
        elif deed < 0.7:
            write_atomically(store.path.with_name("packet.csv"), notes.encode() + b"\nend")


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
    ours = {name for name in left if "loom.json" in name or ".journal" in name}
    if told > 1 or ours - {f".{path.name}.lock", ".other.loom.json.lock"}:
        print(f"{path.parent}: {told} of one victim offered, {sorted(left)} left over")
        return dataclasses.replace(store.order, notes="0")
    return found or store.order


def kept(path: Path) -> dict[str, int]:
    """Return how many records and bookings there are, after what a restart mends."""
    book = Logbook(path, path.parent / "seals")
    if {t.problem for t in book.troubles} - {"breaks off"}:
        print(f"{path.parent}: {book.troubles}")
        return {}
    exported = path.with_name("packet.csv")
    if exported.exists() and not exported.read_bytes().endswith(b"\nend"):
        print(f"{exported} is half written")
        return {}
    found = {"log": len(book.entries)}
    book.append("result", "IM", {}, revision="")
    with booking(path.parent) as shelf:
        (spool,) = shelf.spools
    write_atomically(exported, b"again\nend")
    left = [p.name for p in path.parent.rglob(".*") if p.suffix != ".lock" and TORN.search(p.name)]
    if left:
        print(f"{path.parent}: {left} left over")
        return {}
    return {**found, "book": round(LENGTH_M - spool.length_m)}


def one_kill(path: Path, state: Path, seed: int) -> tuple[dict[str, int], dict[str, int]]:
    """Return the last of each kind that was told before the kill, and what is found after it."""
    read_end, write_end = os.pipe()
    child = os.fork()
    if child == 0:
        os.close(read_end)
        try:
            edit_for_ever(OrderStore(path, state), write_end, seed)
        finally:
            os._exit(1)
    os.close(write_end)
    heard = os.read(read_end, 7)  # the victim has opened the order
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
    told: dict[str, int] = {}
    for line in heard.decode().splitlines():
        kind, number = line.split(" ")
        told[kind] = int(number)
    read_order(path)  # whole, whatever happened
    notes = survivor(path, state).notes
    return told, {"edit": int(notes.split(" ")[0]) if notes else 0, **kept(path)}


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
        (here / "spools.csv").write_text(spools_text((SPOOL,)))
        told, found = one_kill(path, here / "state", seed)
        edited += told["edit"] > 0
        if any(found.get(kind, -1) < number for kind, number in told.items()):
            torn += 1
            print(f"seed {seed}: told {told}, found {found}")
    print(f"{count} kills, {edited} while editing, {torn} lost edits")
    return 1 if torn else 0


if __name__ == "__main__":
    sys.exit(main())
