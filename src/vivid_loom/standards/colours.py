"""Insulation colours: letter codes, and the schools of telling circuits apart."""

from collections.abc import Mapping
from functools import cache
from pathlib import Path
from typing import Annotated, Final, NamedTuple

from vivid_loom.quantities import record
from vivid_loom.quantities.document import read_document
from vivid_loom.quantities.limits import Meets
from vivid_loom.standards.source import Source

__all__ = [
    "AC_LIVE",
    "CODES",
    "COLOUR_SOURCE",
    "REMARK_FROM_MM2",
    "ColourScheme",
    "ColourText",
    "InsulationColour",
    "colour_name",
    "colour_schemes",
]

COLOUR_SOURCE: Final = Source("ABYC E-11", "DC colour table; letters IEC 60757")

CODES: Final[dict[str, str]] = {
    "BK": "black",
    "BN": "brown",
    "RD": "red",
    "OG": "orange",
    "YE": "yellow",
    "GN": "green",
    "BU": "dark blue",
    "VT": "violet",
    "GY": "dark grey",
    "WH": "white",
    "PK": "pink",
    "TQ": "turquoise",
    "LB": "light blue",
    "TN": "tan",
}  # the last two are our own: IEC 60757 has one blue and no tan


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


def _is_colour(text: str) -> bool:
    try:
        return not text or InsulationColour.parse(text).base in CODES
    except ValueError:
        return False


ColourText = Annotated[str, Meets("a colour code such as RD or BN/YE, or nothing", _is_colour)]


def colour_name(colour: InsulationColour) -> str:
    """Return the colour in words, tracer last: 'brown with yellow tracer'."""
    base = CODES[colour.base]
    return f"{base} with {CODES[colour.tracer]} tracer" if colour.tracer else base


@record
class ColourScheme:
    """A school of telling conductors apart.

    Attributes:
        functions: colour of the positive by what the circuit does.
        otherwise: the function whose colour an unnamed one takes.
        sleeves: colours of a sleeve per circuit, given out in turn; () for none.
        forbidden_positive: bases that no positive may have.
        tracers: in the order they are given to circuits that would look alike.
    """

    id: str
    name: str
    source: str
    functions: Mapping[str, str]
    otherwise: str
    sleeves: tuple[str, ...] = ()
    forbidden_positive: tuple[str, ...] = ()
    tracers: tuple[str, ...] = ()

    def positive(self, function: str) -> InsulationColour:
        """Return the colour of a function; an unnamed one takes the accessory feed's."""
        shown = self.functions.get(function) or self.functions[self.otherwise]
        return InsulationColour.parse(shown)


@record
class _Schemes:
    schemes: tuple[ColourScheme, ...]


@cache
def colour_schemes() -> dict[str, ColourScheme]:
    """Return the schemes that ship, by id."""
    path = Path(__file__).parent / "data" / "colour_schemes.json"
    found = read_document(path, _Schemes, "vivid-loom-colours", 1)
    return {scheme.id: scheme for scheme in found.schemes}


AC_LIVE: Final = {"US": ("BK", "RD"), "Europe": ("BN", "BK", "GY")}
"""Bases that are live in a mains system aboard; NEC and IEC 60445, from memory."""

REMARK_FROM_MM2: Final = 13.0  # 6 AWG: from here up a sleeve may re-mark; our choice
