"""What two dozen customers ask for."""

from collections.abc import Callable
from typing import Any

from tests.jobs.builder import Builder, Job, Take

__all__ = ["JOBS"]

POST = {"family": "post fuse", "distance_mm": "60", "stud": "M10"}
Loads = tuple[Take, ...]


def at(station: str, *words: str, way: str = "") -> Loads:
    """Return loads of the catalogue that stand at one place."""
    return tuple(Take(each, station, way) for each in words)


SIDES = (*at("a3_port", "Side light, port"), *at("a3_starboard", "Side light, starboard"))
FLOATING = Take("Bilge pump, two-lead", "a1_bilge", "at the battery", sheet={"contact_a": "15"})
"""With a float inside."""
UNDER_WAY = (*SIDES, *at("a0_port", "Stern light"), *at("mast", "Masthead light", "Anchor light"))
SMALL = (*at("a3_port", "Bicolour bow light"), *at("a0_starboard", "All-round white light"))
BILGE = at("a1_bilge", "Bilge pump, automatic, small", "High-water alarm")
BRIDGE = at("dash", "Chart plotter, 9 in", "VHF radio", "Echo sounder")
ENGINE = at("dash", "Engine instruments", "Instrument lighting")
CABIN = (
    *at("a2_port", "Power socket", "USB outlet, 60 W", "Refrigerator, 50 litre"),
    Take("Cabin dome light", "a2_starboard", count=3),
)
WATER = at("a1_starboard", "Fresh-water pressure pump", "Washdown pump")
LIFE = at("dash", "Smoke detector panel", "Gas detector")


def second_helm(hand: Builder) -> None:
    """A block, a negative bus and a panel to port."""
    hand.part(
        ("part", "BSW"),
        id="HF2",
        name="Port helm block",
        station="a2_port",
        ways="12",
        total_max_a="80",
        feeds=[{"source": "BSW", "family": "bolt-down fuse", "distance_mm": "150"}],
    )
    do, homes = hand.supply.hands, [{"beside": "HF2"}]
    hand.fill(do.ask_bus, id="NB2", name="Port negative", station="a2_port", homes=homes)
    hand.fill(do.ask_panel, id="port", name="Port panel", station="a2_port", positions="8")


def gives(name: str, station: str, amps: int, by: str = "engine") -> Callable[..., None]:
    """Return what puts a charge source aboard, straight to a battery."""

    def put(hand: Builder, battery: str = "BAT") -> None:
        hand.part(
            ("battery", battery),
            id="SRC",
            name=name,
            kind="charge_source",
            level="battery_direct",
            station=station,
            total_max_a=str(amps),
            charges_by=by,
            feeds=[{"source": battery, **POST}],
        )

    return put


alternator = gives("Alternator", "a0_port", 60)
charger = gives("Shore charger", "blocks", 20, "shore")
solar = gives("Solar regulator", "blocks", 15, "sun")


def start_battery(hand: Builder) -> None:
    """A starting battery, the alternator on it, and a combiner to the other."""
    do = hand.supply.hands
    hand.fill(do.ask_battery, id="BST", name="Start battery")
    _home_to(hand, "BST")
    alternator(hand, "BST")
    _combined(hand, "TIE", "BST")


def three_batteries(hand: Builder) -> None:
    """One for the house, one to start, one at the bow, combined."""
    start_battery(hand)
    hand.fill(hand.supply.hands.ask_battery, id="BTW", name="Bow battery", station="a3_trunk")
    _home_to(hand, "BTW")
    _combined(hand, "TI2", "BTW")


def twelve_volts(hand: Builder) -> None:
    """A converter from 24 to 12 V behind the helm's block, and a block of its own."""
    hand.part(
        ("part", "HFB"),
        id="CNV",
        name="24/12 V converter",
        kind="converter",
        level="unswitched",
        station="helm",
        output_v="12",
        total_max_a="20",
        feeds=[{"source": "HFB", "family": "blade fuse"}],
    )
    hand.part(
        ("part", "CNV"),
        id="E12",
        name="12 V block",
        station="helm",
        ways="8",
        total_max_a="60",
        feeds=[{"source": "CNV"}],
    )


