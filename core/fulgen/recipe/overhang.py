"""Words that run off what they lie on: a name that is longer than the plate it is cut out of."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from functools import partial

import shapely

from fulgen.bounded import BoundedCache
from fulgen.geometry.weld import geos_errors_as_problems
from fulgen.parts.built_part import PlacedPart
from fulgen.parts.combination import Combination
from fulgen.parts.lettering import Lettering
from fulgen.parts.welding import body_of
from fulgen.problem import Problem
from fulgen.recipe.model import Recipe
from fulgen.units import show_length

_LEAST_MM = 0.05
"""What runs off by less is not to be seen (†)."""


def overhangs(recipe: Recipe, built: Mapping[str, PlacedPart]) -> Iterator[tuple[str, Problem]]:
    """Letterings that lie partly on their ground and partly beside it, by their ids, with how far they run
    off. Their ground is what they are cut out of, or the part that they are aligned to."""
    for name, ground in _grounds(recipe):
        lettering, under = recipe.part(name), built.get(ground)
        over = built.get(name)
        if not isinstance(lettering, Lettering) or under is None or over is None:
            continue
        beyond = _beyond_of.get((over.key, under.key), partial(_beyond, over, under))
        if beyond > _LEAST_MM:
            words = " ".join(lettering.text.split())
            yield (
                name,
                Problem(
                    "off-ground",
                    f"“{words}” runs {show_length(beyond, recipe.unit)} off what it lies on.",
                    "Make it smaller, or what it lies on larger.",
                    name,
                ),
            )


def _grounds(recipe: Recipe) -> Iterator[tuple[str, str]]:
    """Parts, each with what it lies on: what it is cut out of, else what it is aligned to."""
    plates = [part for part in recipe.parts if isinstance(part, Combination) and part.how == "cut"]
    out_of = {member: plate.members[0] for plate in plates for member in plate.members[1:]}
    yield from out_of.items()
    for part in recipe.parts:
        to = part.alignment.to if part.alignment else None
        if to is not None and part.id not in out_of and not isinstance(recipe.part(to), Lettering):
            yield part.id, to


def _beyond(over: PlacedPart, under: PlacedPart) -> float:
    """How far one part runs off another that it lies on, in mm; 0 where it lies wholly on it or beside it."""
    with geos_errors_as_problems():
        parts = shapely.get_parts(body_of(under).region)
        # A name may lie over a hole of its ring.
        ground = shapely.union_all(shapely.polygons(shapely.get_exterior_ring(parts)))
        body = body_of(over).region
        if not body.intersects(ground):
            return 0.0
        points = shapely.get_coordinates(shapely.difference(body, ground))
    return float(shapely.distance(shapely.points(points), ground).max(initial=0.0))


_beyond_of: BoundedCache[tuple[str, str], float] = BoundedCache(2**20, lambda _: 300)
