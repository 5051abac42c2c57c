"""The one record mechanism: frozen keyword-only dataclasses that files can be read into."""

import dataclasses
from typing import Any, TypeVar, dataclass_transform

__all__ = ["record"]

T = TypeVar("T")


@dataclass_transform(frozen_default=True, kw_only_default=True)
def record(cls: type[T]) -> type[T]:
    """Make ``cls`` a frozen keyword-only dataclass that refuses unknown fields in a file.

    The configuration is a plain attribute that pydantic looks for, so that records need not
    import it; only the package's file modules do.
    """
    config: dict[str, Any] = {"extra": "forbid", "allow_inf_nan": False}
    cls.__pydantic_config__ = config  # type: ignore[attr-defined]
    return dataclasses.dataclass(frozen=True, kw_only=True)(cls)
