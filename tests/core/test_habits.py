"""Habits of the hand: what is always done to a letter or a pair of letters of a family."""

import pytest

from fulgen.lettering.habits import Habit, with_habits
from fulgen.lettering.letters import AS_SET, LetterChange, SeamAfter, Way
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.versions import recipe_from

BRIDGED = SeamAfter(Way.BRIDGE)
RN = {"family": "courgette", "letters": "rn", "seam": {"way": "bridge"}}


def seams(text, family="courgette", habits=(RN,), **part):
    lettering = {
        "id": "a", "text": text, "face": {"family": family}, "join": {"how": "auto"},
        "habits": list(habits), **part,
    }  # fmt: skip
    recipe = recipe_from({"format": "fulgen-recipe", "version": 8, "parts": [lettering]})
    return evaluate(recipe).seams


class TestPairs:
    def test_they_act_wherever_the_pair_comes_and_nowhere_else(self):
        ways = {seam.seam.left: seam.seam.joint.way for seam in seams("turn, corny")}
        assert (ways[2], ways[8]) == (Way.BRIDGE, Way.BRIDGE)
        found = with_habits("turn, corny", "courgette", [Habit("courgette", "rn", BRIDGED)], {})
        assert found == {2: LetterChange(seam=BRIDGED), 8: LetterChange(seam=BRIDGED)}

    def test_another_face_has_habits_of_its_own(self):
        assert [s.seam.joint.way for s in seams("rn", "charm")] == [
            s.seam.joint.way for s in seams("rn", "charm", habits=())
        ]

    def test_what_was_decided_for_one_seam_goes_before_them(self):
        [one] = seams("rn", letters={"1": {"seam": {"way": "apart"}}})
        assert one.seam.joint.way is Way.APART

    def test_room_is_in_shares_of_the_size(self):
        wider = {"family": "courgette", "letters": "rn", "after": 0.1}
        for mm in (20.0, 60.0):
            size = {"measure": "capitals", "mm": mm}
            join = {"how": "set"}
            [plain] = seams("rn", habits=(), size=size, join=join)
            [moved] = seams("rn", habits=(wider,), size=size, join=join)
            added = moved.seam.there.x - plain.seam.there.x
            assert added == pytest.approx(0.1, abs=1e-9)

    def test_they_do_not_reach_over_a_space_or_a_line(self):
        assert with_habits("r n\nr", "courgette", [Habit("courgette", "rn", BRIDGED)], {}) == {}

    @pytest.mark.parametrize("change", [LetterChange(face=None, stand_in=None, dx=0.2), AS_SET])
    def test_what_else_was_done_to_a_letter_stays(self, change):
        found = with_habits("rn", "courgette", [Habit("courgette", "rn", BRIDGED)], {0: change})
        assert found[0].seam == BRIDGED
        assert found[0].dx == change.dx


def test_a_letter_is_drawn_so_in_every_word_but_where_it_was_changed_by_itself():
    from fulgen.lettering.reshape import LetterShape, ShapeEdit

    shape = LetterShape("0123456789ab", (ShapeEdit("move", (1,), dx=0.1),))
    own = LetterShape("0123456789ab")
    habit = Habit("courgette", "n", shape=shape)
    found = with_habits("nun", "courgette", [habit], {2: LetterChange(shape=own)})
    assert found == {0: LetterChange(shape=shape), 2: LetterChange(shape=own)}
