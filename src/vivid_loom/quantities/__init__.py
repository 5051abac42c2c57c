"""Units at the edges: gauges, parsing and formatting. Inside everything is SI."""

from vivid_loom.quantities.formatting import figure, key_in, length_text
from vivid_loom.quantities.gauge import Gauge, GaugeError, Series
from vivid_loom.quantities.parsing import QuantityError, parse_amps, parse_gauge, parse_length_m
from vivid_loom.quantities.record import record

__all__ = [
    "Gauge",
    "GaugeError",
    "QuantityError",
    "Series",
    "figure",
    "key_in",
    "length_text",
    "parse_amps",
    "parse_gauge",
    "parse_length_m",
    "record",
]
