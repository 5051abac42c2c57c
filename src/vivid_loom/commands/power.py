"""An order's boat powered up: volts and amps, faults, the chafe scan, energy."""

import json
import math
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import Any, NoReturn

import click

from vivid_loom.boat import Scenario
from vivid_loom.commands.trouble import BAD_INPUT, bad_input_said
from vivid_loom.drafting import Draft
from vivid_loom.drafting.after.net import net_list
from vivid_loom.network import NoOperatingPointError, spice_text
from vivid_loom.opening import open_draft
from vivid_loom.power.advice import next_reading
from vivid_loom.power.board import Board
from vivid_loom.power.course import course
from vivid_loom.power.energy import energy, mooring
from vivid_loom.power.fault import FaultError, read_fault
from vivid_loom.power.finder import Finder, Reading, Symptom, Unit, scenario_finder
from vivid_loom.power.powered import Powered, power_up
from vivid_loom.power.scan import Scanned, by_fault, scan_scenario, worst_first
from vivid_loom.power.setting import SCENARIOS, Setting, scenario_setting
from vivid_loom.power.sneak_boat import prove_draft
from vivid_loom.quantities import figure
from vivid_loom.sheets.lists.power_lists import load_table, scan_table
from vivid_loom.sheets.words.power_words import (
    advice_words,
    course_words,
    days_words,
    fault_words,
    probe_words,
    proof_words,
    scanned_words,
    sneak_words,
    suspect_words,
)

__all__ = ["print_energy", "print_finder", "print_power", "print_scan", "print_sneak"]


def _stop(words: str) -> NoReturn:
    click.echo(f"vivid-loom: {words}", err=True)
    sys.exit(BAD_INPUT)


def _opened(order: Path) -> Draft:
    with bad_input_said():
        return open_draft(order)


def _scenario(told: str) -> Scenario:
    if told not in SCENARIOS:
        _stop(f"--scenario: found {told!r}, expected one of {', '.join(SCENARIOS)}")
    return told


def _moved(setting: Setting, board: Board, told: Sequence[str]) -> Setting:
    """Return a setting with 'switch=state' each; a switch by its id or its place."""
    places = {switch.place: switch.request.id for switch in board.draft.switches}
    states: dict[str, str] = {}
    actuators = board.net.actuators_by_id
    for each in told:
        name, _, state = each.partition("=")
        name = places.get(name, name)
        actuator = actuators.get(name)
        if actuator is None:
            movable = (a.id for a in actuators.values() if not a.id.endswith(" mating"))
            _stop(f"--state: found {name!r}, expected one of {', '.join(movable)}")
        if state not in actuator.states:
            _stop(f"--state {name}: found {state!r}, expected {', '.join(actuator.states)}")
        if actuator.coil:
            _stop(f"--state {name}: it is moved by its coil {actuator.coil}, not by hand")
        unknown = _unknown(board, name)
        if unknown:
            words = "its current is not known, so it has no wires to power up"
            _stop(f"--state {name}: loads.{unknown}.running_a: {words}")
        states[name] = state
    return setting.moved(states)


def _unknown(board: Board, switch: str) -> str:
    """Return a load that a switch feeds and whose current nobody has looked up; '' for none."""
    for row in board.draft.circuits:
        request = row.planned.request
        if row.sized is None and request and switch in {c.switch for c in request.contacts}:
            for name in row.planned.loads:
                if board.draft.aboard.loads[name].running_a is None:
                    return name
    return ""


def print_power(
    order: Path,
    scenario: str,
    states: Sequence[str],
    fault: str,
    *,
    as_json: bool,
    spice: Path | None,
) -> int:
    """Power up an order's boat and print what flows; return 1 where a load that is on gives up."""
    board = Board(_opened(order))
    setting = _moved(scenario_setting(board.draft, _scenario(scenario)), board, states)
    try:
        if fault:
            return _print_course(board, setting, fault, as_json=as_json)
        now = power_up(board, setting)
    except NoOperatingPointError as error:
        _stop(str(error))
    except FaultError as error:
        _stop(f"--fault: {error}")
    if spice is not None:
        with bad_input_said():
            _write_spice(now, spice, f"{board.draft.aboard.boat.name}, {scenario}")
    if as_json:
        click.echo(json.dumps(_power_record(now), indent=1, sort_keys=True))
    else:
        _print_powered(now)
    return 1 if now.point.gave_up or now.chatters else 0


def _write_spice(now: Powered, path: Path, title: str) -> None:
    try:
        path.write_text(spice_text(now.point, title), encoding="utf-8")
    except OSError as error:
        _stop(f"{path}: {error.strerror}")


