"""The three demo orders, stage by stage."""

import dataclasses
import math
import re

import pytest

from tests.conftest import drafted
from vivid_loom.boat import Boat, Run, read_boat
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo import DEMO_FOLDER, find_boat
from vivid_loom.drafting import Decision, Draft, DraftError, draft
from vivid_loom.drafting.after.truth import press_rows
from vivid_loom.drafting.making.cut_lengths import cut_decision
from vivid_loom.drafting.patterns import PATTERNS
from vivid_loom.drafting.places.route import RouteMap
from vivid_loom.order import Order, Override, set_override
from vivid_loom.quantities import Gauge
from vivid_loom.standards.ampacity import ampacity_a
from vivid_loom.standards.conductor import SIZING_LADDER, area_mm2, ohm_per_m
from vivid_loom.standards.devices import DEVICES


def test_clean_orders_have_no_error() -> None:
    for hull in ("0417", "0421"):
        done = drafted(DEMO_FOLDER / f"hull-{hull}.loom.json")
        assert not [f.sentence() for f in done.findings if f.severity == "error"]


def test_every_way_of_feeding_stands_in_some_demo_order() -> None:
    patterns: set[str] = set()
    leads: set[str] = set()
    for path in sorted(DEMO_FOLDER.glob("hull-*.loom.json")):
        for row in drafted(path).circuits:
            patterns.add(row.planned.pattern)
            leads |= {row.planned.request.fed_lead} if row.planned.request else set()
    assert set(PATTERNS) - patterns <= {"feeder"}
    assert leads == {"plus", "automatic", "manual", "sense", "lamp"}


PLANTED = {
    ("A01", "E01"),
    ("A02", "E03"),
    ("A03", "E02"),
    ("A04", "E04"),
    ("A05", "orphan"),
    ("A07", "mystery"),
    ("A08", "E06"),
    ("A09", "C05"),
    ("A10", "hull_lamp"),
    ("A12", "E08"),
    ("A13", "dry_lamp"),
    ("L01", "E05"),
    ("L02", "E04"),
    ("L02", "E07"),
    ("P01", "F04"),
    ("P02", "F01"),
    ("P03", "HB"),
    ("P06", "F02"),
    ("P22", "IGN"),
    ("S01", "C08"),
    ("S01", "C24"),
    ("S01", "C29"),
    ("S02", "C16"),
    ("S03", "C10"),
    ("S04", "C20"),
    ("S05", "C08"),
    ("S05", "C24"),
    ("S06", "C08"),
    ("S07", "C08"),
    ("S07", "C24"),
    ("S07", "C29"),
    ("S08", "E10"),
    ("S10", "C08"),
    ("S10", "C10"),
    ("S10", "C16"),
    ("S10", "C20"),
    ("S10", "C24"),
    ("S10", "C29"),
}


PANEL = {
    # behind the panel, by what was done: the rocker turned, half of it fed, lamps with no tab
    ("A09", "C05"),
    ("A08", "E06"),
    ("A37", "s_nav"),
    # one rocker for both tank pumps, joined at their outputs
    ("A32", "s_tank_p"),
    ("A32", "s_tank_s"),
    ("P09", "SW8"),
    ("P09", "SW9"),
    # two wipers on one feed
    ("A39", "panel"),
    # a lamp's jumper left out
    ("A36", "s_washdown"),
    # a lamp on the feed: it lights its load as well, and always
    ("A32", "panel"),
    ("A36", "s_search"),
    ("P09", "SW7"),
    # a minus on an output
    ("A34", "s_demister"),
    ("P09", "SW13"),
    # the lamp of the instrument lights on an output: the rocker joins their breaker's circuit too
    ("A36", "s_sump"),
    ("A39", "s_sump"),
    ("P09", "SW17"),
    # the minus chain cut: lamps in series with the loads
    ("A35", "panel"),
    ("A36", "panel"),
    ("A36", "s_well"),
    # a jumper to a switch that is not aboard
    ("A38", "s_bp_fore"),
    # an intent no press can show
    ("A37", "s_washer"),
    # legends from stock, one of them twice
    ("A40", "s_flood_aft"),
    ("A40", "s_well"),
    ("A41", "s_well"),
    # a horn that stays on
    ("A43", "s_horn"),
    # a panel before a shallow locker
    ("A44", "s_half"),
    ("A44", "s_nav"),
    ("A44", "s_winch"),
}
FOLLOWING = {
    # what the planted mistakes bring with them: a weak main fuse leaves all behind it without a
    # device that breaks the short circuit; a thin or overfused wire fails more than one rule
    ("K01", "C16"),
    ("K17", "F04"),
    ("K03", "F02"),
    ("K03", "F03"),
    ("K03", "F05"),
    ("K03", "HB"),
    ("P15", "C16"),
    ("S02", "C08"),
}


