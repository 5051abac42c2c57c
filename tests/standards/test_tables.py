import itertools
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.quantities import Gauge
from vivid_loom.standards import ampacity, conductor, protection, terminals, time_current
from vivid_loom.standards.colours import (
    CODES,
    ColourScheme,
    InsulationColour,
    colour_name,
    colour_schemes,
)
from vivid_loom.standards.demand import feeder_demand
from vivid_loom.standards.devices import DEVICES
from vivid_loom.standards.sleeves import SLEEVE_BORES_MM, sleeve_bore_mm, sleeve_length_mm
from vivid_loom.standards.source import NotInTableError

AWG = conductor.SIZING_LADDER["AWG"]
MM2 = conductor.SIZING_LADDER["mm2"]
SAE = conductor.SIZING_LADDER["SAE"]


@pytest.mark.parametrize("ladder", [AWG, MM2, SAE])
def test_thicker_wire_resists_less_and_bears_more(ladder: tuple[Gauge, ...]) -> None:
    for thin, thick in itertools.pairwise(ladder):
        assert conductor.area_mm2(thin) < conductor.area_mm2(thick)
        assert conductor.ohm_per_m(thin, 50) > conductor.ohm_per_m(thick, 50)
        for rating in (60, 90, 105, 125, 200):
            assert ampacity.ampacity_a(thin, rating) < ampacity.ampacity_a(thick, rating)


def test_hotter_insulation_never_bears_less() -> None:
    for rows in (ampacity.AWG_ROWS_A.values(), ampacity.MM2_ROWS_A.values()):
        for row in rows:
            assert list(row) == sorted(row)
    assert len(ampacity.AWG_ROWS_A) == 15


@pytest.mark.parametrize("gauge", [*AWG, *MM2, *SAE], ids=str)
def test_area_times_resistance_is_near_copper(gauge: Gauge) -> None:
    resistivity = conductor.ohm_per_m(gauge, 20) * conductor.area_mm2(gauge) * 1e-6
    assert resistivity == pytest.approx(1.7241e-8, rel=0.2)
    assert resistivity > 1.72e-8


def test_tables_are_not_interpolated() -> None:
    for call in (
        lambda: conductor.ohm_per_m(Gauge("AWG", 13), 50),
        lambda: conductor.ohm_per_m(Gauge("mm2", 3), 50),
        lambda: ampacity.ampacity_a(Gauge("AWG", 16), 100),
        lambda: ampacity.engine_space_factor("mm2", 60),
        lambda: terminals.tensile_n(Gauge("mm2", 50)),
    ):
        with pytest.raises(NotInTableError):
            call()


@given(st.floats(31, 104))
def test_a_hotter_place_reduces(ambient_c: float) -> None:
    assert 0 < ampacity.ambient_factor(105, ambient_c) < 1


def test_ambient_factor_edges() -> None:
    assert ampacity.ambient_factor(105, 30) == 1
    assert ampacity.ambient_factor(105, 10) == 1
    assert ampacity.ambient_factor(105, 50) == pytest.approx((55 / 75) ** 0.5)
    with pytest.raises(ValueError, match="reaches"):
        ampacity.ambient_factor(75, 75)


def test_ratings_are_sorted_and_the_next_one_is_found() -> None:
    for ratings in (device.ratings_a for device in DEVICES.values()):
        assert list(ratings) == sorted(set(ratings))
    assert protection.next_rating_a("blade fuse", 4.75) == 5
    assert protection.next_rating_a("blade fuse", 5) == 5
    assert protection.next_rating_a("blade fuse", 41) is None


def test_blades_have_a_colour_each() -> None:
    assert tuple(protection.BLADE_COLOURS) == DEVICES["blade fuse"].ratings_a
    assert len(set(protection.BLADE_COLOURS.values())) == len(protection.BLADE_COLOURS)


@pytest.mark.parametrize("scheme", colour_schemes().values(), ids=lambda scheme: scheme.id)
def test_every_scheme_colour_is_known_and_green_means_bonding(scheme: ColourScheme) -> None:
    for function in (*scheme.functions, "something nobody has named"):
        base = scheme.positive(function).base
        assert (base == "GN") == (function in ("bonding", "trim_in") and base == "GN")
        assert base not in scheme.forbidden_positive or function in ("bonding", "trim_in")
    assert scheme.positive("bonding") == ("GN", "YE")
    assert {*scheme.tracers, *scheme.sleeves} <= set(CODES)


ALIKE_BY_THE_TABLE = {
    ("alarm", "bilge_alarm"),  # of ours: an alarm is an alarm
    ("cabin_light", "instrument_light"),
    ("fuel_gauge", "gauge_sender"),
    ("heavy_motor", "positive_main"),
    ("ignition", "instrument"),
    ("navigation_light", "tachometer"),
}
"""Functions that ABYC E-11's table itself gives one colour (from memory)."""


@pytest.mark.parametrize("scheme", ["function", "iso"])
def test_no_two_functions_look_alike_but_those_the_table_has_so(scheme: str) -> None:
    functions = colour_schemes()[scheme].functions
    alike = {(a, b) for a in functions for b in functions if a < b and functions[a] == functions[b]}
    assert alike == ALIKE_BY_THE_TABLE


