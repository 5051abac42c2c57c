"""Every function on every switch that can do it: an independent reader of the cut list agrees."""

import csv
import dataclasses
import io
import itertools
import random
from collections import Counter
from collections.abc import Iterator
from typing import Any, get_args

import pytest

from tests.conftest import drafted as drafted_order
from tests.drafting.test_supply_shapes import circuit, load, order, selector_boat
from tests.panel_reader import Kind, Row, Seen, behaviour
from vivid_loom.boat import CircuitRequest, ContactRequest, LampIntent, Load, SwitchRequest
from vivid_loom.catalogue import SwitchPart, shipped_catalogue
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.drafting import Draft, draft
from vivid_loom.drafting.after.net import net_list
from vivid_loom.drafting.after.truth import Truth
from vivid_loom.netlist import Conductor
from vivid_loom.order import move_loads
from vivid_loom.sheets import packet_files

INTENTS: tuple[LampIntent, ...] = get_args(LampIntent)
SHIPPED = shipped_catalogue()
LEVERS = tuple(p for p in SHIPPED.switches if p.actuator == "lever")
BASIC = next(p for p in LEVERS if p.id == "rocker-spst")


def variants() -> tuple[SwitchPart, ...]:
    """Return every lever of the catalogue, and others such as a shop may add."""
    made = list(LEVERS)
    for arrangement in ("SPST", "SPDT", "DPST", "DPDT"):
        for number, fields in enumerate(
            (
                {"lamp_wiring": "dependent"},
                {"lamp_minus": "own"},
                {"lamps": 1},
                {"live_side": "same", "lamp_wiring": "dependent", "lamp_minus": "own"},
            )
        ):
            name = f"{arrangement}-{number}".lower()
            part = dataclasses.replace(BASIC, id=name, arrangement=arrangement, name=name)
            made.append(dataclasses.replace(part, **fields))  # type: ignore[arg-type]
    for arrangement in ("SPDT", "DPDT"):
        on_on = dataclasses.replace(
            BASIC, id=f"on-on-{arrangement}".lower(), arrangement=arrangement, rest="down"
        )
        made.append(on_on)
    mixed = dataclasses.replace(BASIC, id="mixed", arrangement="SPDT", action="mixed")
    return (*made, mixed)


PARTS = variants()
CATALOGUE = dataclasses.replace(SHIPPED, switches=(*SHIPPED.switches, *PARTS[len(LEVERS) :]))
UP, BOTH = ("up",), ("up", "down")


def contact(pole: int = 1, throws: tuple[str, ...] = UP) -> ContactRequest:
    return ContactRequest(switch="s", pole=pole, throws=throws)  # type: ignore[arg-type]


class Function:
    """Something a switch may be for: its loads and circuits, and what must run when."""

    def __init__(
        self,
        name: str,
        needs: tuple[int, int],
        loads: list[Load],
        circuits: list[CircuitRequest],
        runs: dict[str, set[str]],
    ) -> None:
        self.name, self.needs, self.loads, self.circuits, self.runs = (
            name, needs, loads, circuits, runs
        )  # fmt: skip


