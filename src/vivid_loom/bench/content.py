"""What a record of each kind says, and what no record of its kind says."""

import math
from collections.abc import Callable, Mapping
from typing import Any, Final

from vivid_loom.bench.logbook import Entry
from vivid_loom.quantities import one_line

__all__ = ["content_problem"]


def _text(value: object) -> bool:
    """Tell whether a value is text; half a character is none."""
    return isinstance(value, str) and not any("\ud800" <= sign <= "\udfff" for sign in value)


def _flag(value: object) -> bool:
    return isinstance(value, bool)


def _whole(value: object) -> bool:
    return type(value) is int and 0 <= value < 1_000_000


def _number(value: object) -> bool:
    if not isinstance(value, int | float) or isinstance(value, bool):
        return False
    try:
        return math.isfinite(value)
    except OverflowError:  # a whole number beyond every other
        return False


def _reading(value: object) -> bool:
    return value == "over range" or _number(value)


def _texts(value: object) -> bool:
    return isinstance(value, list) and all(map(_text, value))


_Fields = Mapping[str, Callable[[object], bool]]
_MUST: Final[Mapping[str, _Fields]] = {
    "result": {"place": _text, "step": _text, "passed": _flag, "signature": _text},
    "rework": {"place": _text, "wires": _texts, "reason": _text},
    "pull": {"group": _text, "number": _whole, "newton": _number, "tool": _text, "passed": _flag},
    "remade": {"ends": _texts},
    "deviation": {"number": _whole, "verdict": _text, "what": _text},
    "signed": {"state": _text},
    "issued": {
        "number": _whole,
        "about": _text,
        "kept": _texts,
        "accepted": _texts,
        "open": _texts,
    },
    "reopened": {"state": _text, "reason": _text},
    "withdrawn": {"number": _whole, "reason": _text},
    "stopped": {"how": _text, "reason": _text},
    "taken up": {"reason": _text},
    "correction": {"withdraws": _whole, "reason": _text},
    "begun": {"reason": _text, "records": _whole, "seal": _text, "kept": _text},
    "carried": {"from": _text, "to": _text},
}
"""By kind, what must be there; anything else may be."""
_MAY: Final[Mapping[str, _Fields]] = {
    "result": {"read": _reading, "unit": _text, "copper_c": _number},
}


def content_problem(entry: Entry) -> str:
    """Say what is wrong with what a record says; '' where it can be understood."""
    heading = {"who": entry.who, "kind": entry.kind, "hull": entry.hull, "order": entry.order}
    heading |= {"instrument": entry.instrument, "revision": entry.revision, "time": entry.time}
    for name, value in heading.items():
        if not _text(value):
            return f"has {one_line(ascii(value))} for {name}, which is no text"
    must = _MUST.get(entry.kind)
    if must is None:
        return f"is of an unknown kind, {one_line(repr(entry.kind))}"
    for name, fits in must.items():
        if name not in entry.what:
            return f"says nothing of {name}, which every {entry.kind} does"
        if not fits(entry.what[name]):
            return _odd(entry, name)
    for name, fits in _MAY.get(entry.kind, {}).items():
        if name in entry.what and not fits(entry.what[name]):
            return _odd(entry, name)
    if "read" in entry.what and entry.kind == "result" and "unit" not in entry.what:
        return "has a reading without a unit"
    return ""


def _odd(entry: Entry, name: str) -> str:
    value: Any = entry.what[name]
    return f"has {one_line(ascii(value))} for {name}, which no {entry.kind} has"