def _power_record(now: Powered) -> dict[str, Any]:
    rows = load_table(now).rows
    return {
        "states": dict(sorted(now.states.items())),
        "sources": {name: _rounded(now.amps[name]) for name in _sources(now)},
        "loads": [row._asdict() for row in rows],
        "conductors": {w.id: _rounded(now.amps[w.id]) for w in now.board.net.conductors},
        "gave_up": list(now.point.gave_up),
        "chatters": list(now.chatters),
        "imbalance_a": now.point.imbalance_a,
    }


def _rounded(amps: float) -> float:
    return round(amps, 6) + 0.0


def _sources(now: Powered) -> list[str]:
    return [element.id for element in now.board.net.elements if element.law == "source"]


def _print_powered(now: Powered) -> None:
    for name in _sources(now):
        amps = now.amps[name]
        gives = "gives" if amps >= 0 else "takes"
        click.echo(f"  {name:10} {gives} {figure(abs(amps))} A at {now.volts_at(name):.2f} V")
    for row in load_table(now).rows:
        if row.state != "off":
            cells = f"{float(row.volts):7.2f} V {float(row.amps):8.3f} A {row.lost_percent:>6} %"
            of_it = (row.own_percent, row.feeders_percent, row.joints_percent)
            parts = " + ".join(f"{float(percent):.1f}" for percent in of_it)
            click.echo(f"  {row.circuit_id:5} {row.load:32} {cells} = {parts:18}  {row.state}")
    click.echo("  lost %: own copper + shared copper + contacts, devices and ends")
    running = sum(row.state == "runs" for row in load_table(now).rows)
    click.echo("1 load runs" if running == 1 else f"{running} loads run")
    for name in now.chatters:
        click.echo(f"  {name} chatters: it pulls and lets go in turn")


def _print_course(board: Board, setting: Setting, told: str, *, as_json: bool) -> int:
    fault = read_fault(told)
    found = course(board, setting, fault)
    words = course_words(board.draft, found)
    if as_json:
        record = {
            "fault": str(fault),
            "events": [
                {
                    "opens": e.opens,
                    "or_opens": list(e.or_opens),
                    "early_s": e.early_s,
                    "late_s": e.late_s,
                    "amps": _rounded(e.amps),
                }
                for e in found.events
                if e.opens
            ],
            "burnt": {name: round(celsius, 1) for name, celsius in found.burnt},
            "lost": list(found.lost),
            "woken": list(found.woken),
            "words": list(words),
        }
        click.echo(json.dumps(record, indent=1, sort_keys=True))
    else:
        click.echo(f"{fault_words(fault)}.")
        for sentence in words:
            click.echo(f"  {sentence}")
    return 1 if found.burnt else 0


def print_scan(order: Path, scenarios: Sequence[str], most: int, *, as_json: bool) -> int:
    """Break, short and corrode everything; return 1 where a wire burns or nothing clears."""
    board = Board(_opened(order))
    rows: list[Scanned] = []
    for name in scenarios or SCENARIOS:
        try:
            rows += scan_scenario(board, _scenario(name))
        except NoOperatingPointError as error:
            _stop(f"{name}: {error}")
    rows = worst_first(board.draft, rows)
    if as_json:
        table = scan_table(board.draft, board.net, rows)
        click.echo(json.dumps([row._asdict() for row in table.rows], indent=1, sort_keys=True))
    else:
        for row, others in by_fault(rows)[:most]:
            more = f" (and in {others} more)" if others else ""
            click.echo(f"  {row.scenario}{more}: {probe_words(row)}")
            click.echo(f"      {scanned_words(board.draft, board.net, row)}")
        burnt, on = sum(bool(r.burnt[0]) for r in rows), sum(bool(r.flows_on) for r in rows)
        told = f"{len(rows)} faults change something: {burnt} burn a wire, {on} nothing clears"
        click.echo(told)
    return 1 if any(row.burnt[0] or row.flows_on for row in rows) else 0


def print_sneak(order: Path, *, as_json: bool) -> int:
    """Prove that nothing runs unasked, or print what brings it about; return 1 where it fails."""
    done = _opened(order)
    proof = prove_draft(done, net_list(done))
    if as_json:
        record = {
            "holds": proof.holds,
            "combinations": proof.combinations,
            "examined": proof.examined,
            "groups": proof.groups,
            "undecided": [list(levers) for levers in proof.undecided],
            "sneaks": [
                {"kind": s.kind, "states": dict(s.states), "what": list(s.what)}
                for s in proof.sneaks
            ],
        }
        click.echo(json.dumps(record, indent=1, sort_keys=True))
    else:
        click.echo(proof_words(proof))
        for sneak in proof.sneaks:
            click.echo(f"  {sneak_words(done, sneak)}")
    return 0 if proof.holds else 1


