"""The stages that are built, in the order of the work: a new one is a folder and a line here."""

from typing import Final

from vivid_loom.desktop import (
    bench,
    harness,
    helm,
    loads,
    order,
    packet,
    power,
    runs,
    supply,
    threads,
)
from vivid_loom.desktop.work.stage import Stage

__all__ = ["STAGES"]

STAGES: Final[tuple[Stage, ...]] = (
    order.STAGE,
    loads.STAGE,
    supply.STAGE,
    runs.STAGE,
    threads.STAGE,
    helm.STAGE,
    power.STAGE,
    harness.STAGE,
    bench.STAGE,
    packet.STAGE,
)
