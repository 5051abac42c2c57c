"""The order: only what people decided."""

import dataclasses
from typing import Literal

from vivid_loom.boat import Fit
from vivid_loom.order.profile import PROFILES, Profile
from vivid_loom.quantities import record

__all__ = ["Order", "Override", "OverrideField"]

OverrideField = Literal[
    "gauge", "protection_a", "positive_colour", "negative_colour", "helm_position", "supply",
    "return_bus",
]  # fmt: skip


@record
class Override:
    """A value the engineer set against the draft's own.

    Attributes:
        subject: circuit id; for a helm position, the switch id.
        value: as text: '12 AWG', '15', 'BN/YE', '3'.
    """

    subject: str
    field: OverrideField
    value: str
    reason: str
    initials: str
    time: str = ""


@record
class Order:
    """A customer order for one hull.

    Attributes:
        boat: file name of the boat, beside the order, or of a shipped demo boat.
        station_date: ISO date on which the hull reaches its wiring station.
        profile: id of a shipped profile.
        profile_changes: fields in which this order departs from it.
        extra: loads, circuits and switches of this order alone.
        removed: ids of standard loads, circuits or switches left out.
    """

    hull: str
    title: str
    boat: str
    station_date: str
    customer: str = ""
    notes: str = ""
    state: Literal["drafting", "checked", "released", "built", "tested", "handed_over"] = "drafting"
    revision: int = 1
    profile: str = "shop"
    profile_changes: tuple[tuple[str, str | float | int], ...] = ()
    options: tuple[str, ...] = ()
    extra: Fit = Fit()
    removed: tuple[str, ...] = ()
    overrides: tuple[Override, ...] = ()

    def effective_profile(self) -> Profile:
        """Return the named profile with this order's changes."""
        return dataclasses.replace(PROFILES[self.profile], **dict(self.profile_changes))  # type: ignore[arg-type]

    def override(self, subject: str, field: OverrideField) -> Override | None:
        """Return the standing override of one value."""
        return next((o for o in self.overrides if (o.subject, o.field) == (subject, field)), None)