def test_every_planted_mistake_is_found_and_nothing_else(mistakes: Draft) -> None:
    found = {(f.code, f.subjects[0]) for f in mistakes.findings}
    assert found >= PLANTED | PANEL
    errors = {(f.code, f.subjects[0]) for f in mistakes.findings if f.severity == "error"}
    assert errors - PLANTED - PANEL == FOLLOWING


def test_an_unknown_current_is_never_zero(mistakes: Draft) -> None:
    row = mistakes.circuit("E05")
    assert row is not None
    assert row.sized is None and not row.wires


def decisions(done: Draft) -> list[tuple[str, str, Decision[object]]]:
    """Return (circuit, what, decision) of everything a draft decides."""
    found: list[tuple[str, str, Decision[object]]] = []
    for row in done.rows:
        if row.sized:
            found.append((row.id, "gauge", row.sized.gauge))
            if row.sized.protection:
                found.append((row.id, "protection", row.sized.protection))
        if row.fault:
            found += [(row.id, name, decision) for name, decision in row.fault.decisions]
        found += [(row.id, "colour", row.colours.positive)]
        found += [(row.id, "colour", row.colours.negative)]
        found += [(row.id, name, decision) for name, decision in row.planned.places]
    for wire in done.assembled.wires:
        found.append((wire.circuit, "cut", cut_decision(wire, done.aboard.profile)))
    return found


def keyed_in(formula: str) -> float:
    """Evaluate a formula as one would on a pocket calculator."""
    assert re.fullmatch(r"(exp|ln|√|[0-9.+−×/() ])+", formula), formula
    text = formula.replace("×", "*").replace("−", "-").replace("√", "sqrt")
    known = {"sqrt": math.sqrt, "exp": math.exp, "ln": math.log}
    return float(eval(text, {"__builtins__": {}}, known))


def test_a_pocket_calculator_arrives_at_every_printed_figure(any_draft: Draft) -> None:
    checked = 0
    for name, what, decision in decisions(any_draft):
        for step in decision.steps:
            if step.formula:
                assert keyed_in(step.formula) == pytest.approx(step.result, rel=5e-4, abs=1e-9), (
                    name,
                    what,
                    step,
                )
                checked += 1
    assert checked > 500


def test_the_steps_lead_to_the_value_for_every_decision(any_draft: Draft) -> None:
    """The greatest size or rating any step asks for is what was drafted; elsewhere the last
    figure is the value itself."""
    sizes = {str(g): area_mm2(g) for ladder in SIZING_LADDER.values() for g in ladder}
    for name, what, decision in decisions(any_draft):
        asked = [step.gives for step in decision.steps if step.gives]
        if what == "gauge":
            served = [gives for gives in asked if gives in sizes]
            top = max(served, key=sizes.__getitem__)
            capped = any("terminals take" in step.text for step in decision.steps)
            assert capped or top == str(decision.drafted), (name, asked, decision.drafted)
        elif what == "protection":
            assert max(float(g.split(" ")[0]) for g in asked) == decision.drafted, (name, asked)
        elif isinstance(decision.value, float):
            figures = [step.result for step in decision.steps if step.unit in ("A", "A²s", "mm")]
            assert figures[-1] == pytest.approx(decision.value, rel=1e-6), (name, what)


def test_what_a_step_asks_for_follows_from_its_figure(any_draft: Draft) -> None:
    """Look each asked size up again: by resistance for a drop, by ampacity for a current."""
    profile, tables = any_draft.aboard.profile, any_draft.catalogue
    stocked = [
        g
        for g in SIZING_LADDER[profile.series]
        if any(wire.gauge == str(g) for wire in tables.wires)
    ]
    cabled = {cable.circuit for cable in any_draft.assembled.cables}
    looked_up = 0
    for name, what, decision in decisions(any_draft):
        if what != "gauge" or name in cabled:
            continue
        for step in decision.steps:
            if not step.gives or step.result is None:
                continue
            if step.unit == "Ω/m":
                fits = [
                    g
                    for g in stocked
                    if ohm_per_m(g, profile.conductor_c) <= step.result * (1 + 1e-9)
                ]
            else:
                fits = [
                    g for g in stocked if ampacity_a(g, profile.insulation_c) >= step.result - 1e-6
                ]
            expected = str(fits[0]) if fits else None
            if expected is None or step.gives == "none stocked":
                continue
            assert step.gives == expected, (name, step)
            looked_up += 1
    assert looked_up > 50


