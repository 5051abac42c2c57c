"""A fix is one edit of the order that clears its finding, and undoing it brings it back."""

import dataclasses

import pytest

from tests.changes import Change, Setup, drafted
from tests.drafting import test_every_rule, test_rules
from vivid_loom.boat import Boat
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.drafting import Draft, Finding, draft
from vivid_loom.drafting.rules.fixes import fix_of
from vivid_loom.order import Order


def _cases() -> list[tuple[str, Change]]:
    old = [(code, _lifted(mistake)) for code, mistake, _ in test_rules.CASES]
    overruled = [(code, _overruled(mistake)) for code, mistake, _ in test_rules.OVERRULED]
    return [*((c[0], c[1]) for c in test_every_rule.CASES), *old, *overruled]


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


def test_a_fix_clears_its_finding(setup: Setup) -> None:
    """Make every mistake of the rules' tests, and let its fix clear it where it has one."""
    fixed: set[str] = set()
    for code, mistake in _cases():
        wrong = mistake(setup)
        before = drafted(wrong)
        for finding in _found(before, code)[:1]:
            edit = fix_of(finding, before)
            if edit is None:
                continue
            name, apply = edit
            assert name
            after = draft(apply(wrong.order), wrong.boat, wrong.catalogue)
            assert finding.subjects not in [f.subjects for f in _found(after, code)], (code, name)
            fixed.add(code)
    assert len(fixed) >= 40, sorted(fixed)


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
    edit = fix_of(finding, before)
    assert edit
    after = draft(edit[1](split), boat, shipped_catalogue())
    assert not _found(after, "A02") and not _found(after, "A05") and not _found(after, "A06")
