"""What hangs together: things gathered into groups by pairs that belong together (union-find)."""

from __future__ import annotations

from collections.abc import Iterable, Sequence


class Groups:
    """Things by their numbers, each alone to begin with.

    >>> groups = Groups(4, [(0, 2)])
    >>> groups.join(2, 3), groups.join(0, 3)
    (True, False)
    >>> groups.all()
    [[0, 2, 3], [1]]
    """

    def __init__(self, count: int, pairs: Iterable[Sequence[int]] = ()) -> None:
        self._of = [[n] for n in range(count)]
        for one, other in pairs:
            self.join(one, other)

    def join(self, one: int, other: int) -> bool:
        """Puts the groups of two together; False where they were the same already."""
        group, joining = self._of[one], self._of[other]
        if group is joining:
            return False
        group += joining
        for member in joining:
            self._of[member] = group
        return True

    def together(self, one: int, other: int) -> bool:
        return self._of[one] is self._of[other]

    def labels(self) -> list[int]:
        """For each thing the first of its group."""
        return [group[0] for group in self._of]

    def all(self) -> list[list[int]]:
        """The groups, by the first of each."""
        return [group for n, group in enumerate(self._of) if group[0] == n]
