"""Opening the application, or rendering its screens where no window can be opened."""

from pathlib import Path

import click

from vivid_loom.demo import DEMO_ORDER
from vivid_loom.desktop.application import run
from vivid_loom.desktop.shots import take_shots

__all__ = ["open_application", "render_screens"]


def open_application(order: Path | None) -> int:
    """Open the application on an order, the demo's where none is named."""
    return run(order or DEMO_ORDER)


def render_screens(folder: Path) -> None:
    """Render every main view of the demo order, and name the files."""
    for path in take_shots(folder):
        click.echo(str(path))
