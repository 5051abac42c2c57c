"""Units at the edges: gauges, parsing and formatting. Inside everything is SI."""

from vivid_loom.quantities.formatting import (
    FOOT_M,
    CutUnit,
    counted,
    cut_unit,
    enumerated,
    figure,
    in_reading_order,
    key_in,
    length_text,
    percent_text,
)
from vivid_loom.quantities.gauge import Gauge, GaugeError, Series
from vivid_loom.quantities.limits import EachOnce, LimitError, Prose, one_line
from vivid_loom.quantities.parsing import QuantityError, parse_amps, parse_gauge, parse_length_m
from vivid_loom.quantities.record import computed, record, revised
from vivid_loom.quantities.texts import (
    DateText,
    FileName,
    GaugeText,
    Id,
    OptionalGaugeText,
    file_name,
    kept_kind,
)

__all__ = [
    "FOOT_M",
    "CutUnit",
    "DateText",
    "EachOnce",
    "FileName",
    "Gauge",
    "GaugeError",
    "GaugeText",
    "Id",
    "LimitError",
    "OptionalGaugeText",
    "Prose",
    "QuantityError",
    "Series",
    "computed",
    "counted",
    "cut_unit",
    "enumerated",
    "figure",
    "file_name",
    "in_reading_order",
    "kept_kind",
    "key_in",
    "length_text",
    "one_line",
    "parse_amps",
    "parse_gauge",
    "parse_length_m",
    "percent_text",
    "record",
    "revised",
]
