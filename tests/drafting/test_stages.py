"""Single stages on small inputs."""

import dataclasses
import itertools

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from vivid_loom.boat import Evidence, Lead, Load, Station
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.drafting.errors import DraftError
from vivid_loom.drafting.making.plugs import CavityAsk, PlugBoard, Reach
from vivid_loom.drafting.making.terminate import end_steps, terminate_plug, terminate_point
from vivid_loom.drafting.patterns import PATTERNS, Places, Point
from vivid_loom.drafting.places.numbers import Numbers
from vivid_loom.drafting.places.protect import wanted_rating
from vivid_loom.drafting.sizing.fixed_point import allowed_rating_a
from vivid_loom.drafting.sizing.ladder import ladder_of
from vivid_loom.order import PROFILES
from vivid_loom.quantities import Gauge
from vivid_loom.standards.devices import DEVICES
from vivid_loom.standards.joints import RECIPES, Zone
from vivid_loom.standards.terminals import CONTACTS

AWG16, AWG12, AWG10, AWG4 = (Gauge("AWG", n) for n in (16, 12, 10, 4))
HERE = Station(id="s", name="S", area="a", x_m=1.0, y_m=0.0, z_m=1.0)
YELLOW_BLUE = "yellow-blue stepped adhesive butt"
BLUE_RED = "blue-red stepped adhesive butt"


def consumer(amps: float | None, **fields: object) -> Load:
    return Load(
        id="x",
        name="x",
        station="s",
        function="accessory",
        running_a=amps,
        evidence=Evidence(kind="maker"),
        leads=(),
        **fields,  # type: ignore[arg-type]
    )


@given(st.floats(0.05, 30), st.floats(1, 6))
def test_a_rating_carries_the_load_and_outlasts_the_start(amps: float, start: float) -> None:
    wanted = wanted_rating((consumer(amps, peak_a=amps * start),), "blade fuse")
    if wanted is None:
        assert max(1.25 * amps, amps * start / 1.6) > DEVICES["blade fuse"].ratings_a[-1]
        return
    assert wanted.rating_a >= 1.25 * amps - 1e-9
    assert 1.6 * wanted.rating_a >= amps * start - 1e-6
    smaller = [r for r in DEVICES["blade fuse"].ratings_a if r < wanted.rating_a]
    if smaller:
        assert smaller[-1] < max(1.25 * amps, amps * start / 1.6)


@given(st.floats(1, 40))
def test_a_makers_figure_is_a_maximum(maker: float) -> None:
    wanted = wanted_rating((consumer(0.4, maker_fuse_a=maker),), "blade fuse")
    assert wanted is not None
    assert wanted.rating_a <= maker + 1e-9
    assert wanted.maximum_a == maker


def test_an_unknown_current_asks_for_nothing() -> None:
    assert wanted_rating((consumer(1.0), consumer(None)), "blade fuse") is None


def test_the_tolerance_school() -> None:
    assert allowed_rating_a(22, "never_above") == 22
    assert allowed_rating_a(22, "next_standard") == 25
    assert allowed_rating_a(1, "next_standard") == 1.5


@pytest.mark.parametrize("profile", PROFILES.values(), ids=lambda p: p.id)
def test_the_ladder_rises(profile) -> None:  # type: ignore[no-untyped-def]
    ladder = ladder_of(shipped_catalogue(), profile)
    assert list(ladder.area_mm2) == sorted(ladder.area_mm2)
    assert (np.diff(ladder.ohm_per_m) < 0).all()
    assert (np.diff(ladder.free_air_a) > 0).all()
    assert ladder.exactly(str(ladder.gauges[3]), "p") == 3


def test_the_ladder_across_series() -> None:
    metric = ladder_of(shipped_catalogue(), PROFILES["iso"])
    assert str(metric.gauges[metric.rung("14 AWG", "p")]) == "2.5 mm²"
    assert str(metric.gauges[metric.rung("4 AWG", "p")]) == "25 mm²"
    assert metric.rung(None, "p") == 0
    with pytest.raises(DraftError, match="a size that a stocked one reaches"):
        metric.rung("500 mm²", "p")


def test_insulation_without_a_table_is_refused() -> None:
    odd = dataclasses.replace(PROFILES["us"], insulation_c=100)
    with pytest.raises(DraftError, match="100 °C"):
        ladder_of(shipped_catalogue(), odd)


def point(kind: str, name: str = "n") -> Point:
    return Point("place", name, "s", kind)  # type: ignore[arg-type]


