"""How the Runs stage speaks of a hull's lines, areas and harnesses."""

from typing import Final

from vivid_loom.boat import Area, Assembly
from vivid_loom.desktop.widgets.record_form import Words

__all__ = ["HULL_WORDS"]

HULL_WORDS: Final = Words(
    labels={
        "hull": "Hull",
        "areas": "Areas",
        "assemblies": "Harnesses",
        "length_m": "Length, m",
        "beam_m": "Beam, m",
        "material": "Built of",
        "sails": "May go under sail alone",
        "thrust_n": "Thrust of its engines, N",
        "sheer": "Deck edge, x z in m",
        "keel": "Bottom, x z in m",
        "house": "Wheelhouse, x z in m",
        "transom_share": "Transom, share of beam",
        "widest_at": "Widest at, share of length",
        "bow_fullness": "Fullness of the bow, 1 to 6",
        "id": "Id on the sheets",
        "name": "Name",
        "from_m": "From the transom, m",
        "to_m": "To, m",
        "fuel_vapour": "Fuel vapour",
        "water": "Water",
        "engine_heat": "Engine space",
        "ambient_c": "Air, °C",
        "at_sea": "Reached under way",
        "axis": "One of those end to end",
    },
    values={},
    offers={},
    fresh={
        "areas": lambda: Area(id="area", name="New area", from_m=0.0, to_m=1.0, axis=False),
        "assemblies": lambda: Assembly(id="harness", name="New harness"),
    },
)
