"""The feeders a circuit shares with others: what they drop comes out of its own limit."""

from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.sizing.feeder_limits import FeederSize
from vivid_loom.drafting.sizing.ladder import Ladder
from vivid_loom.drafting.sizing.needs import FeederNeed

__all__ = ["shared_feeder_v"]

SharedLeg = tuple[str, float, float, float]


def shared_feeder_v(
    source: str,
    bus: str,
    needs: dict[str, FeederNeed],
    feeders: dict[str, FeederSize],
    aboard: Aboard,
    ladder: Ladder,
) -> list[SharedLeg]:
    """Return the feeder legs a circuit shares: (feeder id and side, A, Ω, V).

    Of several ways from a battery and home to it, the one with the greatest drop. A converter
    holds its output by itself: what is behind one starts there, and returns there.
    """
    network = aboard.boat.network

    def out(name: str) -> SharedLeg:
        ohm = feeders[name].out_m * float(ladder.ohm_per_m[feeders[name].rung])
        amps = needs[name].borne_a
        return (f"{name} plus", amps, ohm, amps * ohm)

    def home(name: str) -> SharedLeg:
        ohm = feeders[name].home_m * float(ladder.ohm_per_m[feeders[name].rung])
        amps = needs[name].home.total_a
        return (f"{name} minus", amps, ohm, amps * ohm)

    loops = [
        [*(out(name) for name in reversed(chain)), *(home(name) for name in back)]
        for chain, back in network.loops(source, bus)
    ]
    return max(loops, key=_volts, default=[])


def _volts(legs: list[SharedLeg]) -> float:
    return sum(leg[3] for leg in legs)
