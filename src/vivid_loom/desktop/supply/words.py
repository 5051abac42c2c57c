"""How the Supply stage speaks of parts: labels with units, and what their fields may hold."""

from collections.abc import Mapping
from typing import Any, Final

from vivid_loom.boat import FactoryLink, Feed, Home, SupplyKind
from vivid_loom.desktop.widgets.record_form import Words
from vivid_loom.drafting import Draft
from vivid_loom.sheets.drawings.supply_drawing import KIND_WORDS

__all__ = ["BLOCKS", "words_for"]

BLOCKS: Final[tuple[SupplyKind, ...]] = ("fuse_block", "breaker_panel", "bus")
_LABELS: Final = {
    "id": "Id on the sheets",
    "name": "Name",
    "station": "Station",
    "kind": "Kind",
    "level": "Meant to be",
    "feeds": "Fed from",
    "ways": "Ways",
    "way_max_a": "One way bears, A",
    "total_max_a": "Bears in all, A",
    "family": "Device",
    "ways_protected": "Every way has its device",
    "way_stud": "Thread of a way",
    "way_distance_mm": "Bar to device, mm",
    "ingress": "Stands",
    "ignition_protected": "Ignition protected",
    "coil": "Its coil",
    "output_v": "Gives, V",
    "efficiency_percent": "Efficiency, %",
    "charges_by": "Charges",
    "case_on": "Its case is its negative, bolted to",
    "source": "From",
    "port": "Onto its input",
    "distance_mm": "Terminal to device, mm",
    "sheathed": "Sheathed up to the device",
    "stud": "Lands on stud",
    "cranking": "A starter draws through it: gauge at least ('' for none)",
    "cranking_a": "Cranking, A",
    "capacity_ah": "Capacity, Ah",
    "internal_ohm": "Internal resistance, Ω",
    "chemistry": "Kind of cells",
    "screws": "Screws and studs",
    "homes": "Conductors home",
    "screw": "Thread of a screw",
    "max_a": "Bears, A",
    "to": "Goes home to",
    "beside": "Runs beside the feeder of",
    "rows": "Rows of positions",
    "links": "Chained by its maker",
    "from_tab": "From position and tab, as 3 1C",
    "to_tab": "To position and tab",
    "length_mm": "Length, mm",
    "pitch_mm": "From position to position, mm",
    "row_pitch_mm": "From row to row, mm",
    "gasket": "Gasket behind its plate",
    "depth_mm": "Free behind it, mm, 0 unmeasured",
    "cut_out": "Its cut-outs, as 37 × 21 mm",
    "positions": "Positions",
    "gauge": "Gauge at least ('' for none stated)",
    "start": "From",
    "end": "To",
    "diameter_mm": "Diameter, mm",
    "colour": "Colour of its jacket",
    "comes_m": "Comes with its plugs on, m, 0 cut to measure",
    "comes_from": "Its device is at its",
    "parts": "Comes apart where harnesses meet",
    "ac_aboard": "Mains colours aboard",
    "bonding_station": "Bonding bus stands at",
    "hull_joins": "Negative joins the hull at",
}
_VALUES: Final = {
    **KIND_WORDS,
    "battery_direct": "alive with everything off",
    "unswitched": "behind a battery switch",
    "ignition": "behind the key",
    "dry": "dry places only",
    "spray": "spray",
    "submersible": "under water",
    "no ingress": "not looked up",
    "no family": "no device of its own",
    "engine": "while the engine runs",
    "shore": "on shore power",
    "sun": "while the sun shines",
}
_ONLY: Final[Mapping[str, tuple[str, ...]]] = {
    "ways": BLOCKS,
    "way_max_a": BLOCKS,
    "ways_protected": BLOCKS,
    "way_distance_mm": BLOCKS,
    "way_stud": BLOCKS,
    "coil": ("relay", "contactor", "combining_relay"),
    "output_v": ("converter",),
    "efficiency_percent": ("converter",),
    "charges_by": ("charge_source",),
    "case_on": ("charge_source",),
}
"""Fields that matter for some kinds only."""


def _shown(field: str, values: Mapping[str, Any]) -> bool:
    kinds = _ONLY.get(field)
    return kinds is None or "kind" not in values or values["kind"] in kinds


def words_for(draft: Draft, *, new: bool) -> Words:
    """Return how a form speaks of the supply as it stands aboard."""
    boat = draft.aboard.boat
    stations = [(s.id, s.name) for s in sorted(boat.stations, key=lambda s: s.name)]
    sources = [(b.id, b.name) for b in boat.batteries]
    sources += [(s.id, f"{s.id} {s.name}") for s in boat.supplies]
    homes = [("", "the next bus on the way back, or the battery")]
    homes += [(b.id, f"{b.name}, minus post") for b in boat.batteries]
    homes += [(b.id, f"{b.id} {b.name}") for b in boat.return_buses]
    beside = [("", "nothing: by itself"), *((s.id, f"{s.id} {s.name}") for s in boat.supplies)]
    cases = [("", "nothing: it has a negative lead of its own")]
    cases += [(b.id, f"{b.id} {b.name}") for b in boat.return_buses]
    pulling = (x for x in draft.aboard.loads.values() if x.is_a_coil and not x.motor)
    coils = [("", "none"), *((x.id, x.name) for x in pulling)]
    studs = [(size, size) for size in ("M4", "M5", "M6", "M8", "M10", "M12")]
    bonding = [("", "beside the battery"), *stations]
    return Words(
        labels=_LABELS,
        values=_VALUES,
        offers={
            "station": stations,
            "source": sources,
            "to": homes,
            "beside": beside,
            "case_on": cases,
            "coil": coils,
            "stud": studs,
            "port": [("", "the only one"), ("1", "1"), ("2", "2")],
            "start": stations,
            "end": stations,
            "bonding_station": bonding,
            "hull_joins": stations,
        },
        fresh={
            "feeds": lambda: Feed(source=boat.battery.id, family="bolt-down fuse"),
            "homes": lambda: Home(to=boat.battery.id),
            "links": lambda: FactoryLink(from_tab="1 1C", to_tab="2 1C"),
        },
        fixed=frozenset() if new else frozenset({"id"}),
        shown=_shown,
    )
