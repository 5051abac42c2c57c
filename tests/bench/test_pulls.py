"""Pull tests: samples by terminal, gauge and jaw; a failed one holds back what may be as bad."""

import pytest

from vivid_loom.bench.pulls import CrimpGroup, Pull, Remade, crimp_groups, held_back, samples_left
from vivid_loom.drafting import Draft
from vivid_loom.quantities import Gauge
from vivid_loom.sheets.lists.bench_lists import draft_crimps
from vivid_loom.standards.terminals import pull_n


def groups(draft: Draft, every: int) -> tuple[CrimpGroup, ...]:
    return crimp_groups(draft, draft.assembled.wires, every)


def pull(group: CrimpGroup, number: int, *, passed: bool = True) -> Pull:
    return Pull(group.id, number, group.newton * (1.2 if passed else 0.6), "T7", passed)


def test_every_crimp_is_in_one_group(any_draft: Draft) -> None:
    crimps = [crimp.end for group in draft_crimps(any_draft) for crimp in group.crimps]
    crimped = [
        f"{wire.id}/{side}"
        for wire in any_draft.assembled.wires
        for side, end in (("from", wire.start), ("to", wire.end))
        if end.termination.jaw
    ]
    assert sorted(crimps) == sorted(crimped)


def test_first_every_so_many_and_last_are_sampled(full: Draft) -> None:
    for group in groups(full, 50):
        count = len(group.crimps)
        assert group.samples[0] == 1
        assert group.samples[-1] == count
        assert all(b - a <= 50 for a, b in zip(group.samples, group.samples[1:], strict=False))
        assert group.newton == pull_n(group.gauge)
    (largest,) = [g for g in groups(full, 50) if g.id == "blue ring M4 | 16 AWG | blue"]
    assert largest.samples == (1, 50, 100, len(largest.crimps))
    with pytest.raises(ValueError, match="expected 1 or more"):
        groups(full, 0)


def test_forces_are_those_of_the_standard() -> None:
    """ABYC E-11 tensile table, from memory, in lbf."""
    for text, pounds in (("16 AWG", 15), ("14 AWG", 30), ("8 AWG", 45), ("2/0 AWG", 150)):
        assert pull_n(Gauge.parse(text)) == pytest.approx(pounds * 4.4482216, rel=1e-6)
    # beyond the printed metric rows: as 1 AWG (42.4 mm²), the next below 50 mm²
    assert pull_n(Gauge.parse("50 mm²")) == pytest.approx(100 * 4.4482216, rel=1e-6)
    assert pull_n(Gauge.parse("35 mm²")) == 350


def test_a_failed_sample_holds_back_all_since_the_last_good_one(full: Draft) -> None:
    group = next(g for g in groups(full, 20) if len(g.crimps) > 60)
    good = [pull(group, 1), pull(group, 20)]
    bad = [*good, pull(group, 40, passed=False)]
    assert held_back(group, good) == ()
    assert held_back(group, bad) == group.crimps[20:]
    assert held_back(group, [*bad, pull(group, 60)]) == group.crimps[20:]  # it came too late
    known = [pull(group, 60), *bad]
    assert held_back(group, known) == group.crimps[20:59]
    assert held_back(group, [pull(group, 1, passed=False)]) == group.crimps


def test_only_what_is_made_anew_is_let_go(full: Draft) -> None:
    group = next(g for g in groups(full, 20) if len(g.crimps) > 60)
    bad = [pull(group, 20), pull(group, 40, passed=False)]
    again = [*bad, pull(group, 40)]
    assert samples_left(group, again) == tuple(n for n in group.samples if n not in (20, 40))
    assert held_back(group, again) == group.crimps[20:]  # a better sample mends no crimp
    ends = tuple(crimp.end for crimp in group.crimps[20:30])
    assert held_back(group, [*again, Remade(ends)]) == group.crimps[30:]


def test_other_settings_are_not_touched(full: Draft) -> None:
    first, second = groups(full, 50)[:2]
    assert held_back(second, [pull(first, 1, passed=False)]) == ()
    assert samples_left(second, [pull(first, n) for n in first.samples]) == second.samples
