"""Insulation colours: letter codes and the colour-per-function scheme."""

from typing import Final, NamedTuple

from vivid_loom.standards.source import Source

__all__ = [
    "CODES",
    "COLOUR_SOURCE",
    "FUNCTION_COLOURS",
    "FUNCTION_TRACERS",
    "TRACERS",
    "InsulationColour",
    "colour_name",
]

COLOUR_SOURCE: Final = Source("ABYC E-11", "DC colour table; letters IEC 60757")

CODES: Final[dict[str, str]] = {
    "BK": "black", "BN": "brown", "RD": "red", "OG": "orange", "YE": "yellow", "GN": "green",
    "BU": "dark blue", "VT": "violet", "GY": "dark grey", "WH": "white", "PK": "pink",
    "TQ": "turquoise",
    "LB": "light blue", "TN": "tan",
}  # fmt: skip  # the last two are our own: IEC 60757 has one blue and no tan


class InsulationColour(NamedTuple):
    """Base colour and tracer as letter codes; tracer '' for a plain wire."""

    base: str
    tracer: str = ""

    @classmethod
    def parse(cls, text: str) -> "InsulationColour":
        """Read 'BN' or 'BN/YE'.

        Raises:
            ValueError: a letter code that is not in the table.
        """
        base, _, tracer = text.strip().upper().partition("/")
        for code in (base, tracer):
            if code and code not in CODES:
                raise ValueError(f"found colour {text!r}, expected codes of {', '.join(CODES)}")
        return cls(base, tracer)

    def __str__(self) -> str:
        return f"{self.base}/{self.tracer}" if self.tracer else self.base


def colour_name(colour: InsulationColour) -> str:
    """Return the colour in words, tracer last: 'brown with yellow tracer'."""
    base = CODES[colour.base]
    return f"{base} with {CODES[colour.tracer]} tracer" if colour.tracer else base


FUNCTION_COLOURS: Final[dict[str, str]] = {
    "positive_main": "RD",
    "bilge_pump": "BN",
    "circulation_pump": "BN",
    "fresh_water_pump": "BN",
    "bilge_blower": "BN/YE",
    "navigation_light": "GY",
    "anchor_light": "GY",
    "cabin_light": "BU",
    "instrument_light": "BU",
    "deck_light": "BU",
    "searchlight": "BU",
    "instrument": "VT",
    "ignition": "VT",
    "electronics": "OG",
    "accessory": "OG",
    "socket": "OG",
    "horn": "OG",
    "wiper": "OG",
    "alarm": "OG",
    "refrigerator": "OG",
    "heater": "OG",
    "gauge_sender": "PK",
    "heavy_motor": "RD",
}
"""Base colour per function; what ABYC's table does not name takes the accessory feed's orange."""

FUNCTION_TRACERS: Final[dict[str, str]] = {
    "circulation_pump": "GN",
    "fresh_water_pump": "LB",
    "anchor_light": "WH",
    "deck_light": "WH",
    "searchlight": "YE",
    "electronics": "BU",
    "socket": "RD",
    "horn": "WH",
    "wiper": "GN",
    "alarm": "RD",
    "refrigerator": "LB",
    "heater": "GY",
}
"""Our telling tracers where several functions share a base; brown/yellow stays the blower's."""

TRACERS: Final = ("WH", "BK", "RD", "YE", "GN", "BU", "OG", "VT")
