"""The code broken on purpose, one place at a time: a mutant that lives is a missing test.

    ./vivid-loom mutate

Every mutant is a mistake that would reach a builder or a boat. It is made in a copy of the
sources; the tests named beside it must fail.
"""

import os
import shutil
import subprocess
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import NamedTuple

ROOT = Path(__file__).parent.parent
SHEETS = "tests/sheets"
MAKING = "tests/sheets/test_build_lists.py"
REUSE = "tests/drafting/test_reuse.py"
FIXES = "tests/drafting/test_fixes.py"
SIZES = "tests/drafting/test_demo.py"
FAULTS = "tests/outside"


class Mutant(NamedTuple):
    """One mistake: where, what stands there, what would stand there, who must notice."""

    what: str
    file: str
    old: str
    new: str
    tests: str


MUTANTS = (
    Mutant(
        "sockets and pins inverted",
        "drafting/making/terminate.py",
        '"socket" if live_side else "pin"',
        '"pin" if live_side else "socket"',
        MAKING,
    ),
    Mutant(
        "plug's live harness swapped",
        "drafting/making/assemble.py",
        "live=(before if live_first else after)",
        "live=(after if live_first else before)",
        MAKING,
    ),
    Mutant(
        "smallest ring at the bottom",
        "sheets/build_lists.py",
        "(-area_mm2(item[0].gauge), item[0].id)",
        "(area_mm2(item[0].gauge), item[0].id)",
        MAKING,
    ),
    Mutant("wrong blade colour", "standards/protection.py", '"tan"', '"brown"', MAKING),
    Mutant(
        "landing reads live behind the switch",
        "sheets/build_lists.py",
        'at_battery and wire.live == "source"',
        'at_battery or wire.live == "source"',
        MAKING,
    ),
    Mutant(
        "switched conductor reads live",
        "sheets/build_lists.py",
        'at_battery and wire.live == "source"',
        "at_battery",
        MAKING,
    ),
    Mutant(
        "test point reads wrong",
        "sheets/loose_lists.py",
        '"battery_direct" and live == "source"',
        '"unswitched" and live == "source"',
        MAKING,
    ),
    Mutant(
        "service loop left out",
        "drafting/making/assemble.py",
        'end.kind == "lead" for end in ends',
        'end.kind == "tab" for end in ends',
        MAKING,
    ),
    Mutant(
        "tail allowed at one end only",
        "drafting/making/assemble.py",
        "number(2) * number(profile.tail_mm)",
        "number(1) * number(profile.tail_mm)",
        MAKING,
    ),
    Mutant(
        "cut length rounded down",
        "drafting/making/assemble.py",
        "math.ceil(raw / step - 1e-9)",
        "math.floor(raw / step)",
        MAKING,
    ),
    Mutant(
        "strips left out",
        "drafting/making/assemble.py",
        "length = length + number(end.termination.strip_mm)",
        "length = length + number(0)",
        MAKING,
    ),
    Mutant(
        "label names no wire",
        "drafting/making/assemble.py",
        'label = f"{wire} {point.place} {point.name}"',
        'label = f"{point.place} {point.name}"',
        MAKING,
    ),
    Mutant(
        "barrel a size too small",
        "standards/terminals.py",
        '(1.05, 2.55, Barrel("blue", "blue", 7.0))',
        '(1.05, 2.55, Barrel("red", "red", 7.0))',
        MAKING,
    ),
    Mutant(
        "jaw of another colour",
        "standards/terminals.py",
        'Barrel("yellow", "yellow", 9.0)',
        'Barrel("yellow", "blue", 9.0)',
        MAKING,
    ),
    Mutant(
        "materials forget an end",
        "sheets/stores.py",
        "for end in (w.start, w.end))\n    ends.update",
        "for end in (w.start,))\n    ends.update",
        MAKING,
    ),
    Mutant(
        "reuse ignores the way",
        "drafting/beside/existing.py",
        "and built.runs == wire.runs",
        "",
        REUSE,
    ),
    Mutant(
        "reuse ignores the gauge",
        "drafting/beside/existing.py",
        "and built.gauge == str(wire.gauge)",
        "",
        REUSE,
    ),
    Mutant(
        "reuse ignores the colour",
        "drafting/beside/existing.py",
        "and built.colour == str(wire.colour)",
        "",
        REUSE,
    ),
    Mutant(
        "capped conductors are kept",
        "drafting/beside/existing.py",
        'built.state in ("as drawn", "differs")',
        'built.state != "removed"',
        REUSE,
    ),
    Mutant(
        "one conductor serves twice",
        "drafting/beside/existing.py",
        "            del left[match.id]\n",
        "",
        REUSE,
    ),
    Mutant(
        "a wider bore, never wide enough",
        "drafting/rules/edits.py",
        "filled.percent * room <= filled.limit",
        "filled.percent <= 99 * filled.limit",
        FIXES,
    ),
    Mutant(
        "a fix that clears nothing",
        "drafting/rules/edits.py",
        "clear_override(subject, field)[1]",
        "(lambda order: order)",
        FIXES,
    ),
    Mutant(
        "a load fed twice",
        "order/load_edits.py",
        "tuple({x.id: x for x in (*order.added.loads, *fit.loads)}.values())",
        "(*order.added.loads, *fit.loads)",
        FIXES,
    ),
    Mutant(
        "drop taken one way",
        "drafting/sizing/circuit_reasons.py",
        'for i in line.legs),\n        "A·m"',
        'for i in line.legs[:1]),\n        "A·m"',
        SIZES,
    ),
    Mutant("k of aluminium", "standards/short_circuit.py", "keyed(226)", "keyed(148)", FAULTS),
    Mutant(
        "far shorts taken with cold copper",
        "drafting/sizing/short_paths.py",
        "parts = net.ahead(planned.source, planned.bus, most=False)",
        "parts = net.ahead(planned.source, planned.bus, most=True)",
        FAULTS,
    ),
    Mutant(
        "duty taken as continuous share",
        "standards/duty.py",
        "grown(keyed(on_s / duty) / tau)",
        "grown(keyed(on_s) / tau)",
        FAULTS,
    ),
    Mutant(
        "late edge read as early",
        "standards/time_current.py",
        "_edge_s(family, amps / rating_a, 2)",
        "_edge_s(family, amps / rating_a, 1)",
        FAULTS,
    ),
    Mutant(
        "longest way becomes the shortest",
        "drafting/places/route.py",
        "if so_far + run_m < distance[other]",
        "if so_far + run_m > distance[other]",
        "tests/drafting/test_ways.py",
    ),
    Mutant(
        "a huge figure is let in",
        "quantities/limits.py",
        "abs(value) <= GREATEST",
        "abs(value) <= 1e300",
        "tests/quantities",
    ),
)


