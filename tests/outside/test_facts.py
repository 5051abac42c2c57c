"""More facts of the trade on drafted boats; common practice, no source, unless said."""

import csv
import dataclasses
import datetime
import io

import pytest

from vivid_loom.boat import Boat
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.drafting import Draft, draft
from vivid_loom.drafting.places.protect import wanted_rating
from vivid_loom.order import Order, Override, due_date
from vivid_loom.sheets import packet_files
from vivid_loom.standards.demand import feeder_demand


def cut_list(done: Draft) -> list[dict[str, str]]:
    data = packet_files(done, frozenset({"cutlist"}))["cutlist.csv"]
    return list(csv.DictReader(io.StringIO(data.decode())))


def test_a_hull_on_monday_wants_its_harness_on_friday() -> None:
    assert due_date(datetime.date(2026, 12, 7)) == datetime.date(2026, 12, 4)


def test_the_pumps_brown_meets_the_harness_positive_and_its_black_the_yellow(full: Draft) -> None:
    """A pump maker's brown is positive, his black negative; the sheet shows the join."""
    ends = {w["wire_id"]: w for w in cut_list(full) if w["circuit_id"] == "C08"}
    plus = next(w for w in ends.values() if w["to_point"] == "plus")
    minus = next(w for w in ends.values() if w["from_point"] == "minus")
    assert plus["device_lead"] == "plus BN 14 AWG"
    assert (minus["colour"], minus["device_lead"]) == ("YE", "minus BK 14 AWG")


def test_black_negative_is_a_school(order: Order, boat: Boat) -> None:
    black = dataclasses.replace(order, profile_changes=(("negative_colour", "BK"),))
    done = draft(black, boat, shipped_catalogue())
    assert {str(r.colours.negative.value) for r in done.rows} == {"BK"}


def test_navigation_lights_are_dark_grey_and_pumps_brown(full: Draft) -> None:
    """ABYC E-11 DC colour table (from memory)."""
    base = {row.id: row.colours.positive.value.base for row in full.circuits}
    assert (base["C05"], base["C06"], base["C02"], base["C16"]) == ("GY", "GY", "BN", "BU")
    assert base["C19"] == "VT"


def test_small_lamps_take_16_awg_and_tank_pumps_14(full: Draft) -> None:
    gauges = {row.id: str(row.sized.gauge.value) for row in full.circuits if row.sized}
    assert [gauges[c] for c in ("C05", "C06", "C16", "C17")] == ["16 AWG"] * 4
    assert [gauges[c] for c in ("C08", "C09")] == ["14 AWG"] * 2


def test_bilge_pumps_run_on_14_gauge_unless_the_shop_calls_them_critical(
    order: Order, boat: Boat
) -> None:
    """Common practice, no source: 3.8 A pumps on 14 AWG; at 3 % the longest asks for more."""
    gauges: dict[str, dict[str, str]] = {}
    for school in ("other", "critical"):
        asked = dataclasses.replace(order, profile_changes=(("bilge_pump_drop", school),))
        done = draft(asked, boat, shipped_catalogue())
        pumps = [r for r in done.circuits if r.planned.pattern == "pump_auto_manual" and r.sized]
        gauges[school] = {r.id: str(r.sized.gauge.value) for r in pumps if r.sized}
        assert {round(r.sized.drop_limit_percent, 6) for r in pumps if r.sized} == {
            10.0 if school == "other" else 3.0
        }
    assert set(gauges["other"].values()) == {"14 AWG"}
    assert gauges["critical"]["C02"] in ("12 AWG", "10 AWG")
    thin = Override(subject="C02", field="gauge", value="16 AWG", reason="r", initials="i")
    done = draft(dataclasses.replace(order, overrides=(thin,)), boat, shipped_catalogue())
    assert [f.code for f in done.findings if f.code == "S11"] == ["S11"]


def test_a_makers_smallest_of_18_awg_minds_no_12_awg(order: Order, boat: Boat) -> None:
    override = Override(subject="C27", field="gauge", value="1/0 AWG", reason="r", initials="i")
    done = draft(dataclasses.replace(order, overrides=(override,)), boat, shipped_catalogue())
    assert not [f for f in done.findings if f.code == "S05"]


def test_demand_by_the_load_worksheet() -> None:
    """ABYC E-11 load worksheet (from memory): A in full; B the larger of 10 % or the largest."""
    loads = [("A", 4.0), ("A", 6.0), ("B", 10.0), ("B", 2.0), ("B", 1.0)]
    assert feeder_demand(loads).total_a == 20.0  # type: ignore[arg-type]
    many = [("B", 2.0)] * 30
    assert feeder_demand(many).total_a == pytest.approx(6.0)  # type: ignore[arg-type]


def test_a_breaker_in_the_insulations_column(order: Order, boat: Boat) -> None:
    """33 CFR 183.425 table 5: 8 AWG bears 55 A at 60 °C (so a 50 A breaker), 80 A at 105 °C."""
    for insulation_c, fits in ((60, 50), (105, 80)):
        for amps, fine in ((fits, True), (fits + 10, False)):
            changed = dataclasses.replace(
                order,
                options=(),
                profile_changes=(("insulation_c", insulation_c), ("bundling", "off")),
                overrides=tuple(
                    Override(subject="F04", field=f, value=v, reason="r", initials="i")  # type: ignore[arg-type]
                    for f, v in (("gauge", "8 AWG"), ("protection_a", str(amps)))
                ),
            )
            done = draft(changed, boat, shipped_catalogue())
            above = [f for f in done.findings if f.code == "S02" and f.subjects[0] == "F04"]
            assert (not above) == fine


def test_no_solder_and_no_grease_in_a_shrunk_joint(full: Draft) -> None:
    data = packet_files(full, frozenset({"ends"}))["ends.csv"].decode()
    for row in csv.DictReader(io.StringIO(data)):
        assert "solder" not in row["steps"]
        if "adhesive" in row["end"]:
            assert "grease" not in row["steps"]


def test_two_lamps_are_fused_as_one_of_them_is(order: Order, boat: Boat) -> None:
    """Common practice, no source: makers' 3 A for each is 3 A for both, where it bears both."""
    ratings = {}
    for circuit, names in (("one", ("cabin_1",)), ("two", ("cabin_1", "cabin_2"))):
        lamps = [dataclasses.replace(x, maker_fuse_a=3.0) for x in boat.fit.loads if x.id in names]
        wanted = wanted_rating(tuple(lamps), "blade fuse")
        assert wanted is not None
        ratings[circuit] = (wanted.rating_a, wanted.why)
    assert ratings == {"one": (3.0, "maker"), "two": (3.0, "maker")}
    heavy = [dataclasses.replace(x, running_a=1.5) for x in lamps]
    both = wanted_rating(tuple(heavy), "blade fuse")
    assert both is not None and both.rating_a == 4.0  # 3.75 A is asked for: more than either's
    unknown = wanted_rating((lamps[0], dataclasses.replace(lamps[1], maker_fuse_a=None)), "breaker")
    assert unknown is not None and unknown.rating_a == 3.0 and unknown.why != "maker"
