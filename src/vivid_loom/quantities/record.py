"""The one record mechanism: frozen keyword-only dataclasses that files can be read into."""

import dataclasses
from typing import Any, TypeVar, dataclass_transform

from vivid_loom.quantities.limits import check_limits

__all__ = ["computed", "record", "revised"]

T = TypeVar("T")


@dataclass_transform(frozen_default=True, kw_only_default=True)
def record(cls: type[T]) -> type[T]:
    """Make ``cls`` a record of what people decide: its limits hold however it is made.

    A file with a field it does not know is refused. The configuration is a plain attribute that
    pydantic looks for, so that records need not import it; only the package's file modules do.
    """
    config: dict[str, Any] = {"extra": "forbid", "allow_inf_nan": False}
    cls.__pydantic_config__ = config  # type: ignore[attr-defined]
    cls.__post_init__ = check_limits  # type: ignore[attr-defined]
    return dataclasses.dataclass(frozen=True, kw_only=True)(cls)


@dataclass_transform(frozen_default=True, kw_only_default=True)
def computed(cls: type[T]) -> type[T]:
    """Make ``cls`` a record of what the program works out: never read from a file, and made by
    the hundred thousand, so nothing is checked when one is made.
    """
    return dataclasses.dataclass(frozen=True, kw_only=True)(cls)


def revised(made: T, **fields: object) -> T:
    """Return a computed record with some fields different, as ``dataclasses.replace`` does but
    sooner. What it has worked out of itself goes along: nothing of that may follow from these
    fields.
    """
    other: T = object.__new__(type(made))
    other.__dict__.update(made.__dict__, **fields)
    return other
