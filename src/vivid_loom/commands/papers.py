"""What the program says of itself: its rules, the schemas of its files."""

import json
from pathlib import Path

import click

from vivid_loom.boat import (
    BOAT_FORMAT,
    BOAT_VERSION,
    LOADS_FORMAT,
    LOADS_VERSION,
    PARTS_FORMAT,
    PARTS_VERSION,
    Boat,
    GenericLoads,
    GenericParts,
)
from vivid_loom.catalogue import CATALOGUE_FORMAT, CATALOGUE_VERSION, Catalogue
from vivid_loom.order import ORDER_FORMAT, ORDER_VERSION, SHOP_FORMAT, SHOP_VERSION, Order, Shop
from vivid_loom.quantities.atomic import write_atomically
from vivid_loom.quantities.document import schema_of
from vivid_loom.sheets.words.rules_text import rules_markdown

__all__ = ["print_rules", "write_schemas"]


def print_rules() -> None:
    """Print every rule as Markdown."""
    click.echo(rules_markdown(), nl=False)


def write_schemas(folder: Path) -> None:
    """Write the JSON Schemas of the file formats."""
    folder.mkdir(parents=True, exist_ok=True)
    for record_type, kind, version in (
        (Order, ORDER_FORMAT, ORDER_VERSION),
        (Boat, BOAT_FORMAT, BOAT_VERSION),
        (Catalogue, CATALOGUE_FORMAT, CATALOGUE_VERSION),
        (GenericLoads, LOADS_FORMAT, LOADS_VERSION),
        (GenericParts, PARTS_FORMAT, PARTS_VERSION),
        (Shop, SHOP_FORMAT, SHOP_VERSION),
    ):
        schema = json.dumps(schema_of(record_type, kind, version), indent=1, ensure_ascii=False)
        write_atomically(folder / f"{kind}.schema.json", f"{schema}\n".encode())
