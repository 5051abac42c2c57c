"""How forms speak of loads, circuits and switches."""

from typing import Final, get_args

from vivid_loom.boat import ContactRequest, DeviceFamily, Lead, MakerLength
from vivid_loom.desktop.widgets.record_form import Words
from vivid_loom.drafting import Draft
from vivid_loom.drafting.patterns import PATTERNS

__all__ = ["circuit_words", "load_words"]

_LABELS: Final = {
    "id": "Id on the sheets",
    "label": "Label",
    "pattern": "How it is fed",
    "loads": "Its loads",
    "level": "Alive",
    "supply": "Fed from",
    "contact": "Its contact",
    "also": "Contacts beside it",
    "cable": "Laid as",
    "cores": "Cores of its cable, 0 for as few as needed",
    "lead": "Feeds the lead",
    "switch": "Of the switch",
    "pole": "Pole",
    "throws": "Alive with the lever",
    "part": "Part",
    "legend": "Legend",
    "rank": "Rank, 0 emergency to 3 comfort",
    "panel": "On the panel",
    "station": "Station",
    "coil": "Pulled by the coil",
    "upper_lamp": "Upper lamp is",
    "lower_lamp": "Lower lamp is",
    "legend_says": "Legend fitted says, if other",
    "name": "Name",
    "function": "Function",
    "running_a": "Running, A",
    "evidence": "Figure from",
    "leads": "Leads",
    "ending": "Ends in",
    "colour": "Colour",
    "gauge": "Gauge",
    "length_mm": "Length, mm",
    "fuse_a": "Fuse of its own, A",
    "peak_a": "Starting peak, A",
    "locked_rotor_a": "Shaft held, A",
    "self_protected": "Outlasts a stall by itself",
    "replaceable": "Comes off at a pair of plugs",
    "contact_a": "Contact inside bears, A",
    "heat_c": "Stands surroundings of, °C",
    "maker_fuse_a": "Maker's fuse at most, A",
    "maker_fuse_best_a": "Maker's fuse, A",
    "fuse_families": "Kinds of fuse the maker allows",
    "maker_lengths": "Maker's table, up to a loop of",
    "loop_length_m": "Loop up to, m",
    "maker_smallest": "Maker's smallest wire",
    "return_path": "Returns by",
    "shows": "Of a vessel's lights it is the",
    "family": "Device on a post or stud",
    "lit_in": "Must burn with the lever",
    "duty_percent": "Duty, %",
    "longest_on_min": "Longest on, min",
    "output_w": "Gives, W",
    "efficiency_percent": "Efficiency, %",
}
_VALUES: Final = {
    **{name: pattern.title for name, pattern in PATTERNS.items()},
    "battery_direct": "with everything off",
    "unswitched": "behind a battery switch",
    "ignition": "behind the key",
    "": "single wires",
    "by_profile": "as the profile has it",
    "up": "lit when pressed up",
    "down": "lit when pressed down",
    "either": "lit at either press",
    "night": "lit with the instrument lights",
    "always": "always lit",
    "never": "not wired",
}


def circuit_words(draft: Draft) -> Words:
    """Return how a form speaks of circuits and switches."""
    aboard, boat = draft.aboard, draft.aboard.boat
    switches = [(s.id, s.legend) for s in aboard.switches.values()]
    supplies = [("", "where the draft finds room")]
    supplies += [(name, f"{name} {place.name}") for name, place in boat.places_by_id.items()]
    stations = [("", "on a panel")]
    stations += [(s.id, s.name) for s in sorted(boat.stations, key=lambda s: s.name)]
    first = next(iter(aboard.switches), "")
    pulling = [load for load in aboard.loads.values() if load.is_a_coil and not load.motor]
    return Words(
        labels=_LABELS,
        values=_VALUES,
        offers={
            "pattern": [(name, pattern.title) for name, pattern in PATTERNS.items()],
            "loads": [(load.id, load.name) for load in aboard.loads.values()],
            "supply": supplies,
            "switch": switches,
            "throws": [("up", "up"), ("down", "down")],
            "part": [(part.id, part.name) for part in draft.catalogue.switches],
            "panel": [("", "the first with room"), *((p.id, p.name) for p in boat.panels)],
            "station": stations,
            "coil": [("", "none"), *((load.id, load.name) for load in pulling)],
            "family": [("", "what bears it"), *((name, name) for name in get_args(DeviceFamily))],
            "cable": [("", "single wires"), ("cable", "cable"), ("twisted pair", "twisted pair")],
        },
        fresh={
            "contact": lambda: ContactRequest(switch=first),
            "also": lambda: ContactRequest(switch=first),
        },
        fixed=frozenset({"id"}),
    )


def load_words(draft: Draft) -> Words:
    """Return how a form speaks of a load; hours in use stand in its row."""
    stations = sorted(draft.aboard.boat.stations, key=lambda s: s.name)
    return Words(
        labels=_LABELS,
        values={**_VALUES, "wire": "wire", "hull": "the hull"},
        offers={
            "station": [(s.id, s.name) for s in stations],
            "fuse_families": [(name, name) for name in get_args(DeviceFamily)],
            "lit_in": [("up", "up"), ("down", "down")],
        },
        fresh={
            "leads": lambda: Lead(function="plus"),
            "maker_lengths": lambda: MakerLength(loop_length_m=3.0, gauge="16 AWG"),
        },
        fixed=frozenset({"id"}),
        left_out=frozenset({"hours"}),
    )
