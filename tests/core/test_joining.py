"""Joining: what is done to a pair, to a word, and what a hand can do. GEOS counts the pieces."""

import pytest
import shapely
from shapely import affinity

from fulgen.geometry import polygons
from fulgen.joining.heights import Hand
from fulgen.joining.join_options import JoinOptions
from fulgen.joining.letter_gap import gaps_between, letter_gap, overlapping, scan_extent
from fulgen.joining.materials import Limits
from fulgen.joining.pair_joining import JoinRequest, Neighbours, options
from fulgen.joining.rating import rate
from fulgen.joining.rhythm import Choices, decide
from fulgen.joining.seam import Seam, State
from fulgen.joining.strength import Body
from fulgen.lettering.bodies import body_and_marks
from fulgen.lettering.catalogue import FaceChoice, find_family
from fulgen.lettering.letters import LetterChange, SeamAfter, Way
from fulgen.lettering.setting import Size
from fulgen.lettering.shaping import shape_line
from fulgen.parts.lettering import Lettering
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.model import MaterialChoice, Recipe
from tests.shipped import LOOKED_AT, written

# All 26 small letters, doubles, capitals, accents and an apostrophe; made up but for two.
NAMES = (
    "Willowmere",
    "Quixby",
    "Zoë",
    "Jazzy",
    "Bo’sun",
    "Fjordlyn",
    "Hannah",
    "Šimůnek",
    "Vyvyan",
    "Kestrel",
)


def recipe(text, face="courgette", how="auto", smooth=0.0, neck=1.2, **part):
    join = JoinOptions(how=how, neck_mm=neck, smooth_mm=smooth)
    return Recipe(parts=(Lettering(text=text, face=FaceChoice(family=face), join=join, **part),))


def bodies(evaluation, *, without="’'."):
    """The letters' bodies and the bars as GEOS polygons, marks and signs that hang left out."""
    part = evaluation.parts[0]
    size, letters = part.built.size, part.built.layout.letters
    found = []
    for letter in letters:
        if letter.text not in without:
            body, _ = body_and_marks(letter.text, letter.form.region)
            at = letter.place
            found.append(affinity.affine_transform(body, [size, 0, 0, size, at.x, at.y]))
    return found + [shape.region for shape in part.shapes[len(letters) :]]


def in_one(evaluation):
    whole = shapely.union_all(bodies(evaluation))
    return len([part for part in shapely.get_parts(whole) if part.area > 0.01]) == 1


@pytest.mark.parametrize("face", LOOKED_AT)
def test_every_word_in_every_face_becomes_one_piece_with_every_neck_as_asked(face):
    for name in written(face, NAMES):
        evaluation = evaluate(recipe(name, face))
        assert in_one(evaluation), name
        for seam in evaluation.seams:
            assert seam.state is State.JOINED, (name, seam.left_text, seam.right_text)
            size = seam.built.size
            assert seam.neck >= 1.199 or seam.neck >= 0.95 * seam.seam.measured.gives(1.2 / size) * size
            assert seam.pinholes(1.0) <= seam.seam.filled
            if seam.seam.joint.shift or seam.seam.joint.bar:
                assert len(seam.seam.measured.true_stubs) <= len(seam.seam.trimmed)


@pytest.mark.parametrize(
    ("face", "name", "neck"),
    [("pacifico", "millow", 1.2), ("dancing-script", "hedde", 0.8), ("sacramento", "allen", 1.2)],
)
def test_a_face_that_joins_by_itself_comes_out_identical(face, name, neck):
    as_set, joined = evaluate(recipe(name, face, "set", neck=neck)), evaluate(recipe(name, face, neck=neck))
    assert [s.seam.joint.way for s in joined.seams] == [Way.LEAVE] * (len(name) - 1)
    assert joined.films[0].shape.outline.points.tolist() == as_set.films[0].shape.outline.points.tolist()
    assert all(s.remedy("mm") == "" for s in joined.seams)


def test_strokes_that_go_on_in_each_other_are_told_as_one():
    (seam,) = evaluate(recipe("fm", "parisienne")).seams
    assert seam.remedy("mm").startswith("strokes of f and m made one")


def test_a_hairline_script_is_told_that_its_strokes_give_no_more():
    evaluation = evaluate(recipe("lovell", "great-vibes", neck=2.0))
    assert any(seam.as_lettering for seam in evaluation.seams)
    assert all(seam.neck < 2 for seam in evaluation.seams if seam.as_lettering)


