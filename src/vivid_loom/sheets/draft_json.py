"""The draft as JSON: every decision with its steps, for other programs."""

import dataclasses
import json
from typing import Any

from vivid_loom.drafting import Decision, Draft, DraftedCircuit

__all__ = ["draft_json_bytes"]


def _decision(decision: Decision[object]) -> dict[str, Any]:
    return {
        "value": str(decision.value).removesuffix(".0"),
        "drafted": str(decision.drafted).removesuffix(".0"),
        "governed_by": decision.governed_by,
        "steps": [
            {
                "text": step.text,
                "formula": step.formula,
                "result": step.result,
                "unit": step.unit,
                "source": str(step.source or ""),
            }
            for step in decision.steps
        ],
        "alternatives": [alternative._asdict() for alternative in decision.alternatives],
        "override": dataclasses.asdict(decision.override) if decision.override else None,
    }


def _named(row: DraftedCircuit) -> dict[str, Decision[object]]:
    found: dict[str, Decision[object]] = {
        "positive_colour": row.colours.positive,
        "negative_colour": row.colours.negative,
    }
    for lead, colour, _ in row.colours.leads:
        found[f"{lead}_colour"] = colour
    if row.sized:
        found["gauge"] = row.sized.gauge
        if row.sized.protection:
            found["protection_a"] = row.sized.protection
    for name, decision in row.planned.places:
        found[name.lower().replace(" ", "_")] = decision
    return found


def draft_json_bytes(draft: Draft) -> bytes:
    """Return circuits with their decisions, loads and wires; sorted, stable."""
    document = {
        "format": "vivid-loom-draft",
        "version": 1,
        "hull": draft.aboard.order.hull,
        "profile": dataclasses.asdict(draft.aboard.profile),
        "circuits": [
            {
                "id": row.id,
                "label": row.planned.label,
                "pattern": row.planned.pattern,
                "loads": list(row.planned.loads),
                "wires": [wire.id for wire in row.wires],
                "decisions": {name: _decision(d) for name, d in _named(row).items()},
            }
            for row in draft.rows
        ],
        "options": list(draft.aboard.order.options),
    }
    text = json.dumps(document, ensure_ascii=False, indent=1, sort_keys=True, allow_nan=False)
    return f"{text}\n".encode()
