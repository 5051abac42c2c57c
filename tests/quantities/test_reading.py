import pytest
from hypothesis import given
from hypothesis import strategies as st

from vivid_loom.quantities import (
    Gauge,
    GaugeError,
    QuantityError,
    cut_unit,
    figure,
    length_text,
    parse_amps,
    parse_length_m,
)


@pytest.mark.parametrize(
    ("text", "gauge"),
    [
        ("16 AWG", Gauge("AWG", 16)),
        ("18ga", Gauge("AWG", 18)),
        ("2/0 awg", Gauge("AWG", -1)),
        ("1/0 AWG", Gauge("AWG", 0)),
        ("1,5 mm2", Gauge("mm2", 1.5)),
        ("0.75 mm²", Gauge("mm2", 0.75)),
    ],
)
def test_gauges_are_read_as_the_trade_writes_them(text: str, gauge: Gauge) -> None:
    assert Gauge.parse(text) == gauge


@given(st.integers(-3, 40))
def test_awg_survives_writing_and_reading(number: int) -> None:
    gauge = Gauge("AWG", number)
    assert Gauge.parse(str(gauge)) == gauge


@pytest.mark.parametrize("text", ["", "16", "AWG", "red", "16 mm", "-2 AWG"])
def test_what_is_no_gauge_is_refused(text: str) -> None:
    with pytest.raises(GaugeError, match="expected a gauge"):
        Gauge.parse(text)


@pytest.mark.parametrize(
    ("text", "metres"),
    [("12 ft", 3.6576), ("3,6 m", 3.6), ("7 in", 0.1778), ("250mm", 0.25), ("4", 4.0)],
)
def test_lengths(text: str, metres: float) -> None:
    assert parse_length_m(text) == pytest.approx(metres)


@pytest.mark.parametrize("text", ["twelve", "3 furlongs", "-2 m", ""])
def test_what_is_no_length_is_refused(text: str) -> None:
    with pytest.raises(QuantityError):
        parse_length_m(text)


def test_amps_and_watts() -> None:
    assert parse_amps("3,8 A", 12) == 3.8
    assert parse_amps("2.5 W", 12) == pytest.approx(0.20833, rel=1e-3)
    assert parse_amps("250 mA", 24) == 0.25
    with pytest.raises(QuantityError):
        parse_amps("3 V", 12)


def test_figures_have_three_significant_digits() -> None:
    assert [figure(x) for x in (0.1234, 12.34, 1234.5, 0, None)] == [
        "0.123",
        "12.3",
        "1230",
        "0",
        "—",
    ]
    assert length_text(3.048, "ft") == "10.0 ft"


def test_a_shop_in_feet_cuts_by_the_inch() -> None:
    """An inch is 25.4 mm by definition (NIST SP 811); a US shop reads no millimetres."""
    inch, mm = cut_unit("ft"), cut_unit("m")
    assert inch.text(25.4 * 65.7) == "65.7" and inch.told(127) == "5 in"
    assert mm.text(1670) == "1670" and mm.told(0) == "0 mm"
    assert "in" in inch.tolerance and "mm" not in inch.tolerance
