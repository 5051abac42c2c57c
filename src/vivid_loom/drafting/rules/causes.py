"""Which findings follow from another: mend that one, and they are gone.

What an engineer overruled or laid by hand may break rules that the draft keeps by itself; a pump
fed from two places is wrong in several ways. Such findings stand under the one they follow from.
"""

from typing import Final, NamedTuple

from vivid_loom.drafting.drafted import Draft
from vivid_loom.drafting.findings import GRAVITY, Finding, Severity

__all__ = ["Group", "grouped"]

_BY_SIZE: Final = ("S01", "S05", "S06", "S11", "S12", "S16", "S17", "P08", "P16", "P26", "P30")
_BY_RATING: Final = (
    *("S03", "S04", "S08", "K05", "K06", "K08", "K09", "K10", "K12", "K14", "K19"),
    *("P04", "P13", "P15", "P17", "P24", "P29", "S19"),
)
_BY_BOTH: Final = ("S02", "S07", "K01", "K02", "K15")
_BY_COLOUR: Final = ("I01", "I02", "I03", "I04", "I06", "I07", "I11")
_BY_JUMPER: Final = ("A09", "A32", "A33", "A34", "A35", "A36", "A38", "A39", "P09")

_FIELDS: Final = {
    "gauge": frozenset((*_BY_SIZE, *_BY_BOTH)),
    "protection": frozenset((*_BY_RATING, *_BY_BOTH)),
    "positive colour": frozenset(_BY_COLOUR),
    "negative colour": frozenset(_BY_COLOUR),
}
"""What may follow from an override (S10), by the field that it sets."""

_FOLLOWS: Final = {
    "A02": frozenset(("A03", "A31", "A39")),
    "P06": frozenset(("K03",)),
    "A49": frozenset(_BY_JUMPER),
}
"""What may follow from a finding, by its code, where both speak of one thing."""


class Group(NamedTuple):
    """A finding with those that follow from it."""

    cause: Finding
    follows: tuple[Finding, ...] = ()

    @property
    def severity(self) -> Severity:
        """That of the gravest."""
        return min((f.severity for f in (self.cause, *self.follows)), key=GRAVITY.index)


def _may_follow(code: str, cause: Finding) -> bool:
    if cause.code == "S10":
        return code in _FIELDS.get(dict(cause.values)["field"], ())
    return code in _FOLLOWS.get(cause.code, ())


def grouped(draft: Draft) -> tuple[Group, ...]:
    """Return the standing findings, each with what follows from it; the gravest groups first."""
    places = {switch.request.id: switch.place for switch in draft.switches}

    def spoken_of(finding: Finding) -> frozenset[str]:
        named = set(finding.subjects)
        return frozenset(named | {places[name] for name in named if name in places})

    causes = [f for f in draft.findings if f.code == "S10" or f.code in _FOLLOWS]
    about = {cause: spoken_of(cause) for cause in causes}

    def cause_of(finding: Finding) -> Finding | None:
        mine = spoken_of(finding)
        fitting = (c for c in causes if _may_follow(finding.code, c) and about[c] & mine)
        return next(fitting, None)

    follows: dict[Finding, list[Finding]] = {}
    first: list[Finding] = []
    for finding in draft.findings:
        cause = cause_of(finding)
        if cause is None:
            first.append(finding)
        else:
            follows.setdefault(cause, []).append(finding)
    groups = (Group(finding, tuple(follows.get(finding, ()))) for finding in first)
    return tuple(sorted(groups, key=lambda group: GRAVITY.index(group.severity)))
