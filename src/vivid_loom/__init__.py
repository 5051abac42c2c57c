"""Vivid Loom: drafts a boat's wiring from one customer order, and says why."""

__version__ = "0.1.0"
