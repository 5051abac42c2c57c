"""What stages keep from draft to draft: only what an edit touched is made anew."""

import random
from collections.abc import Callable

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.random_edits import random_edit
from vivid_loom.boat import read_boat
from vivid_loom.catalogue import shipped_catalogue
from vivid_loom.demo import DEMO_FOLDER, find_boat
from vivid_loom.drafting import Draft, DraftError, draft
from vivid_loom.drafting.after import truth
from vivid_loom.drafting.decision import Lazy
from vivid_loom.drafting.kept import Kept, Plain
from vivid_loom.order import Landing, read_order
from vivid_loom.quantities import LimitError
from vivid_loom.quantities.reckoning import Reckoned


class Counted:
    """Something that is made, and how often."""

    def __init__(self) -> None:
        self.times = 0

    def __call__(self) -> "list[int]":
        self.times += 1
        return [self.times]


def test_made_once_from_the_same_and_anew_from_other() -> None:
    before, make = Kept(), Counted()
    first = before.take("stage", "C01", (1, "a", (2.0, None)), make)
    after = Kept(before.handed_on())
    assert after.take("stage", "C01", (1, "a", (2.0, None)), make) is first
    assert after.take("stage", "C02", (1, "a", (2.0, None)), make) is not first, "another name"
    again = Kept(after.handed_on())
    assert again.take("stage", "C01", (1, "b", (2.0, None)), make) is not first
    assert make.times == 3


def test_what_one_draft_asks_twice_is_made_once() -> None:
    kept, make = Kept(), Counted()
    record = object()
    first = kept.take("truth", "", (record,), make)
    assert kept.take("truth", "", (record,), make) is first and make.times == 1
    assert kept.take("truth", "", (object(),), make) is not first, "made from something else"


def test_what_is_not_asked_for_again_is_let_go() -> None:
    before, make = Kept(), Counted()
    before.take("stage", "C01", (1,), make)
    between = Kept(before.handed_on())
    after = Kept(between.handed_on())  # C01 was gone in the draft between
    after.take("stage", "C01", (1,), make)
    assert make.times == 2


def test_what_a_whole_asked_for_stands_with_it() -> None:
    """It was not asked for again while the whole stood; it has to be there once that does not."""
    part, inner = Counted(), frozenset({"part"})
    kept = Kept()

    def whole() -> "list[int]":
        return kept.take("part", "C01", (1,), part)

    first = kept.take("whole", "", (1,), whole, inner)
    for made_from in (1, 1, 2):
        kept = Kept(kept.handed_on())
        assert kept.take("whole", "", (made_from,), whole, inner) is first
    assert part.times == 1
    kept = Kept(kept.handed_on())
    kept.take("whole", "", (2,), whole)  # without: its parts are let go
    kept = Kept(kept.handed_on())
    assert kept.take("whole", "", (3,), whole) is not first


@pytest.mark.parametrize(
    ("one", "other"),
    [(1, 1.0), (True, 1), ("1", 1), ((), None), ((1,), (1, 1)), ([1], [1]), (0.1, 0.2)],
)
def test_alike_means_the_same_word_number_or_object(one: object, other: object) -> None:
    """1 and 1.0 are printed otherwise; two lists that are equal now may differ later."""
    before, make = Kept(), Counted()
    before.take("stage", "", (one,), make)
    after = Kept(before.handed_on())
    after.take("stage", "", (other,), make)
    assert make.times == 2


def test_what_is_plain_is_alike_if_it_says_the_same() -> None:
    """A record made again will do, which it does not beside what is compared by object."""
    one, again, other = (
        Landing(kind="way", subject="C01", place="HFB", number=n) for n in (3, 3, 4)
    )
    for key, alike in (
        (Plain((1, ("a", again))), True),
        (Plain((1, ("a", other))), False),
        (Plain((1, ("a", again), ())), False),
        ((1, ("a", again)), False),
    ):
        before, make = Kept(), Counted()
        before.take("stage", "", (Plain((1, ("a", one))), 2), make)
        Kept(before.handed_on()).take("stage", "", (key, 2), make)
        assert (make.times == 1) == alike, key


@pytest.mark.parametrize("hull", ["0417", "0421", "0609", "1102"])
def test_no_reason_is_written_to_tell_whether_something_stands(
    hull: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Reasons of two drafts are equal only once both are written, which costs more than a draft."""
    path = DEMO_FOLDER / f"hull-{hull}.loom.json"
    order = read_order(path)
    model = read_boat(find_boat(path, order.boat))
    standing, dice = draft(order, model, shipped_catalogue()), random.Random(hull)
    monkeypatch.setattr(Lazy, "_tuple", lambda self: pytest.fail("a reason was written"))
    monkeypatch.setattr(
        Reckoned, "formula", property(lambda self: pytest.fail("a sum was written"))
    )
    done = 0
    while done < 40:
        _, change = random_edit(dice, standing)
        try:
            edited = change(standing.aboard.order)
            standing = draft(edited, model, shipped_catalogue(), standing)
        except (DraftError, LimitError, ValueError):
            continue
        done += 1


VALUES = st.recursive(
    st.none() | st.booleans() | st.integers(-3, 3) | st.text("ab", max_size=2),
    lambda inner: st.lists(inner, max_size=3).map(tuple),
    max_leaves=8,
)


@given(VALUES, VALUES)
def test_taken_again_exactly_where_it_is_equal_in_kind_and_value(
    one: object, other: object
) -> None:
    before, make = Kept(), Counted()
    before.take("stage", "", (one,), make)
    Kept(before.handed_on()).take("stage", "", (other,), make)
    assert (make.times == 1) == (repr(one) == repr(other))


def test_equal_results_are_handed_on_as_the_same_object() -> None:
    before = Kept()
    first = before.same("needs", "", [1, 2])
    after = Kept(before.handed_on())
    assert after.same("needs", "", [1, 2]) is first
    assert after.same("needs", "", [1, 3]) == [1, 3]


def test_presses_are_worked_out_once_a_draft(
    small: Callable[[], Draft], monkeypatch: pytest.MonkeyPatch
) -> None:
    """Two rules read them: navigation lights, and what each press does."""
    made = [0]
    real = truth.Truth.__init__

    def counting(self: truth.Truth, *args: object) -> None:
        made[0] += 1
        real(self, *args)  # type: ignore[arg-type]

    monkeypatch.setattr(truth.Truth, "__init__", counting)
    small()
    assert made[0] == 1


@pytest.fixture
def small() -> Callable[[], Draft]:
    """Return what drafts the smallest demo order afresh."""
    path = DEMO_FOLDER / "hull-0611.loom.json"
    order = read_order(path)
    boat = read_boat(find_boat(path, order.boat))
    return lambda: draft(order, boat, shipped_catalogue())