def test_a_wider_neck_needs_a_longer_slide():
    slides = {n: LetterChange(seam=SeamAfter(way=Way.SLIDE)) for n in range(1, 4)}
    shifts = [
        sum(abs(s.shift) for s in evaluate(recipe("moon", "courgette", neck=neck, letters=slides)).seams)
        for neck in (0.5, 1.2, 2.0)
    ]
    assert shifts == sorted(shifts)
    assert shifts[0] < shifts[2]


def test_the_same_pair_is_joined_alike_in_every_word_and_size():
    one = evaluate(recipe("moon", size={"measure": "capitals", "mm": 30}, neck=1.2)).seams
    larger = evaluate(recipe("moon", size={"measure": "capitals", "mm": 60}, neck=2.4)).seams
    assert [s.seam.joint.shift for s in one] == [s.seam.joint.shift for s in larger]
    other = evaluate(recipe("mope", size={"measure": "capitals", "mm": 60}, neck=2.4)).seams
    assert one[0].seam.joint.bar.ends[0] == other[0].seam.joint.bar.ends[0]


def test_the_width_asked_for_is_the_width_after_joining():
    evaluation = evaluate(recipe("Willowmere", "kaushan-script", size={"measure": "width", "mm": 177.8}))
    assert evaluation.box.width == pytest.approx(177.8, abs=1e-4)
    assert all(seam.state is State.JOINED for seam in evaluation.seams)


def join_pair(left, right, request, x_height=0.5, leans=False):
    """What is done with two letters that are a word by themselves."""
    gaps = gaps_between(scan_extent(left, x_height), scan_extent(right, x_height), 0.0)
    found = options(Neighbours(Body(left), Body(right), Hand(x_height, leans)), request, gaps)
    choices = Choices(found, letter_gap(gaps), overlapping(gaps), fixed=request.way is not None)
    return decide([choices])[0].joint


class TestAPair:
    WISH = JoinRequest(0.03, 0.03)

    @staticmethod
    def stem(x):
        return shapely.box(x, -0.7, x + 0.1, 0)

    def test_round_letters_slide_until_the_neck_is_as_asked(self):
        left, right = shapely.Point(0, 0).buffer(0.25, 64), shapely.Point(0.6, 0).buffer(0.25, 64)
        joint = join_pair(left, right, JoinRequest(0.03, 0.03, Way.SLIDE))
        assert joint.way is Way.SLIDE
        # Two discs of radius r, d apart, share a chord of 2 sqrt(r² - d²/4).
        assert joint.shift == pytest.approx(2 * (0.25**2 - 0.015**2) ** 0.5 - 0.6, abs=3e-3)

    def test_block_letters_side_by_side_are_bridged_at_their_feet_and_not_fused(self):
        joint = join_pair(self.stem(0), self.stem(0.18), self.WISH)
        assert joint.way is Way.BRIDGE
        assert joint.bar.region.bounds[3] == pytest.approx(0, abs=0.01)
        assert self.neck_of(joint) >= 0.03

    def test_written_letters_side_by_side_are_joined_from_the_foot_to_the_middle(self):
        joint = join_pair(self.stem(0), self.stem(0.18), self.WISH, leans=True)
        assert joint.way is Way.FLOW
        (_, leaves), (_, arrives) = joint.bar.ends
        assert leaves > arrives  # it rises: y is down
        shown = joint.bar.region.difference(self.stem(0)).difference(self.stem(0.18))
        assert 0.2 < -shown.centroid.y / 0.7 < 0.6
        assert self.neck_of(joint) >= 0.03

    def neck_of(self, joint):
        right = affinity.translate(self.stem(0.18), joint.shift)
        return Seam(self.stem(0), right, joint.bar.region).neck

    def test_a_crossbar_reaches_its_neighbour_in_its_own_width_and_direction(self):
        cross = shapely.union(shapely.box(0, -0.7, 0.1, 0), shapely.box(0, -0.4, 0.4, -0.34))
        joint = join_pair(cross, self.stem(0.55), JoinRequest(0.03, 0.03, Way.REACH))
        assert joint.way is Way.REACH
        _, y0, x1, y1 = joint.bar.region.bounds
        assert y1 - y0 == pytest.approx(0.06, abs=5e-3)
        assert (y0 + y1) / 2 == pytest.approx(-0.37, abs=5e-3)
        assert joint.bar.length == pytest.approx(0.15 - abs(joint.shift), abs=0.01)
        assert x1 > 0.55 + joint.shift

    @pytest.mark.parametrize("way", [Way.LEAVE, Way.SLIDE, Way.BRIDGE, Way.APART])
    def test_the_makers_choice_overrules(self, way):
        left, right = shapely.Point(0, 0).buffer(0.25), shapely.Point(0.55, 0).buffer(0.25)
        assert join_pair(left, right, JoinRequest(0.03, 0.03, way)).way is way

    def test_letters_kept_apart_have_a_clear_gap_even_where_the_face_joins_them(self):
        left, right = shapely.Point(0, 0).buffer(0.25), shapely.Point(0.4, 0).buffer(0.25)
        joint = join_pair(left, right, JoinRequest(0.03, 0.03, Way.APART))
        assert left.distance(affinity.translate(right, joint.shift)) >= 0.0299

    def test_a_bar_never_crosses_a_counter(self):
        ring = shapely.Point(0.7, -0.3).buffer(0.25).difference(shapely.Point(0.7, -0.3).buffer(0.15))
        joint = join_pair(self.stem(0), ring, JoinRequest(0.03, 0.03, Way.BRIDGE))
        counter = shapely.Polygon(ring.interiors[0])
        assert joint.bar.region.intersection(counter).area < 1e-4


