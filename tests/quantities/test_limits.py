"""Limits hold however a record is made: from a file, by hand, as a changed copy."""

import dataclasses
import math
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from vivid_loom.boat import Boat, ContactRequest, Lead
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo import DEMO_ORDER
from vivid_loom.drafting import draft
from vivid_loom.order import Order, order_text, parse_order, read_order
from vivid_loom.order.profile import PROFILES
from vivid_loom.quantities import LimitError, file_name, one_line
from vivid_loom.quantities.reckoning import exp, grown, keyed, ln, root, total
from vivid_loom.workshop.harness.built import tick_of

BAD = (
    None,
    True,
    -1,
    0,
    math.nan,
    math.inf,
    1e300,
    10**400,
    "",
    "x" * 500,
    "a\nb",
    "‮",
    [],
    {},
    object(),
)


@pytest.mark.parametrize("fuse", [0, 0.0, -3.0, math.nan, math.inf, 1e12, "5", True])
def test_a_lead_has_no_fuse_of_nothing(fuse: object) -> None:
    with pytest.raises(LimitError, match=r"fuse_a: found .*expected a"):
        Lead(function="plus", fuse_a=fuse)  # type: ignore[arg-type]
    with pytest.raises(LimitError):
        dataclasses.replace(Lead(function="plus"), fuse_a=fuse)  # type: ignore[arg-type]


def test_wires_of_the_longest_ids_can_be_ticked(order: Order, boat: Boat) -> None:
    """Names made of ids stay within what a name may be."""
    supply = next(s for s in boat.supplies if s.feeds)
    longest = dataclasses.replace(supply.feeds[0], id="F" * 80)
    with pytest.raises(LimitError, match=r"id: found 'FFF.*an id of at most 80 letters"):
        dataclasses.replace(longest, id="F" * 81)
    fed = dataclasses.replace(supply, feeds=(longest, *supply.feeds[1:]))
    supplies = tuple(fed if s is supply else s for s in boat.supplies)
    done = draft(order, dataclasses.replace(boat, supplies=supplies), shipped_catalogue())
    ticks = [tick_of(wire) for wire in done.assembled.wires]
    assert any(tick.wire.startswith("F" * 80) for tick in ticks)


@pytest.mark.parametrize("record", ["order", "profile", "load", "lead"])
def test_no_field_takes_what_cannot_be_read_again(record: str, full: object) -> None:
    """Every field of a record with every bad value: refused, or written and read back the same."""
    order = read_order(DEMO_ORDER)
    load = next(iter(full.aboard.loads.values()))  # type: ignore[attr-defined]
    subject = {"order": order, "profile": PROFILES["shop"], "load": load, "lead": load.leads[0]}[
        record
    ]
    for field in dataclasses.fields(subject):
        for value in BAD:
            try:
                changed = dataclasses.replace(subject, **{field.name: value})
            except LimitError as error:
                assert error.field.startswith(field.name)
                assert len(str(error).splitlines()) == 1
                continue
            whole = order
            if record == "order":
                whole = changed
            elif record == "load":
                whole = dataclasses.replace(order, changed_loads=(changed,))
            elif record == "lead":
                held = dataclasses.replace(load, leads=(changed,))
                whole = dataclasses.replace(order, changed_loads=(held,))
            elif value is not None and isinstance(value, str | int | float):
                whole = dataclasses.replace(order, profile_changes=((field.name, value),))
            if record != "profile" or field.name not in ("id", "name"):
                try:
                    assert parse_order(DEMO_ORDER, order_text(whole)) == whole
                except ValueError as error:  # only what names a profile that is not shipped
                    assert field.name == "profile", error


@given(st.text())
def test_one_line_is_one_printable_line(text: str) -> None:
    assert len(one_line(text, 40).splitlines()) <= 1
    assert len(one_line(text, 40)) <= 40
    one_line(text, 40).encode()  # no half of a letter either


@given(st.text(max_size=400))
def test_a_file_name_goes_onto_every_disk(text: str) -> None:
    name = file_name(text, ".boat.json")
    assert name.endswith(".boat.json") and len(name.encode()) <= 120
    assert "/" not in name and "\0" not in name and not name.startswith(".")


NUMBERS = st.floats(0.01, 1e4)


@given(NUMBERS, NUMBERS, NUMBERS)
def test_value_and_formula_are_one_expression(a: float, b: float, c: float) -> None:
    """Whatever is put together, a pocket calculator arrives at the value."""
    x, y, z = keyed(a, 17), keyed(b, 17), keyed(c, 17)
    for worked in (
        x + y * z,
        (x + y) * z,
        x / (y / z),
        x - (y - z),
        x / y * z,
        root(x * y),
        exp(ln(x) + ln(y) / ln(z + keyed(2))),
        grown(x / y),
        total([x, y, z]),
        total([x + y]) * z,
        (x - y).squared(),
    ):
        keyed_in = worked.formula.replace("×", "*").replace("−", "-").replace("√", "root")
        names = {"root": math.sqrt, "ln": math.log, "exp": math.exp}
        assert eval(keyed_in, names) == pytest.approx(worked.value, rel=1e-6, abs=1e-6)


@pytest.mark.parametrize("throws", [(), ("up", "up"), ("up", "down", "up")])
def test_a_contact_has_throws_and_each_once(throws: tuple[Any, ...]) -> None:
    with pytest.raises(LimitError, match=r"throws: found .*expected at least one entry, each once"):
        ContactRequest(switch="s", throws=throws)
