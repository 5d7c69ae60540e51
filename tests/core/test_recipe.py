"""The recipe: what it may say, how it is stored, and what a bad one gets."""

import math

import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from fulgen.geometry import measure
from fulgen.geometry.outline import Outline
from fulgen.geometry.placement import Placement
from fulgen.geometry.polygons import region_of
from fulgen.lettering.catalogue import FaceChoice
from fulgen.lettering.letters import LetterChange, SeamAfter
from fulgen.lettering.setting import Size
from fulgen.parts.lettering import Lettering
from fulgen.problem import Problem
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.evaluation import as_cut, box_as_cut
from fulgen.recipe.model import VERSION, Recipe
from fulgen.recipe.versions import MAX_RECIPE_BYTES, read_recipe, recipe_from


def recipe(**part):
    return Recipe(parts=(Lettering(**{"text": "Willowmere", **part}),))


def plain(**part):
    """A recipe as plain data, with values a model would refuse."""
    return {"format": "fulgen-recipe", "version": 1, "parts": [{"text": "Tern", **part}]}


def refused(data):
    with pytest.raises(Problem) as caught:
        recipe_from(data)
    assert caught.value.todo
    return caught.value


class TestStoring:
    def test_the_same_recipe_is_the_same_text(self):
        one = recipe_from({**plain(features={"liga": True, "kern": False}), "unit": "in"})
        other = recipe_from({"unit": "in", **plain(features={"kern": False, "liga": True})})
        assert one.stored() == other.stored()

    def test_what_is_stored_reads_back_alike(self):
        one = recipe(size=Size(measure="width", mm=177.8), face=FaceChoice(family="caveat", weight=650))
        assert read_recipe(one.stored()) == one

    @given(st.text(max_size=200), st.floats(1, 3000), st.floats(-100, 300))
    @settings(max_examples=100, deadline=None)
    def test_any_words_survive_storing(self, text, mm, spacing):
        try:
            one = recipe(text=text, size=Size(mm=mm), spacing_mm=spacing)
        except ValueError:
            return  # more than 20 lines
        assert read_recipe(one.stored()) == one

    def test_line_ends_of_any_system_are_line_ends(self):
        assert recipe(text="a\r\nb\rc").parts[0].text == "a\nb\nc"

    def test_signs_that_cannot_be_cut_are_dropped(self):
        assert recipe(text="a\x00b\x1bc\td").parts[0].text == "abc d"


class TestBadRecipes:
    def test_five_thousand_letters(self):
        problem = refused(plain(text="a" * 5000))
        assert problem.kind == "too-many-letters"
        assert "5,000 letters" in problem.what
        assert "500" in problem.what

    def test_too_many_lines(self):
        assert "21 lines" in refused(plain(text="a\n" * 20)).what

    @pytest.mark.parametrize(
        ("mm", "said"),
        [
            (0, "too small: it must be 1 mm or more"),
            (-3, "too small"),
            (math.nan, "not a number"),
            (math.inf, "not a number"),
            (1e9, "too large: it can be 3000 mm at most"),
            ("wide", "not a number"),
            (None, "not a number"),
        ],
    )
    def test_sizes_that_are_none(self, mm, said):
        problem = refused(plain(size={"measure": "width", "mm": mm}))
        assert problem.what.startswith("The size is ")
        assert said in problem.what
        assert problem.where == "parts.1.size.mm"

    def test_a_future_version_is_named_and_left_alone(self):
        problem = refused({**plain(), "version": VERSION + 1})
        assert problem.kind == "newer-recipe"
        assert "The file is unchanged" in problem.todo

    @pytest.mark.parametrize("version", [None, "1", 0, -1, True, 1.5])
    def test_a_version_that_is_none(self, version):
        assert refused({**plain(), "version": version}).where == "version"

    @pytest.mark.parametrize("data", [None, [], "text", 5, {}, {"format": "other", "version": 1}])
    def test_what_is_no_recipe(self, data):
        assert refused(data).kind == "not-a-recipe"

    @pytest.mark.parametrize("text", ["", "{", '{"format": ', "\x00", "[" * 100_000])
    def test_malformed_json(self, text):
        with pytest.raises(Problem) as caught:
            read_recipe(text)
        assert caught.value.kind == "not-a-recipe"

    def test_a_huge_recipe(self):
        with pytest.raises(Problem, match="larger than 2 MB"):
            read_recipe(" " * (MAX_RECIPE_BYTES + 1))

    def test_a_field_nobody_knows(self):
        assert "nothing a recipe can have" in refused(plain(glow=True)).what

    @pytest.mark.parametrize(
        "part",
        [
            {"film": "red"}, {"align": "justify"}, {"features": {"../": True}}, {"spacing_mm": 1e6},
            {"line_spacing": 0}, {"id": "No Spaces"}, {"face": {"family": ""}}, {"face": {"weight": 5000}},
            {"face": {"axes": {"wght": math.nan}}}, {"x": 1e9},
        ],
    )  # fmt: skip
    def test_every_other_value_out_of_bounds_is_named(self, part):
        problem = refused(plain(**part))
        assert next(iter(part)) in problem.where

    def test_two_parts_of_one_name(self):
        assert "same id" in refused({**plain(), "parts": [{"text": "a"}, {"text": "b"}]}).what

    def test_too_many_letters_in_all(self):
        parts = [{"text": "a" * 400, "id": f"p{n}"} for n in range(4)]
        assert "1,600 letters" in refused({**plain(), "parts": parts}).what

    def test_an_unknown_face_is_named_with_close_ones(self):
        with pytest.raises(Problem) as caught:
            evaluate(recipe(face=FaceChoice(family="pacifca"))).whole()
        assert caught.value.faces[0] == "Pacifico"