NAMES = (
    *(
        "VHF radio",
        "Chart plotter",
        "Echo sounder",
        "Radar",
        "AIS transponder",
        "Autopilot computer",
    ),
    *("Horn", "Wiper port", "Wiper starboard", "Washer", "Demister", "Searchlight", "Loud hailer"),
    *(
        "Side lights",
        "Stern light",
        "Masthead light",
        "Anchor light",
        "Compass light",
        "Chart light",
    ),
    *(
        "Cabin lights",
        "Dome light",
        "Reading light",
        "Courtesy lights",
        "Locker light",
        "Deck flood",
    ),
    *(
        "Fridge",
        "Heater fan",
        "Cabin fan",
        "Camera",
        "Mobile data router",
        "Stereo",
        "Gas alarm",
        "Smoke alarm",
    ),
    *("Wind instruments", "Engine display"),
)


def pasted(hand: Builder) -> None:
    """A roomy block, then a customer's list of thirty-five loads in one go, and what they are."""
    hand.supply.view.select("part", "HFB")
    hand.fill(hand.supply.hands.ask_change, ways="40", total_max_a="200")
    rows = (f"{name}\t{0.2 + i % 5 / 2:g}" for i, name in enumerate(NAMES))
    hand.paste("\n".join(("Name\tAmps", *rows)), source="HFB", place="dash")
    hand.roles()
    assert len(hand.window.session.draft.aboard.loads) == len(NAMES) == 35


def _home_to(hand: Builder, battery: str) -> None:
    """Lead the main negative home to one battery more."""
    hand.supply.view.select("bus", "NB0")
    (main,) = (b for b in hand.window.session.boat.return_buses if b.id == "NB0")
    homes = [{"to": home.to, "beside": home.beside} for home in main.homes]
    hand.fill(hand.supply.hands.ask_change, homes=[*homes, {"to": battery}])


def _combined(hand: Builder, name: str, other: str) -> None:
    feeds = [{"source": "BAT", "port": "1", **POST}, {"source": other, "port": "2", **POST}]
    hand.part(
        ("battery", "BAT"),
        id=name,
        name=f"Combiner to {other}",
        kind="combining_relay",
        level="battery_direct",
        total_max_a="140",
        feeds=feeds,
    )


def boat(length: float, **fields: Any) -> dict[str, Any]:
    """Return what is asked of a new boat."""
    return {"length": length, **fields}


