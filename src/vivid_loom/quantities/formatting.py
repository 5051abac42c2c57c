"""Writing figures: three significant ones unless the trade says otherwise."""

from collections.abc import Sequence

from vivid_loom.quantities.gauge import Gauge

__all__ = ["figure", "gauge_for_ladder", "key_in", "length_text"]


def figure(value: float | None, digits: int = 3) -> str:
    """Write ``value`` with ``digits`` significant figures, without exponent; '—' for none."""
    if value is None:
        return "—"
    if value == 0:
        return "0"
    text = f"{value:.{digits}g}"
    return f"{float(text):.0f}" if "e" in text else text


def key_in(value: float) -> str:
    """Write a number as one keys it into a pocket calculator: six figures, no exponent."""
    text = f"{value:.6g}"
    return f"{value:.10f}".rstrip("0") if "e-" in text else f"{value:.0f}" if "e" in text else text


def length_text(metres: float, units: str) -> str:
    """Write a length in the order's units: 'm' or 'ft'."""
    return f"{metres / 0.3048:.1f} ft" if units == "ft" else f"{metres:.1f} m"


def gauge_for_ladder(text: str | None, ladder: Sequence[Gauge], areas: Sequence[float]) -> int:
    """Return the index of the thinnest rung not thinner than the gauge ``text``, 0 for none.

    Args:
        text: a gauge of the ladder's own or of the other series.
        ladder: sizes, thinnest first.
        areas: their areas in mm².

    Raises:
        ValueError: thicker than every rung.
    """
    if text is None:
        return 0
    wanted = Gauge.parse(text)
    if wanted in ladder:
        return ladder.index(wanted)
    if wanted.series != "mm2":  # a maker's bare gauge number means AWG, the thicker of the two
        wanted_mm2 = 0.012668 * 92 ** ((36 - wanted.size) / 19.5)  # ASTM B258
    else:
        wanted_mm2 = wanted.size
    for index, area in enumerate(areas):
        # 6 %: the trade takes 16 AWG (1.31 mm²) for 1.25 and 12 AWG (3.31) for 3.5; our choice
        if area >= wanted_mm2 * 0.94:
            return index
    raise ValueError(f"no stocked size reaches {text}")
