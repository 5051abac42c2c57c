"""What makers' papers ask: length tables, recommended fuses, kinds of device."""

import dataclasses

import pytest

from vivid_loom.boat import Boat, MakerLength
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.drafting import Draft, draft
from vivid_loom.drafting.after.net import net_list
from vivid_loom.drafting.sizing.makers import table_row
from vivid_loom.netlist import loops
from vivid_loom.order import Order, Override, change_loads, set_override

CODES = ("S12", "S13", "S14")
TABLE = (
    MakerLength(loop_length_m=4.0, gauge="14 AWG"),
    MakerLength(loop_length_m=9.0, gauge="10 AWG"),
    MakerLength(loop_length_m=2.0, gauge="16 AWG"),
)


def with_light(order: Order, boat: Boat, **fields: object) -> Draft:
    light = next(x for o in boat.options for x in o.adds.loads if x.id == "searchlight")
    changed = dataclasses.replace(light, **fields)  # type: ignore[arg-type]
    return draft(change_loads((changed,), "papers")[1](order), boat, shipped_catalogue())


def codes(drafted: Draft) -> set[str]:
    return {f.code for f in drafted.findings if f.subjects[0] == "C29"}


def test_a_table_is_read_in_order_of_length_whatever_the_file_says(full: Draft) -> None:
    load = dataclasses.replace(full.aboard.loads["searchlight"], maker_lengths=TABLE)
    for loop, gauge, beyond in (
        (1.0, "16 AWG", False),
        (2.0, "16 AWG", False),
        (2.01, "14 AWG", False),
        (9.5, "10 AWG", True),
    ):
        row = table_row(load, loop)
        assert row is not None and (row.gauge, row.beyond) == (gauge, beyond)
    assert table_row(full.aboard.loads["searchlight"], 3.0) is None


def test_the_makers_table_governs_and_is_named(order: Order, boat: Boat, full: Draft) -> None:
    """The searchlight is drafted at 14 AWG: the table's 10 AWG stands above. Its loop is the whole
    one, battery to lamp and back, as the net list has it.
    """
    done = with_light(order, boat, maker_lengths=TABLE)
    row, net = done.circuit("C29"), net_list(done)
    assert row is not None and row.sized is not None
    assert str(row.sized.gauge.value) == "10 AWG"
    assert row.sized.gauge.governed_by == "maker's table"
    lit = {a.id: "up" if "up" in a.states else a.states[-1] for a in net.actuators}
    lit |= {a.id: "mated" for a in net.actuators if "mated" in a.states}
    lamp = next(e for e in net.elements if e.part == "searchlight")
    length_m = {c.id: c.length_m for c in net.conductors}
    (way,) = (w for w in loops(net, lamp, lit) if w.source == "BST")
    loop = sum(length_m[name] for name in (*way.out, *way.home))
    assert loop > row.sized.loop_length_m
    assert any(f"at {loop:.2f} m" in step.text for step in row.sized.gauge.steps)
    thinner = row.sized.gauge.alternatives[0]
    assert thinner.value == "12 AWG" and "maker's table" in thinner.verdict


def test_thinner_than_the_table_and_beyond_it(order: Order, boat: Boat) -> None:
    whole = (*TABLE, MakerLength(loop_length_m=30.0, gauge="10 AWG"))
    assert not {"S12", "S13"} & codes(with_light(order, boat, maker_lengths=whole))
    short = (MakerLength(loop_length_m=5.0, gauge="14 AWG"),)
    beyond = with_light(order, boat, maker_lengths=short)
    assert "S13" in codes(beyond) and "S12" not in codes(beyond)
    overruled = Override(subject="C29", field="gauge", value="12 AWG", reason="r", initials="i")
    order = set_override(overruled)[1](order)
    assert "S12" in codes(with_light(order, boat, maker_lengths=TABLE))


@pytest.mark.parametrize(
    ("best", "most", "rating"),
    [
        (10.0, 15.0, 10.0),
        (12.0, 15.0, 10.0),
        (12.0, None, 10.0),
        (None, 15.0, 15.0),
        (0.5, 15.0, 1.0),
    ],
)
def test_the_recommended_fuse_stands_before_the_greatest(
    order: Order, boat: Boat, best: float | None, most: float | None, rating: float
) -> None:
    row = with_light(order, boat, maker_fuse_best_a=best, maker_fuse_a=most).circuit("C29")
    assert row is not None and row.planned.wanted is not None
    assert row.planned.wanted.rating_a == rating and row.planned.wanted.why == "maker"


def test_a_kind_of_device_the_maker_does_not_allow(order: Order, boat: Boat) -> None:
    assert "S14" not in codes(with_light(order, boat, fuse_families=("blade fuse",)))
    assert "S14" in codes(with_light(order, boat, fuse_families=("post fuse",)))
