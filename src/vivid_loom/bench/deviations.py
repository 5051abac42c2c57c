"""Judging what was built otherwise than drawn: by drafting it, and what a joint in a run does."""

from typing import NamedTuple

from vivid_loom.drafting import Draft, Finding
from vivid_loom.order import Deviation
from vivid_loom.quantities import figure
from vivid_loom.standards.conductor import area_mm2
from vivid_loom.standards.contacts import end_ohm

__all__ = ["Judgement", "joint_judged", "judgement"]


class Judgement(NamedTuple):
    """What a deviation does.

    Attributes:
        opens, closes: findings that it brings, and that it clears.
        words: what else is to be said; '' for nothing.
    """

    opens: tuple[Finding, ...]
    closes: tuple[Finding, ...]
    words: str = ""

    @property
    def is_safe(self) -> bool:
        """Whether it brings no error."""
        return not any(finding.severity == "error" for finding in self.opens)


def _told(finding: Finding) -> tuple[str, tuple[str, ...]]:
    return finding.code, finding.subjects


def judgement(drawn: Draft, built: Draft) -> Judgement:
    """Return what a draft as built has among its findings that the draft as drawn has not."""
    before = {_told(f): f for f in drawn.findings}
    after = {_told(f): f for f in built.findings}
    return Judgement(
        tuple(f for key, f in after.items() if key not in before),
        tuple(f for key, f in before.items() if key not in after),
    )


def joint_judged(draft: Draft, deviation: Deviation) -> Judgement:
    """Return what a joint in a run does: what it adds to the drop, and what its place asks for.

    Raises:
        KeyError: no such wire or station.
    """
    wire = next((w for w in draft.assembled.wires if w.id == deviation.subject), None)
    if wire is None:
        raise KeyError(deviation.subject)
    area = draft.aboard.boat.area_at[deviation.value]
    mohm = 2 * end_ohm(area_mm2(wire.gauge)) * 1000
    lost_mv = mohm * wire.current_a
    place = draft.aboard.boat.stations_by_id[deviation.value]
    asks = (
        "adhesive butt, high above the water, never where it can be flooded"
        if area.water != "dry"
        else "adhesive butt"
    )
    words = (
        f"A joint in {wire.id} at {place.name}: {figure(mohm)} mΩ more, {figure(lost_mv)} mV at "
        f"{figure(wire.current_a)} A. {asks.capitalize()}; supported on both sides, labelled, on "
        "the as-built sheets. A harness has no joints in its runs: replace it when it comes out."
    )
    return Judgement((), (), words)
