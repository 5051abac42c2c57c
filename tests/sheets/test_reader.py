"""A reader who has nothing but the printed harness sheets: does any wire leave him a question?"""

import re
from collections import defaultdict
from typing import NamedTuple

import pytest

from tests.conftest import drafted
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.drafting import Draft
from vivid_loom.drafting.making.wire import End, Wire
from vivid_loom.sheets import packet_pages
from vivid_loom.sheets.paper.drawing import Line, Page, Text

HEADS = (
    "wire",
    "gauge and colour, circuit",
    "cut mm",
    "cut in",
    "ends: label",
    "where",
    "terminal",
    "strip",
    "steps",
)


class Answer(NamedTuple):
    """What the sheets say of a wire."""

    harness: str
    spool: str
    circuit: str
    cut_mm: str
    labels: tuple[str, str]
    where: tuple[str, str]
    terminals: tuple[str, str]
    strips: tuple[str, str]
    recipes: tuple[str, str]
    remark: str


def _bands(page: Page) -> list[list[Text]]:
    """Return the words between one rule and the next, down the page."""
    rules = sorted({i.points[0][1] for i in page.items if isinstance(i, Line)})
    words = [item for item in page.items if isinstance(item, Text)]
    return [
        [word for word in words if above < word.y <= below]
        for above, below in zip(rules, [*rules[1:], 1e9], strict=True)
    ]


def _columns(page: Page) -> dict[str, float]:
    """Return where each column of the cut list begins, or ends where it is set right."""
    found: dict[str, float] = {}
    for word in page.items:
        if isinstance(word, Text) and word.size == 2.5 and word.text in HEADS:
            found.setdefault(word.text, word.x)  # the plugs have their own below
    return found


def read(pages: list[Page], title: str) -> dict[str, Answer]:
    found: dict[str, Answer] = {}
    for page in pages:
        if page.title != title or not (at := _columns(page)).get("terminal"):
            continue
        for band in _bands(page):
            if not any(word.text == "☐" for word in band):
                continue
            ends = sorted(
                {w.y for w in band if w.x == pytest.approx(at["steps"], abs=0.05)}
            )  # each end has its recipe on its first line
            split = ends[1]

            def two(column: str, band: list[Text] = band, split: float = split) -> tuple[str, str]:
                words = [w for w in band if w.x == pytest.approx(at[column], abs=0.05)]
                first = " ".join(w.text for w in words if w.y < split - 0.1)
                other = " ".join(w.text for w in words if w.y > split - 0.1)
                return first, other

            wire = two("wire")[0]
            quiet = [w.text for w in band if w.colour == "#5c6066"]
            found[wire] = Answer(
                title,
                *two("gauge and colour, circuit"),
                two("cut mm" if "cut mm" in at else "cut in")[0],
                two("ends: label"),
                two("where"),
                two("terminal"),
                two("strip"),
                two("steps"),
                " ".join(quiet),
            )
    return found


class Jumper(NamedTuple):
    """What the back of a panel says of a jumper."""

    spool: str
    cut: str
    labels: tuple[str, str]
    terminals: tuple[str, str]
    strip: str
    recipe: str


LANE_MM = 84.0  # three lanes a page