class TestNeighbours:
    def test_a_full_stop_ends_what_is_joined_and_a_space_does(self):
        evaluation = evaluate(recipe("J.R. Moss"))
        assert [s.left_text + s.right_text for s in evaluation.seams] == ["Mo", "os", "ss"]

    def test_under_an_apostrophe_the_letters_meet(self):
        evaluation = evaluate(recipe("Bea’s"))
        assert [s.left_text + s.right_text for s in evaluation.seams] == ["Be", "ea", "as"]
        assert evaluation.seams[2].state is State.JOINED

    def test_a_hyphen_joins_and_stands_apart_when_asked(self):
        joined = evaluate(recipe("Ann-Lo"))
        assert [s.left_text + s.right_text for s in joined.seams] == ["An", "nn", "n-", "-L", "Lo"]
        apart = evaluate(recipe("Ann-Lo", letters={4: LetterChange(apart=True)}))
        assert [s.left_text + s.right_text for s in apart.seams] == ["An", "nn", "Lo"]

    def test_a_capital_drawn_in_two_strokes_is_tied_together(self):
        as_set = evaluate(recipe("K", "great-vibes", "set"))
        assert len(as_set.pieces) == 2
        assert len(evaluate(recipe("K", "great-vibes")).pieces) == 1

    def test_dots_and_accents_are_marks_and_what_a_letter_is_drawn_of_is_not(self):
        def counted(text, face):
            letter = shape_line(find_family(face).face(), text)[0]
            return [len(shapely.get_parts(part)) for part in body_and_marks(text, letter.shape.region)]

        assert counted("i", "anton") == [1, 1]
        assert counted("Š", "nunito") == [1, 1]
        assert counted("ö", "lobster") == [1, 2]
        assert counted("K", "great-vibes") == [2, 0]
        assert counted("o", "lobster") == [1, 0]


