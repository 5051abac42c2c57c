"""How a harness goes into the boat: branch by branch from its datum, and what holes must pass."""

from collections import defaultdict
from typing import NamedTuple

from vivid_loom.drafting import Draft
from vivid_loom.drafting.making.plugs import Plug
from vivid_loom.standards.terminals import SHELL_MM
from vivid_loom.workshop.bundles import Section
from vivid_loom.workshop.harness.tree import Branch, HarnessTree, tree_sections
from vivid_loom.workshop.harness.whole import passing_whole

__all__ = ["InstallStep", "install_steps"]


class InstallStep(NamedTuple):
    """A branch that is drawn in.

    Attributes:
        areas: from which area into which, by name; the same twice where it stays within one.
        hole_mm: what a hole must pass: the bundle with room to grow, or the largest plug behind.
        largest: the plug that decides ``hole_mm``; '' where the bundle does.
        late: plugs whose shells do not pass the conduit or loom that is fitted: their contacts are
            crimped on the bench, and pushed home when the branch lies.
        mates: plugs that are mated at its far station.
        panels: that are there with a gasket to lay.
        whole: wires that pass a border whole at one of its ends, by id; each once, where the
            first branch reaches it.
    """

    harness: str
    branch: Branch
    areas: tuple[str, str]
    hole_mm: float
    largest: str
    late: tuple[str, ...]
    mates: tuple[str, ...]
    panels: tuple[str, ...]
    whole: tuple[str, ...] = ()

    @property
    def passes(self) -> bool:
        """It goes from one area into another: a grommet, or a seal where one of them is wet."""
        return self.areas[0] != self.areas[1]


def _behind(tree: HarnessTree) -> dict[str, set[str]]:
    """Return the stations behind each branch, seen from the datum."""
    found: dict[str, set[str]] = {}
    beyond: dict[str, set[str]] = defaultdict(set)
    for branch in reversed(tree.branches):
        here = set() if branch.closes else {branch.far, *beyond[branch.far]}
        found[branch.id] = here
        beyond[branch.near] |= here
    return found


def _in_order(tree: HarnessTree) -> list[Branch]:
    """Return branches as they are drawn in: outward, each limb to its end before the next.

    Of several the one with most wires first, while there is most room.
    """
    beside: dict[str, list[Branch]] = defaultdict(list)
    for branch in tree.branches:
        beside[branch.near].append(branch)
    found: list[Branch] = []
    waiting = [tree.datum]
    while waiting:
        here = waiting.pop()
        onward = sorted(beside[here], key=lambda b: (-len(b.wires), b.id))
        found += onward[:1]
        beside[here] = onward[1:]
        if onward[1:]:
            waiting.append(here)
        if onward and not onward[0].closes:
            waiting.append(onward[0].far)
    return found


def _shell_mm(plug: Plug) -> float:
    return SHELL_MM[plug.contact, plug.ways]


def _step(
    draft: Draft, tree: HarnessTree, branch: Branch, cut: Section, behind: set[str]
) -> InstallStep:
    boat = draft.aboard.boat
    names = {area.id: area.name for area in boat.areas}
    own = [p for p in draft.assembled.plugs if tree.assembly.id in (p.live, p.dead)]
    passing = [plug for plug in own if plug.station in behind]
    largest = max(passing, key=_shell_mm, default=None)
    hole_mm, told = cut.grown_mm, ""
    if largest and _shell_mm(largest) > hole_mm:
        hole_mm, told = _shell_mm(largest), largest.id
    bore = branch.run.bore_mm or cut.needed_bore_mm
    closed = branch.run.enclosure == "conduit" and bore is not None
    late = tuple(p.id for p in passing if closed and bore and _shell_mm(p) > bore)
    return InstallStep(
        tree.id,
        branch,
        (names[boat.area_at[branch.near].id], names[boat.area_at[branch.far].id]),
        hole_mm,
        told,
        late,
        tuple(p.id for p in own if p.station == branch.far),
        tuple(p.name for p in boat.panels if p.gasket and p.station == branch.far),
    )


def install_steps(draft: Draft, tree: HarnessTree) -> tuple[InstallStep, ...]:
    """Return how a harness goes in, branch by branch from its datum."""
    behind, cuts = _behind(tree), tree_sections(draft, tree)
    own = {wire.id for wire in tree.wires}
    left = [(w.wire.id, w.station) for w in passing_whole(draft) if w.wire.id in own]
    found: list[InstallStep] = []
    for branch in _in_order(tree):
        step = _step(draft, tree, branch, cuts[branch.id], behind[branch.id])
        here = [at for at in left if at[0] in branch.wires and at[1] in (branch.near, branch.far)]
        left = [at for at in left if at not in here]
        found.append(step._replace(whole=tuple(dict.fromkeys(wire for wire, _ in here))))
    return tuple(found)
