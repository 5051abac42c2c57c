"""Texts that must mean something: a gauge, a date, the name of a file."""

import datetime
from typing import Annotated, Final

from vivid_loom.quantities.gauge import Gauge, GaugeError
from vivid_loom.quantities.limits import Meets

__all__ = ["DateText", "FileName", "GaugeText", "Id", "OptionalGaugeText", "file_name", "kept_kind"]

_YEARS: Final = range(1950, 2200)
_LONGEST_ID: Final = 80  # letters; names of wires and ends are made of several
_LONGEST_NAME: Final = 120  # bytes; leaves room for a temporary file's letters beside it


def _is_gauge(text: str) -> bool:
    try:
        gauge = Gauge.parse(text)
    except GaugeError:
        return False
    if gauge.series == "mm2":
        return 0.05 <= gauge.size <= 1000
    return -3 <= gauge.size <= 40  # 4/0 is −3


def _is_date(text: str) -> bool:
    try:
        return datetime.date.fromisoformat(text).year in _YEARS
    except ValueError:
        return False


def _is_file_name(text: str) -> bool:
    fits = len(text.encode("utf-8", "replace")) <= _LONGEST_NAME
    return fits and text.strip(". ") != "" and "/" not in text and "\\" not in text


_GAUGE: Final = "a gauge such as '16 AWG', '2/0 AWG' or '1.5 mm²'"
GaugeText = Annotated[str, Meets(_GAUGE, _is_gauge)]
OptionalGaugeText = Annotated[str, Meets(_GAUGE, lambda text: not text or _is_gauge(text))]
DateText = Annotated[str, Meets("a date like 2026-12-07", _is_date)]
FileName = Annotated[str, Meets("the name of a file, without a folder", _is_file_name)]
Id = Annotated[
    str, Meets(f"an id of at most {_LONGEST_ID} letters", lambda t: len(t) <= _LONGEST_ID)
]


KEPT: Final = {".loom.json": "an order", ".boat.json": "a boat", ".log.jsonl": "a log"}
"""How the names of files end that nothing of another kind is written over."""


def kept_kind(name: str, but: str = "") -> str:
    """Return what a file is by its name, 'an order' and so on; '' where it may be written over.

    Args:
        but: ending of what is to be written there.
    """
    kinds = (kind for ending, kind in KEPT.items() if name.endswith(ending) and ending != but)
    return next(kinds, "")


def file_name(stem: str, ending: str) -> str:
    """Return a name that every file system takes, from what people call a thing."""
    kept = "".join(c if c.isalnum() or c in "-_ ." else "-" for c in stem.strip()).strip(". ")
    short = kept.encode()[: _LONGEST_NAME - len(ending.encode())].decode(errors="ignore")
    return f"{short or 'unnamed'}{ending}"