class TestByHand:
    def sized(self, text="moon", **part):
        return evaluate(recipe(text, "courgette", "set", size={"measure": "capitals", "mm": 30}, **part))

    def test_a_move_is_kept_as_a_share_and_scales_with_the_size(self):
        plain = self.sized()
        moved = self.sized(letters={3: LetterChange(dx=0.1, dy=-0.2)})
        size = plain.parts[0].built.layout.size
        (_, before), (_, after) = plain.letters[2], moved.letters[2]
        assert after.place.x - before.place.x == pytest.approx(0.1 * size)
        assert after.place.y - before.place.y == pytest.approx(-0.2 * size)
        assert moved.letters[3][1].place.x == pytest.approx(plain.letters[3][1].place.x)

    def test_carried_along_are_all_that_follow_on_the_line(self):
        plain, moved = self.sized("mo on"), self.sized("mo on", letters={2: LetterChange(carry=-0.05)})
        size = plain.parts[0].built.layout.size
        shifts = [b.place.x - a.place.x for (_, a), (_, b) in zip(plain.letters, moved.letters, strict=True)]
        assert shifts == pytest.approx([0, -0.05 * size, -0.05 * size, -0.05 * size])

    def test_the_figures_of_the_seam_follow(self):
        gap = self.sized().seams[1].gap
        nearer = self.sized(letters={3: LetterChange(carry=-0.02)}).seams[1].gap
        assert nearer < gap

    def test_a_letter_turned_about_its_middle_and_made_larger(self):
        turned = self.sized("o", letters={1: LetterChange(turn=90)})
        plain = self.sized("o")
        assert turned.box.width == pytest.approx(plain.box.height, rel=1e-3)
        larger = self.sized("o", letters={1: LetterChange(scale=2)})
        assert larger.box.height == pytest.approx(2 * plain.box.height, rel=1e-6)

    def test_a_letter_of_another_face_and_one_of_another_shape(self):
        plain = evaluate(recipe("Willow", "pacifico", "set"))
        other = evaluate(
            recipe("Willow", "pacifico", "set", letters={1: LetterChange(face=FaceChoice(family="anton"))})
        )
        shape = evaluate(
            recipe("Willow", "pacifico", "set", letters={1: LetterChange(alternates={"salt": 1})})
        )
        outlines = {e.letters[0][1].form.outline.points.tobytes() for e in (plain, other, shape)}
        assert len(outlines) == 3
        assert shape.parts[0].built.lost_shapes == ()
        lost = evaluate(recipe("Willow", "anton", "set", letters={1: LetterChange(alternates={"swsh": 1})}))
        assert lost.parts[0].built.lost_shapes == ("W",)

    def test_hands_come_after_joining_and_are_not_undone_by_it(self):
        joined = evaluate(recipe("moon"))
        lifted = evaluate(recipe("moon", letters={3: LetterChange(dx=0.4)}))
        assert lifted.seams[0].shift == joined.seams[0].shift
        assert lifted.seams[1].state is State.GAP

    def test_a_bar_goes_along_with_letters_that_a_hand_moves(self):
        choice = {1: LetterChange(seam=SeamAfter(way="bridge"))}
        bridged = evaluate(recipe("ll", "anton", letters=choice))
        lowered = evaluate(recipe("ll", "anton", letters={**choice, 2: LetterChange(dx=0.05, dy=0.1)}))
        assert len(bridged.pieces) == len(lowered.pieces) == 1
        assert lowered.seams[0].state is State.JOINED

    def test_one_seam_decided_otherwise(self):
        evaluation = evaluate(recipe("moon", letters={2: LetterChange(seam=SeamAfter(way="apart"))}))
        assert [s.state for s in evaluation.seams] == [State.JOINED, State.GAP, State.JOINED]
        assert len(evaluation.pieces) == 2

    def test_stubs_trimmed_and_pinholes_filled_only_where_asked(self):
        def trimmed(trim):
            letters = {1: LetterChange(seam=SeamAfter(way="leave", trim=trim)), 2: LetterChange(carry=-0.08)}
            (seam,) = evaluate(recipe("tl", "alex-brush", "set", letters=letters)).seams
            return len(seam.seam.measured.true_stubs), len(seam.seam.trimmed)

        assert trimmed(None) == (1, 0)
        assert trimmed(False) == (1, 0)
        # Asked for, all that sticks out is taken off, the other letter's tip as well.
        assert trimmed(True) == (1, 2)


def test_a_trim_takes_off_the_stub_and_nothing_else():
    evaluation = evaluate(recipe("Quixby", "alex-brush"))
    (seam,) = [s for s in evaluation.seams if s.seam.trimmed]
    untrimmed = [
        letter.place.region(shape_line(seam.built.faces.face, "Quixby")[n].shape.region)
        for n, letter in enumerate(seam.built.layout.letters)
    ]
    # Chords of the same curves may differ by their flattening.
    lost = shapely.union_all(untrimmed).difference(evaluation.films[0].shape.region.buffer(0.02))
    stubs = [trim.stub.region for trim in seam.seam.trimmed]
    on_work = [seam.built.seam_place(seam.seam).region(stub).buffer(0.05) for stub in stubs]
    assert lost.area > 0.2
    assert lost.difference(shapely.union_all(on_work)).area < 1e-3


