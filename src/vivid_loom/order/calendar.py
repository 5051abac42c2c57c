"""Dates of the shop."""

import datetime

__all__ = ["due_date"]


def due_date(
    station_date: datetime.date, closed: frozenset[datetime.date] = frozenset()
) -> datetime.date:
    """Return the harness due date: one working day before the hull's wiring station.

    Saturdays, Sundays and ``closed`` days are not worked.
    """
    day = station_date - datetime.timedelta(days=1)
    while day.weekday() >= 5 or day in closed:
        day -= datetime.timedelta(days=1)
    return day
