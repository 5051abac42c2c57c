"""A fix is one edit of the order that clears its finding, and undoing it brings it back."""

import dataclasses

import pytest

from tests.changes import (
    Change,
    Setup,
    battery,
    chained,
    drafted,
    load,
    override,
    profile,
    supply,
    switch,
)
from tests.changes import boat as boat_fields
from tests.drafting import test_breaker_levers, test_every_rule, test_helm, test_rules
from vivid_loom.boat import Boat, MakerLength
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.drafting import Draft, Finding, draft
from vivid_loom.drafting.remedy import remedy
from vivid_loom.drafting.rules.fixes import can_fix
from vivid_loom.drafting.rules.verify import kinds
from vivid_loom.order import Order, change_run, send_by_way
from vivid_loom.standards.colours import CODES


def _cases() -> list[tuple[str, Change]]:
    old = [(code, _lifted(mistake)) for code, mistake, _ in test_rules.CASES]
    overruled = [(code, _overruled(mistake)) for code, mistake, _ in test_rules.OVERRULED]
    panels = [(c, mistake) for c, _, mistake, _ in (*test_helm.CASES, *test_breaker_levers.CASES)]
    return [*((c[0], c[1]) for c in test_every_rule.CASES), *panels, *old, *overruled]


def _lifted(change: test_rules.Change) -> Change:
    return lambda s: s._replace(boat=change(s.boat))


def _overruled(overrides: tuple[object, ...]) -> Change:
    return lambda s: s._replace(order=dataclasses.replace(s.order, overrides=overrides))


def _found(draft_: Draft, code: str) -> list[Finding]:
    return [finding for finding in draft_.findings if finding.code == code]


@pytest.fixture(scope="module")
def setup(boat: Boat, order: Order) -> Setup:
    plain = dataclasses.replace(order, options=(), overrides=(), accepted=())
    return Setup(boat, plain, shipped_catalogue())


def _fixed(before: Draft, code: str) -> bool:
    """Apply the fix of a rule's first finding that has one, and that it can be undone.

    That it clears the finding and brings nothing as grave is what ``remedy`` drafts it for.
    """
    for finding in _found(before, code):
        edit = remedy(finding, before, before.aboard.boat)
        if edit is None:
            continue
        name, apply = edit
        assert name and can_fix(code)
        order = before.aboard.order
        after = apply(order)
        assert after != order, f"{code}: {name} changes nothing"
        return True
    return False


def _run(name: str, **fields: object) -> Change:
    """Measure a run anew."""

    def apply(setup: Setup) -> Setup:
        run = dataclasses.replace(setup.boat.runs_by_id[name], **fields)  # type: ignore[arg-type]
        return setup._replace(order=change_run(run, "figures")[1](setup.order))

    return apply


def _sent(circuit_id: str, station: str) -> Change:
    def apply(setup: Setup) -> Setup:
        way = send_by_way(circuit_id, "", (setup.boat.stations_by_id[station],))
        return setup._replace(order=way[1](setup.order))

    return apply


def _no_green(setup: Setup) -> Setup:
    """Keep wire in every colour but green."""
    kept = tuple(code for code in CODES if code != "GN")
    wires = tuple(dataclasses.replace(w, colours=kept) for w in setup.catalogue.wires)
    return setup._replace(catalogue=dataclasses.replace(setup.catalogue, wires=wires))


def _deep_rockers(setup: Setup) -> Setup:
    """Have one kind of rocker deeper than the space behind the first panel."""
    parts = tuple(
        dataclasses.replace(part, depth_mm=80.0) if part.id == "rocker-spst" else part
        for part in setup.catalogue.switches
    )
    return setup._replace(catalogue=dataclasses.replace(setup.catalogue, switches=parts))