def test_every_decision_says_what_governed_it(any_draft: Draft) -> None:
    for _, _, decision in decisions(any_draft):
        assert decision.governed_by
        assert decision.steps
        if decision.value != decision.drafted:
            assert decision.override and decision.override.reason


def test_the_last_step_of_a_drop_is_the_scheduled_drop(full: Draft) -> None:
    for row in full.circuits:
        assert row.sized
        percent = next(s for s in row.sized.gauge.steps if s.unit == "%")
        assert percent.result == pytest.approx(row.sized.drop_percent)


def test_emergency_switches_come_first(any_draft: Draft) -> None:
    ranks = [switch.request.rank for switch in any_draft.switches if switch.position]
    assert ranks == sorted(ranks)
    positions = [s.position for s in any_draft.switches if not s.request.station]
    assert len(set(positions)) == len(positions)


def test_both_leads_of_an_automatic_pump_leave_one_live_way(full: Draft) -> None:
    row = full.circuit("C02")
    assert row is not None
    legs = {leg.id: leg for leg in row.planned.plan.legs}
    assert legs["A1"].start == legs["M1"].start
    assert legs["A1"].start.place == "ALB"
    manual = row.colours.of("manual")
    assert manual and manual.value != row.colours.positive.value


def test_chained_lamps_carry_what_hangs_behind_them(full: Draft) -> None:
    wires = {w.leg: w.current_a for w in full.assembled.wires if w.circuit == "C16"}
    assert [wires[k] for k in ("P1", "P2", "P3")] == pytest.approx([1.2, 0.8, 0.4])
    assert [wires[k] for k in ("N1", "N2", "N3")] == pytest.approx([1.2, 0.8, 0.4])


def test_side_lights_are_dark_at_anchor(full: Draft) -> None:
    runs = {row.state: row.runs for row in press_rows(full) if row.switch == "s_nav"}
    assert runs["up"] == ("all_round plus", "side_p plus", "side_s plus")
    assert runs["down"] == ("all_round plus",)
    assert runs["off"] == ()


def test_lever_up_makes_the_lower_terminals_live(full: Draft) -> None:
    nav = next(s for s in full.switches if s.request.id == "s_nav")
    assert nav.tab_place("1U") == "lower row"
    assert nav.tab_place("2D") == "upper row"


def test_pumps_never_share_a_plug(full: Draft) -> None:
    for plug in full.assembled.plugs:
        pumps = {c.circuit for c in plug.cavities} & {"C02", "C03", "C38"}
        assert len(pumps) <= 1


def test_plugs_of_one_shell_at_one_station_are_keyed_apart(any_draft: Draft) -> None:
    keys = [(p.station, p.contact, p.ways, p.key) for p in any_draft.assembled.plugs]
    assert len(set(keys)) == len(keys)


def test_no_wire_takes_the_forbidden_sump_run(any_draft: Draft) -> None:
    assert not [w.id for w in any_draft.assembled.wires if "N01" in w.runs]


def changed(order: Order, **fields: object) -> Order:
    return dataclasses.replace(order, **fields)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"options": ("wings",)}, "unknown option 'wings'"),
        ({"options": ("autopilot",)}, "without 'plotter_pack'"),
        ({"options": ("hailer", "stereo")}, "excludes"),
    ],
)
def test_options_that_cannot_stand_are_refused(
    order: Order, boat: Boat, fields: dict[str, object], words: str
) -> None:
    with pytest.raises(DraftError, match=words):
        draft(changed(order, **fields), boat, shipped_catalogue())


def test_options_in_a_circle_are_refused(order: Order, boat: Boat) -> None:
    options = tuple(
        dataclasses.replace(o, requires=("autopilot",)) if o.id == "plotter_pack" else o
        for o in boat.options
    )
    with pytest.raises(DraftError, match="circle: autopilot → plotter_pack → autopilot"):
        draft(order, dataclasses.replace(boat, options=options), shipped_catalogue())


