"""Every rule as a Markdown page."""

from typing import Final

from vivid_loom.drafting.rules.fixes import can_fix
from vivid_loom.drafting.rules.verify import kinds
from vivid_loom.sheets.proof import KINDS

__all__ = ["rules_markdown"]

GROUPS: Final = {
    "L": "Loads and their papers",
    "S": "Size and protection of single circuits",
    "P": "Supplies and the chain",
    "K": "Shorts, stalls and starts",
    "I": "Insulation colours",
    "A": "What must stay alive, dark, apart",
    "Z": "Zones and metal hulls",
    "G": "Cables",
    "R": "Ways",
    "W": "What states and single faults prove, before sheets are signed",
}

HEAD: Final = """# Rules

Every rule of the draft, as `./vivid-loom rules` writes them. *error* stops the release, *judge*
wants a decision, *note* informs. ✓ marks rules that one undoable edit can clear, where the order
allows it.
"""


def rules_markdown() -> str:
    """Return code, severity, title, remedy and source of every rule, in groups."""
    parts = [HEAD]
    for letter, title in GROUPS.items():
        parts.append(f"\n## {title}\n\n| code | | rule | what to do | source |\n")
        parts.append("|---|---|---|---|---|\n")
        for kind in (k for k in (*kinds(), *KINDS) if k.code.startswith(letter)):
            mark = " ✓" if can_fix(kind.code) else ""
            parts.append(
                f"| {kind.code}{mark} | {kind.severity} | {kind.title} | {kind.remedy} "
                f"| {kind.source} |\n"
            )
    return "".join(parts)
