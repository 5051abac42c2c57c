"""What is printed: tables and pages as a display list, and their renderers."""

from vivid_loom.sheets.books import Book, Section, packet_books, packet_pages, packet_sections
from vivid_loom.sheets.cover import due_text
from vivid_loom.sheets.drawing import Page
from vivid_loom.sheets.packet import (
    Handed,
    packet_files,
    packet_parts,
    packet_table,
    packet_tables,
)
from vivid_loom.sheets.table import Table

__all__ = [
    "Book",
    "Handed",
    "Page",
    "Section",
    "Table",
    "due_text",
    "packet_books",
    "packet_files",
    "packet_pages",
    "packet_parts",
    "packet_sections",
    "packet_table",
    "packet_tables",
]