def functions() -> Iterator[Function]:
    lamp, other = load("lamp", "a1_port", 1.0), load("other", "a2_port", 1.0)
    direct = {"level": "unswitched"}
    yield Function(
        "on and off", (1, 1), [lamp], [circuit("C1", "switched", "lamp", contact=contact())],
        {"up": {"lamp plus"}, "down": set()},
    )  # fmt: skip
    yield Function(
        "lit at either press", (1, 2), [lamp],
        [circuit("C1", "switched", "lamp", contact=contact(1, BOTH))],
        {"up": {"lamp plus"}, "down": {"lamp plus"}},
    )  # fmt: skip
    yield Function(
        "two poles, two circuits", (2, 1), [lamp, other],
        [
            circuit("C1", "switched", "lamp", contact=contact(1)),
            circuit("C2", "switched", "other", contact=contact(2)),
        ],
        {"up": {"lamp plus", "other plus"}, "down": set()},
    )  # fmt: skip
    side = load("lamp", "a1_port", 1.0, function="navigation_light", lit_in=("up",))
    round_ = load("other", "a2_port", 1.0, function="anchor_light", lit_in=("up", "down"))
    yield Function(
        "navigation and anchor", (2, 2), [side, round_],
        [
            circuit("C1", "navigation_anchor", "lamp", contact=contact(1)),
            circuit("C2", "navigation_anchor", "other", contact=contact(2, BOTH)),
        ],
        {"up": {"lamp plus", "other plus"}, "down": {"other plus"}},
    )  # fmt: skip
    pump = load(
        "pump", "a1_bilge", 3.0, "minus", "automatic", "manual", function="bilge_pump", motor=True
    )
    yield Function(
        "pump by hand and by itself", (1, 1), [pump],
        [circuit("C1", "pump_auto_manual", "pump", contact=contact(), **direct)],
        {"up": {"pump manual"}, "down": set()},
    )  # fmt: skip
    yield Function(
        "pump of three positions", (1, 2), [pump],
        [circuit("C1", "pump_three_position", "pump", contact=contact(1, BOTH))],
        {"up": {"pump manual"}, "down": set()},
    )  # fmt: skip
    hatch = load("hatch", "a0_port", 4.0, "minus", "up", "down", motor=True)
    yield Function(
        "two directions", (1, 2), [hatch],
        [circuit("C1", "two_directions", "hatch", contact=contact(1, BOTH))],
        {"up": {"hatch up"}, "down": {"hatch down"}},
    )  # fmt: skip
    jack = load("jack", "a0_port", 4.0, "up", "down", motor=True)
    yield Function(
        "reversed by both poles", (2, 2), [jack],
        [circuit("C1", "reversing", "jack", contact=contact(1, BOTH), also=(contact(2, BOTH),))],
        {"up": {"jack up"}, "down": {"jack down"}},
    )  # fmt: skip


def night() -> tuple[Load, CircuitRequest]:
    """Return instrument lights that are always fed: what lamps at night hang on."""
    lights = load("glow", "dash", 0.2, function="instrument_light")
    return lights, circuit("CN", "device_switched", "glow")


def wired(function: Function, part: SwitchPart, upper: str, lower: str) -> Draft:
    lights, glow = night()
    switch = SwitchRequest(
        id="s", part=part.id, legend="S", upper_lamp=upper, lower_lamp=lower  # type: ignore[arg-type]
    )  # fmt: skip
    asked = order([*function.loads, lights], [*function.circuits, glow], switch)
    return draft(asked, selector_boat(), CATALOGUE)


def rows_of(done: Draft) -> list[Row]:
    data = packet_files(done, frozenset({"cutlist"}))["cutlist.csv"]
    return list(csv.DictReader(io.StringIO(data.decode())))


def kinds_of(done: Draft) -> dict[str, Kind]:
    """Return what the catalogue prints of every switch."""
    found = {}
    for switch in done.switches:
        part = switch.part
        inner = {"upper lamp": "1U", "lower lamp": "1D" if part.throws > 1 else "1U"}
        lamps = {}
        for name, letter in (("upper lamp", "A"), ("lower lamp", "B"))[: part.lamps]:
            plus = f"{letter}+" if part.lamp_wiring == "independent" else inner[name]
            lamps[name] = (plus, "L-" if part.lamp_minus == "shared" else f"{letter}-")
        presses = BOTH if part.throws > 1 else UP
        found[switch.place] = Kind(part.poles, presses, lamps)
    return found


def places(done: Draft) -> tuple[frozenset[str], frozenset[str]]:
    boat = done.aboard.boat
    feeds = {*boat.supplies_by_id, *boat.network.batteries}
    return frozenset(feeds), frozenset(boat.buses_by_id)


def read(done: Draft, rows: list[Row], place: str, state: str) -> Seen:
    return behaviour(rows, kinds_of(done), {place: state}, *places(done))


def burns(intent: str, state: str, presses: tuple[str, ...]) -> bool:
    """Tell when a lamp of an intent is lit, the instrument lights being on."""
    return {
        "up": state == "up",
        "down": state == "down",
        "either": state in presses,
        "night": True,
        "always": True,
        "never": False,
    }[intent]