def test_one_thick_wire_among_thin_ones_is_no_closed_end() -> None:
    """18 and 10 AWG on an 18 AWG tail: the barrel would hold the thick one and lose the thin."""
    thin = Gauge("AWG", 18)
    tail = Lead(function="plus", gauge="18 AWG")
    at = point("lead")
    far = terminate_point(at, thin, "M4", tail, [thin, AWG10], piggyback=False)
    assert far.kind.endswith("power post")
    near = terminate_point(at, thin, "M4", tail, [thin, Gauge("AWG", 14)], piggyback=False)
    assert near.kind == "yellow adhesive closed-end"


@pytest.mark.parametrize(
    ("kind", "lead", "gauge", "meeting", "expected"),
    [
        ("tab", None, AWG16, 1, "blue push-on 6.3 mm"),
        ("way", None, AWG12, 1, "yellow ring M4"),
        ("stud", None, AWG4, 1, "lug 4 AWG M8"),
        ("lead", Lead(function="plus", ending="screw"), AWG16, 1, "blue ring M4"),
        ("lead", Lead(function="plus", ending="stud M6"), AWG12, 1, "yellow ring M6"),
        ("lead", Lead(function="plus", gauge="16 AWG"), AWG16, 1, "blue adhesive butt"),
        ("lead", Lead(function="plus", gauge="18 AWG"), AWG16, 1, BLUE_RED),
        (
            "lead",
            Lead(function="plus", gauge="12 AWG"),
            AWG16,
            1,
            "blue-yellow stepped adhesive butt",
        ),
        ("lead", Lead(function="plus", gauge="18 AWG"), AWG16, 2, "yellow adhesive closed-end"),
        ("lead", Lead(function="plus", gauge="18 AWG"), AWG16, 4, "large adhesive closed-end"),
        ("lead", Lead(function="plus", gauge="12 AWG"), AWG12, 3, "yellow ring M6 on power post"),
        ("lead", Lead(function="plus", gauge="12 AWG"), AWG4, 1, "lug 4 AWG M6 on power post"),
        ("lead", Lead(function="plus", gauge="16 AWG"), AWG12, 1, YELLOW_BLUE),
        ("lead", Lead(function="plus", gauge="16 AWG"), AWG10, 1, YELLOW_BLUE),
        ("lead", Lead(function="plus", gauge="18 AWG"), AWG10, 1, "yellow ring M6 on power post"),
        ("lead", Lead(function="plus", gauge="16 AWG"), AWG10, 2, "yellow ring M6 on power post"),
        ("lead", Lead(function="plus", ending="tab"), AWG16, 1, "blue push-on 6.3 mm"),
    ],
)
def test_terminations(
    kind: str, lead: Lead | None, gauge: Gauge, meeting: int, expected: str
) -> None:
    stud = "M8" if kind == "stud" else "M4"
    done = terminate_point(point(kind), gauge, stud, lead, [gauge] * meeting, piggyback=False)
    assert done.kind == expected
    wet = terminate_point(
        point(kind), gauge, stud, lead, [gauge] * meeting, piggyback=False, sealed=True
    )
    assert wet.kind == expected.replace("power", "sealed")  # open posts stand where it is dry
    assert done.strip_mm > 0 and done.jaw


def test_the_jaw_follows_the_terminal() -> None:
    for gauge in (AWG16, AWG12):
        done = terminate_point(point("tab"), gauge, "M4", None, [gauge], piggyback=True)
        assert done.kind.startswith(done.jaw)
        assert "piggyback push-on" in done.kind


def test_label_and_shrink_go_on_before_the_crimp() -> None:
    steps = end_steps("blue ring M4", grease="at_landing", shrink_now=True)
    sleeve = "adhesive heat-shrink on"
    order = [steps.index(s) for s in ("label sleeve on", sleeve, "crimp", "shrink")]
    assert order == sorted(order)
    assert steps[-1] == "grease at landing"
    butt = end_steps("blue adhesive butt", grease="at_landing", shrink_now=True)
    assert "grease at landing" not in butt
    stepped = end_steps("blue-red stepped adhesive butt", grease="at_landing", shrink_now=True)
    assert "crimp the wire with the blue jaw, the tail with the red jaw" in stepped
    assert "crimp" not in stepped and "tug" in stepped
    soldered = end_steps("blue adhesive butt", grease="none", shrink_now=True, joint="solder")
    assert soldered.index("solder") > soldered.index("twist until it holds by itself")
    both = end_steps("blue adhesive butt", grease="none", shrink_now=True, joint="crimp_and_solder")
    assert both.index("tug") < both.index("solder") < both.index("shrink")
    assert "solder" not in end_steps("lug M8", grease="none", shrink_now=True, joint="solder")
    assert "shrink after power-up" in end_steps("lug M8", grease="none", shrink_now=False)
    assert sleeve not in end_steps("pin contact size 16", grease="at_landing", shrink_now=True)


