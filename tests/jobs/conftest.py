"""The window, and hands for its dialogs."""

from tests.desktop.conftest import answer, open_on, own_order

__all__ = ["answer", "open_on", "own_order"]