@pytest.mark.parametrize("part", PARTS, ids=[p.id for p in PARTS])
def test_every_function_meets_its_intent_in_every_state(part: SwitchPart) -> None:
    pairs = [*itertools.product(INTENTS, INTENTS)]
    rng = random.Random(part.id)
    done_of: Counter[str] = Counter()
    for function in functions():
        if part.poles < function.needs[0] or part.throws < function.needs[1]:
            continue
        everything = part.id == "rocker-dpdt" and function.name == "navigation and anchor"
        asked = pairs if everything else rng.sample(pairs, 4 if part.lamps else 1)
        for upper, lower in asked:
            done = wired(function, part, upper, lower)
            (switch,) = done.switches
            rows, told = rows_of(done), {u.name: u for u in switch.lamps}
            for state in part.states:
                seen = read(done, rows, switch.place, state)
                meant = function.runs.get(state, set())
                assert {r for r in seen.runs if r != "glow plus"} == meant, (function.name, state)
                assert not seen.shorted
                for name, use in told.items():
                    is_lit = f"{switch.place} {name} lamp" in seen.lit
                    if use.refused:
                        done_of["refused"] += 1
                        continue
                    presses = BOTH if part.throws > 1 else UP
                    expected = burns(use.intent, state, presses)
                    assert is_lit == expected, (function.name, state, name, use)
                    done_of["lamps"] += 1
                done_of["states"] += 1
            assert not [
                f for f in done.findings if f.code in ("A32", "A33", "A34", "A36", "A39", "P09")
            ]
            landed = Counter(
                (r[f"{s}_place"], r[f"{s}_point"]) for r in rows for s in ("from", "to")
            )
            on_tabs = {k: n for k, n in landed.items() if k[0] == switch.place}
            assert max(on_tabs.values()) <= 2
            piggybacks = sum(
                "piggyback" in r[f"{s}_termination"]
                for r in rows for s in ("from", "to") if r[f"{s}_place"] == switch.place
            )  # fmt: skip
            doubled = sum(n - 1 for n in on_tabs.values()) if part.terminal == "tab" else 0
            assert piggybacks == doubled  # as few as the wiring needs
    print(f"{part.id}: {dict(done_of)}")
    assert done_of["states"]


def test_a_lamp_is_refused_with_what_would_do() -> None:
    function = next(f for f in functions() if f.name == "on and off")
    done = wired(function, BASIC, "down", "up")
    (switch,) = done.switches
    upper, lower = switch.lamps
    assert "it has no down press" in upper.refused and "rocker, on-off-on" in upper.refused
    assert lower.fed_from == "1U" and not lower.refused
    dependent = next(p for p in PARTS if p.id == "spdt-0")
    done = wired(function, dependent, "night", "down")
    upper, lower = done.switches[0].lamps
    assert "its lamp hangs inside on 1U" in upper.refused and "would do" in upper.refused
    assert lower.fed_from == "inside"


def test_either_press_takes_a_free_pole() -> None:
    """One load up, another down: no tab is live at both presses, but a free pole can be."""
    loads = [load("lamp", "a1_port", 1.0), load("other", "a2_port", 1.0)]
    turned = [
        circuit("C1", "two_directions", "hatch", contact=contact(1, BOTH)),
    ]
    hatch = load("hatch", "a0_port", 4.0, "minus", "up", "down", motor=True)
    function = Function("h", (1, 2), [hatch, *loads[:0]], turned, {})
    double = next(p for p in LEVERS if p.id == "rocker-dpdt")
    done = wired(function, double, "either", "never")
    (switch,) = done.switches
    assert switch.lamps[0].fed_from.startswith("2")
    single = next(p for p in LEVERS if p.id == "rocker-spdt")
    done = wired(function, single, "either", "never")
    refused = done.switches[0].lamps[0].refused
    assert "no pole is free" in refused and "dpdt" in refused and "would do" in refused


class Mutant:
    """A draft with one jumper behind its panel otherwise than drafted."""

    def __init__(self, words: str, rows: list[Row], conductors: tuple[Conductor, ...]) -> None:
        self.words, self.rows, self.conductors = words, rows, conductors


