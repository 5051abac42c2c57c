"""The shop: its closed days, the bench hours it can give a day, the devices it has."""

import dataclasses
import datetime
from pathlib import Path
from typing import Annotated, Final

from annotated_types import Ge, Gt

from vivid_loom.boat.supply import DeviceFamily
from vivid_loom.order.spools import SPOOL_FILE, Spool, read_spools
from vivid_loom.quantities import DateText, record
from vivid_loom.quantities.document import read_document
from vivid_loom.standards.work_times import MINUTES, Operation

__all__ = ["SHOP_FILE", "SHOP_FORMAT", "SHOP_VERSION", "Shop", "read_shop"]

SHOP_FILE: Final = "shop.json"
SHOP_FORMAT: Final = "vivid-loom-shop"
SHOP_VERSION: Final = 1


@record
class Shop:
    """One shop's calendar, kept as ``shop.json`` beside its orders.

    Attributes:
        closed: ISO dates on which nobody works, besides Saturdays and Sundays.
        minutes: standard times of this shop, by the operation's name, instead of ours.
        hour_price: of an hour of work, in the catalogue's currency.
        spools: wire on its shelves; kept in ``spools.csv`` beside.
        stock: ratings in stock by family of device, in A; a family left out is there whole.
        bench_hours: hours of harness bench that one working day gives.
    """

    name: str = "Shop"
    closed: tuple[DateText, ...] = ()
    bench_hours: Annotated[float, Gt(0)] = 8.0
    stock: tuple[tuple[DeviceFamily, tuple[float, ...]], ...] = ()
    minutes: tuple[tuple[Operation, Annotated[float, Ge(0)]], ...] = ()
    hour_price: Annotated[float, Ge(0)] = 0.0
    spools: tuple[Spool, ...] = ()

    @property
    def ratings(self) -> dict[str, tuple[float, ...]]:
        """Ratings in stock by family."""
        return dict(self.stock)

    @property
    def standard_minutes(self) -> dict[Operation, float]:
        """Minutes for one of each operation: the shop's where it has its own."""
        return {**MINUTES, **dict(self.minutes)}

    @property
    def closed_days(self) -> frozenset[datetime.date]:
        """Closed days as dates."""
        return frozenset(datetime.date.fromisoformat(day) for day in self.closed)


def read_shop(folder: Path) -> Shop:
    """Return the shop of a folder of orders; a plain one where it has no ``shop.json``.

    Its wire is read from ``spools.csv`` beside.

    Raises:
        DocumentError: a file that cannot be taken; also a day that is no date.
    """
    path = folder / SHOP_FILE
    shop = read_document(path, Shop, SHOP_FORMAT, SHOP_VERSION) if path.exists() else Shop()
    return dataclasses.replace(shop, spools=(*shop.spools, *read_spools(folder / SPOOL_FILE)))
