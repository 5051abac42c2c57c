"""Parts and the shipped generic catalogue."""

from vivid_loom.catalogue.choosing import instead_of
from vivid_loom.catalogue.files import (
    CATALOGUE_FORMAT,
    CATALOGUE_VERSION,
    read_catalogue,
    shipped_catalogue,
)
from vivid_loom.catalogue.records import (
    INTERLOCK,
    Arrangement,
    CableStock,
    Catalogue,
    Price,
    SwitchPart,
    WireStock,
)

__all__ = [
    "CATALOGUE_FORMAT",
    "CATALOGUE_VERSION",
    "INTERLOCK",
    "Arrangement",
    "CableStock",
    "Catalogue",
    "Price",
    "SwitchPart",
    "WireStock",
    "instead_of",
    "read_catalogue",
    "shipped_catalogue",
]
