"""The circuit schedule: one row per protected feed, feeders first."""

from typing import Final, NamedTuple

from vivid_loom.drafting import Draft, DraftedCircuit
from vivid_loom.drafting.making.colour import LeadColour
from vivid_loom.drafting.sizing.outcome import Sized
from vivid_loom.sheets.paper.table import Table
from vivid_loom.standards.conductor import area_mm2

__all__ = ["ScheduleRow", "findings_by_subject", "schedule"]


class ScheduleRow(NamedTuple):
    """A protected feed; figures are empty where a current is unknown."""

    circuit_id: str
    label: str
    pattern: str
    source: str
    protection_type: str
    protection_rating_a: str
    protection_place: str
    protection_distance_mm: str
    switch: str
    helm_position: str
    loads: str
    current_a: str
    peak_current_a: str
    nominal_v: str
    loop_length_m: str
    gauge: str
    area_mm2: str
    thinner_leads: str
    positive_colour: str
    negative_colour: str
    lead_colours: str
    ampacity_a: str
    derating: str
    drop_v: str
    drop_percent: str
    drop_limit_percent: str
    return_bus: str
    governed_by: str
    overridden: str
    evidence: str
    findings: str


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
        at = row.planned.mount or start
        return f"{at.place} {at.name}", number(feed.distance_mm)
    if row.planned.guard:
        return f"{row.planned.guard.id}, its instrument's", ""
    supply = draft.aboard.boat.places_by_id[row.planned.source]
    if row.planned.stub_m:
        return f"{row.id} holder", number(row.planned.stub_m * 1000)
    if supply.ways and not row.planned.way:
        return f"{supply.id}, no way free", number(supply.way_distance_mm)
    lever = draft.breaker_levers.get(row.id)
    if lever:
        return f"{lever.place}, on the bar of {supply.id}", number(supply.way_distance_mm)
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


def _thinner_words(sized: Sized) -> str:
    return ";".join(f"{' '.join(t.legs)} {t.gauge}" for t in sized.thinner)


def _lead_words(lead: LeadColour) -> str:
    marked = f" marked {lead.sleeve}" if lead.sleeve else ""
    return f"{lead.lead} {lead.colour.value}{marked}"


def _overridden(draft: Draft, row: DraftedCircuit) -> str:
    return ";".join(o.field for o in draft.aboard.order.overrides if o.subject == row.id)


def _row(draft: Draft, row: DraftedCircuit, findings: dict[str, list[str]]) -> ScheduleRow:
    planned, sized = row.planned, row.sized
    place, distance = _protection_place(draft, row)
    protection = sized.protection if sized else None
    plus, minus = row.letters
    return ScheduleRow(
        circuit_id=row.id,
        label=planned.label,
        pattern=planned.pattern,
        source=planned.source,
        protection_type=planned.family if protection else "",
        protection_rating_a=number(protection.value) if protection else "",
        protection_place=place,
        protection_distance_mm=distance,
        switch=_switch_words(draft, row),
        helm_position=str(planned.position) if planned.position else "",
        loads=";".join(planned.loads),
        current_a=_fixed(sized.current_a if sized else None, 3),
        peak_current_a=_fixed(sized.peak_a if sized else None, 3),
        nominal_v=number(draft.aboard.boat.network.voltage(planned.source)),
        loop_length_m=_fixed(sized.loop_length_m if sized else None, 3),
        gauge=str(sized.gauge.value) if sized else "",
        area_mm2=_fixed(area_mm2(sized.gauge.value) if sized else None, 3),
        thinner_leads=_thinner_words(sized) if sized else "",
        positive_colour=plus,
        negative_colour=minus,
        lead_colours="; ".join(map(_lead_words, row.colours.leads)),
        ampacity_a=_fixed(sized.ampacity_a if sized else None, 2),
        derating=_fixed(sized.derating if sized else None, 3),
        drop_v=_fixed(sized.drop_v if sized else None, 4),
        drop_percent=_fixed(sized.drop_percent if sized else None, 3),
        drop_limit_percent=_fixed(sized.drop_limit_percent if sized else None, 2),
        return_bus=planned.bus,
        governed_by=sized.gauge.governed_by if sized else "",
        overridden=_overridden(draft, row),
        evidence=_evidence(draft, row),
        findings=";".join(findings.get(row.id, [])),
    )


def schedule(draft: Draft) -> Table[ScheduleRow]:
    """Return the schedule in its fixed columns."""
    findings = findings_by_subject(draft)
    return Table(
        "schedule",
        "Circuit schedule",
        ScheduleRow,
        tuple(_row(draft, row, findings) for row in draft.rows),
    )
