"""The one shape in which Fulgen says that something cannot be done.

A maker learns three things: what is wrong, where, and what to do next. The command line
prints them on one line, the API sends them as JSON, the workbench shows them beside the work.
"""

from __future__ import annotations

from dataclasses import dataclass, replace


@dataclass
class Problem(Exception):
    """Something a person can put right.

    what: the fact, in one sentence.        where: the place in the recipe, file or command ("" if none).
    todo: what to do next.                  faces: names of faces that would do, where the face is at fault.
    kind: a stable word for programs, such as "missing-letters".
    """

    kind: str
    what: str
    todo: str
    where: str = ""
    faces: tuple[str, ...] = ()

    def __post_init__(self) -> None:
        super().__init__(self.what)

    def fresh(self) -> Problem:
        """The same, as if it had never been raised: what is raised keeps all that led to it."""
        return replace(self)

    def __str__(self) -> str:
        place = f"{self.where}: " if self.where else ""
        return f"{place}{self.what} {self.todo}".strip()