def test_colours_are_read_and_named() -> None:
    assert colour_name(InsulationColour.parse("bn/ye")) == "brown with yellow tracer"
    with pytest.raises(ValueError, match="expected codes"):
        InsulationColour.parse("XX")


@given(st.lists(st.tuples(st.sampled_from("AB"), st.floats(0, 100)), max_size=8))
def test_demand_lies_between_the_largest_load_and_the_sum(loads: list[tuple[str, float]]) -> None:
    demand = feeder_demand(loads)  # type: ignore[arg-type]
    total = sum(a for _, a in loads)
    assert max([a for _, a in loads], default=0) - 1e-9 <= demand.total_a <= total + 1e-9
    assert demand.everything_a == pytest.approx(total)


def test_contacts_bear_what_they_say() -> None:
    contact = terminals.contact_for(Gauge("AWG", 16), 10)
    assert contact and contact.size == 16
    assert terminals.contact_for(Gauge("AWG", 16), 15) is None  # size 12 takes 14 AWG and up
    heavier = terminals.contact_for(Gauge("AWG", 14), 15)
    assert heavier and heavier.size == 12


@pytest.mark.parametrize("family", DEVICES)
def test_bands_open_later_than_they_hold_and_sooner_the_more_flows(family: str) -> None:
    held = opened = float("inf")
    for multiple in [1.0, 1.04, *(1.06 * 1.07**i for i in range(60))]:
        holds = time_current.holds_s(family, 10.0, 10.0 * multiple)
        opens = time_current.opens_s(family, 10.0, 10.0 * multiple)
        assert holds <= opens
        assert holds <= held and opens <= opened
        held, opened = holds, opens
    assert time_current.holds_s(family, 10.0, 10.0) == float("inf")


@pytest.mark.parametrize("gauge", SAE, ids=str)
def test_road_vehicle_gauge_has_less_copper_than_awg(gauge: Gauge) -> None:
    like = Gauge("AWG", gauge.size)
    share = conductor.area_mm2(gauge) / conductor.area_mm2(like)
    assert 0.89 < share < 0.98
    assert conductor.ohm_per_m(gauge, 50) * share == pytest.approx(conductor.ohm_per_m(like, 50))
    assert conductor.is_thinner(gauge, like) or share > 0.94


@pytest.mark.parametrize(
    ("volts", "cranking", "main", "branch"),
    [
        (12, 650, 1500, 750),
        (12, 651, 3000, 1500),
        (12, 1100, 3000, 1500),
        (12, 1101, 5000, 2500),
        (24, 1250, 3000, 1500),
        (24, 1251, 5000, 2500),
        (32, 650, 3000, 1500),
    ],
)
def test_interrupt_minima(volts: float, cranking: float, main: float, branch: float) -> None:
    """ABYC E-11, interrupt capacity by cranking amps (from memory)."""
    assert protection.interrupt_minimum_a(cranking, main=True, nominal_v=volts) == main
    assert protection.interrupt_minimum_a(cranking, main=False, nominal_v=volts) == branch


@pytest.mark.parametrize(
    ("kind", "thread", "most", "amps"),
    [
        ("stud", "M8", 4, 250.0),  # ABYC E-11: no more than four on a stud
        ("post", "M10", 4, 400.0),
        ("screw", "M4", 4, 30.0),
        ("screw", "M5", 4, 65.0),
        ("tab", "", 2, math.inf),  # common practice, no source: a second by piggyback
        ("lead", "", 6, math.inf),
    ],
)
def test_what_a_terminal_takes(kind: str, thread: str, most: int, amps: float) -> None:
    form = terminals.form_of(kind, thread)
    assert (form.most, form.rated_a) == (most, amps)


def test_a_heavier_thread_takes_a_heavier_lug_and_more_current() -> None:
    forms = [terminals.form_of("stud", thread) for thread in terminals.STUD_MAX_A]
    for thin, thick in itertools.pairwise(forms):
        assert thin.thickest_mm2 < thick.thickest_mm2 and thin.rated_a < thick.rated_a
    ten, eight = (conductor.area_mm2(Gauge("AWG", size)) for size in (10, 8))
    assert ten < terminals.form_of("tab", "").thickest_mm2 < eight


def test_a_sleeve_passes_over_its_barrel_and_the_smallest_does() -> None:
    """Common practice, no source: eighths of an inch."""
    assert [round(bore / 25.4 * 8, 1) for bore in SLEEVE_BORES_MM] == [1, 1.5, 2, 3, 4, 6, 8, 12]
    for wire in shipped_catalogue().wires:
        bore = sleeve_bore_mm(wire.diameter_mm)
        smaller = [b for b in SLEEVE_BORES_MM if b < bore]
        assert bore >= 1.6 * wire.diameter_mm - 1e-6
        assert not smaller or smaller[-1] < 1.6 * wire.diameter_mm
        assert sleeve_length_mm(wire.diameter_mm) == (40 if wire.diameter_mm < 6 else 60)
    with pytest.raises(ValueError, match="24 mm"):
        sleeve_bore_mm(24.0)
