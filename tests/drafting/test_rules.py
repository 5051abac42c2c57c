"""Each rule fires on its mistake, and not on something nearly the same."""

import dataclasses
from collections.abc import Callable

import pytest

from vivid_loom.boat import Boat, ContactRequest, Evidence, Feed, Lead, ReturnBus, Supply
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.drafting import Draft, draft
from vivid_loom.order import Order, Override

Change = Callable[[Boat], Boat]


def load(load_id: str, **fields: object) -> Change:
    """Change a standard load."""

    def apply(boat: Boat) -> Boat:
        loads = tuple(
            dataclasses.replace(item, **fields) if item.id == load_id else item  # type: ignore[arg-type]
            for item in boat.fit.loads
        )
        return dataclasses.replace(boat, fit=dataclasses.replace(boat.fit, loads=loads))

    return apply


def circuit(circuit_id: str, **fields: object) -> Change:
    """Change a standard circuit."""

    def apply(boat: Boat) -> Boat:
        circuits = tuple(
            dataclasses.replace(item, **fields) if item.id == circuit_id else item  # type: ignore[arg-type]
            for item in boat.fit.circuits
        )
        return dataclasses.replace(boat, fit=dataclasses.replace(boat.fit, circuits=circuits))

    return apply


def supply(supply_id: str, **fields: object) -> Change:
    """Change a supply."""

    def apply(boat: Boat) -> Boat:
        changed = tuple(
            dataclasses.replace(item, **fields) if item.id == supply_id else item  # type: ignore[arg-type]
            for item in boat.supplies
        )
        return dataclasses.replace(boat, supplies=changed)

    return apply


def feed(supply_id: str, **fields: object) -> Change:
    """Change the first feed of a supply."""

    def apply(boat: Boat) -> Boat:
        first = dataclasses.replace(boat.supplies_by_id[supply_id].feeds[0], **fields)  # type: ignore[arg-type]
        return supply(supply_id, feeds=(first,))(boat)

    return apply


def area(area_id: str, **fields: object) -> Change:
    """Change an area."""

    def apply(boat: Boat) -> Boat:
        changed = tuple(
            dataclasses.replace(item, **fields) if item.id == area_id else item  # type: ignore[arg-type]
            for item in boat.areas
        )
        return dataclasses.replace(boat, areas=changed)

    return apply


def helm(positions: int) -> Change:
    """Give the helm so many positions."""
    return lambda boat: dataclasses.replace(
        boat,
        panels=(dataclasses.replace(boat.panels[0], positions=positions), *boat.panels[1:]),
    )


def screws(count: int) -> Change:
    """Give every bus so many screws."""

    def apply(boat: Boat) -> Boat:
        buses: tuple[ReturnBus, ...] = tuple(
            dataclasses.replace(bus, screws=count) for bus in boat.return_buses
        )
        return dataclasses.replace(boat, return_buses=buses)

    return apply


def cranking(amps: float) -> Change:
    """Give the battery another cranking current, behind a bolt-down main fuse."""

    def apply(boat: Boat) -> Boat:
        boat = feed("BSW", family="bolt-down fuse")(boat)
        return dataclasses.replace(
            boat,
            batteries=(dataclasses.replace(boat.battery, cranking_a=amps), *boat.batteries[1:]),
        )

    return apply


def low_run(run_id: str) -> Change:
    """Put a run below bilge water."""

    def apply(boat: Boat) -> Boat:
        runs = tuple(
            dataclasses.replace(run, low=True) if run.id == run_id else run for run in boat.runs
        )
        return dataclasses.replace(boat, runs=runs)

    return apply


def heavy_socket(amps: float) -> Change:
    """Have a socket draw so much through a way of the helm's block."""

    def apply(boat: Boat) -> Boat:
        drawing = load("socket", running_a=amps, maker_fuse_a=None)(boat)
        return circuit("C20", supply="HFB")(drawing)

    return apply


def nothing(boat: Boat) -> Boat:
    return boat


ESTIMATE = Evidence(kind="estimate")
PLUS, MINUS = Lead(function="plus"), Lead(function="minus")
UNKNOWN, UNUSED = Lead(function="unknown", colour="GN"), Lead(function="unused", colour="GN")
UP, BOTH = ("up",), ("up", "down")

