"""The neutral colours a drawing is made in; wire colours are never among them."""

from typing import Final, NamedTuple

__all__ = ["PAPER", "Tones"]


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


PAPER: Final = Tones(
    page="#ffffff",
    ink="#1c1e22",
    quiet="#5c6066",
    rule="#c9c5bb",
    band="#f4f1ea",
    part="#ffffff",
    wire_edge="#4a4d52",
    alarm="#a3211b",
    warn="#8a5a00",
    bar="#868a90",
    focus="#2b4a78",
)
