"""The circuit schedule: one row per protected feed, feeders first."""

from typing import Final

from vivid_loom.drafting import Draft, DraftedCircuit
from vivid_loom.sheets.table import Table
from vivid_loom.standards.conductor import area_mm2

__all__ = ["SCHEDULE_COLUMNS", "findings_by_subject", "schedule"]

SCHEDULE_COLUMNS: Final = (
    "circuit_id",
    "label",
    "pattern",
    "source",
    "protection_type",
    "protection_rating_a",
    "protection_place",
    "protection_distance_mm",
    "switch",
    "helm_position",
    "loads",
    "current_a",
    "peak_current_a",
    "nominal_v",
    "loop_length_m",
    "gauge",
    "area_mm2",
    "positive_colour",
    "negative_colour",
    "ampacity_a",
    "derating",
    "drop_v",
    "drop_percent",
    "drop_limit_percent",
    "return_bus",
    "governed_by",
    "overridden",
    "evidence",
    "findings",
)

_WORST_EVIDENCE: Final = ("maker", "measured", "estimate", "unknown")


def _fixed(value: float | None, digits: int) -> str:
    return "" if value is None else f"{value:.{digits}f}"


def number(value: float) -> str:
    """Write a rating without trailing zeros."""
    return f"{value:g}"


def findings_by_subject(draft: Draft) -> dict[str, list[str]]:
    """Return the codes of the findings that name each subject."""
    found: dict[str, list[str]] = {}
    for finding in draft.findings:
        for subject in finding.subjects:
            codes = found.setdefault(subject, [])
            if finding.code not in codes:
                codes.append(finding.code)
    return found


def _protection_place(draft: Draft, row: DraftedCircuit) -> tuple[str, str]:
    """Return where the device sits and how far along the conductor from its source, in mm."""
    start = row.planned.plan.start
    if row.planned.feeds:
        feed = draft.needs[row.id].feed
        if feed is None or feed.family is None:
            return "", ""
        return f"{start.place} {start.name}", number(feed.distance_mm)
    if row.planned.guard:
        return f"{row.planned.guard.id}, its instrument's", ""
    supply = draft.aboard.boat.places_by_id[row.planned.source]
    if row.planned.stub_m:
        return f"{row.id} holder", number(row.planned.stub_m * 1000)
    if supply.ways and not row.planned.way:
        return f"{supply.id}, no way free", number(supply.way_distance_mm)
    return f"{supply.id} {start.name.replace('stud', 'way')}", number(supply.way_distance_mm)


def _switch_words(draft: Draft, row: DraftedCircuit) -> str:
    request = row.planned.request
    if request is None:
        return ""
    if request.contact:
        legend = draft.aboard.switches[request.contact.switch].legend
        throws = "+".join(request.contact.throws)
        if row.planned.pattern == "reversing":
            return f"{legend} both poles {throws}"
        others = (draft.aboard.switches[contact.switch].legend for contact in request.also)
        told = f"{legend} pole {request.contact.pole} {throws}"
        return " or ".join((told, *others))
    if row.planned.signals:
        return "none"
    return "breaker" if row.planned.pattern == "breaker" else "on the device"


def _evidence(draft: Draft, row: DraftedCircuit) -> str:
    kinds = [draft.aboard.loads[name].evidence.kind for name in row.planned.loads]
    return max(kinds, key=_WORST_EVIDENCE.index) if kinds else ""


def _overridden(draft: Draft, row: DraftedCircuit) -> str:
    return ";".join(o.field for o in draft.aboard.order.overrides if o.subject == row.id)


def _row(draft: Draft, row: DraftedCircuit, findings: dict[str, list[str]]) -> tuple[str, ...]:
    planned, sized = row.planned, row.sized
    place, distance = _protection_place(draft, row)
    protection = sized.protection if sized else None
    return (
        row.id,
        planned.label,
        planned.pattern,
        planned.source,
        planned.family if protection else "",
        number(protection.value) if protection else "",
        place,
        distance,
        _switch_words(draft, row),
        str(planned.position) if planned.position else "",
        ";".join(planned.loads),
        _fixed(sized.current_a if sized else None, 3),
        _fixed(sized.peak_a if sized else None, 3),
        number(draft.aboard.boat.network.voltage(planned.source)),
        _fixed(sized.loop_length_m if sized else None, 3),
        str(sized.gauge.value) if sized else "",
        _fixed(area_mm2(sized.gauge.value) if sized else None, 3),
        str(row.colours.positive.value),
        str(row.colours.negative.value),
        _fixed(sized.ampacity_a if sized else None, 2),
        _fixed(sized.derating if sized else None, 3),
        _fixed(sized.drop_v if sized else None, 4),
        _fixed(sized.drop_percent if sized else None, 3),
        _fixed(sized.drop_limit_percent if sized else None, 2),
        planned.bus,
        sized.gauge.governed_by if sized else "",
        _overridden(draft, row),
        _evidence(draft, row),
        ";".join(findings.get(row.id, [])),
    )


def schedule(draft: Draft) -> Table:
    """Return the schedule in its fixed columns."""
    findings = findings_by_subject(draft)
    return Table(
        "schedule",
        "Circuit schedule",
        SCHEDULE_COLUMNS,
        tuple(_row(draft, row, findings) for row in draft.rows),
    )
