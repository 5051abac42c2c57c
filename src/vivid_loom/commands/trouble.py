"""Input that cannot be taken: one line on the error stream, and its exit code."""

import sys
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Final

import click

from vivid_loom.drafting import DraftError
from vivid_loom.quantities.document import DocumentError

__all__ = ["BAD_INPUT", "bad_input_said"]

BAD_INPUT: Final = 2


@contextmanager
def bad_input_said() -> Iterator[None]:
    """Say what cannot be taken in one line and leave with ``BAD_INPUT``."""
    try:
        yield
    except (DocumentError, DraftError) as error:
        click.echo(f"vivid-loom: {error}", err=True)
        sys.exit(BAD_INPUT)