@pytest.mark.parametrize(
    ("field", "value", "words"),
    [
        ("gauge", "20 AWG", "stocked size"),
        ("gauge", "thick", "stocked size"),
        ("protection_a", "lots", "amps such as"),
        ("protection_a", "-5", "amps such as"),
        ("positive_colour", "MAUVE", "expected codes"),
        ("supply", "GEN", "expected one of ALB"),
        ("return_bus", "NB9", "expected one of BAT, BST, ENG, NB0"),
        ("helm_position", "1", "no switch 'C08'"),
    ],
)
def test_an_override_that_means_nothing_is_refused(
    order: Order, boat: Boat, field: str, value: str, words: str
) -> None:
    override = Override(subject="C08", field=field, value=value, reason="r", initials="i")  # type: ignore[arg-type]
    with pytest.raises(DraftError, match=words):
        draft(changed(order, overrides=(override,)), boat, shipped_catalogue())


def test_two_switches_cannot_be_put_on_one_position(order: Order, boat: Boat) -> None:
    overrides = tuple(
        Override(subject=s, field="helm_position", value="7", reason="r", initials="i")
        for s in ("s_horn", "s_nav")
    )
    with pytest.raises(DraftError, match="position 7 given to 's_horn' too"):
        draft(changed(order, overrides=overrides), boat, shipped_catalogue())


def test_a_circuit_goes_where_the_engineer_puts_it(order: Order, boat: Boat) -> None:
    overrides = tuple(
        Override(subject=s, field=f, value=v, reason="r", initials="i")  # type: ignore[arg-type]
        for s, f, v in (
            ("C08", "return_bus", "NB1"),
            ("C10", "supply", "IGN"),
            ("s_nav", "helm_position", "20"),
        )
    )
    done = draft(changed(order, overrides=overrides), boat, shipped_catalogue())
    nav, tank, vhf = (done.circuit(c) for c in ("C05", "C08", "C10"))
    assert nav and tank and vhf
    assert (nav.planned.position, tank.planned.bus, vhf.planned.source) == (20, "NB1", "IGN")
    named = dict(vhf.planned.places)
    assert named["Fed from"].override and named["Fed from"].value.startswith("IGN way")


def test_cut_lengths_add_up_and_are_rounded_up(any_draft: Draft) -> None:
    step = any_draft.aboard.profile.cut_step_mm
    for wire in any_draft.assembled.wires:
        first = cut_decision(wire, any_draft.aboard.profile).steps[0]
        raw = eval(first.formula.replace("×", "*"))
        assert raw == pytest.approx(first.result, abs=0.01)
        assert -1e-6 <= wire.cut_mm - raw < step + 1e-6


def test_an_unreachable_station_is_named(order: Order, boat: Boat) -> None:
    runs = tuple(run for run in boat.runs if run.id != "D07")
    cut = tuple(r if r.id != "D02" else dataclasses.replace(r, permitted=False) for r in runs)
    with pytest.raises(DraftError, match="cannot be reached") as caught:
        draft(order, dataclasses.replace(boat, runs=cut), shipped_catalogue())
    assert caught.value.place == "stations.hauler"


def test_a_switch_part_nobody_stocks_is_named(order: Order, boat: Boat) -> None:
    switches = tuple(
        dataclasses.replace(s, part="lever-77") if s.id == "s_horn" else s
        for s in boat.fit.switches
    )
    fit = dataclasses.replace(boat.fit, switches=switches)
    with pytest.raises(DraftError, match="unknown part 'lever-77'"):
        draft(order, dataclasses.replace(boat, fit=fit), shipped_catalogue())


def test_what_runs_short_is_reported_and_never_doubled(order: Order, boat: Boat) -> None:
    supplies = tuple(dataclasses.replace(s, ways=3) if s.id == "HFB" else s for s in boat.supplies)
    helm = dataclasses.replace(boat.panels[0], positions=4)
    small = dataclasses.replace(boat, supplies=supplies, panels=(helm,))
    done = draft(order, small, shipped_catalogue())
    kinds = {dict(f.values)["kind"] for f in done.findings if f.code == "P05"}
    assert kinds == {"way", "position"}
    ways = [(r.planned.source, r.planned.way) for r in done.circuits if r.planned.way]
    assert len(set(ways)) == len(ways)


def test_of_two_runs_between_stations_the_shorter_is_taken(boat: Boat) -> None:
    longer = Run(id="Z9", ends=("helm", "dash"), length_m=9.0, harness="console", area="wheelhouse")
    routes = RouteMap(boat.stations, (longer, *boat.runs))
    assert [r.id for r in routes.path("helm", "dash").runs] == ["K06"]


