"""The graph of a recipe's parts: which have to be made before which."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from graphlib import CycleError, TopologicalSorter

from fulgen.problem import Problem


def in_order(needs: Mapping[str, Sequence[str]]) -> list[str]:
    """Parts by their ids, each after all that it needs.

    Raises Problem "cycle" when parts need each other in a ring, "no-part" when one is not there.

    >>> in_order({"name": ["ring"], "ring": []})
    ['ring', 'name']
    """
    for part, wanted in needs.items():
        for other in wanted:
            if other not in needs:
                raise Problem(
                    "no-part",
                    f"The part “{part}” is made from “{other}”, which is not there.",
                    "Put that part back, or choose another for it.",
                    part,
                )
    try:
        return list(TopologicalSorter(needs).static_order())
    except CycleError as error:
        ring = error.args[1]
        raise Problem(
            "cycle",
            f"These parts are made from each other in a ring: {', '.join(f'“{part}”' for part in ring)}.",
            "Take one of them out of what another is made from.",
            ring[0],
        ) from None
