import datetime

from hypothesis import given
from hypothesis import strategies as st

from vivid_loom.order import (
    Order,
    Override,
    choose_option,
    clear_override,
    drop_option,
    due_date,
    set_override,
    use_profile,
)


@given(st.dates(datetime.date(2020, 1, 6), datetime.date(2040, 1, 1)))
def test_due_the_last_working_day_before(station: datetime.date) -> None:
    due = due_date(station)
    assert due < station and due.weekday() < 5
    between = (station - due).days - 1
    assert all((due + datetime.timedelta(days=i + 1)).weekday() >= 5 for i in range(between))


def test_closed_days_are_skipped() -> None:
    monday = datetime.date(2026, 12, 7)
    assert due_date(monday, frozenset({datetime.date(2026, 12, 4)})).day == 3


def test_every_edit_can_be_taken_back(order: Order) -> None:
    override = Override(subject="C08", field="gauge", value="10 AWG", reason="r", initials="i")
    name, put = set_override(override)
    assert name == "set gauge of C08 to 10 AWG"
    assert clear_override("C08", "gauge")[1](put(order)) == order
    assert drop_option("stereo", "s")[1](choose_option("stereo", "s")[1](order)) == order
    assert use_profile("shop")[1](use_profile("iso")[1](order)) == order


def test_a_second_override_replaces_the_first(order: Order) -> None:
    for value in ("10 AWG", "8 AWG"):
        override = Override(subject="C08", field="gauge", value=value, reason="r", initials="i")
        order = set_override(override)[1](order)
    assert [o.value for o in order.overrides] == ["8 AWG"]
