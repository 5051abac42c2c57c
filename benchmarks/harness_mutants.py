"""Mutants of the harness: tree, form board, its files, plugs, joints, cut plan, hours."""

from benchmarks.mutant import Mutant

__all__ = ["HARNESS"]

TREE = "tests/sheets/test_harness_lists.py"
BOARD = "tests/workshop/test_board.py"
FILES = "tests/sheets/test_board_files.py"
CUTTING = "tests/workshop/test_cutting.py"
NETS = "tests/netlist/test_drafts.py"

HARNESS = (
    Mutant(
        "a branch as long as measured, without a moving joint's slack",
        "workshop/harness/tree.py",
        "length_mm = run.wire_m * 1000",
        "length_mm = run.length_m * 1000",
        TREE,
    ),
    Mutant(
        "service loops at plugs, not at devices",
        "workshop/harness/tree.py",
        'profile.service_loop_mm if end.kind == "lead"',
        'profile.service_loop_mm if end.kind == "plug"',
        TREE,
    ),
    Mutant(
        "a ring laid closed",
        "workshop/harness/tree.py",
        "closes = far in at_mm",
        "closes = False",
        TREE,
    ),
    Mutant(
        "branches a little short on the board",
        "workshop/harness/board.py",
        "yield [near, _ahead_of(near, course, limb.length_mm)]",
        "yield [near, _ahead_of(near, course, limb.length_mm * 0.999)]",
        BOARD,
    ),
    Mutant(
        "notes over branches",
        "workshop/harness/board.py",
        "if not board.is_free(board.under(x, y, note.width_mm, note.height_mm)):",
        "if False:",
        BOARD,
    ),
    Mutant(
        "branches side by side without room",
        "workshop/harness/board.py",
        "cells = self.board.spread(self.board.along(points), CLEAR_MM)",
        "cells = self.board.spread(self.board.along(points), 0.0)",
        BOARD,
    ),
    Mutant(
        "DXF in inches",
        "sheets/dxf.py",
        "points = [(x, -y) for x, y in item.points]",
        "points = [(x / 25.4, -y / 25.4) for x, y in item.points]",
        FILES,
    ),
    Mutant(
        "sheets that overlap",
        "sheets/tiles.py",
        "self.left + column * self.window_mm[0]",
        "self.left + column * (self.window_mm[0] - 5)",
        FILES,
    ),
    Mutant(
        "halves of a plug exchanged",
        "sheets/harness_lists.py",
        "here, there = pair if pair[0].harness == harness else pair[::-1]",
        "there, here = pair if pair[0].harness == harness else pair[::-1]",
        TREE,
    ),
    Mutant(
        "a joint forgets a wire",
        "sheets/harness_lists.py",
        "for wire, end in met:",
        "for wire, end in met[:1]:",
        NETS,
    ),
    Mutant(
        "plugs alike two stations apart",
        "drafting/making/plugs.py",
        "return apart_mm <= self._free_mm[first] + self._free_mm[second]",
        "return first == second",
        TREE,
    ),
    Mutant(
        "a rest that is kept counts as waste",
        "workshop/cutting/problem.py",
        "cut if stock.length - cut >= keep else stock.length",
        "stock.length",
        CUTTING,
    ),
    Mutant(
        "more cut from a spool than there is",
        "workshop/cutting/bins.py",
        "opened: -length, kept: min(keep, length)",
        "opened: -2 * length, kept: min(keep, length)",
        CUTTING,
    ),
    Mutant(
        "patterns of one length only",
        "workshop/cutting/patterns.py",
        "gain + due > 1e-6 and pattern not in known",
        "gain + due > 1e6 and pattern not in known",
        CUTTING,
    ),
    Mutant(
        "what was cut stays on the shelf",
        "workshop/cutting/plan.py",
        "length_m=cuts.rest_mm / 1000",
        "length_m=spool.length_m",
        "tests/workshop/test_cut_plan.py",
    ),
    Mutant(
        "common lengths too short",
        "drafting/making/common_lengths.py",
        "instead.update({lengths[m]: lengths[j - 1] for m in range(i, j)})",
        "instead.update({lengths[m]: lengths[i] for m in range(i, j)})",
        "tests/workshop/test_cut_plan.py",
    ),
    Mutant(
        "a roof's returns pass no plug",
        "drafting/places/route.py",
        'if point.kind in ("lead", "tail") or home == run.harness',
        'if point.kind in ("lead", "tail", "screw") or home == run.harness',
        "tests/sheets/test_harness_lists.py",
    ),
    Mutant(
        "a heavy plug of any device",
        "standards/terminals.py",
        "        if contact.size in HEAVY and not heavy:",
        "        if contact.size in HEAVY:",
        "tests/drafting/test_heavy_borders.py",
    ),
    Mutant(
        "one gland, however many borders",
        "workshop/harness/whole.py",
        "            if before != after:\n",
        "            if before != after and not found:\n",
        "tests/drafting/test_heavy_borders.py",
    ),
    Mutant(
        "the bench crimps the end behind the gland",
        "workshop/harness/whole.py",
        "found[wire.id] = wire.end if is_last else wire.start",
        "found[wire.id] = wire.start if is_last else wire.end",
        "tests/drafting/test_heavy_borders.py",
    ),
    Mutant(
        "a pair that can be crossed",
        "drafting/making/assemble.py",
        'done = terminate_pair(contact, home=point.name == "minus")',
        "done = terminate_pair(contact, home=False)",
        "tests/drafting/test_pairs.py",
    ),
    Mutant(
        "a pair too weak for its device",
        "drafting/making/assemble.py",
        "return contact_for(gauge, rating_a) or contact_for(gauge, 0.0)",
        "return contact_for(gauge, 0.0)",
        "tests/drafting/test_pairs.py",
    ),
    Mutant(
        "feeds shorter than they are",
        "drafting/making/common_lengths.py",
        'if "tab" in (wire.start.kind, wire.end.kind) and not wire.cable:',
        'if "way" in (wire.start.kind, wire.end.kind) and not wire.cable:',
        "tests/drafting/test_jumper_lengths.py",
    ),
    Mutant(
        "a branch behind a stem keeps its length",
        "workshop/harness/stems.py",
        "length_mm=limb.length_mm - STEM_MM",
        "length_mm=limb.length_mm",
        "tests/workshop/test_board.py",
    ),
)