TABLE = (MakerLength(loop_length_m=30.0, gauge="10 AWG"),)
ON_THE_FULL_ORDER: tuple[tuple[str, Change], ...] = (
    ("S01", override("F02", gauge="18 AWG")),
    ("P08", override("F02", gauge="18 AWG")),
    ("K15", chained(battery(internal_ohm=0.02), override("F04", gauge="18 AWG"))),
    ("K08", override("F06", protection_a="100")),
    ("K06", override("C01", protection_a="1")),
    (
        "K19",
        chained(load("horn", evidence=test_every_rule.GUESSED), override("C01", protection_a="1")),
    ),
    ("P04", override("C01", protection_a="40")),
    ("K05", override("C02", protection_a="15")),
    ("K09", chained(load("bp_aft", contact_a=6.0), override("C02", protection_a="15"))),
    ("S11", chained(profile(shop_floor="14 AWG"), override("C01", gauge="16 AWG"))),
    ("S12", chained(load("horn", maker_lengths=TABLE), override("C01", gauge="16 AWG"))),
    ("P13", chained(override("F05", protection_a="100"), supply("HFB", total_max_a=99.0))),
    (
        "P17",
        chained(
            override("F02", protection_a="300"),
            test_every_rule.PLAIN_SWITCH,
            supply("BSW", total_max_a=299.0),
        ),
    ),
    ("P24", chained(override("F02", protection_a="300"), supply("BSW", total_max_a=299.0))),
    ("P26", override("F01", gauge="16 AWG")),
    ("A44", chained(_deep_rockers, test_every_rule.panel(depth_mm=45.0))),
    ("S18", chained(boat_fields(nominal_v=48.0), switch("s_wiper_p", station="helm"))),
    ("I06", chained(_no_green, override("C02", positive_colour="GN"))),
    ("R03", _run("H12", bore_mm=20.0)),
    ("R04", _run("H12", bore_mm=42.0)),
    ("R05", _sent("C99", "battery")),
)


def test_every_fix_clears_its_finding_and_undo_brings_it_back(
    setup: Setup, boat: Boat, order: Order, mistakes: Draft
) -> None:
    """Make every mistake of the rules' tests, and those that only a full order can hold."""
    full = Setup(boat, dataclasses.replace(order, accepted=()), shipped_catalogue())
    fixed = set[str]()
    for at, cases in ((setup, _cases()), (full, ON_THE_FULL_ORDER)):
        well = drafted(at)
        for code, mistake in cases:
            if can_fix(code) and code not in fixed and _fixed(drafted(mistake(at), well), code):
                fixed.add(code)
    left = {f.code for f in mistakes.findings if can_fix(f.code)} - fixed
    fixed |= {code for code in left if _fixed(mistakes, code)}
    every = {kind.code for kind in kinds() if can_fix(kind.code)}
    assert every <= fixed, sorted(every - fixed)


def test_no_row_of_fixes_comes_back_to_where_it_began(mistakes: Draft) -> None:
    """Each finding's fix is taken in turn: every order is new, and no step brings an error."""
    standing, seen = mistakes, [mistakes.aboard.order]
    tried: set[tuple[str, tuple[str, ...]]] = set()
    while len(seen) < 60:
        open_ = (f for f in standing.findings if (f.code, f.subjects) not in tried)
        finding = next((f for f in open_ if can_fix(f.code)), None)
        if finding is None:
            break
        tried.add((finding.code, finding.subjects))
        edit = remedy(finding, standing, standing.aboard.boat)
        if edit is None:
            continue
        order = edit[1](standing.aboard.order)
        assert order not in seen
        seen.append(order)
        again = draft(order, standing.aboard.boat, standing.catalogue, standing)
        was, is_now = (sum(f.severity == "error" for f in d.findings) for d in (standing, again))
        assert is_now <= was - (finding.severity == "error")
        assert (finding.code, finding.subjects) not in {
            (f.code, f.subjects) for f in again.findings
        }
        standing = again
    assert len(seen) > 20


@pytest.mark.parametrize("by_profile", [True, False])
def test_a_pump_fed_from_two_places_gets_one_point(
    boat: Boat, order: Order, by_profile: bool
) -> None:
    if by_profile:
        changes = (("automatic_pump", "helm_manual"),)
        split = dataclasses.replace(order, profile_changes=changes, accepted=())
    else:
        pump = next(c for c in boat.fit.circuits if c.id == "C02")
        direct = dataclasses.replace(
            pump, pattern="device_switched", contact=None, lead="automatic"
        )
        manual = dataclasses.replace(
            pump, id="C90", pattern="switched", level="unswitched", lead="manual"
        )
        added = dataclasses.replace(order.added, circuits=(direct, manual))
        split = dataclasses.replace(order, added=added, accepted=())
    before = draft(split, boat, shipped_catalogue())
    finding = _found(before, "A02")[0]
    edit = remedy(finding, before, before.aboard.boat)
    assert edit
    after = draft(edit[1](split), boat, shipped_catalogue())
    assert not _found(after, "A02") and not _found(after, "A05") and not _found(after, "A06")
