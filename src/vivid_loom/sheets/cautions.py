"""The cautions every packet and screen repeats."""

from typing import Final

__all__ = ["CAUTIONS", "SHORT_CAUTION"]

SHORT_CAUTION: Final = (
    "Electricity aboard can start fires and kill. Disconnect batteries before work, minus first; "
    "connect minus last. Local codes and licensed practice overrule this sheet."
)

CAUTIONS: Final = (
    "Electricity aboard can start fires and kill.",
    "Disconnect the batteries before any work: minus off first, minus on last. Cover live studs.",
    "Circuits on the always-live block stay live with the battery switch off.",
    "Ventilate petrol spaces before switching anything; fuel-vapour spaces take ignition-protected "
    "parts only. Keep an extinguisher to hand.",
    "Mains power (AC shore supply) is outside what this sheet sizes; it belongs to licensed "
    "people.",
    "Local codes, class rules and the device makers' instructions overrule this sheet.",
    "The engineer who signs answers for the result.",
)
