"""Rules about the helm: which switch stands where, and what its levers light."""

from collections.abc import Iterator

from vivid_loom.drafting.drafted import Draft
from vivid_loom.drafting.findings import Finding, FindingKind, words
from vivid_loom.standards.source import OUR_CHOICE, Source

__all__ = ["RULES"]

HALF_DEAD = FindingKind(
    "A08",
    "error",
    "double pole with one pole fed",
    "{legend} is a {arrangement} with only pole {pole} fed: half of it is dead.",
    "Feed the second pole, or fit a single-pole switch.",
    OUR_CHOICE,
)
WRONG_LIGHT = FindingKind(
    "A09",
    "error",
    "light burns in the wrong position",
    "{legend} lever {lever}: {name} is {is_now} and must be {must}.",
    "Correct the throws of its contact.",
    Source("COLREGs 72", "rules 23 and 30"),
)
HIDDEN = FindingKind(
    "A26",
    "judge",
    "emergency switch far from the first position",
    "{legend} is an emergency switch in position {position}, behind {before}.",
    "Put emergency switches first, where a hand finds them in the dark.",
    Source("common practice", "emergency switches first", "no source"),
)
NO_SPARE = FindingKind(
    "A27",
    "note",
    "no spare helm position",
    "All {count} positions of the helm are taken.",
    "Keep one or two for what comes later.",
    OUR_CHOICE,
)


def helm_order(draft: Draft) -> Iterator[Finding]:
    """Emergency switches come first; some positions stay free."""
    placed = sorted((s for s in draft.switches if s.position), key=lambda s: s.position)
    ahead = ""  # the first switch of a lesser rank
    for switch in placed:
        if switch.request.rank == 0 and ahead:
            told = words(legend=switch.request.legend, position=switch.position, before=ahead)
            yield Finding(HIDDEN, (switch.request.id,), told)
        elif switch.request.rank > 0:
            ahead = ahead or switch.request.legend
    boat = draft.aboard.boat
    if boat.panels and len(placed) == boat.positions:
        yield Finding(NO_SPARE, (boat.panels[0].id,), words(count=boat.positions))


def poles(draft: Draft) -> Iterator[Finding]:
    """Both poles of a double-pole switch are fed."""
    for switch in draft.switches:
        fed = {use.pole for use in switch.uses}
        if switch.part.poles == 2 and len(fed) == 1:
            yield Finding(
                HALF_DEAD,
                (switch.uses[0].circuit, switch.request.id),
                words(
                    legend=switch.request.legend, arrangement=switch.part.arrangement, pole=min(fed)
                ),
            )


def lights(draft: Draft) -> Iterator[Finding]:
    """Each lamp burns in exactly the lever positions its function asks for."""
    for switch in draft.switches:
        for lever, lit in switch.lit:
            for use in switch.uses:
                row = draft.circuit(use.circuit)
                for name in row.planned.loads if row else ():
                    load = draft.aboard.loads[name]
                    if load.lit_in and (name in lit) != (lever in load.lit_in):
                        yield Finding(
                            WRONG_LIGHT,
                            (use.circuit, switch.request.id),
                            words(
                                legend=switch.request.legend,
                                lever=lever,
                                name=load.name,
                                is_now="lit" if name in lit else "dark",
                                must="lit" if lever in load.lit_in else "dark",
                            ),
                        )


RULES = (helm_order, poles, lights)