CASES: list[tuple[str, Change, Change]] = [
    # code, what makes it fire, nearly the same that does not
    ("L01", load("horn", running_a=None), load("horn", running_a=0.01)),
    ("L02", load("horn", evidence=ESTIMATE), load("horn", evidence=Evidence(kind="measured"))),
    (
        "S01",
        load("vhf", running_a=30.0, station="stem"),
        load("vhf", running_a=0.4, station="stem"),
    ),
    ("S03", load("plotter", running_a=3.2, maker_fuse_a=0.5), load("plotter", maker_fuse_a=3.2)),
    ("S08", load("wiper_p", running_a=10.4), load("wiper_p", running_a=9.9)),
    ("S09", heavy_socket(130.0), heavy_socket(9.0)),
    ("P01", feed("ALB", family=None), feed("HBP", family=None)),
    ("P02", feed("HFB", distance_mm=177.9), feed("HFB", distance_mm=177.8)),
    (
        "P02",
        feed("ALB", distance_mm=1828.9, sheathed=True),
        feed("ALB", distance_mm=1828.8, sheathed=True),
    ),
    (
        "P02",
        feed("HBP", distance_mm=1016.1, sheathed=True),
        feed("HBP", distance_mm=1016.0, sheathed=True),
    ),
    ("P03", supply("HFB", total_max_a=30.0), supply("HFB", total_max_a=90.0)),
    ("P04", supply("HBP", way_max_a=14.9), supply("HBP", way_max_a=15.0)),
    ("P05", helm(7), helm(8)),
    ("P05", supply("ALB", ways=2), supply("ALB", ways=3)),
    ("P05", screws(11), screws(40)),
    ("P06", cranking(1101.0), feed("BSW", family="post fuse")),
    ("P07", area("battery", at_sea=False), area("hardtop", at_sea=False)),
    ("A01", circuit("C02", supply="HFB"), circuit("C02", supply="ALB")),
    (
        "A04",
        circuit("C04", loads=("plotter",)),
        circuit("C04", loads=("bilge_alarm",)),
    ),
    ("A05", circuit("C10", loads=("horn",)), nothing),
    ("A06", circuit("C10", loads=("vhf", "plotter"), cable=""), nothing),
    ("A07", load("vhf", leads=(PLUS, MINUS, UNKNOWN)), load("vhf", leads=(PLUS, MINUS, UNUSED))),
    (
        "A08",
        circuit("C06", contact=ContactRequest(switch="s_nav", pole=1, throws=BOTH)),
        circuit("C06", contact=ContactRequest(switch="s_nav", pole=2, throws=BOTH)),
    ),
    (
        "A09",
        circuit("C05", contact=ContactRequest(switch="s_nav", throws=BOTH)),
        circuit("C05", contact=ContactRequest(switch="s_nav", throws=UP)),
    ),
    (
        "A09",
        circuit("C06", contact=ContactRequest(switch="s_nav", pole=2, throws=UP)),
        circuit("C06", contact=ContactRequest(switch="s_nav", pole=2, throws=BOTH)),
    ),
    ("A10", load("horn", return_path="hull"), load("horn", return_path="wire")),
    ("A11", area("deck", fuel_vapour=True), area("foredeck", at_sea=False)),
    ("A12", load("wiper_p", safety="x"), load("wiper_p", safety="y")),
    ("A13", load("side_p", ingress="dry"), load("side_p", ingress="submersible")),
    ("A13", area("hardtop", water="submersible"), area("hardtop", water="spray")),
    ("A14", low_run("H08"), low_run("H09")),
    ("A15", load("horn", state="wired_for_later"), load("horn", state="owner_supplied")),
]


def codes(boat: Boat, order: Order) -> set[str]:
    done: Draft = draft(order, boat, shipped_catalogue())
    return {finding.code for finding in done.findings}


def together(boat: Boat) -> Boat:
    """Chain both wipers, so that a shared word can meet on one device."""
    boat = circuit("C13", loads=("wiper_p", "wiper_s"))(boat)
    circuits = tuple(c for c in boat.fit.circuits if c.id != "C14")
    boat = dataclasses.replace(boat, fit=dataclasses.replace(boat.fit, circuits=circuits))
    return load("wiper_s", safety="x")(boat)


@pytest.fixture(scope="module")
def plain(order: Order) -> Order:
    """The standard fit without options."""
    return dataclasses.replace(order, options=())


