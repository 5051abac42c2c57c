"""What is printed: tables and pages as a display list, and their renderers."""

from vivid_loom.sheets.cover import due_text
from vivid_loom.sheets.drawing import Page
from vivid_loom.sheets.packet import (
    Handed,
    Section,
    packet_files,
    packet_pages,
    packet_parts,
    packet_sections,
    packet_table,
    packet_tables,
)
from vivid_loom.sheets.table import Table

__all__ = [
    "Handed",
    "Page",
    "Section",
    "Table",
    "due_text",
    "packet_files",
    "packet_pages",
    "packet_parts",
    "packet_sections",
    "packet_table",
    "packet_tables",
]
