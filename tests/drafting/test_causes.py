"""What follows from a finding is gone once that one is mended, and nothing is lost on the way."""

from collections import Counter

from tests.conftest import drafted
from vivid_loom.boat import read_boat
from vivid_loom.demo import DEMO_FOLDER, find_boat
from vivid_loom.drafting import Draft, draft
from vivid_loom.drafting.findings import GRAVITY
from vivid_loom.drafting.rules.causes import grouped
from vivid_loom.drafting.rules.fixes import fixes_of

MISTAKES = DEMO_FOLDER / "hull-0423.loom.json"


def test_mending_the_cause_mends_what_follows_from_it() -> None:
    """Each cause of the order with planted mistakes is mended alone, and the boat drafted again."""
    done = drafted(MISTAKES)
    boat = read_boat(find_boat(MISTAKES, done.aboard.order.boat))
    followed: Counter[str] = Counter()
    for group in grouped(done):
        if not group.follows:
            continue
        edit = next(fixes_of(group.cause, done))  # whatever else it may bring
        mended = draft(edit[1](done.aboard.order), boat, done.catalogue)
        left = {(f.code, f.subjects) for f in mended.findings}
        for finding in group.follows:
            assert (finding.code, finding.subjects) not in left, (group.cause, finding)
        followed[group.cause.code] += len(group.follows)
    assert set(followed) == {"A02", "A49", "P06", "S10"}
    assert followed["S10"] > 10 and followed["A49"] > 10


def test_every_finding_stands_once_the_gravest_groups_first(any_draft: Draft) -> None:
    groups = grouped(any_draft)
    told = [finding for group in groups for finding in (group.cause, *group.follows)]
    assert Counter(told) == Counter(any_draft.findings)
    gravity = [GRAVITY.index(group.severity) for group in groups]
    assert gravity == sorted(gravity)
    for group in groups:
        assert GRAVITY.index(group.severity) <= GRAVITY.index(group.cause.severity)


def test_a_cause_of_another_place_or_field_takes_nothing() -> None:
    done = drafted(MISTAKES)
    for group in grouped(done):
        if group.cause.code != "S10":
            continue
        field = dict(group.cause.values)["field"]
        for finding in group.follows:
            assert set(finding.subjects) & set(group.cause.subjects)
            assert field != "gauge" or finding.code not in ("S03", "S04", "P15")
            assert field != "protection" or finding.code not in ("S01", "S05", "S06")