def test_a_filled_pinhole_is_a_hole_less_and_the_outline_is_otherwise_the_same():
    evaluation = evaluate(recipe("Hollis", "archivo-black"))
    filled = sum(s.seam.filled for s in evaluation.seams)
    assert filled > 0
    plain = polygons.union([s.region for s in evaluation.parts[0].shapes])
    assert polygons.count(plain)[1] - sum(p.holes for p in evaluation.pieces) == filled
    for film in evaluation.films:
        assert polygons.count(film.shape.region) == (len(film.pieces), sum(p.holes for p in film.pieces))
        assert film.shape.region.area == pytest.approx(sum(p.area for p in film.pieces), rel=2e-3)


def long_gaps(evaluation, narrow):
    """What a closing by GEOS fills between two letters that is longer than 1 mm, and about as wide all along:
    a bay, whose edges meet in a point, is half as wide as its mouth on average."""
    part = evaluation.parts[0]
    letters = [part.place.region(at.region(shape.region)) for shape, at in part.built.shapes]
    whole = shapely.union_all([film.shape.region for film in evaluation.films])
    closed = whole.buffer(narrow / 2, quad_segs=8).buffer(-narrow / 2 - 1e-3, quad_segs=8)
    found = [gap for gap in shapely.get_parts(closed.difference(whole)) if gap.area > 0.01]
    between = [gap for gap in found if sum(shapely.dwithin(gap, letter, 0.02) for letter in letters) > 1]
    long = [(gap, shapely.minimum_rotated_rectangle(gap).length / 2) for gap in between]
    return [gap for gap, length in long if length > 1.2 and gap.area / length > 0.6 * narrow]


def test_joining_leaves_no_slit_that_is_too_narrow_to_weed():
    """A slit is weeded where the film's gap limit is 0.3 mm (common practice, no source)."""
    size = Size("capitals", 25.0)
    closed = evaluate(recipe("Ditto", "alfa-slab-one", size=size))
    assert long_gaps(closed, 0.3) == []
    # A material that holds between edges ever so near keeps it.
    limits = Limits(neck_mm=0.8, stroke_mm=0.6, hole_mm=1.0, piece_mm=1.5, gap_mm=0.0)
    own = MaterialChoice("Mine", limits)
    as_joined = evaluate(recipe("Ditto", "alfa-slab-one", size=size).model_copy(update={"material": own}))
    assert len(long_gaps(as_joined, 0.3)) == 1
    added = closed.films[0].shape.region.difference(as_joined.films[0].shape.region)
    assert 0.1 < added.area < 0.02 * closed.films[0].shape.region.area
    assert len(closed.pieces) == len(as_joined.pieces)


class TestRating:
    def test_a_face_that_joins_one_that_does_not_and_how_thin_they_are(self):
        joining, block = rate(find_family("pacifico").face()), rate(find_family("anton").face())
        assert joining.words == "joins by itself"
        assert joining.small > 0.9
        assert (block.words, block.small) == ("needs joining", 0)
        hairline = rate(find_family("pinyon-script").face())
        assert hairline.thinnest < joining.thinnest < block.thinnest

    def test_it_says_how_far_it_is(self):
        heard = []
        rate(find_family("anton").face(), done=heard.append)
        assert heard == sorted(heard)
        assert 0 < heard[0] < heard[-1] <= 1

    @pytest.mark.parametrize("slug", ["anton", "pacifico", "cinzel"])
    def test_its_smallest_counter_is_just_lost_where_counters_are_worn_by_half_of_it(self, slug):
        face = find_family(slug).face()
        counter = rate(face).counter
        letters = (letter.shape.region for sign in "abdegopqABDOPQR" for letter in shape_line(face, sign))
        holes = [shapely.Polygon(ring) for region in letters for part in shapely.get_parts(region)
                 for ring in part.interiors]  # fmt: skip
        assert not any(shapely.buffer(hole, -0.48 * counter).is_empty for hole in holes)
        assert any(shapely.buffer(hole, -0.52 * counter).is_empty for hole in holes)


@pytest.mark.parametrize("name", ["ly", "Fjordlyn", "Holly"])
def test_a_seam_is_measured_at_the_strokes_that_are_joined(name):
    """The y of this face is two strokes: the l is joined to the one, and was measured to the other."""
    evaluation = evaluate(recipe(name, "allerta-stencil"))
    assert in_one(evaluation)
    assert {seam.state for seam in evaluation.seams} == {State.JOINED}
