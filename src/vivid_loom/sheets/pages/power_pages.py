"""The boat powered up on paper: what every load gets, how long the battery lasts, the proof."""

from operator import attrgetter
from typing import Final, NamedTuple

from vivid_loom.boat import Scenario
from vivid_loom.drafting import Draft
from vivid_loom.network import NoOperatingPointError
from vivid_loom.power.board import Board
from vivid_loom.power.energy import energy, mooring
from vivid_loom.power.powered import power_up
from vivid_loom.power.setting import SCENARIOS, scenario_setting
from vivid_loom.power.sneak_boat import prove_draft
from vivid_loom.quantities import figure
from vivid_loom.sheets.lists.power_lists import LoadRow, load_table
from vivid_loom.sheets.paper.drawing import Page
from vivid_loom.sheets.paper.layout import Column, Printed, Setting, paginate
from vivid_loom.sheets.words.power_words import days_words, proof_words, sneak_words, told_powered
from vivid_loom.standards.batteries import CHARGE_SOURCE, REST_SOURCE
from vivid_loom.standards.contacts import CONTACT_SOURCE
from vivid_loom.standards.draws import DRAW_SOURCE

__all__ = ["power_pages"]

SCENARIO: Final[Scenario] = "under way by night"
NOTE: Final = (
    "Everything in use at this time switched on at once, floats up, batteries full; copper at the "
    "profile's temperature. Lost are copper of its own circuit, copper of what it shares, and "
    "joints: contacts, devices and ends. The circuit schedule reckons copper alone, feeders at "
    "their demand, and its limits hold for that. Contacts, devices and ends: "
    f"{CONTACT_SOURCE}. Loads: {DRAW_SOURCE}. Batteries: {REST_SOURCE}; {CHARGE_SOURCE}."
)


class _Day(NamedTuple):
    scenario: str
    told: str
    drawn: str
    lasts: str


def power_pages(draft: Draft, setting: Setting) -> list[Page]:
    """Return a page or two: the proof, days by scenario, volts at every load that runs."""
    board = Board(draft)
    proof = prove_draft(draft, board.net)
    days = tuple(_day(board, scenario) for scenario in SCENARIOS)
    lies = mooring(draft)
    told = (
        f"On its mooring with each pump starting {lies.starts_per_h:g} times an hour for "
        f"{lies.seconds:g} s it lies {days_words(lies.days)} until half the battery is gone: pumps "
        f"{figure(lies.pump_ah)} Ah a day, all else {figure(lies.standing_ah)} Ah."
    )
    day_columns = (
        Column("scenario", 34, attrgetter("scenario"), bold=True),
        Column("sources", 62, attrgetter("told")),
        Column("a day", 18, attrgetter("drawn"), True),
        Column("lasts", 20, attrgetter("lasts"), True),
    )
    sneaks = Printed(
        (Column("brought about by the fewest levers", 134, str),),
        tuple(sneak_words(draft, sneak) for sneak in proof.sneaks),
        "What nobody asked for",
        size=2.6,
    )
    proven = proof_words(proof)
    tables = [
        Printed(day_columns, days, "Scenarios", note=f"{proven} {told}", size=2.6),
        *([sneaks] if proof.sneaks else []),
        _volts(board),
    ]
    return paginate("Powered up", tables, setting, lanes=2)


def _day(board: Board, scenario: Scenario) -> _Day:
    day = energy(board.draft, scenario)
    try:
        told = told_powered(power_up(board, scenario_setting(board.draft, scenario)))
    except NoOperatingPointError as error:
        told = str(error)
    drawn = f"{figure(day.drawn_ah)} Ah"
    if day.charged_ah:
        drawn += f", {figure(day.charged_ah)} charged"
    return _Day(scenario, told, drawn, days_words(day.days))


def _volts(board: Board) -> Printed:
    columns = (
        Column("circuit", 13, attrgetter("circuit_id"), bold=True),
        Column("load", 45, lambda r: r.load if r.state == "runs" else f"{r.load}: {r.state}"),
        Column("V", 13, lambda r: f"{float(r.volts):.2f}", True, True),
        Column("A", 13, lambda r: figure(float(r.amps)), True),
        Column("lost %", 12, lambda r: f"{float(r.lost_percent):.1f}", True, True),
        Column("own", 11, lambda r: f"{float(r.own_percent):.1f}", True),
        Column("feeders", 13, lambda r: f"{float(r.feeders_percent):.1f}", True),
        Column("joints", 14, lambda r: f"{float(r.joints_percent):.1f}", True),
    )
    rows: tuple[LoadRow, ...] = ()
    try:
        now = power_up(board, scenario_setting(board.draft, SCENARIO))
        rows = tuple(row for row in load_table(now).rows if row.state != "off")
    except NoOperatingPointError:
        pass
    rows = tuple(sorted(rows, key=lambda row: -float(row.lost_percent)))
    return Printed(columns, rows, f"What every load gets, {SCENARIO}", note=NOTE, size=2.6)
