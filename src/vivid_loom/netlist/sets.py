"""Disjoint sets of numbers: what is joined to what, while it is being joined."""

__all__ = ["Sets"]


class Sets:
    """Disjoint sets of numbers that grow together."""

    def __init__(self, count: int) -> None:
        self.root = list(range(count))

    def find(self, at: int) -> int:
        """Return the number that stands for a set."""
        root = self.root
        while root[at] != at:
            root[at] = root[root[at]]
            at = root[at]
        return at

    def join(self, a: int, b: int) -> None:
        """Make one set of two."""
        self.root[self.find(a)] = self.find(b)