class TestLettersOfTheirOwn:
    """Letters are named by ids, one for each character of the text in composed form."""

    def test_a_recipe_of_version_1_opens_as_one_whose_letters_are_as_the_face_sets_them(self):
        opened = recipe_from(plain())
        assert opened.version == VERSION == 12
        (part,) = opened.parts
        assert (part.join.how, part.letters, part.letter_ids) == ("set", {}, ())

    def test_a_recipe_of_version_10_comes_out_the_same_upright_and_held_by_nothing(self):
        part = {"text": "Heron", "join": {"how": "auto"}, "place": {"x": 3.0, "y": 4.0}}
        old = recipe_from({**plain(), "version": 10, "parts": [part]})
        new = recipe_from({**plain(), "version": 11, "parts": [{**part, "slant": 0.0, "alignment": None}]})
        assert old == new
        assert (old.parts[0].slant, old.parts[0].alignment, old.photo) == (0.0, None, None)

    def test_a_recipe_of_version_11_keeps_all_that_is_named_otherwise_now(self):
        at = {"part": "a", "x": 0.1, "y": 0.2}
        laid = {"film": "#2B5674", "part": "", "copy": 0, "onto": "#C4502E", "sheet": 0, "x": 5.0, "y": 6.0}
        guest = "0a1b2c3d-0000-4000-8000-000000000000"
        old = recipe_from({
            **plain(), "version": 11, "parts": [{"id": "a", "text": "Heron", "travels": "crew"}],
            "known": [{"kind": "neck", "at": at, "mm": 0.7}],
            "cut": {"mirror_known": True, "pieces_known": True, "laid": [laid],
                    "stocks": [{"film": "#2B5674", "onto": "#C4502E"}], "also": [{"design": guest}]},
        })  # fmt: skip
        assert (old.parts[0].group_id, old.accepted_findings[0].mm) == ("crew", 0.7)
        assert (old.cut.mirror_accepted, old.cut.pieces_accepted) == (True, True)
        assert (old.cut.laid[0].sheet_film, old.cut.stock("#2B5674").substitute_film) == ("#C4502E",) * 2
        assert [extra.design for extra in old.cut.extra_designs] == [guest]

    def test_ids_count_from_1_where_none_are_given_or_not_as_many_as_letters(self):
        assert recipe(text="Tern").parts[0].ids == (1, 2, 3, 4)
        assert recipe(text="Tern", letter_ids=(7, 8)).parts[0].ids == (1, 2, 3, 4)
        assert recipe(text="Te", letter_ids=(7, 3)).parts[0].ids == (7, 3)
        # An accent that is typed apart is one character with its letter.
        assert recipe(text="Zoe\u0308").parts[0].ids == (1, 2, 3)

    def test_what_was_done_stays_with_its_id(self):
        changed = recipe(
            text="Tern", letter_ids=(5, 6, 9, 7), letters={9: LetterChange(dy=0.1), 4: LetterChange(dx=1)}
        )
        assert list(changed.parts[0].changes) == [2]

    def test_it_is_kept_and_read_back_the_same(self):
        stored = recipe(text="Te", letters={2: LetterChange(turn=5, seam=SeamAfter(way="bridge"))}).stored()
        assert read_recipe(stored).stored() == stored

    @pytest.mark.parametrize(
        ("part", "said"),
        [
            ({"letters": {"1": {"dx": 99}}}, "too large"),
            ({"letters": {"1": {"turn": 400}}}, "too large"),
            ({"letters": {"1": {"scale": 0}}}, "too small"),
            ({"letters": {"x": {}}}, "not a number"),
            ({"letters": {"1": {"seam": {"way": "glue"}}}}, "must be"),
            ({"letters": {"1": {"alternates": {"swsh": 1000}}}}, "too large"),
            ({"letter_ids": [1, 1]}, "same id"),
            ({"letter_ids": [0]}, "too small"),
            ({"join": {"how": "magic"}}, "must be"),
            ({"join": {"neck_mm": math.inf}}, "not a number"),
        ],
    )
    def test_what_cannot_be_is_named(self, part, said):
        assert said in refused(plain(**part)).what


