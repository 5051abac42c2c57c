"""What presses of an order's switches do, as wired: printed for people and scripts."""

import sys
from collections.abc import Sequence
from pathlib import Path

import click

from vivid_loom.commands.trouble import BAD_INPUT, bad_input_said
from vivid_loom.drafting import Draft
from vivid_loom.drafting.after.truth import truth_of
from vivid_loom.opening import open_draft
from vivid_loom.sheets.lists.switch_lists import press_table
from vivid_loom.sheets.words.helm_words import told_presses

__all__ = ["print_presses"]


def print_presses(order: Path, pressed: Sequence[str]) -> int:
    """Print what each press does, or several together; return 1 if anything is not as meant.

    Args:
        pressed: 'switch=state' each; none for every switch by itself.
    """
    with bad_input_said():
        done = open_draft(order)
    if pressed:
        states = dict(_state(told, done) for told in pressed)
        truth = truth_of(done)
        wrong = tuple(truth.wrong(states))
        click.echo(told_presses(done, states, truth.at(states).on - truth.rest.on, wrong))
        return 1 if wrong else 0
    rows = press_table(done).rows
    for row in rows:
        runs = f"  {row.place:22} {row.legend:22} {row.lever:18} runs {row.runs}"
        click.echo(f"{runs}; lamps lit {row.lamps_lit}" if row.place else f"  {row.legend}")
        if row.wrong:
            click.echo(f"    NOT AS MEANT: {row.wrong}")
    wrong_rows = sum(bool(row.wrong) for row in rows)
    click.echo(f"{len(rows)} states of {len(done.switches)} switches, {wrong_rows} not as meant")
    return 1 if wrong_rows else 0


def _state(told: str, done: Draft) -> tuple[str, str]:
    """Read 'switch=state'; a switch by its id or its place."""
    name, _, state = told.partition("=")
    switch = next((s for s in done.switches if name in (s.request.id, s.place)), None)
    if switch is None:
        known = ", ".join(s.request.id for s in done.switches)
        click.echo(f"vivid-loom: --press: found {name!r}, expected one of {known}", err=True)
        sys.exit(BAD_INPUT)
    if state not in switch.part.states:
        expected = ", ".join(switch.part.states)
        click.echo(f"vivid-loom: --press {name}: found {state!r}, expected {expected}", err=True)
        sys.exit(BAD_INPUT)
    return switch.request.id, state