def survives(mutant: Mutant) -> bool | None:
    """Tell whether the tests let a mutant live; None where its place is gone from the code."""
    with tempfile.TemporaryDirectory(prefix="vivid-loom-mutant-") as folder:
        copy = Path(folder) / "src"
        shutil.copytree(ROOT / "src", copy, ignore=shutil.ignore_patterns("__pycache__"))
        path = copy / "vivid_loom" / mutant.file
        text = path.read_text(encoding="utf-8")
        if mutant.old not in text:
            return None
        path.write_text(text.replace(mutant.old, mutant.new), encoding="utf-8")
        command = [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider"]
        environment = {**os.environ, "PYTHONPATH": f"{copy}{os.pathsep}{ROOT}"}
        words = mutant.tests.split()
        done = subprocess.run(
            [*command, *words], cwd=ROOT, env=environment, capture_output=True, check=False
        )
        return done.returncode == 0


def main() -> int:
    """Try every mutant, print which live, and the share that was killed."""
    with ThreadPoolExecutor(os.cpu_count() or 1) as pool:
        lived = list(pool.map(survives, MUTANTS))
    words = {True: "LIVES", False: "killed", None: "NOT FOUND"}
    for mutant, alive in zip(MUTANTS, lived, strict=True):
        print(f"{words[alive]:10} {mutant.what}  ({mutant.file})")
    killed = lived.count(False)
    print(f"{killed} of {len(MUTANTS)} killed, {100 * killed / len(MUTANTS):.0f} %")
    return 0 if killed == len(MUTANTS) else 1


if __name__ == "__main__":
    sys.exit(main())