def mutants(done: Draft, rows: list[Row], rng: random.Random) -> Iterator[Mutant]:
    """Yield every jumper left out, jumpers with ends swapped, and jumpers too many."""
    net = net_list(done)
    wires = {c.id: c for c in net.conductors}
    jumpers = [r for r in rows if r["kind"] == "jumper" and r["from_place"].startswith("SW")]
    for row in jumpers:
        rest = [r for r in rows if r is not row]
        left = tuple(c for c in net.conductors if c.id != row["wire_id"])
        yield Mutant(f"without {row['wire_id']}", rest, left)
    for _ in range(40):
        one, two = rng.sample(jumpers, 2)
        yield _swapped(one, two, rows, net.conductors)
    tabs = sorted({(r[f"{s}_place"], r[f"{s}_point"]) for r in jumpers for s in ("from", "to")})
    tabs += [(place, "1C") for place in sorted({place for place, _ in tabs})]
    for number in range(60):
        a, b = rng.sample(tabs, 2)
        more = {**jumpers[0], "wire_id": f"X{number}"}
        more |= {"from_place": a[0], "from_point": a[1], "to_place": b[0], "to_point": b[1]}
        ends: Any = tuple(" ".join(tab) for tab in (a, b))
        extra = wires[jumpers[0]["wire_id"]]._replace(id=f"X{number}", ends=ends)
        yield Mutant(f"more: {ends}", [*rows, more], (*net.conductors, extra))


def _swapped(one: Row, two: Row, rows: list[Row], conductors: tuple[Conductor, ...]) -> Mutant:
    """Exchange the far ends of two jumpers."""
    to = ("to_place", "to_point")
    first = {**one, **{k: two[k] for k in to}}
    second = {**two, **{k: one[k] for k in to}}
    made = [first if r is one else second if r is two else r for r in rows]
    ends = {r["wire_id"]: " ".join(r[k] for k in to) for r in (first, second)}
    laid: list[Any] = [
        c._replace(ends=(c.ends[0], ends[c.id])) if c.id in ends else c for c in conductors
    ]
    return Mutant(f"{one['wire_id']} and {two['wire_id']} swapped", made, tuple(laid))


def test_no_single_mistake_with_a_jumper_passes_unseen() -> None:
    """What another reader sees differ, the draft's own proof tells; the rest is harmless."""
    done = drafted_order(DEMO_FOLDER / "hull-0609.loom.json")
    rows = rows_of(done)
    levers = [(s, state) for s in done.switches if s.position for state in s.part.states]
    before = {(s.place, st): read(done, rows, s.place, st) for s, st in levers}
    net = net_list(done)
    counts: Counter[str] = Counter()
    for mutant in mutants(done, rows, random.Random(609)):
        kind = mutant.words.split()[0].rstrip(":") if "swapped" not in mutant.words else "swapped"
        after = {(s.place, st): read(done, mutant.rows, s.place, st) for s, st in levers}
        changed = dataclasses.replace(
            net, conductors=tuple(sorted(mutant.conductors, key=lambda c: c.id))
        )
        found = [row for row in Truth(done, changed).rows if row.wrong]
        counts[f"{kind}: {'found' if found else 'harmless'}"] += 1
        if after != before:
            assert found, mutant.words
    print(dict(counts))
    assert sum(n for words, n in counts.items() if words.endswith("found")) > 90


def test_lamps_at_night_follow_lights_that_are_moved() -> None:
    """What hangs on a load at the panel goes dark with the load elsewhere, also drafted again."""
    order_, boat = wired(next(functions()), BASIC, "up", "night").aboard.order, selector_boat()
    standing = draft(order_, boat, CATALOGUE)
    there = next(s for s in boat.stations if s.id == "a1_port")
    edited = move_loads((standing.aboard.loads["glow"],), there)[1](order_)
    again = draft(edited, boat, CATALOGUE, standing)
    assert [use.refused == "" for done in (standing, again) for use in done.switches[0].lamps] == [
        True, True, True, False,
    ]  # fmt: skip
    assert again.rows == draft(edited, boat, CATALOGUE).rows
