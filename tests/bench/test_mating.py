"""All harnesses together: what a plug can do wrong is named, what is sound raises no alarm."""

from collections import Counter

import pytest

from tests.bench.flaws import every_mated_flaw, generated_draft, rung
from vivid_loom.bench.devices.simulated import BuiltHarness, Flaw, FlawError, parse_flaw
from vivid_loom.bench.ringing.mating import Mating
from vivid_loom.bench.ringing.plan import RingPlan, ring_plans
from vivid_loom.bench.ringing.results import Cause, Ringing
from vivid_loom.bench.ringing.specimen import Specimen
from vivid_loom.drafting import Draft


def mated(draft: Draft) -> RingPlan | None:
    return next((plan for plan in ring_plans(draft) if plan.specimen.mates), None)


def sound_of(found: Ringing) -> set[str]:
    """Return the contacts over which some way has passed."""
    assert isinstance(found, Mating)
    return {m.id for s, way in found._over.items() if found.results[s].passed for m in way}


def changes_nothing(flaw: Flaw, specimen: Specimen) -> bool:
    """Tell whether two plugs carry the same nets in the same cavities: crossed they do as well."""
    nets = [
        {m.cavity: specimen.net_of[m.a].id for m in specimen.mates if m.plug.id == plug}
        for plug in flaw.at
    ]
    return flaw.kind == "crossed" and nets[0] == nets[1]


def is_named(flaw: Flaw, causes: tuple[Cause, ...]) -> bool:
    """Tell whether a flaw and nothing else is named.

    Over a plug with one contact alone no reading tells it from that contact pushed back; contacts
    in one row, with nothing between them, are named together.
    """
    if flaw.kind in ("pushed", "worn"):
        return [c.kind for c in causes] == [flaw.kind] and set(flaw.at) <= set(causes[0].at)
    return [(c.kind, frozenset(c.at)) for c in causes] == [(flaw.kind, frozenset(flaw.at))]


def test_every_contact_is_on_a_way_and_every_net_by_itself(any_draft: Draft) -> None:
    plan = mated(any_draft)
    assert plan is not None
    specimen = plan.specimen
    over = {mate.id for way in Mating(plan, [])._over.values() for mate in way}
    wired = {
        f"{plug.id}.{cavity.number}"
        for plug in any_draft.assembled.plugs
        for cavity in plug.cavities
    }
    assert over == {mate.id for mate in specimen.mates} == wired
    kinds = Counter(step.kind for step in plan.steps)
    assert kinds["mated"] == len(any_draft.assembled.plugs)
    assert kinds["net"] == len(specimen.nets)
    assert all(
        {step.red, step.black} <= specimen.probed
        for step in plan.steps
        if step.red and step.kind == "path"
    )


def test_every_flaw_of_plugs_is_named(any_draft: Draft) -> None:
    plan = mated(any_draft)
    assert plan is not None
    count = 0
    for flaw in every_mated_flaw(plan.specimen):
        found = rung(plan, BuiltHarness(plan.specimen, [flaw]))
        assert is_named(flaw, found.causes), (flaw, found.causes)
        assert sound_of(found).isdisjoint(n for cause in found.causes for n in cause.at), flaw
        assert parse_flaw(str(flaw)) == flaw
        count += 1
    assert count > 40


@pytest.mark.parametrize("seed", [51, 105, 110, 230])
def test_nets_that_go_through_several_plugs(seed: int) -> None:
    """Plugs that share nets, crossed; contacts that several ways pass over."""
    plan = mated(generated_draft(seed))
    assert plan is not None
    for flaw in every_mated_flaw(plan.specimen):
        found = rung(plan, BuiltHarness(plan.specimen, [flaw]))
        if changes_nothing(flaw, plan.specimen):
            assert found.proven
        else:
            assert is_named(flaw, found.causes), (flaw, found.causes)
            assert sound_of(found).isdisjoint(n for c in found.causes for n in c.at), flaw


def test_two_flaws_at_once_are_both_named(full: Draft) -> None:
    plan = mated(full)
    assert plan is not None
    flaws = [Flaw("pushed", ("X4.1",)), Flaw("unmated", ("X1",))]
    found = rung(plan, BuiltHarness(plan.specimen, flaws)).causes
    assert {(c.kind, c.at) for c in found} == {("pushed", ("X4.1",)), ("unmated", ("X1",))}


def test_sound_boats_raise_no_alarm() -> None:
    tried = 0
    for seed in range(12):
        plan = mated(generated_draft(seed))
        if plan:
            over = {mate.id for way in Mating(plan, [])._over.values() for mate in way}
            assert over == {mate.id for mate in plan.specimen.mates}
        for turn in range(4) if plan else ():
            assert plan is not None
            assert rung(plan, BuiltHarness(plan.specimen, seed=turn)).proven
            tried += 1
    assert tried > 20


def test_what_is_not_mated_here_is_refused(full: Draft) -> None:
    plan = mated(full)
    assert plan is not None
    with pytest.raises(FlawError, match="expected a plug or contact that is mated here"):
        BuiltHarness(plan.specimen, [Flaw("pushed", ("X99.1",))])
