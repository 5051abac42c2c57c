"""Writing figures: three significant ones unless the trade says otherwise."""

__all__ = ["figure", "key_in", "length_text"]


def figure(value: float | None, digits: int = 3) -> str:
    """Write ``value`` with ``digits`` significant figures, without exponent; '—' for none."""
    if value is None:
        return "—"
    if value == 0:
        return "0"
    text = f"{value:.{digits}g}"
    return f"{float(text):.0f}" if "e" in text else text


def key_in(value: float, figures: int = 6) -> str:
    """Write a number as one keys it into a pocket calculator: six figures, no exponent."""
    text = f"{value:.{figures}g}"
    return f"{value:.10f}".rstrip("0") if "e-" in text else f"{value:.0f}" if "e" in text else text


def length_text(metres: float, units: str) -> str:
    """Write a length in the order's units: 'm' or 'ft'."""
    return f"{metres / 0.3048:.1f} ft" if units == "ft" else f"{metres:.1f} m"
