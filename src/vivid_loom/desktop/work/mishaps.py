"""What went wrong in the window, kept for whoever asks for a report of it."""

import platform
import traceback
from collections import deque
from collections.abc import Mapping
from datetime import datetime
from importlib.metadata import distributions
from types import TracebackType

__all__ = ["Mishaps"]

KEPT = 20  # the newest; more of them say the same
HEADING = (
    "A report of what went wrong in Vivid Loom. It was written on this machine and sent nowhere; "
    "read it through before you pass it on."
)


class Mishaps:
    """The errors nobody caught since the start, the newest last."""

    def __init__(self) -> None:
        self._texts: deque[str] = deque(maxlen=KEPT)

    def __len__(self) -> int:
        return len(self._texts)

    def note(self, error: BaseException, trace: TracebackType | None, stage: str) -> None:
        """Keep an error with its trace and the stage that was open."""
        told = "".join(traceback.format_exception(type(error), error, trace))
        at = datetime.now().astimezone().isoformat(timespec="seconds")
        self._texts.append(f"{at}, stage {stage}\n{told}")

    def report(self, documents: Mapping[str, str]) -> str:
        """Return a report as plain text.

        Args:
            documents: what goes with it, by title.
        """
        installed = sorted({f"{d.name} {d.version}" for d in distributions()}, key=str.casefold)
        machine = f"{platform.platform()}, Python {platform.python_version()}"
        parts = {"Machine": machine, "Packages": "\n".join(installed)}
        parts |= {f"Error {n} of {len(self)}": t for n, t in enumerate(self._texts, 1)}
        told = (
            f"== {title}\n{text.rstrip()}\n" for title, text in (parts | dict(documents)).items()
        )
        return "\n".join((HEADING + "\n", *told))