@pytest.mark.parametrize(
    ("code", "mistake", "near"), CASES, ids=[f"{c[0]}-{i}" for i, c in enumerate(CASES)]
)
def test_a_rule_fires_on_its_mistake_only(
    boat: Boat, plain: Order, code: str, mistake: Change, near: Change
) -> None:
    base = boat
    order = plain
    if code == "A12":
        base = together(boat)
    if code == "A11":  # a deck load that sparks, beside one outside the vapour
        order = dataclasses.replace(plain, options=("deck_floods",))
    assert code in codes(mistake(base), order)
    assert code not in codes(near(base), order)


def put(**values: str) -> tuple[Override, ...]:
    """Override values of C24, the washdown pump on 14 AWG behind 15 A."""
    return tuple(
        Override(subject="C24", field=field, value=value, reason="r", initials="i")  # type: ignore[arg-type]
        for field, value in values.items()
    )


OVERRULED = [
    ("S02", put(gauge="14 AWG", protection_a="40"), put(gauge="14 AWG", protection_a="35")),
    ("S03", put(protection_a="20"), put(protection_a="10")),
    ("S04", put(protection_a="7.5"), put(protection_a="10")),
    ("S05", put(gauge="16 AWG"), put(gauge="12 AWG")),
    ("S06", put(gauge="18 AWG"), put(gauge="16 AWG")),
    ("S07", put(gauge="16 AWG"), put(gauge="16 AWG", protection_a="10")),
    ("S10", put(gauge="14 AWG"), ()),
]


@pytest.mark.parametrize(("code", "mistake", "near"), OVERRULED)
def test_a_rule_about_overrides_fires_on_its_mistake_only(
    boat: Boat,
    plain: Order,
    code: str,
    mistake: tuple[Override, ...],
    near: tuple[Override, ...],
) -> None:
    assert code in codes(boat, dataclasses.replace(plain, overrides=mistake))
    assert code not in codes(boat, dataclasses.replace(plain, overrides=near))


def test_the_shop_floor_is_a_rule_of_its_own(boat: Boat, plain: Order) -> None:
    strict = dataclasses.replace(
        plain, profile_changes=(("shop_floor", "14 AWG"),), overrides=put(gauge="16 AWG")
    )
    assert "S11" in codes(boat, strict)
    assert "S11" not in codes(boat, dataclasses.replace(strict, overrides=put(gauge="14 AWG")))


def test_a_return_thinner_than_what_may_come_home_is_an_error(boat: Boat, plain: Order) -> None:
    def helm_feeder(gauge: str) -> set[str]:
        override = Override(subject="F05", field="gauge", value=gauge, reason="r", initials="i")
        return codes(boat, dataclasses.replace(plain, overrides=(override,)))

    assert "P08" in helm_feeder("12 AWG")
    assert "P08" not in helm_feeder("2 AWG")


def test_too_many_rings_on_one_stud(boat: Boat, plain: Order) -> None:
    def with_blocks(count: int) -> set[str]:
        block = boat.supplies_by_id["HFB"]
        more: tuple[Supply, ...] = tuple(
            dataclasses.replace(
                block, id=f"XB{i}", name=f"Extra {i}", feeds=(Feed(source="BSW", family="breaker"),)
            )
            for i in range(count)
        )
        return codes(dataclasses.replace(boat, supplies=(*boat.supplies, *more)), plain)

    assert "P09" in with_blocks(2)
    assert "P09" not in with_blocks(1)


def test_two_feeds_to_one_pump(boat: Boat, order: Order) -> None:
    def split(manual_level: str, maker_fuse_a: float) -> set[str]:
        changed = load("bp_aft", maker_fuse_a=maker_fuse_a)(boat)
        pump = next(c for c in boat.fit.circuits if c.id == "C02")
        automatic = dataclasses.replace(
            pump, pattern="device_switched", contact=None, lead="automatic"
        )
        manual = dataclasses.replace(
            pump, id="C02M", pattern="switched", level=manual_level, lead="manual"
        )
        circuits = (*(c for c in boat.fit.circuits if c.id != "C02"), automatic, manual)
        fit = dataclasses.replace(changed.fit, circuits=circuits)
        return codes(dataclasses.replace(changed, fit=fit), dataclasses.replace(order, options=()))

    apart, same = split("unswitched", 5.0), split("battery_direct", 5.0)
    assert "A02" in apart and "A03" in apart
    assert "A02" not in same and "A03" in same


def test_every_finding_says_what_to_do_and_where_it_comes_from(mistakes: Draft) -> None:
    for finding in mistakes.findings:
        assert "{" not in finding.sentence()
        assert finding.sentence().endswith(".")
        assert finding.kind.remedy and str(finding.kind.source)
