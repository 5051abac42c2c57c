"""What a boat's wiring takes from the shelves besides wire, terminals and devices."""

import math
from collections import Counter, defaultdict
from collections.abc import Iterator
from typing import NamedTuple

from vivid_loom.boat import Supply
from vivid_loom.drafting import Draft
from vivid_loom.drafting.beside.recorded import RecordPiece
from vivid_loom.drafting.making.ending import BORDER_STUD
from vivid_loom.drafting.making.terminate import FORKED, PAIR
from vivid_loom.drafting.making.wire import End, Wire
from vivid_loom.quantities import in_reading_order
from vivid_loom.sheets.lists.build_lists import booted
from vivid_loom.standards.glands import gland_for
from vivid_loom.standards.joints import RECIPES, zone_of
from vivid_loom.standards.sleeves import PAST_BOTH_ENDS_MM, sleeve_bore_mm, sleeve_length_mm
from vivid_loom.workshop.bundles import Section, section
from vivid_loom.workshop.harness.whole import passing_whole

__all__ = ["ShelfPart", "shelf_parts"]


class ShelfPart(NamedTuple):
    """Something to take from a shelf."""

    kind: str
    item: str
    quantity: float
    unit: str = "pcs"


def _supply_words(supply: Supply) -> str:
    ways = f", {supply.ways} ways" if supply.ways else ""
    return f"{supply.kind.replace('_', ' ')}{ways}, {supply.total_max_a:g} A"


def _boat_parts(draft: Draft) -> Iterator[ShelfPart]:
    """Yield batteries, blocks, buses, panels, legends and strips; a built boat has them."""
    boat = draft.aboard.boat
    found: Counter[tuple[str, str]] = Counter()
    if not draft.aboard.order.built:
        for battery in boat.network.batteries.values():
            size = f"{boat.nominal_v:g} V {battery.capacity_ah:g} Ah"
            words = f"{battery.chemistry} battery, {size}, {battery.cranking_a:g} A cranking"
            found["battery", words] += 1
            found["battery", f"battery box with straps, {size}"] += 1
        found.update(
            ("supply", _supply_words(supply))
            for supply in boat.supplies
            if supply.kind != "charge_source"  # comes with its engine or charger
        )
        blocks = boat.network.engine_blocks  # come with their engines
        found.update(
            ("supply", f"negative bus, {b.screws} screws")
            for b in boat.return_buses
            if b.id not in blocks
        )
        mounted = (row for row in draft.rows if row.planned.mount)
        found.update(("supply", f"mount for a {row.planned.family}") for row in mounted)
        found.update(
            ("panel", f"switch panel, {p.positions} positions{', with gasket' * p.gasket}")
            for p in boat.panels
            if p.id not in _faces(draft)
        )
    there = draft.reuse.places
    for switch in draft.switches:
        if switch.position and switch.place not in there:
            found["panel", f"legend {switch.request.legend}"] += 1
    for strip in draft.allocation.strips:
        if strip.id in there:
            continue
        found["strip", f"terminal strip, {strip.poles} poles, {strip.rated_a:g} A"] += 1
    if stacked := _doublers(draft):
        found["terminal", "tab doubler 6.3 mm"] += stacked
    for (kind, item), count in found.items():
        yield ShelfPart(kind, item, count)


def _faces(draft: Draft) -> set[str]:
    """Return the switch panels that breaker panels come with: those of most of their levers."""
    levers: dict[str, Counter[str]] = defaultdict(Counter)
    for name, lever in draft.breaker_levers.items():
        row, panel = draft.circuit(name), draft.aboard.boat.panel_at(lever.position)
        if row and panel:
            levers[row.planned.source][panel.id] += 1
    return {panels.most_common(1)[0][0] for panels in levers.values()}


def _doublers(draft: Draft) -> int:
    """Count what conductors that share a tab sit on, where none carries another: one less each."""
    tabs: dict[tuple[str, str], list[str]] = defaultdict(list)
    for _, end in _ends(draft):
        if "push-on" in end.termination.kind:
            tabs[end.place, end.point].append(end.termination.kind)
    shared = ("piggyback", FORKED)
    plain = (on for on in tabs.values() if not any(s in kind for kind in on for s in shared))
    return sum(len(on) - 1 for on in plain)


def _ends(draft: Draft) -> Iterator[tuple[Wire, End]]:
    """Yield the ends that are made in this order, each with its wire."""
    for wire in draft.assembled.wires:
        for end in draft.reuse.new_ends(wire):
            yield wire, end