def print_finder(
    order: Path, scenario: str, seen: Sequence[tuple[str, str]], read: Sequence[str]
) -> None:
    """Print the faults that explain what was seen and read, and what to read next.

    Args:
        seen: load id and 'dark', 'dim' or 'runs' each; ``read``, 'terminal=volts' each.
    """
    board = Board(_opened(order))
    try:
        finder = scenario_finder(board, _scenario(scenario))
    except NoOperatingPointError as error:
        _stop(f"{scenario}: {error}")
    symptoms = [Symptom(_element(finder, name), how) for name, how in seen]  # type: ignore[arg-type]
    readings = [_reading(finder, told) for told in read]
    weights = finder.weights(symptoms, readings)
    for suspect in finder.suspects(weights)[:8]:
        click.echo(f"  {100 * suspect.share:4.0f} %  {suspect_words(suspect)}")
    advice = next_reading(finder, weights, readings)
    told = "no reading tells these apart" if advice is None else advice_words(advice)
    click.echo(told[0].lower() + told[1:])


def _element(finder: Finder, load: str) -> str:
    found = next((e for e in finder.seen if load in (e, e.rpartition(" ")[0])), None)
    if found is None:
        known = finder.board.draft.aboard.loads
        loads = sorted({e.rpartition(" ")[0] for e in finder.seen} & known.keys())
        _stop(f"found {load!r}, expected a load that runs in this scenario: {', '.join(loads)}")
    return found


def _reading(finder: Finder, told: str) -> Reading:
    """Read 'HFB way 3=12.4', 'C05-P2=3.1A' or 'HFB way 3=0.2ohm', '=open' for no way through."""
    at, _, figure_told = told.rpartition("=")
    figure_told = figure_told.strip().lower()
    unit: Unit = "V"
    if figure_told in ("open", "openohm") or figure_told.endswith("ohm"):
        unit = "Ω"
    elif figure_told.endswith("a"):
        unit = "A"
    points = [point.terminal for point in finder.points]
    known = finder.board.conductors if unit == "A" else points
    if at not in known:
        such = next(iter(known))
        what = "wire" if unit == "A" else "terminal"
        _stop(f"--read: found {at!r}, expected a {what} such as {such!r}")
    number = figure_told.removesuffix("ohm").removesuffix("a").removesuffix("v")
    try:
        value = math.inf if number == "open" else float(number)
    except ValueError:
        _stop(f"--read {at}: found {figure_told!r}, expected a figure in volts, A or ohm")
    return Reading(at, value, unit=unit)


def print_energy(order: Path, starts_per_h: float, seconds: float, *, as_json: bool) -> None:
    """Print ampere-hours and days, scenario by scenario, and how long the boat may lie."""
    done = _opened(order)
    days = [energy(done, scenario) for scenario in SCENARIOS]
    try:
        lies = mooring(done, starts_per_h, seconds)
    except ValueError as error:
        _stop(f"--starts, --seconds: {error}")
    if as_json:
        record = {
            "scenarios": [
                {k: _plain(v) for k, v in each._asdict().items() if k != "uses"} for each in days
            ],
            "mooring": {k: _plain(v) for k, v in lies._asdict().items()},
        }
        click.echo(json.dumps(record, indent=1, sort_keys=True))
        return
    for each in days:
        lasts = days_words(each.days)
        charged = f", {each.charged_ah:.0f} Ah had back of charging" if each.charged_ah else ""
        click.echo(f"  {each.scenario:20} {each.drawn_ah:7.1f} Ah a day{charged}: {lasts}")
    click.echo(
        f"  left on its mooring, pumps starting {starts_per_h:g} times an hour for {seconds:g} s:"
    )
    click.echo(f"      pumps {lies.pump_ah:.1f} Ah a day, all else {lies.standing_ah:.1f} Ah")
    for one in lies.standing:
        click.echo(f"      {one.circuit:5} {done.aboard.loads[one.load].name:28} {one.ah:6.2f} Ah")
    click.echo(f"      half the battery is gone after {lies.days:.1f} days")


def _plain(value: object) -> object:
    if isinstance(value, float):
        return None if value == float("inf") else round(value, 3)
    if isinstance(value, tuple):
        return [_plain(v) for v in value]
    return value
