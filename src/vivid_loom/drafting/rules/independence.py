"""Rules about safety loads: none is to share a fate with another unless somebody answers for it."""

from collections import defaultdict
from collections.abc import Iterator

from vivid_loom.drafting.drafted import Draft
from vivid_loom.drafting.findings import Finding, FindingKind, words
from vivid_loom.standards.source import OUR_CHOICE

__all__ = ["RULES"]

TOGETHER = {
    "feeder": FindingKind(
        "A16",
        "judge",
        "safety loads on one feeder",
        "{names} hang on one feeder, that of {it}: its device takes them all.",
        "Feed one of them another way, or accept it with a reason.",
        OUR_CHOICE,
    ),
    "plug": FindingKind(
        "A17",
        "judge",
        "safety loads in one plug",
        "{names} pass one plug, {it}: pulled, it takes them all.",
        "Lead one of them through another plug, or accept it with a reason.",
        OUR_CHOICE,
    ),
    "return": FindingKind(
        "A18",
        "judge",
        "safety loads on one return",
        "{names} come home to {it}: one loose feeder takes them all.",
        "Land one of them on another bus, or accept it with a reason.",
        OUR_CHOICE,
    ),
    "bundle": FindingKind(
        "A19",
        "judge",
        "safety loads in one bundle",
        "{names} lie together in {runs}: one chafe takes them all.",
        "Send one of them another way, or accept it with a reason.",
        OUR_CHOICE,
    ),
    "device": FindingKind(
        "A20",
        "judge",
        "navigation lights on one device",
        "{names} share the device of {it}: one fault darkens them all.",
        "Give each its own way, or accept it with a reason.",
        OUR_CHOICE,
    ),
}


def independence(draft: Draft) -> Iterator[Finding]:
    """Loads of one safety word share no feeder, plug, return, bundle or device unless accepted."""
    loads = draft.aboard.loads
    shared: dict[tuple[str, str, str], set[str]] = defaultdict(set)
    runs: dict[tuple[str, str], set[str]] = defaultdict(set)
    plugs: dict[str, set[str]] = defaultdict(set)
    for plug in draft.assembled.plugs:
        for cavity in plug.cavities:
            plugs[cavity.circuit].add(plug.id)
    for row in draft.circuits:
        for name in row.planned.loads:
            word = loads[name].separation
            if not word:
                continue
            shared["feeder", row.planned.source, word].add(name)
            shared["return", row.planned.bus, word].add(name)
            for plug_id in plugs[row.id]:
                shared["plug", plug_id, word].add(name)
            if word == "navigation":
                shared["device", row.id, word].add(name)
            for path in row.paths:
                for run in path.runs:
                    runs[word, run.id].add(name)
    for (what, subject, _), names in sorted(shared.items()):
        if len(names) > 1:
            yield Finding(
                TOGETHER[what], (subject, *sorted(names)), words(names=_said(names, draft))
            )
    for word in sorted({word for word, _ in runs}):
        mine = {run: names for (w, run), names in runs.items() if w == word and len(names) > 1}
        if mine:
            names = set().union(*mine.values())
            told = words(names=_said(names, draft), runs=", ".join(sorted(mine)))
            yield Finding(TOGETHER["bundle"], tuple(sorted(names)), told)


def _said(names: set[str], draft: Draft) -> str:
    *rest, last = (draft.aboard.loads[name].name for name in sorted(names))
    return f"{', '.join(rest)} and {last}" if rest else last


RULES = (independence,)
