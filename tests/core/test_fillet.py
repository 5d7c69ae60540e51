"""Rounded bays against closed forms, and that nothing else changes."""

import math

import numpy as np
import pytest
import shapely

from fulgen.geometry import measure
from fulgen.geometry.bezier import point
from fulgen.geometry.fillet import round_bays, sharp_bays
from fulgen.geometry.outline import CUBIC
from fulgen.geometry.pieces import pieces
from fulgen.geometry.weld import weld
from fulgen.joining.join_options import JoinOptions
from fulgen.joining.smooth import smooth_seams
from fulgen.lettering.catalogue import FaceChoice, families
from fulgen.lettering.letters import LetterChange, SeamAfter
from fulgen.parts.lettering import Lettering
from fulgen.readiness.joints import joints
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.model import Recipe
from tests.figures import disc, rectangle, shape
from tests.shipped import LOOKED_AT


def filled_between_discs(big, apart, r):
    """Area that an arc of radius r fills in one of the two bays between discs of radius ``big`` that lie
    2·apart apart: the triangle of the three centres less that of the discs' centres and the bay's corner,
    less two sectors of the discs and one of the arc (elementary geometry)."""
    corner, height = math.sqrt(big**2 - apart**2), math.sqrt((big + r) ** 2 - apart**2)
    lean, at_corner = math.atan2(height, apart), math.atan2(corner, apart)
    discs = big**2 * (lean - at_corner)
    arc = r**2 * (math.pi / 2 - lean)
    return apart * height - apart * corner - discs - arc


@pytest.mark.parametrize("radius", [0.3, 1.0, 2.0])
def test_the_bays_between_two_discs(radius):
    welded = weld([shape(disc(0, 0, 10), 0.002), shape(disc(12, 0, 10), 0.002)])
    rounded = round_bays(welded, sharp_bays(welded.outline), radius)
    gained = measure.area(rounded.outline) - measure.area(welded.outline)
    assert gained == pytest.approx(2 * filled_between_discs(10, 6, radius), rel=0.02)
    assert set(rounded.outline.verbs[1:].tolist()) == {CUBIC}
    assert len(sharp_bays(rounded.outline)) == 0


def test_a_right_angle_gets_a_quarter_circle():
    corner = weld([shape(rectangle(0, 0, 20, 5)), shape(rectangle(0, 0, 5, 20))])
    rounded = round_bays(corner, sharp_bays(corner.outline), 2.0)
    gained = measure.area(rounded.outline) - measure.area(corner.outline)
    assert gained == pytest.approx(4 - math.pi, rel=2e-3)


def test_only_the_corners_asked_for_are_rounded():
    cross = weld([shape(rectangle(0, 8, 20, 4)), shape(rectangle(8, 0, 4, 20))])
    bays = sharp_bays(cross.outline)
    assert len(bays) == 4
    rounded = round_bays(cross, bays[:1], 1.0)
    assert len(sharp_bays(rounded.outline)) == 3
    assert measure.area(rounded.outline) - measure.area(cross.outline) == pytest.approx(
        1 - math.pi / 4, rel=1e-2
    )


def test_a_bay_with_room_for_half_of_an_arc_takes_half():
    """The upright is 6 mm long: too short for an arc of 10 mm."""
    corner = weld([shape(rectangle(0, 0, 20, 5)), shape(rectangle(0, 0, 5, 11))])
    rounded = round_bays(corner, sharp_bays(corner.outline), 10.0)
    gained = measure.area(rounded.outline) - measure.area(corner.outline)
    assert gained == pytest.approx(5**2 * (1 - math.pi / 4), rel=2e-3)


def test_a_bay_without_room_takes_a_smaller_arc_or_stays():
    slot = weld(
        [shape(rectangle(0, 0, 10, 2)), shape(rectangle(0, 2, 4.9, 5)), shape(rectangle(5.1, 2, 4.9, 5))]
    )
    rounded = round_bays(slot, sharp_bays(slot.outline), 5.0)
    assert len(pieces(rounded)) == 1
    assert 0 <= measure.area(rounded.outline) - measure.area(slot.outline) < 0.02


