"""A size with its protection, and the steps of arithmetic that circuits and feeders share."""

from collections.abc import Sequence

from vivid_loom.drafting.decision import Alternative, Decision, Step
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.order import Override
from vivid_loom.quantities import Gauge, figure, key_in, record
from vivid_loom.standards import ampacity, conductor, protection

__all__ = ["Sized", "ampacity_step", "protection_decision", "resistance_step", "summed"]


@record
class Sized:
    """Size and protection of one circuit or feeder.

    Attributes:
        ampacity_a: of the conductor here, derated.
        derating: heat × bundling.
        drop_v: from the battery to the worst load and back.
        heating_a: the steady current that heats as much as its duty.
        unserved: limits that no size its terminals take would serve.
        own_drop_v, share_v: of a feeder alone, and what it may use; 0 for circuits.
        home_a: demand on a feeder's return; 0 for circuits, whose legs say what they carry.
        loop_length_m: along the worst path, there and back, without the feeders.
    """

    gauge: Decision[Gauge]
    protection: Decision[float] | None
    current_a: float
    peak_a: float
    ampacity_a: float
    derating: float
    loop_length_m: float
    drop_v: float
    drop_percent: float
    drop_limit_percent: float
    home_a: float = 0.0
    heating_a: float = 0.0
    unserved: tuple[str, ...] = ()
    own_drop_v: float = 0.0
    share_v: float = 0.0


def summed(parts: Sequence[str]) -> str:
    return " + ".join(parts) if parts else "0"


def resistance_step(gauge: Gauge, conductor_c: float) -> Step:
    if gauge.series != "mm2":
        table_c = 75.0
        printed = next(r.ohm_per_kft for r in conductor.AWG_ROWS if r.number == gauge.size)
        at_table = f"{printed} / 304.8"
        if gauge.series == "SAE":
            like = conductor.area_mm2(Gauge("AWG", gauge.size))
            at_table += f" × {key_in(like)} / {key_in(conductor.area_mm2(gauge))}"
    else:
        table_c = 20.0
        printed = next(r.ohm_per_km for r in conductor.CLASS5_ROWS if r.area_mm2 == gauge.size)
        at_table = f"{printed} / 1000"
    warm = f"(1 + 0.00393 × {conductor_c - 20:g}) / (1 + 0.00393 × {table_c - 20:g})"
    return Step(
        f"resistance of {gauge} at {conductor_c:g} °C",
        f"{at_table} × {warm}",
        conductor.ohm_per_m(gauge, conductor_c),
        "Ω/m",
        conductor.resistance_source(gauge),
    )


def ampacity_step(gauge: Gauge, factor: float, free_a: float, aboard: Aboard, why: str) -> Step:
    return Step(
        f"ampacity of {gauge}, {aboard.profile.insulation_c} °C insulation{why}",
        f"{free_a:g} × {key_in(factor)}",
        free_a * factor,
        "A",
        ampacity.source(gauge),
    )


def protection_decision(
    drafted: float,
    value: float,
    why: str,
    steps: tuple[Step, ...],
    limit_a: float,
    family: str,
    override: Override | None,
    cap_text: str,
) -> Decision[float]:
    ratings = protection.RATINGS_A[family]
    neighbours = [r for r in ratings if r < value][-1:] + [r for r in ratings if r > value][:1]
    alternatives = tuple(
        Alternative(
            f"{figure(r)} A",
            (f"above the wire's {figure(limit_a)} A" if r > limit_a else cap_text)
            if r > value
            else "opens on the load it must carry",
            False,
        )
        for r in neighbours
    )
    bears = Step(
        f"the thinnest wire behind it bears {figure(limit_a)} A", source=protection.RATING_SOURCE
    )
    return Decision(
        value=value,
        drafted=drafted,
        governed_by=why,
        steps=(*steps, bears),
        alternatives=alternatives,
        override=override,
    )
