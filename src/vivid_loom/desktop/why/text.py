"""A circuit's decisions as rich text: each step with its arithmetic, limit and source."""

from html import escape

from vivid_loom.drafting import Decision, Draft, DraftedCircuit
from vivid_loom.drafting.making.cut_lengths import cut_decision
from vivid_loom.quantities import figure
from vivid_loom.sheets.words.cautions import hazards
from vivid_loom.standards.colours import colour_name

__all__ = ["PLOT", "why_html"]

PLOT = "plot:curves"  # the drawer puts the time–current picture there


def _decision_html(title: str, value: str, decision: Decision[object]) -> str:
    parts = [f"<h3>{escape(title)}: {escape(value)}</h3>"]
    parts.append(f"<p>governed by <b>{escape(decision.governed_by)}</b></p>")
    if o := decision.override:
        parts.append(
            f"<p>Overruled by {escape(o.initials)}: {escape(o.reason)}. "
            f"The draft says {escape(str(decision.drafted))}.</p>"
        )
    for step in decision.steps:
        line = escape(step.text)
        if step.formula:
            result = f"{figure(step.result, 4)} {step.unit}"
            line += f"<br>&nbsp;&nbsp;{escape(step.formula)} = <b>{escape(result)}</b>"
        if step.gives:
            line += f" → <b>{escape(step.gives)}</b>"
        if step.source:
            line += f"<br>&nbsp;&nbsp;<i>{escape(str(step.source))}</i>"
        parts.append(f"<p>{line}</p>")
    for other in decision.alternatives:
        parts.append(f"<p>{escape(other.value)}: {escape(other.verdict)}</p>")
    return "".join(parts)


def _head(draft: Draft, row: DraftedCircuit) -> list[str]:
    parts = [f"<h2>{escape(row.planned.label)} · {row.id}</h2>"]
    parts += [f"<p><b>Caution:</b> {escape(text)}</p>" for text in hazards(draft, row)]
    for finding in draft.findings:
        if row.id in finding.subjects:
            parts.append(
                f"<p><b>{finding.severity.capitalize()} {finding.code}:</b> "
                f"{escape(finding.sentence())}<br>{escape(finding.kind.remedy)}</p>"
            )
    jumps = [
        ("gauge", "Gauge"),
        ("protection", "Protection"),
        ("shorts", "Shorts"),
        ("colours", "Colours"),
        ("wires", "Wires"),
    ]
    links = " · ".join(f'<a href="#{name}">{text}</a>' for name, text in jumps)
    return [*parts, f"<p>{links}</p>"]


def _size_html(row: DraftedCircuit) -> list[str]:
    if row.sized is None:
        return ["<p>Not sized: a current is unknown.</p>"]
    gauge, protection = row.sized.gauge, row.sized.protection
    parts = ['<a name="gauge"></a>', _decision_html("Gauge", str(gauge.value), gauge)]
    parts.append('<a name="protection"></a>')
    if protection:
        value = f"{figure(protection.value)} A {row.planned.family}"
        parts.append(_decision_html("Protection", value, protection))
    else:
        parts.append("<h3>Protection: none</h3>")
    return parts


def _shorts_html(row: DraftedCircuit) -> list[str]:
    """Say what shorts and stalls do, beside the picture of the device's band."""
    if row.fault is None:
        return []
    parts = ['<a name="shorts"></a><h3>Shorts and stalls</h3>', f'<p><img src="{PLOT}"></p>']
    above = row.fault.upstream[0] if row.fault.upstream else None
    if above:
        amps = row.fault.selective_to_a
        told = (
            "alone at every current that can flow here"
            if amps >= row.fault.near_a
            else f"alone up to {figure(amps)} A"
        )
        parts.append(f"<p>Before {above.id} at {figure(above.rating_a)} A it opens {told}.</p>")
    for name, decision in row.fault.decisions:
        parts.append(_decision_html(name, figure(decision.value), decision))
    return parts


def _colours_html(row: DraftedCircuit) -> list[str]:
    parts = ['<a name="colours"></a>']
    for name, decision, sleeve in (
        ("Positive", row.colours.positive, row.colours.positive_sleeve),
        *((f"{lead.capitalize()} lead", each, sleeve) for lead, each, sleeve in row.colours.leads),
        ("Negative", row.colours.negative, row.colours.negative_sleeve),
    ):
        if decision:
            value = f"{decision.value} {colour_name(decision.value)}"
            value += f", sleeve {sleeve}" if sleeve else ""
            parts.append(_decision_html(name, value, decision))
    return parts


def _loads_html(draft: Draft, row: DraftedCircuit) -> list[str]:
    parts = ["<h3>Loads</h3>"]
    for name in row.planned.loads:
        load = draft.aboard.loads[name]
        evidence = f"{load.evidence.kind}: {load.evidence.note} {load.evidence.date}"
        amps = f"{figure(load.running_a)} A" if load.running_a else "current unknown"
        parts.append(f"<p>{escape(load.name)}, {amps} ({escape(evidence.strip())})</p>")
    return parts


def _wires_html(draft: Draft, row: DraftedCircuit) -> list[str]:
    parts = ['<a name="wires"></a><h3>Wires</h3>']
    for wire in row.wires:
        cut = cut_decision(wire, draft.aboard.profile)
        held = f", core {wire.core} of {wire.cable}" if wire.cable else ""
        marked = f", sleeve {wire.sleeve}" if wire.sleeve else ""
        parts.append(
            f"<p><b>{wire.id}</b> {wire.gauge} {wire.colour}{marked}{held}<br>"
            f"&nbsp;&nbsp;{cut.steps[0].formula} → cut <b>{wire.cut_mm:g} mm</b><br>"
            f"&nbsp;&nbsp;{escape(wire.start.place)} {wire.start.point}: "
            f"{wire.start.termination.kind} ({wire.start.termination.why})<br>"
            f"&nbsp;&nbsp;{escape(wire.end.place)} {wire.end.point}: "
            f"{wire.end.termination.kind} ({wire.end.termination.why})</p>"
        )
    return parts


def why_html(draft: Draft, row: DraftedCircuit) -> str:
    """Return every decision of a circuit as rich text; file text is escaped."""
    parts = [*_head(draft, row), *_size_html(row), *_shorts_html(row), *_colours_html(row)]
    parts += [_decision_html(name, place.value, place) for name, place in row.planned.places]
    return "".join([*parts, *_loads_html(draft, row), *_wires_html(draft, row)])