@pytest.mark.parametrize("zone", RECIPES)
def test_the_recipe_of_the_zone_reaches_the_steps(zone: Zone) -> None:
    steps = end_steps("blue ring M4", grease="at_landing", shrink_now=True, zone=zone)
    recipe = RECIPES[zone]
    assert f"{recipe.sleeve} on" in steps
    assert ("second sleeve over it" in steps) == bool(recipe.second_sleeve)
    assert (steps[-1] == "grease at landing") == recipe.grease_at_landing
    greased = end_steps("blue ring M4", grease="in_barrel", shrink_now=True, zone=zone)
    assert greased.index("grease in the barrel") < greased.index("crimp")
    assert "grease at landing" not in greased


def test_the_live_side_is_shrouded() -> None:
    assert terminate_plug(CONTACTS[1], live_side=True).kind.startswith("socket")
    assert terminate_plug(CONTACTS[1], live_side=False).kind.startswith("pin")


@given(st.lists(st.sampled_from(["", "", "bilge", "navigation"]), min_size=1, max_size=40))
def test_cavities_are_never_given_twice_and_safety_stays_apart(words: list[str]) -> None:
    board = PlugBoard(Numbers("cavity", (), lambda _: True))
    board.book_all(
        [
            CavityAsk(
                station="s",
                live="a",
                dead="b",
                contact=CONTACTS[1],
                safety=word,
                circuit=f"C{i}",
                wires=(f"C{i}a", f"C{i}b"),
            )
            for i, word in enumerate(words)
        ]
    )
    numbered = board.numbered()
    given_out = [numbered[f"C{i}a"] for i in range(len(words))]
    assert len(set(given_out)) == len(given_out)
    plugs = {plug.id: plug for plug in board.plugs(Reach((HERE,), (), PROFILES["shop"]))}
    for plug in plugs.values():
        assert len(plug.cavities) <= plug.ways
    for (a, word), (b, other) in itertools.combinations(zip(given_out, words, strict=True), 2):
        if word and word == other:
            assert a[0] != b[0]


def places(pattern: str, loads: int) -> Places:
    throws = 3 if pattern in ("pump_three_position", "two_directions", "reversing") else 2
    tabs = tuple(Point("SW1", n, "helm", "tab") for n in ("1C", "1U", "1D"))
    far = tuple(Point("away", n, "aft", "tail") for n in ("1C", "1U", "1D"))
    also = PATTERNS[pattern].takes_also != "none"
    return Places(
        way=Point("FB", "way 1", "helm", "way"),
        contact=tabs[:throws] if PATTERNS[pattern].needs_contact else (),
        also=(far[:throws],) if also else (),
        loads=tuple(f"l{i}" for i in range(loads)),
        stations=tuple(f"s{i}" for i in range(loads)),
        home=Point("NB", "screw 1", "helm", "screw"),
    )


CLOSING = [
    (name, loads)
    for name, pattern in sorted(PATTERNS.items())
    for loads in (1, 2, 5)
    if loads == 1 or not pattern.plus_leads  # one load to a pattern that names its leads
]


@pytest.mark.parametrize(("pattern", "loads"), CLOSING)
def test_every_pattern_closes_its_loops(pattern: str, loads: int) -> None:
    plan = PATTERNS[pattern].plan(places(pattern, loads))
    assert {load for load, _ in plan.paths} == set(range(loads))
    for load, legs in plan.paths:
        out = [plan.legs[i] for i in legs if plan.legs[i].live != "return"]
        home = [plan.legs[i] for i in legs if plan.legs[i].live == "return"]
        assert out[0].start.place == "FB"
        assert f"l{load}" in {leg.end.place for leg in out}
        assert {leg.end.place for leg in home} >= {"NB"}
        assert all(load in plan.legs[i].carries for i in legs)
    ids = [leg.id for leg in plan.legs]
    assert len(set(ids)) == len(ids)
