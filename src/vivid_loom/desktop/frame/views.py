"""The stages' pages: each is made when it is first asked for, its modules with it."""

from collections.abc import Callable, Iterator, Mapping, Sequence

from vivid_loom.desktop.work.stage import Stage, StageView

__all__ = ["Views"]


class Views(Mapping[str, StageView]):
    """Pages by the name of their stage.

    Attributes:
        made: those that have been asked for.
    """

    def __init__(self, stages: Sequence[Stage], make: Callable[[Stage], StageView]) -> None:
        self._stages = {stage.name: stage for stage in stages}
        self._make = make
        self.made: dict[str, StageView] = {}

    def __getitem__(self, name: str) -> StageView:
        if name not in self.made:
            self.made[name] = self._make(self._stages[name])
        return self.made[name]

    def __iter__(self) -> Iterator[str]:
        return iter(self._stages)

    def __len__(self) -> int:
        return len(self._stages)
