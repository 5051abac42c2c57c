"""The neutral colours a drawing is made in; wire colours are never among them."""

from typing import NamedTuple

__all__ = ["Tones"]


class Tones(NamedTuple):
    """The neutral colours of a page; insulation colours are never among them."""

    page: str
    ink: str
    quiet: str
    rule: str
    band: str
    part: str  # fill of chips, pills and loads
    wire_edge: str
    alarm: str
    warn: str
    bar: str
    focus: str
