"""What a record's fields may hold, read from their types, and checked however it is made."""

import math
import types
import unicodedata
from collections.abc import Callable
from typing import (
    Annotated,
    Any,
    Final,
    Literal,
    NamedTuple,
    Union,
    get_args,
    get_origin,
    get_type_hints,
)

from annotated_types import Ge, Gt, Le, Lt

__all__ = ["EachOnce", "LimitError", "Meets", "Prose", "check_limits", "one_line"]

GREATEST: Final = 1e9  # no figure of a boat comes near it; beyond, arithmetic would overflow
LONGEST: Final = 400  # letters of a name; what is longer prints nowhere
LONGEST_PROSE: Final = 20_000

Test = Callable[[object], str]
"""Says what was expected of a value; '' where it is well."""


class Wrong(NamedTuple):
    """What is wrong with a value: what was expected, what stands there, where in it."""

    expected: str
    found: object
    at: str = ""


Check = Callable[[object], Wrong | None]


class LimitError(ValueError):
    """A field holds what it may not."""

    def __init__(self, field: str, found: object, expected: str) -> None:
        super().__init__(f"{field}: found {one_line(repr(found))}, expected {expected}")
        self.field, self.found, self.expected = field, found, expected


class Meets(NamedTuple):
    """Marks a text field: what is expected of it in words, and the test."""

    expected: str
    test: Callable[[str], bool]


class EachOnce(NamedTuple):
    """Marks a list that has an entry at least, and none twice."""

    def missed(self, value: tuple[object, ...]) -> bool:
        """Tell whether a list is not of this kind."""
        return not value or len(set(value)) < len(value)


class _Prose(NamedTuple):
    """Marks a text field that may run over several lines."""


Prose = Annotated[str, _Prose()]


def one_line(text: str, longest: int = 80) -> str:
    """Return text on one line without control characters, shortened to ``longest`` letters."""
    if text.isprintable() and len(text) <= longest:
        return text
    clean = "".join(" " if unicodedata.category(c) in _UNPRINTABLE else c for c in text)
    return clean if len(clean) <= longest else f"{clean[: longest - 1]}…"


_UNPRINTABLE: Final = {"Cc", "Cf", "Cs", "Zl", "Zp"}  # controls, reversals, halves, line breaks


def _line(value: object) -> str:
    if not isinstance(value, str):
        return "text"
    if len(value) > LONGEST:
        return f"at most {LONGEST} letters"
    bad = not value.isprintable() and any(unicodedata.category(c) in _UNPRINTABLE for c in value)
    return "text on one line, without control characters" if bad else ""


def _prose(value: object) -> str:
    if not isinstance(value, str):
        return "text"
    if len(value) > LONGEST_PROSE:
        return f"at most {LONGEST_PROSE} letters"
    bad = any(unicodedata.category(c) in _UNPRINTABLE and c not in "\n\t" for c in value)
    return "text without control characters" if bad else ""


def _whole(value: object) -> str:
    if not isinstance(value, int) or isinstance(value, bool):
        return "a whole number"
    return "" if abs(value) <= GREATEST else "a smaller number"


def _number(value: object) -> str:
    if not isinstance(value, int | float) or isinstance(value, bool):
        return "a number"
    if isinstance(value, float) and not math.isfinite(value):
        return "a finite number"
    return "" if abs(value) <= GREATEST else "a smaller number"


def _truth(value: object) -> str:
    return "" if isinstance(value, bool) else "true or false"


_PLAIN: Final[dict[Any, Test]] = {str: _line, int: _whole, float: _number, bool: _truth}


def _plain(test: Test) -> Check:
    def check(value: object) -> Wrong | None:
        expected = test(value)
        return Wrong(expected, value) if expected else None

    return check


def _bound(base: Check, marks: tuple[object, ...]) -> Check:
    """Return a check with the limits that stand beside a type."""

    def beyond(value: object) -> str:
        number: Any = value
        for mark in marks:
            if isinstance(mark, Gt) and not number > mark.gt:
                return f"a number above {mark.gt}"
            if isinstance(mark, Ge) and not number >= mark.ge:
                return f"a number from {mark.ge} up"
            if isinstance(mark, Le) and not number <= mark.le:
                return f"a number up to {mark.le}"
            if isinstance(mark, Lt) and not number < mark.lt:
                return f"a number below {mark.lt}"
            if isinstance(mark, Meets) and not mark.test(str(value)):
                return mark.expected
            if isinstance(mark, EachOnce) and mark.missed(number):
                return "at least one entry, each once"
        return ""

    limits = _plain(beyond)
    return lambda value: base(value) or limits(value)


def _one_of(options: tuple[object, ...]) -> Check:
    told = "one of " + ", ".join(str(option) or "''" for option in options)
    return _plain(lambda value: "" if isinstance(value, str) and value in options else told)


def _any_of(hints: tuple[Any, ...]) -> Check:
    checks = [_check_of(hint) for hint in hints if hint is not types.NoneType]
    optional = types.NoneType in hints

    def check(value: object) -> Wrong | None:
        if value is None and optional:
            return None
        wrong = [check(value) for check in checks]
        return None if None in wrong else wrong[-1]

    return check


def _row_of(hints: tuple[Any, ...]) -> Check:
    endless = len(hints) == 2 and hints[1] is Ellipsis
    checks = [_check_of(hint) for hint in (hints[:1] if endless else hints)]

    def check(value: object) -> Wrong | None:
        if not isinstance(value, tuple):
            return Wrong("a list", value)
        if not endless and len(value) != len(checks):
            return Wrong(f"{len(checks)} entries", value)
        for index, item in enumerate(value):
            if wrong := checks[0 if endless else index](item):
                return wrong._replace(at=f"[{index}]{wrong.at}")
        return None

    return check


def _check_of(hint: Any) -> Check:
    origin, args = get_origin(hint), get_args(hint)
    if origin is Annotated:
        if any(isinstance(mark, _Prose) for mark in args[1:]):
            return _plain(_prose)
        return _bound(_check_of(args[0]), args[1:])
    if origin is Literal:
        return _one_of(args)
    if origin in (Union, types.UnionType):
        return _any_of(args)
    if origin is tuple:
        return _row_of(args)
    if hint in _PLAIN:
        return _plain(_PLAIN[hint])
    kind = origin or hint
    if isinstance(kind, type):
        return _plain(lambda value: "" if isinstance(value, kind) else f"a {kind.__name__}")
    raise TypeError(f"no limits are known for {hint!r}")


_known: dict[type[Any], tuple[tuple[str, Check], ...]] = {}


def _checks(record_type: type[Any]) -> tuple[tuple[str, Check], ...]:
    """Return the checks of a record's fields, worked out when the first one is made."""
    if record_type not in _known:
        hints = get_type_hints(record_type, include_extras=True)
        names = [name for name in hints if name in record_type.__dataclass_fields__]
        _known[record_type] = tuple((name, _check_of(hints[name])) for name in names)
    return _known[record_type]


def check_limits(record: object) -> None:
    """Check every field of a record.

    Raises:
        LimitError: the first field that holds what it may not.
    """
    for name, check in _checks(type(record)):
        value = getattr(record, name)
        if wrong := check(value):
            raise LimitError(f"{name}{wrong.at}", wrong.found, wrong.expected)