OPEN = {"house": False}
JOBS = (
    Job(
        "electric dinghy, a motor and a lamp",
        boat(
            3.2,
            voltage=24.0,
            supply="battery",
            chemistry="lithium",
            capacity=60.0,
            cranking=300.0,
            material="grp",
            **OPEN,
        ),
        (
            *at("a0_port", "Propulsion motor"),
            *at("a2_port", "Courtesy light", way="at the battery"),
        ),
        4,
    ),
    Job(
        "rowing boat with a pump",
        boat(4.0, supply="battery", **OPEN),
        (FLOATING,),
        4,
    ),
    Job(
        "open skiff",
        boat(5.0, supply="switch", **OPEN),
        (*SMALL, FLOATING),
        6,
    ),
    Job(
        "harbour tender",
        boat(5.4, **OPEN),
        (*SMALL, *BILGE, *at("dash", "Horn", "VHF radio"), *ENGINE),
        10,
    ),
    Job(
        "day boat",
        boat(6.0, material="grp", **OPEN),
        (*SMALL, *BILGE, *BRIDGE, *at("a1_port", "Audio unit"), *WATER),
        12,
    ),
    Job(
        "pilot boat",
        boat(7.2),
        (
            *UNDER_WAY,
            *BILGE,
            *BRIDGE,
            *ENGINE,
            *at("dash", "Windscreen wiper", "Horn", "Searchlight, remote"),
        ),
        17,
    ),
    Job(
        "work boat to ISO",
        boat(8.0, profile="iso", material="steel"),
        (*UNDER_WAY, *BILGE, *BRIDGE, *ENGINE, *at("a0_port", "Deck flood, medium")),
        15,
    ),
    Job(
        "angler's boat",
        boat(6.6, **OPEN),
        (
            *SMALL,
            *BILGE,
            *at("a0_bilge", "Live-well aerator"),
            *at("a1_port", "Live-tank circulation pump"),
            *at("dash", "Chart plotter, 12 in", "Echo sounder"),
            Take("Courtesy light", "a1_port", count=6),
        ),
        11,
    ),
    Job(
        "petrol launch with a blower",
        boat(7.0, petrol=True),
        (
            *at("a2_port", "Bicolour bow light"),
            *at("mast", "All-round white light"),
            *BILGE,
            *ENGINE,
            *at("a0_port", "Bilge blower"),
            *at("dash", "Gas detector"),
        ),
        10,
    ),
    Job(
        "cruiser with a galley",
        boat(9.5, material="grp"),
        (*UNDER_WAY, *BILGE, *BRIDGE, *CABIN, *WATER, *LIFE),
        20,
    ),
    Job("cruiser with a charger", boat(9.0), (*UNDER_WAY, *BILGE, *BRIDGE, *CABIN), 17, charger),
    Job(
        "day sailer with a solar panel",
        boat(6.5, material="grp"),
        (
            *at("mast", "Tricolour light", "Anchor light"),
            *BILGE,
            *BRIDGE,
            Take("Cabin dome light", "a2_port", count=2),
        ),
        11,
        solar,
    ),
    Job(
        "boat with an alternator", boat(7.5), (*UNDER_WAY, *BILGE, *ENGINE, *BRIDGE), 15, alternator
    ),
    Job(
        "boat with a starting battery",
        boat(8.2),
        (*UNDER_WAY, *BILGE, *ENGINE, *BRIDGE),
        18,
        start_battery,
    ),
    Job(
        "sport boat, three batteries and a windlass",
        boat(7.5, battery_area=0, **OPEN),
        (
            *SMALL,
            *BILGE,
            *at("dash", "Chart plotter, 7 in", "Audio unit", "Horn"),
            *at("a3_port", "Windlass motor"),
            *at("a0_port", "Trim tab power unit"),
        ),
        18,
        three_batteries,
    ),
    Job(
        "catamaran with two helms",
        boat(11.0, beam=5.0, capacity=400.0, cranking=1000.0),
        (
            *UNDER_WAY,
            *BILGE,
            *BRIDGE,
            *at("a2_port", "Power socket", "Refrigerator, 50 litre", "Cabin heater fan"),
            *at("a0_bilge", "Bilge pump, automatic, medium"),
        ),
        19,
        second_helm,
    ),
    Job(
        "24 V launch",
        boat(12.0, voltage=24.0),
        (
            *UNDER_WAY,
            *BILGE,
            *BRIDGE,
            *ENGINE,
            *at("dash", "Windscreen wiper", "Radar, dome", "AIS transponder"),
        ),
        17,
    ),
    Job(
        "24 V launch from a pasted list",
        boat(12.0, voltage=24.0),
        BILGE,
        7,
        pasted,
    ),
    Job(
        "24 V launch with 12 V radios",
        boat(11.0, voltage=24.0),
        (*UNDER_WAY, *BILGE, *ENGINE),
        13,
        twelve_volts,
    ),
    Job(
        "windlass boat",
        boat(8.5),
        (*UNDER_WAY, *BILGE, *at("a3_port", "Windlass motor"), *BRIDGE),
        13,
    ),
    Job(
        "thruster boat",
        boat(10.0, capacity=300.0, cranking=1000.0),
        (*UNDER_WAY, *BILGE, *at("a3_port", "Bow thruster motor"), *BRIDGE),
        13,
    ),
    Job(
        "trim and jack plate",
        boat(6.8, **OPEN),
        (
            *SMALL,
            *BILGE,
            *at("a0_port", "Trim motor, a lead each way", "Jack plate motor, reversed"),
            *ENGINE,
        ),
        10,
    ),
    Job(
        "helm forward, battery aft",
        boat(7.8, battery_area=0, helm_area=3, **OPEN),
        (*SMALL, *BILGE, *at("dash", "VHF radio", "Horn")),
        8,
    ),
    Job(
        "battery forward of the helm",
        boat(7.8, battery_area=3, helm_area=1, **OPEN),
        (*SMALL, *BILGE, *at("dash", "VHF radio", "Horn")),
        8,
    ),
    Job(
        "48 V boat",
        boat(9.0, voltage=48.0, material="grp", **OPEN),
        (*SMALL, *at("dash", "Cabin fan"), *at("a1_port", "Deck flood, small")),
        6,
    ),
)
