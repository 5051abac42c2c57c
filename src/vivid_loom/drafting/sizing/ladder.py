"""The sizes an order may use, with what each bears, as arrays."""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from vivid_loom.catalogue import Catalogue
from vivid_loom.drafting.errors import DraftError
from vivid_loom.order import Profile
from vivid_loom.quantities import Gauge
from vivid_loom.standards import ampacity, conductor, duty
from vivid_loom.standards.source import NotInTableError

__all__ = ["Ladder", "ladder_of"]

Floats = NDArray[np.float64]


class Ladder(NamedTuple):
    """Stocked sizes of the order's series, thinnest first.

    Attributes:
        ohm_per_m: at the profile's conductor temperature.
        free_air_a: ampacity at 30 °C outside engine spaces.
        time_constant_s: of heating, see ``standards.duty``.
    """

    gauges: tuple[Gauge, ...]
    area_mm2: tuple[float, ...]
    ohm_per_m: Floats
    free_air_a: Floats
    time_constant_s: Floats

    def rung(self, text: str | None, place: str) -> int:
        """Return the thinnest rung not below the gauge ``text``; 0 for none.

        Raises:
            DraftError: nothing stocked is thick enough.
        """
        if text is None:
            return 0
        try:
            wanted = Gauge.parse(text)
            fits = (
                i for i, gauge in enumerate(self.gauges) if not conductor.is_thinner(gauge, wanted)
            )
            found = next(fits, None)
        except ValueError as error:
            raise DraftError(place, f"found {text!r}: {error}") from error
        if found is None:
            raise DraftError(place, f"found {text!r}, expected a size that a stocked one reaches")
        return found

    def lying(self, text: str) -> int:
        """Return the rung of a gauge that lies in the boat; 0 for none of this series."""
        return next((i for i, gauge in enumerate(self.gauges) if str(gauge) == text), 0)

    def exactly(self, text: str, place: str) -> int:
        """Return the rung of a stocked gauge.

        Raises:
            DraftError: no gauge, or one that is not stocked.
        """
        try:
            return self.gauges.index(Gauge.parse(text))
        except ValueError:
            sizes = ", ".join(str(gauge) for gauge in self.gauges)
            raise DraftError(place, f"found {text!r}, expected a stocked size: {sizes}") from None


def ladder_of(catalogue: Catalogue, profile: Profile) -> Ladder:
    """Return the ladder of a profile's series.

    Raises:
        DraftError: the catalogue stocks nothing of the series, or the insulation has no table.
    """
    stocked = {Gauge.parse(wire.gauge) for wire in catalogue.wires}
    gauges = tuple(g for g in conductor.SIZING_LADDER[profile.series] if g in stocked)
    if not gauges:
        raise DraftError("catalogue.wires", f"found no {profile.series} wire, expected some")
    try:
        bears = [ampacity.ampacity_a(g, profile.insulation_c) for g in gauges]
    except NotInTableError as error:
        raise DraftError("profile.insulation_c", str(error)) from error
    return Ladder(
        gauges,
        tuple(conductor.area_mm2(g) for g in gauges),
        np.array([conductor.ohm_per_m(g, profile.conductor_c) for g in gauges]),
        np.array(bears),
        np.array(
            [
                duty.time_constant_s(
                    conductor.area_mm2(g),
                    bears[i],
                    conductor.ohm_per_m(g, profile.insulation_c),
                    profile.insulation_c,
                )
                for i, g in enumerate(gauges)
            ]
        ),
    )
