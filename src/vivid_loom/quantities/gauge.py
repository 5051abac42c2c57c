"""A conductor size as the trade writes it: '16 AWG', '2/0 AWG', '1.5 mm²' or '16 SAE'."""

import re
from functools import lru_cache
from typing import Final, Literal, NamedTuple

__all__ = ["Gauge", "GaugeError", "Series"]

Series = Literal["AWG", "SAE", "mm2"]

_AWG: Final = re.compile(r"^\s*(?:(\d)\s*/\s*0|(\d{1,2}))\s*(awg|ga|gauge|sae)\s*$", re.IGNORECASE)
_MM2: Final = re.compile(r"^\s*(\d+(?:[.,]\d+)?)\s*(?:mm²|mm2|qmm|sq\.? ?mm)\s*$", re.IGNORECASE)


class GaugeError(ValueError):
    """A text that names no conductor size."""

    def __init__(self, text: str) -> None:
        super().__init__(
            f"found {text!r}, expected a gauge such as '16 AWG', '2/0 AWG' or '1.5 mm²'"
        )
        self.text = text


class Gauge(NamedTuple):
    """One size of one series.

    Attributes:
        series: 'AWG' (ASTM B258), 'SAE' (road-vehicle gauge: same numbers, less copper) or
            'mm2' (IEC 60228).
        size: the gauge number, counted on below zero (1/0 is 0, 2/0 is −1), or the area in mm².
    """

    series: Series
    size: float

    @classmethod
    def parse(cls, text: str) -> "Gauge":
        """Read a gauge.

        Raises:
            GaugeError: ``text`` names no size of any series.
        """
        return _parsed(text)

    def __str__(self) -> str:
        return _written(self)


@lru_cache(maxsize=1024)
def _parsed(text: str) -> Gauge:
    if match := _AWG.match(text):
        aughts, number, unit = match.groups()
        series: Series = "SAE" if unit.lower() == "sae" else "AWG"
        return Gauge(series, 1 - int(aughts) if aughts else int(number))
    if match := _MM2.match(text):
        return Gauge("mm2", float(match.group(1).replace(",", ".")))
    raise GaugeError(text)


@lru_cache(maxsize=1024)
def _written(gauge: Gauge) -> str:
    if gauge.series == "mm2":
        return f"{gauge.size:g} mm²"
    number = int(gauge.size)
    return f"{number} {gauge.series}" if number > 0 else f"{1 - number}/0 {gauge.series}"
