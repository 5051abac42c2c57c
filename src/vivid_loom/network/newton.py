"""Newton's method over what bends: everything else is linear and has been worked out before."""

from typing import Final

import numpy as np
from numpy.typing import NDArray

from vivid_loom.network.laws import Bent

__all__ = ["newton"]

Floats = NDArray[np.float64]
STEPS: Final = 40
CLOSE: Final = 1e-9  # of the greatest voltage: the step after would be lost in rounding
LEAST_V: Final = 1e-3  # a step is never held shorter
HOPELESS: Final = 8  # steps in a row, each asking for more than the one before: it runs away


def newton(bent: Bent, slopes: Floats, per_ampere: Floats, undrawn: Floats, v: Floats) -> Floats:
    """Return the voltages over what bends at which its currents balance, or the last tried.

    No voltage moves further at once than leads towards balance.

    Args:
        slopes: that the linear network has what bends for.
        per_ampere: volts over each per ampere that each draws beyond those, shape (bent, bent).
        undrawn: volts over each with nothing drawn beyond.
        v: to begin from.
    """
    first, second = bent.starts
    inputs, outputs = slice(second, None), first + bent.output
    unit = np.eye(len(v))

    def off(at: Floats) -> Floats:
        missing: Floats = at - undrawn + per_ampere @ (bent.currents(at) - slopes * at)
        return missing

    furthest = 0.25 * float(np.abs(v).max(initial=0.0))
    missing = off(v)
    was, last, growing = float(np.linalg.norm(missing)), np.inf, 0
    for _ in range(STEPS):
        lines = unit + per_ampere * (bent.slopes(v) - slopes)
        # what a converter takes follows from the voltage of its output too
        np.add.at(lines.T, outputs, (per_ampere[:, inputs] * bent.coupling(v)).T)
        try:
            step = np.linalg.solve(lines, missing)
        except np.linalg.LinAlgError:
            break  # every voltage is as good here; whoever asked sees that none balances
        longest = float(np.abs(step).max(initial=0.0))
        share = min(1.0, furthest / max(longest, 1e-300))
        v = v - share * step
        missing = off(v)
        now = float(np.linalg.norm(missing))
        if now > was:
            furthest = max(furthest / 2, LEAST_V)
        was = now
        growing = growing + 1 if longest > last else 0
        if longest <= CLOSE * float(np.abs(v).max(initial=0.0)) or growing == HOPELESS:
            break
        last = longest
    return v
