"""What the shop always does to pairs of letters, kept for new designs."""

import pytest

from designs import habits

SEAM = {"way": "bridge", "trim": None, "flow": None, "smooth_mm": None}
RN = {"family": "courgette", "letters": "rn", "seam": SEAM}


@pytest.mark.django_db
class TestHabits:
    def test_kept_told_and_taken_back(self, api):
        assert api.get("/habits") == (200, [])
        assert api.put("/habits", {"habit": RN})[0] == 204
        [kept] = api.get("/habits")[1]
        assert kept == {**RN, "after": 0.0, "shape": None}
        assert api.call("DELETE", "/habits?family=courgette&letters=rn", "")[0] == 204
        assert api.get("/habits") == (200, [])

    def test_another_for_the_same_letters_takes_its_place(self, api):
        api.put("/habits", {"habit": RN})
        api.put("/habits", {"habit": {**RN, "after": 0.05}})
        [kept] = api.get("/habits")[1]
        assert kept["after"] == 0.05

    def test_to_take_back_what_is_not_there_changes_nothing(self, api):
        api.put("/habits", {"habit": RN})
        assert api.call("DELETE", "/habits?family=courgette&letters=nr", "")[0] == 204
        assert len(api.get("/habits")[1]) == 1

    @pytest.mark.parametrize(
        "wrong",
        [{"letters": ""}, {"letters": "abc"}, {"after": 99}, {"seam": {"way": "glue"}}, {"family": ""}],
    )
    def test_what_is_no_habit_is_refused(self, api, wrong):
        status, told = api.put("/habits", {"habit": {**RN, **wrong}})
        assert (status, told["kind"]) == (422, "bad-value")
        assert api.get("/habits")[1] == []

    def test_there_is_an_end_to_them(self, api, monkeypatch):
        monkeypatch.setattr(habits, "MOST_KEPT", 1)
        api.put("/habits", {"habit": RN})
        status, told = api.put("/habits", {"habit": {**RN, "letters": "os"}})
        assert (status, told["kind"]) == (422, "too-many-habits")
        assert "Take one back" in told["todo"]
        assert len(api.get("/habits")[1]) == 1