class TestEvaluating:
    def test_pieces_size_and_cut_of_a_word(self):
        # Four letters of a slab face that do not touch; two counters in R, none in C, E, W.
        crew = evaluate(
            recipe(text="CREW", face=FaceChoice(family="anton"), size=Size(measure="width", mm=100))
        )
        assert crew.box.width == pytest.approx(100)
        assert [p.holes for p in crew.pieces] == [0, 1, 0, 0]
        assert sum(p.area for p in crew.pieces) == pytest.approx(
            sum(f.shape.region.area for f in crew.films), rel=2e-3
        )

    def test_parts_of_one_film_are_welded_and_films_are_kept_apart(self):
        parts = [
            Lettering(text="oo", id="a", film="#111111"),
            Lettering(text="oo", id="b", film="#111111", place=Placement(3.0)),
        ]
        both = evaluate(Recipe(parts=tuple(parts)))
        assert len(both.films) == 1
        other = evaluate(Recipe(parts=(parts[0], parts[1].model_copy(update={"film": "#222222"}))))
        assert [f.colour for f in other.films] == ["#111111", "#222222"]

    def test_mirroring_is_for_who_writes_and_shows(self):
        one = evaluate(recipe())
        other = evaluate(Recipe(mirror=True, parts=recipe().parts))
        assert other.box == one.box
        assert [c.key for c in other.clusters] == [c.key for c in one.clusters]
        outline = one.films[0].outline
        flipped = as_cut(outline, other.recipe)
        assert measure.area(flipped) == pytest.approx(measure.area(outline))
        assert measure.box(flipped) == pytest.approx(box_as_cut(one.box, other.recipe))

    def test_the_figures_scale_with_the_size(self):
        small = evaluate(recipe(size=Size(mm=10)))
        large = evaluate(recipe(size=Size(mm=1000)))
        assert large.cut_length == pytest.approx(100 * small.cut_length, rel=1e-3)
        assert len(large.pieces) == len(small.pieces)
        assert sum(p.area for p in large.pieces) == pytest.approx(
            1e4 * sum(p.area for p in small.pieces), rel=1e-3
        )

    def test_evaluating_twice_makes_nothing_anew(self):
        one, other = evaluate(recipe()), evaluate(recipe())
        assert one.parts[0].built is other.parts[0].built
        assert one.films[0].clusters[0].shape is other.films[0].clusters[0].shape

    def test_the_full_measure_of_letters_welds_to_what_geos_says(self):
        text = "\n".join(["Willowmere Otterbrook oar"] * 20)
        full = evaluate(recipe(text=text, size=Size(mm=10), line_spacing=0.5))
        assert len(full.letters) > 400
        drawn = [
            Outline(form.verbs, letter.place.within(part.place).points(form.points))
            for part, letter in full.letters
            for form in [letter.form.outline]
        ]
        union = shapely.union_all([region_of(outline, 0.003) for outline in drawn])
        assert sum(p.area for p in full.pieces) == pytest.approx(union.area, rel=1e-3)
        assert len(full.pieces) == len(shapely.get_parts(union))
