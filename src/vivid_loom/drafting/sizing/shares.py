"""How much each feeder may drop: feeders in a row share what they may drop together.

A share goes by length × ⁴√A; a feeder in several rows takes its least. So no feeder becomes thicker
because less hangs on a boat, whatever else that changes: sizes found by weighing all copper at once
leapt from one feeder to another with every load that was taken away.

For one row and sizes without steps √A would be best (from minimising Σ S·L at a given drop). Sizes
have steps, and what is small is bounded by the shop's floor: with ⁴√A the demo boats take the least
copper, 64.6 kg (√A 64.7, length alone 67.2, all copper weighed at once 65.0).
"""

from collections.abc import Mapping, Sequence
from typing import Final, NamedTuple

__all__ = ["SHORT_M", "Row", "Share", "shares"]

SHORT_M: Final = 1.0
"""A shorter feeder shares as one of this length: more copper on it saves next to nothing."""


class Row(NamedTuple):
    """Feeders in a row.

    Attributes:
        moments_am: current × length of each, of what the row counts: there, home or both.
        most_v: what they may drop together.
        branch: id of the circuit whose own limit that follows from; '' for the feeders' share.
    """

    moments_am: Mapping[str, float]
    most_v: float
    branch: str = ""


class Share(NamedTuple):
    """What one feeder may drop.

    Attributes:
        row_v: what its row may, and ``left_v`` without those whose size stands already.
        weight, whole: length × ⁴√A of its own, and of all that share in what is left.
        moment_am: current × length that the row counts of it.
        branch: see ``Row``.
    """

    row_v: float
    left_v: float
    weight: float
    whole: float
    moment_am: float
    branch: str

    @property
    def ohm_per_m(self) -> float:
        """The greatest resistance per metre with which it keeps to its share."""
        return max(0.0, self.left_v) * self.weight / (self.whole * self.moment_am)


def shares(
    rows: Sequence[Row], weights: Mapping[str, float], least_ohm: Mapping[str, float]
) -> dict[str, Share]:
    """Return the least share of every feeder that drops anything in some row.

    Args:
        weights: length × ⁴√A of each feeder.
        least_ohm: resistance per metre of the thickest wire its terminals take, or of the one the
            engineer set: what it drops more than its share, all others drop less.
    """
    found: dict[str, Share] = {}
    for row in rows:
        for name, share in _of_row(row, weights, least_ohm).items():
            if name not in found or share.ohm_per_m < found[name].ohm_per_m:
                found[name] = share
    return found


def _of_row(
    row: Row, weights: Mapping[str, float], least_ohm: Mapping[str, float]
) -> dict[str, Share]:
    """Return the share of every feeder of a row."""
    free = {n: am for n, am in row.moments_am.items() if am > 0 and weights[n] > 0}
    found: dict[str, Share] = {}
    left_v = row.most_v
    while free:
        whole = sum(weights[name] for name in free)
        now = {
            name: Share(row.most_v, left_v, weights[name], whole, am, row.branch)
            for name, am in free.items()
        }
        over = [name for name, share in now.items() if share.ohm_per_m < least_ohm[name]]
        found |= now
        if not over or left_v <= 0:
            break
        for name in over:
            left_v -= free.pop(name) * least_ohm[name]
    return found
