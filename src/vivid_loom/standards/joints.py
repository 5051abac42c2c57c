"""Joint recipes per zone: what goes over and into a joint where it has to live."""

from typing import Final, Literal, NamedTuple

from vivid_loom.standards.source import Source

__all__ = ["RECIPES", "RECIPE_SOURCE", "Recipe", "Zone", "zone_of"]

Zone = Literal["dry console", "wet", "bilge", "engine"]
Water = Literal["dry", "spray", "submersible"]

RECIPE_SOURCE: Final = Source("common practice", "joint recipes by zone", "no source")


class Recipe(NamedTuple):
    """How a joint is made in one zone.

    Attributes:
        terminal: kind of insulated terminal or butt.
        sleeve: shrunk over the barrel; ``second_sleeve`` over that, '' for none.
        adhesive: the sleeve's lining melts and seals; it does not bond to grease.
        grease_at_landing: rings and plugs are greased once they are made.
        seals: what the joint stands, in the words of the areas.
        most_c: surroundings it stands, in °C.
    """

    terminal: str
    sleeve: str
    second_sleeve: str
    adhesive: bool
    grease_at_landing: bool
    seals: Water
    most_c: float


RECIPES: Final[dict[Zone, Recipe]] = {
    "dry console": Recipe("nylon, double crimp", "heat-shrink", "", False, False, "spray", 80.0),
    "wet": Recipe("adhesive heat-shrink", "adhesive heat-shrink", "", True, True, "spray", 90.0),
    "bilge": Recipe(
        "adhesive heat-shrink",
        "adhesive heat-shrink",
        "second adhesive sleeve, 25 mm past both ends",
        True,
        True,
        "submersible",
        90.0,
    ),
    "engine": Recipe(
        "bare, tinned, high-temperature",
        "adhesive heat-shrink, 125 °C",
        "braided sleeve against chafe",
        True,
        True,
        "spray",
        125.0,
    ),
}


def zone_of(water: Water, *, engine_heat: bool) -> Zone:
    """Return the zone of a place: water above all, then heat."""
    if water == "submersible":
        return "bilge"
    if engine_heat:
        return "engine"
    return "wet" if water == "spray" else "dry console"