def _joint_parts(draft: Draft) -> Iterator[ShelfPart]:
    """Yield what goes over and into the ends: sleeves, seals, posts, grease."""
    diameter = {wire.gauge: wire.diameter_mm for wire in draft.catalogue.wires}
    where = draft.aboard.boat.area_at
    metres: Counter[str] = Counter()
    pieces: Counter[tuple[str, str]] = Counter()
    posts: dict[tuple[str, str], str] = {}
    greased = 0
    for wire, end in _ends(draft):
        over_mm = diameter[str(wire.gauge)]
        bore = f"{sleeve_bore_mm(over_mm):g} mm"
        kind = end.termination.kind
        pieces["label", f"label sleeve {bore}"] += 1
        if wire.sleeve:
            pieces["label", f"marking sleeve {wire.sleeve}, {bore}"] += 1
        if "contact" in kind:
            size = kind.split()[-1]
            pieces["seal", f"wire seal size {size}"] += 1
            if PAIR in kind:
                gender = "socket" if kind.startswith("pin") else "pin"
                pieces["pair", f"one-way shells of a pair, size {size}"] += 1
                pieces["pair", f"tail's half of a pair, {gender} and seal, size {size}"] += 1
            continue
        if "end cap" in kind:
            continue
        if kind.endswith(" post"):
            posts[end.place, end.point] = " ".join(kind.split()[-2:])
        area = where[end.station]
        recipe = RECIPES[zone_of(area.water, engine_heat=area.engine_heat)]
        length_m = sleeve_length_mm(over_mm) / 1000
        metres[f"{recipe.sleeve}, {bore}"] += length_m  # type: ignore[assignment]
        if recipe.second_sleeve:
            second, _, _ = recipe.second_sleeve.partition(",")
            metres[f"{second}, {bore}"] += length_m + PAST_BOTH_ENDS_MM / 1000  # type: ignore[assignment]
        lands = "ring" in kind or "lug" in kind
        greased += draft.aboard.profile.grease == "in_barrel"
        greased += (
            draft.aboard.profile.grease == "at_landing" and recipe.grease_at_landing and lands
        )
    for item, length_m in metres.items():
        yield ShelfPart("heat-shrink", item, math.ceil(length_m * 100) / 100, "m")
    for (kind, item), count in pieces.items():
        yield ShelfPart(kind, item, count)
    for item, count in Counter(posts.values()).items():
        yield ShelfPart("post", f"{item} M6 with boot", count)
    if greased:
        yield ShelfPart("grease", "terminal grease", greased, "ends")


def _run_parts(draft: Draft) -> Iterator[ShelfPart]:
    """Yield loom, conduit, ties and grommets of the runs that wires take."""
    inside = draft.occupants
    made = [
        section(draft, run, inside[run.id])
        for run in draft.aboard.boat.runs
        if inside.get(run.id) and run.id not in draft.reuse.runs
    ]
    metres: Counter[str] = Counter()
    for piece in made:
        if piece.run.enclosure != "open":
            metres[f"{piece.run.enclosure}, {_bore(piece)}"] += piece.run.wire_m  # type: ignore[assignment]
    for item, length_m in metres.items():
        yield ShelfPart("loom and conduit", item, math.ceil(length_m * 100) / 100, "m")
    ties = sum(piece.supports + 1 for piece in made)
    if ties:
        yield ShelfPart("support", "tie or clip, with its screw", ties)
    grommets = Counter(_bore(piece) for piece in made if piece.grommet)
    for bore, count in grommets.items():
        yield ShelfPart("support", f"grommet for {bore}", count)
    yield from _gland_parts(draft)
    posts = [post for post in draft.assembled.posts if post.place not in draft.reuse.places]
    if posts:
        yield ShelfPart("post", f"insulated post {BORDER_STUD}", len(posts))


def _gland_parts(draft: Draft) -> Iterator[ShelfPart]:
    """Yield a gland for every border that a heavy conductor passes whole."""
    diameter = {wire.gauge: wire.diameter_mm for wire in draft.catalogue.wires}
    found: Counter[str] = Counter()
    for passing in passing_whole(draft):
        if not draft.reuse.is_new(passing.wire):
            continue
        over_mm = diameter[str(passing.wire.gauge)]
        gland = gland_for(over_mm)
        thread = f"{gland.thread} " if gland else ""
        found[f"cable gland {thread}for {over_mm:g} mm"] += 1
    for item, count in found.items():
        yield ShelfPart("gland", item, count)


def _bore(piece: Section) -> str:
    """Say the bore that is fitted, or the smallest on the shelf that takes the bundle."""
    bore = piece.run.bore_mm or piece.needed_bore_mm
    return f"bore {bore:g} mm" if bore else "bore above 90 mm"


def _boots(draft: Draft) -> Iterator[ShelfPart]:
    """Yield a boot for every live end on a post or stud, by what it goes over."""
    over = Counter(end.termination.kind for wire, end in _ends(draft) if booted(wire, end))
    for kind, count in over.items():
        yield ShelfPart("boot", f"boot over {kind}", count)


def _recorded_parts(draft: Draft) -> Iterator[ShelfPart]:
    """Yield what continues a recorded cable: its tails by length, a transition piece each joint."""
    found: Counter[str] = Counter()
    for item in draft.recorded:
        tails = [piece for piece in item.pieces if piece.kind == "extension tail"]
        found.update(f"extension tail, {item.record.kind}, {_tail_m(t):g} m" for t in tails)
        found[f"transition piece, {item.record.kind}"] += len(item.pieces) - 1
    for name, count in found.items():
        if count:
            yield ShelfPart("recorded", name, count)


def _tail_m(piece: RecordPiece) -> float:
    """Return the length a tail is ordered in: in whole tenths, never short."""
    return math.ceil(round(piece.length_m * 10, 6)) / 10


def shelf_parts(draft: Draft) -> tuple[ShelfPart, ...]:
    """Return them kind by kind, each kind by name and size."""
    found = [*_boat_parts(draft), *_joint_parts(draft), *_run_parts(draft)]
    found += [*_boots(draft), *_recorded_parts(draft)]
    order = {kind: i for i, kind in enumerate(dict.fromkeys(part.kind for part in found))}
    return tuple(sorted(found, key=lambda part: (order[part.kind], in_reading_order(part.item))))