def test_a_letters_own_corners_stay_sharp():
    ell = shape(weld([shape(rectangle(0, 0, 4, 20)), shape(rectangle(0, 16, 14, 4))]).outline)
    ring = shape(disc(16, 18, 3))
    welded = weld([ell.named("L"), ring.named("o")])
    smoothed = smooth_seams(welded, lambda one, other: 0.5)
    own = np.array([4.0, 16.0])
    corners = smoothed.outline.cubics[0][sharp_bays(smoothed.outline), 0]
    assert any(np.allclose(bay, own) for bay in corners)
    # All that stays is still known by its letter; an arc is of none.
    origins = smoothed.origins
    assert len(origins.source) == len(smoothed.outline.cubics[0])
    for source, outline in (("L", ell.outline), ("o", ring.outline)):
        rows = np.flatnonzero([origins.sources[n] == source for n in origins.source])
        drawn = outline.cubics[0][origins.side[rows]]
        starts = [point(side, t) for side, t in zip(drawn, origins.start[rows], strict=True)]
        assert np.allclose(starts, smoothed.outline.cubics[0][rows, 0], atol=0.05)
    assert len(sharp_bays(smoothed.outline)) == len(sharp_bays(welded.outline)) - 2


@pytest.mark.parametrize("face", LOOKED_AT)
def test_smooth_seams_in_every_face_add_little_and_keep_pieces_and_holes(face):
    def joined(smooth, how="auto"):
        join = JoinOptions(how=how, smooth_mm=smooth)
        return evaluate(Recipe(parts=(Lettering(text="Tavish", face=FaceChoice(family=face), join=join),)))

    sharp, smooth = joined(0.0), joined(0.4)
    assert [p.holes for p in smooth.pieces] == [p.holes for p in sharp.pieces]
    gained = measure.area(smooth.films[0].shape.outline) - measure.area(sharp.films[0].shape.outline)
    assert 0 <= gained < 0.02 * measure.area(sharp.films[0].shape.outline)
    joints = len(sharp.seams)
    if families()[face].kind == "stencil":  # its letters are in several pieces each, which are joined, too
        joints = len(joined(0.0, "set").pieces) - len(sharp.pieces)
    assert smooth.nodes <= sharp.nodes + 6 * joints


def test_one_seam_is_smoothed_by_itself_and_its_neck_is_told_as_it_is():
    """What is added lies at that seam (shapely; flattened curves differ by less), and the neck that is told
    is the wider for it."""

    def word(letters):
        part = Lettering(text="Heron", join=JoinOptions(how="auto"), letters=letters)
        return evaluate(Recipe(parts=(part,)))

    sharp = word({})
    smooth = word({2: LetterChange(seam=SeamAfter(smooth_mm=0.5))})
    before, after = (joints(found)[1].judgement for found in (sharp, smooth))
    assert before.neck < after.neck < before.neck + 1
    (shape_before,), (shape_after,) = ([f.shape for f in found.films] for found in (sharp, smooth))
    added = shapely.get_parts(shapely.difference(shape_after.region, shape_before.region))
    (grown,) = [part for part in added if part.area > 0.02]
    assert shapely.distance(grown, shapely.LineString(before.ends)) < 0.2
    whole = word({n: LetterChange(seam=SeamAfter(smooth_mm=0.5)) for n in range(1, 5)})
    asked = evaluate(Recipe(parts=(Lettering(text="Heron", join=JoinOptions(how="auto", smooth_mm=0.5)),)))
    assert whole.films[0].outline.points.tolist() == asked.films[0].outline.points.tolist()
    kept = evaluate(
        Recipe(
            parts=(
                Lettering(
                    text="Heron",
                    join=JoinOptions(how="auto", smooth_mm=0.5),
                    letters={n: LetterChange(seam=SeamAfter(smooth_mm=0.0)) for n in (1, 3, 4)},
                ),
            )
        )
    )
    assert kept.films[0].outline.points.tolist() == smooth.films[0].outline.points.tolist()
