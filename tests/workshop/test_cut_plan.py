"""The cut plan of whole orders over a shop's spools, and lengths in common."""

import itertools
import random
from collections import Counter
from pathlib import Path

import pytest

from tests.conftest import drafted
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.drafting import Draft
from vivid_loom.drafting.making.common_lengths import common_lengths
from vivid_loom.order import SPOOL_FILE, Spool, read_shop, read_spools, spools_text
from vivid_loom.quantities.document import DocumentError
from vivid_loom.workshop.cutting.plan import after_cutting, cut_plan, pieces


def test_every_wire_of_an_order_is_cut_once(any_draft: Draft) -> None:
    """Each wire that is not in the boat already, each cable, spare and bonding conductor."""
    shop = read_shop(DEMO_FOLDER)
    plan = cut_plan(pieces(any_draft), shop.spools)
    cut = Counter(p.id for w in plan.wires for s in w.spools for p in s.pieces)
    assert set(cut.values()) == {1}
    single = {w.id: w for w in any_draft.assembled.wires if not w.cable}
    assert set(single) - set(any_draft.reuse.kept) <= set(cut)
    lengths = {p.id: p.length_mm for w in plan.wires for s in w.spools for p in s.pieces}
    for name in set(single) & set(lengths):
        assert lengths[name] == single[name].cut_mm
    for wire in plan.wires:
        for cuts in wire.spools:
            assert {(p.wire, p.colour) for p in cuts.pieces} == {(wire.wire, wire.colour)}
            whole = cuts.spool.length_m * 1000
            assert sum(p.length_mm for p in cuts.pieces) + cuts.rest_mm == pytest.approx(whole)
            assert cuts.rest_mm >= -1e-6
            assert list(cuts.pieces) == sorted(cuts.pieces, key=lambda p: -p.length_mm)
    assert plan.gap_percent < 1.0  # proven: within one per cent of the best plan


def test_committing_a_plan_books_what_is_left(full: Draft) -> None:
    shelf = read_shop(DEMO_FOLDER).spools
    plan = cut_plan(pieces(full), shelf)
    left = after_cutting(plan, shelf)
    assert len({spool.id for spool in left}) == len(left)
    bought = sum(c.spool.length_m for w in plan.wires for c in w.spools if c.new)
    before = sum(spool.length_m for spool in shelf) + bought
    gone = (plan.needed_mm + plan.waste_mm) / 1000
    assert sum(spool.length_m for spool in left) == pytest.approx(before - gone)
    again = cut_plan(pieces(full), left)  # the same order once more
    assert after_cutting(again, left) != left


def test_two_orders_share_spools(full: Draft) -> None:
    other = drafted(DEMO_FOLDER / "hull-0423.loom.json")
    shelf = read_shop(DEMO_FOLDER).spools
    both = cut_plan([*pieces(full), *pieces(other)], shelf)
    hulls = [{p.order for p in c.pieces} for w in both.wires for c in w.spools]
    assert {"0417", "0423"} in hulls
    apart = cut_plan(pieces(full), shelf).needed_mm + cut_plan(pieces(other), shelf).needed_mm
    assert both.needed_mm == pytest.approx(apart)


def test_a_piece_longer_than_a_spool_is_bought_to_length(full: Draft) -> None:
    piece = next(pieces(full))._replace(length_mm=120_400.0)
    (wire,) = cut_plan([piece], ()).wires
    (cuts,) = wire.spools
    assert cuts.new and cuts.spool.length_m == 121.0 and cuts.pieces == (piece,)


def test_spools_are_written_and_read_back(tmp_path: Path) -> None:
    path = tmp_path / SPOOL_FILE
    spools = (
        Spool(id="S1", wire="16 AWG", colour="OG/WH", length_m=91.55, place="rack, upper"),
        Spool(id="S2", wire="1.5 mm²", colour="YE", length_m=4.0),
    )
    path.write_text(spools_text(spools))
    assert read_spools(path) == spools
    assert read_spools(tmp_path / "none.csv") == ()


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("id,wire\n", "line 1: found id, wire, expected id, wire, colour, length_m, place"),
        ("id,wire,colour,length_m\nS1,16 AWG,RD,long\n", "line 2, length_m: found 'long'"),
        ("id,wire,colour,length_m\nS1,16 AWG,RD,-4\n", "line 2, length_m: found '-4'"),
        ("id,wire,colour,length_m\nS1,16 AWGX,RD,4\n", "line 2, wire: found '16 AWGX'"),
        ("id,wire,colour,length_m\nS1,16 AWG,red,4\n", "line 2, colour:"),
        (
            "id,wire,colour,length_m\nS1,16 AWG,RD,4\nS1,16 AWG,RD,5\n",
            "line 3, id: found 'S1' a second",
        ),
        ("id,wire,colour,length_m\n,16 AWG,RD,4\n", "line 2: found no id"),
    ],
)
def test_a_bad_file_of_spools_is_named(tmp_path: Path, text: str, told: str) -> None:
    path = tmp_path / SPOOL_FILE
    path.write_text(text)
    with pytest.raises(DocumentError) as caught:
        read_shop(tmp_path)
    assert str(path) in str(caught.value) and told in str(caught.value)


def _by_trying(counts: dict[float, int], most: int) -> float:
    """Return the least extra by trying every choice of lengths to cut to."""
    lengths = sorted(counts)
    best = float("inf")
    for size in range(1, most + 1):
        for chosen in itertools.combinations(lengths, size):
            if chosen[-1] < lengths[-1]:
                continue
            up = {x: min(c for c in chosen if c >= x) for x in lengths}
            best = min(best, sum(n * (up[x] - x) for x, n in counts.items()))
    return best


@pytest.mark.parametrize("seed", range(20))
def test_common_lengths_against_trying_everything(seed: int) -> None:
    rng = random.Random(seed)
    counts = {float(x): rng.randint(1, 9) for x in rng.sample(range(50, 400, 10), 8)}
    for most in (1, 2, 3, 8):
        done = common_lengths(counts, most)
        assert len(set(done.instead.values())) <= most
        assert all(to >= length for length, to in done.instead.items())
        extra = sum(n * (done.instead[x] - x) for x, n in counts.items())
        assert done.extra_mm == pytest.approx(extra) == pytest.approx(_by_trying(counts, most))
