"""The main promise over everything that ships: each face, a list of names, three spacings.

The weld's area is held against GEOS on a much finer flattening (6e-6 of the size); GEOS is the
outside engine here. Pieces and holes are held against it too.
"""

import numpy as np
import pytest
import shapely

from fulgen.geometry import measure, polygons
from fulgen.geometry.pieces import pieces
from fulgen.geometry.weld import weld
from fulgen.lettering.catalogue import families
from fulgen.lettering.faces import LETTER_FLATNESS
from fulgen.lettering.layout import lay_out
from fulgen.lettering.setting import Faces, Setting, Size
from tests.shipped import LOOKED_AT, written

# Made-up boat names, all the hard letters among them.
NAMES = ("Willowmere", "Zoë Łucja", "Jazzy Quix", "Bogvwxyz", "fjord-Øre", "KRAKEN & 80%")
SPACINGS = (0.0, -0.04, -0.1)


def _counted(region, size):
    """Pieces and holes by GEOS, flecks smaller than 1.2/1000 of the size left out."""
    fleck = (1.2e-3 * size) ** 2
    parts = [part for part in shapely.get_parts(region) if part.area > fleck]
    return len(parts), sum(shapely.Polygon(ring).area > fleck for part in parts for ring in part.interiors)


def _closed(region, distance):
    """A region with what is narrower than twice the distance closed, or, where that is negative, opened."""
    return shapely.buffer(shapely.buffer(region, distance), -distance)


@pytest.mark.parametrize("slug", LOOKED_AT)
def test_every_weld_agrees_with_geos(slug):
    face = families()[slug].face()
    for name in written(slug, NAMES):
        letters_nodes = welded_nodes = 0
        for spacing in SPACINGS:
            layout = lay_out(Setting(text=name, size=Size(mm=25.0), spacing_share=spacing), Faces(face))
            shapes = [p.place.shape(p.form) for p in layout.letters]
            welded = weld(shapes)
            fine = polygons.union([polygons.region_of(s.outline, layout.size * 6e-6) for s in shapes])
            assert measure.area(welded.outline) == pytest.approx(fine.area, rel=3e-4)
            found = pieces(welded)
            assert (len(found), sum(piece.holes for piece in found)) == polygons.count(welded.region)
            counted = _counted(welded.region, layout.size)
            # Where edges come nearer to each other than the flattening (0.015 mm here), they touch or not:
            # grown and shrunk by so much, GEOS says which readings are possible.
            reach = np.linspace(-1, 1, 5) * layout.size * LETTER_FLATNESS
            readings = [_counted(_closed(fine, d), layout.size) for d in reach]
            for count, possible in zip(counted, zip(*readings, strict=True), strict=True):
                assert min(possible) <= count <= max(possible)
            letters_nodes += sum(measure.node_count(s.outline) for s in shapes)
            welded_nodes += measure.node_count(welded.outline)
        assert welded_nodes <= 1.05 * letters_nodes
