"""What is printed: tables and pages as a display list, and their renderers."""

from vivid_loom.sheets.drawing import Page
from vivid_loom.sheets.packet import due_text, packet_files, packet_pages, packet_tables
from vivid_loom.sheets.table import Table

__all__ = ["Page", "Table", "due_text", "packet_files", "packet_pages", "packet_tables"]