def test_changing_a_school_and_back_gives_the_same_draft(order: Order, boat: Boat) -> None:
    catalogue = shipped_catalogue()
    there = draft(changed(order, profile="iso"), boat, catalogue)
    back = draft(changed(order, profile="shop"), boat, catalogue)
    assert there.circuits[0].sized != back.circuits[0].sized
    assert back == draft(order, boat, catalogue)


@pytest.mark.parametrize("name", ["F01", "X3", "SW1", "HFB", "NB0", "BAT", "horn", " "])
def test_ids_the_sheets_would_confuse_are_refused(order: Order, boat: Boat, name: str) -> None:
    circuits = tuple(
        dataclasses.replace(c, id=name) if c.id == "C10" else c for c in boat.fit.circuits
    )
    fit = dataclasses.replace(boat.fit, circuits=circuits)
    with pytest.raises(DraftError, match="found id"):
        draft(order, dataclasses.replace(boat, fit=fit), shipped_catalogue())


@pytest.mark.parametrize("hull", ["0417", "0421", "0609", "1102"])
def test_one_size_thinner_breaks_a_named_rule(hull: str) -> None:
    """Set every circuit and feeder one size thinner in turn: some rule then names it, or the
    neighbour whose bundle it heats, or the branch whose drop it spends."""
    path = DEMO_FOLDER / f"hull-{hull}.loom.json"
    done = drafted(path)
    order = dataclasses.replace(done.aboard.order, accepted=())
    model = read_boat(find_boat(path, order.boat))
    plain = draft(order, model, done.catalogue)
    # hold every other size where it is, so that none of them makes up for the thinner one
    for row in plain.rows:
        assert row.sized
        order = set_override(_gauge(row.id, str(row.sized.gauge.value)))[1](order)

    def severe(found: Draft) -> set[tuple[str, tuple[str, ...]]]:
        return {(f.code, f.subjects) for f in found.findings if f.severity != "note"}

    held = draft(order, model, done.catalogue, plain)
    for row in plain.rows:
        assert row.sized
        for other in row.sized.gauge.alternatives:
            thinner = area_mm2(Gauge.parse(other.value)) < area_mm2(row.sized.gauge.value)
            if not thinner or "not kept as cable" in other.verdict:
                continue
            assert not other.acceptable, (row.id, other)
            if other.verdict == "fails its share of the drop":  # its row may hold all the same
                share = next(s for s in row.sized.gauge.steps if s.unit == "Ω/m" and s.gives)
                conductor_c = done.aboard.profile.conductor_c
                assert (
                    share.result and ohm_per_m(Gauge.parse(other.value), conductor_c) > share.result
                )
                continue
            changed = set_override(_gauge(row.id, other.value))[1](order)
            found = draft(changed, model, done.catalogue, held)
            assert severe(found) - severe(held), (row.id, other)


def _gauge(subject: str, value: str) -> Override:
    return Override(subject=subject, field="gauge", value=value, reason="r", initials="i")


def test_the_steps_of_a_drop_lead_to_the_drop(any_draft: Draft) -> None:
    """Current × length there and back, times the wire's resistance, and the feeders' share."""
    profile = any_draft.aboard.profile
    for row in any_draft.circuits:
        if row.sized is None:
            continue
        steps = {step.text.split(":")[0]: step for step in row.sized.gauge.steps}
        moment = steps["current × length of every leg there and back, A·m"].result
        feeders = steps["shared feeders at demand"].result
        assert moment is not None and feeders is not None
        ohm = ohm_per_m(row.sized.gauge.value, profile.conductor_c)
        assert moment * ohm + feeders == pytest.approx(row.sized.drop_v), row.id


def test_a_smaller_device_is_said_to_open_only_where_its_band_says_so(any_draft: Draft) -> None:
    said = set()
    for row in any_draft.rows:
        if not row.planned.family or not row.sized or not row.sized.protection:
            continue
        gates = DEVICES[row.planned.family]
        opens = min(multiple for multiple, time_s in gates.late if math.isfinite(time_s))
        holds = min(multiple for multiple, time_s in gates.early if math.isfinite(time_s))
        for other in row.sized.protection.alternatives:
            carried = re.search(r"^(.*)the ([\d.]+) A it carries", other.verdict)
            if carried is None:
                continue
            words, multiple = carried[1], float(carried[2]) / float(other.value.split(" ")[0])
            low, high = {"opens on ": (opens, math.inf), "may open on ": (holds, opens)}.get(
                words, (0.8, holds)
            )
            assert low * 0.99 <= multiple <= high * 1.01, (row.id, other)  # figures are rounded
            said.add(words)
    assert "" in said