def read_jumpers(pages: list[Page]) -> dict[str, Jumper]:
    """Read the jumpers by their batches: spool, terminal and length stand over them."""
    found: dict[str, Jumper] = {}
    backs = [p for p in pages if "wire side" in p.title or p.title == "Switch panels: none"]
    words = [w for page in backs for w in page.items if isinstance(w, Text)]
    notes = " ".join(w.text for w in words if w.colour == "#5c6066")
    for page in backs:
        here = [w for w in page.items if isinstance(w, Text)]
        for tick in (w for w in here if w.text == "☐"):
            lane = [w for w in here if tick.x - 1 < w.x < tick.x + LANE_MM]
            row = sorted((w for w in lane if abs(w.y - tick.y) < 0.1), key=lambda w: w.x)
            heads = [w for w in lane if re.search(r": \d+( of |$)", w.text) and w.y < tick.y]
            spool, _, batch = max(heads, key=lambda w: w.y).text.rpartition(": ")
            if " of " not in batch:  # feeds by length: their harness's cut list tells them
                continue
            gauge_colour, _, terminal = spool.partition(", ")
            wire, start, end = (w.text for w in row[1:])
            made = re.search(re.escape(terminal) + r", strip ([\d.]+) mm, steps (R\d+)", notes)
            labels, kinds = zip(*(_tab_words(w, terminal) for w in (start, end)), strict=True)
            strip, recipe = made.groups() if made else ("", "")
            cut = batch.split(" of ")[1]
            found[wire] = Jumper(gauge_colour, cut, labels, kinds, strip, recipe)
    return found


def _tab_words(words: str, terminal: str) -> tuple[str, str]:
    """Return a tab without its mark, and what is crimped on there."""
    doubled = words.endswith(" PB")
    kind = terminal.replace("push-on", "piggyback push-on") if doubled else terminal
    return words.removesuffix(" PB"), kind


def _key(pages: list[Page]) -> dict[str, str]:
    """Return what stands beside every code, lane by lane."""
    words = [
        i for p in pages if p.title == "Key to the codes" for i in p.items if isinstance(i, Text)
    ]
    codes = [word for word in words if word.bold and word.size == 2.15]
    found: dict[str, str] = {}
    for code in codes:
        below = min((c.y for c in codes if c.x == code.x and c.y > code.y), default=1e9)
        beside = [w for w in words if code.x < w.x < code.x + 20 and code.y <= w.y < below]
        found[code.text] = " ".join(w.text for w in beside)
    return found


def _rows_by_first_word(pages: list[Page], title: str) -> dict[str, str]:
    return {
        band[0].text: " ".join(word.text for word in band[1:])
        for page in pages
        if page.title == title
        for band in _bands(page)
        if band
    }


def _joined(wires: tuple[Wire, ...]) -> dict[tuple[str, str], set[str]]:
    joints: dict[tuple[str, str], set[str]] = defaultdict(set)
    for wire in wires:
        for end in (wire.start, wire.end):
            if end.kind in ("lead", "tail"):
                joints[end.place, end.point].add(wire.id)
    return joints


