"""Arithmetic that explains itself: a value and its formula from one expression.

The formula holds only numbers, + − × / √ exp ln and brackets, so that a pocket calculator arrives
at the value. It is written when somebody reads it: most reasons of a draft are never read.
"""

import math
from collections.abc import Callable, Iterable
from typing import Final

from vivid_loom.quantities.formatting import key_in

__all__ = ["Reckoned", "exp", "grown", "keyed", "ln", "root", "total"]

_SUM: Final = 1
_PRODUCT: Final = 2
_ATOM: Final = 3


class Reckoned:
    """A number that knows how it was worked out.

    Attributes:
        value: the number.
        formula: how a pocket calculator arrives at it.
    """

    __slots__ = ("_binds", "_write", "value")

    def __init__(self, value: float, binds: int, write: Callable[[], str]) -> None:
        self.value, self._binds, self._write = value, binds, write

    @property
    def formula(self) -> str:
        return self._write()

    def __eq__(self, other: object) -> bool:
        if not isinstance(other, Reckoned):
            return NotImplemented
        return self.value == other.value and self.formula == other.formula

    def __hash__(self) -> int:
        return hash(self.value)

    def __repr__(self) -> str:
        return f"{self.formula} = {self.value:.6g}"

    def _inside(self, least: int) -> str:
        """Write the formula as part of another, in brackets where it binds more loosely."""
        return self._write() if self._binds >= least else f"({self._write()})"

    def __add__(self, other: "Reckoned") -> "Reckoned":
        return Reckoned(
            self.value + other.value,
            _SUM,
            lambda: f"{self._inside(_SUM)} + {other._inside(_SUM)}",
        )

    def __sub__(self, other: "Reckoned") -> "Reckoned":
        return Reckoned(
            self.value - other.value,
            _SUM,
            lambda: f"{self._inside(_SUM)} − {other._inside(_PRODUCT)}",
        )

    def __mul__(self, other: "Reckoned") -> "Reckoned":
        return Reckoned(
            self.value * other.value,
            _PRODUCT,
            lambda: f"{self._inside(_PRODUCT)} × {other._inside(_PRODUCT)}",
        )

    def __truediv__(self, other: "Reckoned") -> "Reckoned":
        return Reckoned(
            self.value / other.value,
            _PRODUCT,
            lambda: f"{self._inside(_PRODUCT)} / {other._inside(_ATOM)}",
        )

    def bracketed(self) -> "Reckoned":
        """Return it in brackets, also where none are needed."""
        return Reckoned(self.value, _ATOM, lambda: f"({self._write()})")

    def squared(self) -> "Reckoned":
        """Return it times itself: a pocket calculator may have no power key."""
        once = self._inside
        return Reckoned(self.value**2, _PRODUCT, lambda: f"{once(_ATOM)} × {once(_ATOM)}")


def keyed(value: float, figures: int = 6) -> Reckoned:
    """Return a number as it is keyed in: its formula is itself, rounded to ``figures``."""
    return Reckoned(value, _ATOM if value >= 0 else 0, lambda: key_in(value, figures))


def total(parts: Iterable[Reckoned]) -> Reckoned:
    """Return the sum of parts; 0 of none."""
    terms = tuple(parts)
    return Reckoned(
        sum(term.value for term in terms),
        _SUM if len(terms) > 1 else terms[0]._binds if terms else _ATOM,
        lambda: " + ".join(term._inside(_SUM) for term in terms) or "0",
    )


def _function(name: str, value: float, of: Reckoned) -> Reckoned:
    return Reckoned(value, _ATOM, lambda: f"{name}({of.formula})")


def root(of: Reckoned) -> Reckoned:
    """Return the square root."""
    return _function("√", math.sqrt(of.value), of)


def ln(of: Reckoned) -> Reckoned:
    """Return the natural logarithm."""
    return _function("ln", math.log(of.value), of)


def exp(of: Reckoned) -> Reckoned:
    """Return e to a power."""
    return _function("exp", math.exp(of.value), of)


def grown(time: Reckoned) -> Reckoned:
    """Return 1 − e^(−time): how much of its way something has gone after so many time constants."""
    return Reckoned(-math.expm1(-time.value), _SUM, lambda: f"1 − exp(−{time._inside(_PRODUCT)})")
