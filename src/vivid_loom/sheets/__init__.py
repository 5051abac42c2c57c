"""What is printed: tables and pages as a display list, and their renderers."""

from importlib import import_module
from typing import TYPE_CHECKING, Any, Final

if TYPE_CHECKING:
    from vivid_loom.sheets.books import (
        Book,
        Section,
        packet_books,
        packet_pages,
        packet_sections,
    )
    from vivid_loom.sheets.packet import (
        Handed,
        packet_files,
        packet_parts,
        packet_table,
        packet_tables,
    )
    from vivid_loom.sheets.pages.cover import due_text
    from vivid_loom.sheets.paper.drawing import Page
    from vivid_loom.sheets.paper.table import Table

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

_HOMES: Final = {
    "Book": "books",
    "Handed": "packet",
    "Page": "paper.drawing",
    "Section": "books",
    "Table": "paper.table",
    "due_text": "pages.cover",
    "packet_books": "books",
    "packet_files": "packet",
    "packet_pages": "books",
    "packet_parts": "packet",
    "packet_sections": "books",
    "packet_table": "packet",
    "packet_tables": "packet",
}


def __getattr__(name: str) -> Any:
    """Fetch a name from its module when it is asked for: the window opens without the pages."""
    if name not in _HOMES:
        raise AttributeError(f"module {__name__!r} has no attribute {name!r}")
    return getattr(import_module(f"{__name__}.{_HOMES[name]}"), name)