def _open_questions(done: Draft) -> tuple[list[str], int]:
    """Return what the sheets leave open, and how many answers they gave."""
    pages = [*packet_pages(done)]
    recipes = _rows_by_first_word(pages, "Recipes and jaws")
    keyed = _key(pages)
    cables = {cable.id: cable.stock.name for cable in done.assembled.cables}
    names = {a.id: a.name for a in done.aboard.boat.assemblies}
    stations = {s.id: s.name for s in done.aboard.boat.stations}
    circuits = {row.id: row.planned.label for row in done.rows}
    joints = _joined(done.assembled.wires)
    told = {name: read(pages, title) for name, title in names.items()}
    jumpers = read_jumpers(pages)
    asked: list[str] = []
    answers = 0
    areas = done.aboard.boat.area_at

    def zone_at(station: str) -> str:
        area = areas[station]
        if area.engine_heat and area.water != "submersible":
            return "engine"
        return {"dry": "dry", "spray": "wet", "submersible": "bilge"}[area.water]

    def ask(wire: Wire, what: str, said: str, is_so: bool) -> None:
        nonlocal answers
        answers += is_so
        if not is_so:
            asked.append(f"{wire.id} {what}: the sheet says {said!r}")

    def one_end(wire: Wire, end: End, side: int, said: Answer) -> None:
        ask(wire, "label", said.labels[side], f"{wire.id} {said.labels[side]}" == end.label)
        ask(wire, "where", said.where[side], said.where[side].endswith(stations[end.station]))
        kind, jaw = end.termination.kind, end.termination.jaw
        ask(wire, "terminal", said.terminals[side], said.terminals[side].startswith(kind))
        ask(wire, "strip", said.strips[side], said.strips[side] == f"{end.termination.strip_mm:g}")
        steps = recipes.get(said.recipes[side][:-1], "")
        ask(wire, "steps", steps, "label sleeve on" in steps)
        zone = zone_at(end.station)
        ask(wire, "zone", zone, said.recipes[side][-1] == zone[0] and zone in steps)
        ask(wire, "jaw", jaw, not jaw or kind in recipes.get(jaw, ""))
        mates = joints.get((end.place, end.point), set()) - {wire.id}
        named = set(re.findall(r"[A-Z]\d+-\w+", said.remark))
        ask(wire, "what shares its joint", said.remark, mates <= named)
        tail = end.device_lead.removeprefix(end.point).strip()
        ask(wire, "device's lead", tail, tail in f"{said.terminals[side]} {said.remark}")

    def jumper(wire: Wire, said: Jumper) -> None:
        ask(wire, "spool", said.spool, said.spool == f"{wire.gauge} {wire.colour}")
        cut = f"{wire.cut_mm / 25.4:.1f}".removesuffix(".0") + " in"
        cut = cut if done.aboard.profile.units == "ft" else f"{wire.cut_mm:g} mm"
        ask(wire, "length", said.cut, said.cut == cut)
        for side, end in enumerate((wire.start, wire.end)):
            label = f"{wire.id} {said.labels[side]}"
            ask(wire, "tab", label, label == f"{wire.id} {end.place} {end.point}")
            ask(
                wire, "terminal", said.terminals[side], said.terminals[side] == end.termination.kind
            )
            ask(wire, "strip", said.strip, said.strip == f"{end.termination.strip_mm:g}")
            jaw = end.termination.jaw
            ask(wire, "jaw", jaw, end.termination.kind in recipes.get(jaw, ""))
            ask(wire, "steps", said.recipe, "label sleeve on" in recipes.get(said.recipe, ""))

    for wire in done.assembled.wires:
        if behind := jumpers.get(wire.id):
            jumper(wire, behind)
            continue
        said = told[wire.harness].get(wire.id)
        if said is None:
            asked.append(f"{wire.id} is on no sheet")
            continue
        ask(wire, "spool", said.spool, said.spool.startswith(f"{wire.gauge} {wire.colour}"))
        in_feet = done.aboard.profile.units == "ft"
        cut = f"{wire.cut_mm / 25.4:.1f}".removesuffix(".0") if in_feet else f"{wire.cut_mm:g}"
        cut = "stays" if wire.id in done.reuse.kept else cut
        ask(wire, "length", said.cut_mm, said.cut_mm == cut)
        ask(wire, "circuit", said.circuit, said.circuit == circuits[wire.circuit])
        sleeve = not wire.sleeve or f"sleeve {wire.sleeve}" in said.spool
        ask(wire, "sleeve", said.spool, sleeve)
        core = f"core {wire.core} of {wire.cable}"
        ask(wire, "core", said.spool, not wire.cable or core in said.spool)
        cable = wire.cable.partition(".")[0]  # one piece of it in each harness
        ask(wire, "cable", cable, not cable or cables[cable] in keyed.get(cable, ""))
        for side, end in enumerate((wire.start, wire.end)):
            one_end(wire, end, side, said)
    return asked, answers


@pytest.mark.parametrize("hull", ["0417", "0609", "0611"])
def test_the_printed_packet_leaves_no_question_of_any_wire(hull: str) -> None:
    done = drafted(DEMO_FOLDER / f"hull-{hull}.loom.json")
    asked, answers = _open_questions(done)
    assert asked == []
    jumpers = len(read_jumpers([*packet_pages(done)]))
    assert jumpers > 20
    assert answers == 24 * (len(done.assembled.wires) - jumpers) + 12 * jumpers
    print(f"hull {hull}: {len(done.assembled.wires)} wires, {answers} answers")
