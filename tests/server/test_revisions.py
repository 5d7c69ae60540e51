"""What is kept of a design's past: exactly what was saved, in little room, as long as the rule says."""

import json
import random
from datetime import UTC, datetime, timedelta

import pytest
from django.utils import timezone

from designs.models import Design, LongText, Revision
from designs.revisions import let_go, newest, recipe_of, taken_apart

NOON = datetime(2026, 6, 3, 12, 0, tzinfo=UTC)


def drawing(nodes, seed=1):
    """A recipe with a drawing of so many nodes."""
    rng = random.Random(seed)
    lines = "".join(f"L{rng.uniform(-90, 90):.3f} {rng.uniform(-90, 90):.3f}" for _ in range(nodes))
    part = {"kind": "artwork", "id": "art-1", "items": [{"d": f"M0 0{lines}Z"}]}
    return {"format": "fulgen-recipe", "version": 8, "parts": [part, {"id": "a", "text": "Heron"}]}


def saved(api, design, recipe, edit):
    body = {"name": "Tern", "recipe": recipe, "based_on": design["revision"], "window": "w", "edit": edit}
    status, told = api.put(f"/designs/{design['id']}", body)
    assert status == 200, told
    return {"id": design["id"], **told, "recipe": recipe}


def art(recipe):
    """What is drawn in a recipe."""
    return [item["d"] for item in recipe["parts"][0]["items"]]


@pytest.fixture
def design(api):
    return api.post("/designs", {"name": "Tern", "recipe": drawing(2_000)})[1]


class TestRoom:
    def test_a_drawing_is_kept_once_and_every_revision_reads_back_as_it_was_saved(self, api, design):
        told, recipes = design, [design["recipe"]]
        for n in range(5):
            recipe = json.loads(json.dumps(told["recipe"]))
            recipe["parts"][1]["text"] = f"Heron {n} “ü” \\ {{$kept}}"
            told = saved(api, told, recipe, n)
            recipes.append(told["recipe"])
        assert LongText.objects.count() == 1
        rows = Revision.objects.order_by("number")
        assert [json.loads(recipe_of(row))["parts"][1]["text"] for row in rows] == [
            recipe["parts"][1]["text"] for recipe in recipes
        ]
        assert all(json.loads(recipe_of(row))["parts"][0] == recipes[0]["parts"][0] for row in rows)
        assert sum(len(row.packed) for row in rows) < 6_000

    def test_two_designs_share_a_drawing_until_both_have_let_it_go(self, api, design):
        status, copy = api.post(f"/designs/{design['id']}/copy")
        assert status == 201
        assert LongText.objects.count() == 1
        assert api.get(f"/designs/{copy['id']}")[1]["recipe"] == design["recipe"]

    def test_a_short_text_stays_in_its_place(self):
        assert taken_apart('{"a":"short"}') == ('{"a":"short"}', {})

    def test_a_thousand_saves_of_a_large_drawing_take_little(self, api):
        """275 MB, when each revision held the whole recipe."""
        recipe = drawing(20_000)
        told = api.post("/designs", {"name": "Tern", "recipe": recipe})[1]
        before = kept_bytes()
        for n in range(4):
            recipe["parts"][1]["text"] = f"Heron {n}"
            told = saved(api, told, recipe, n)
        assert (kept_bytes() - before) / 4 * 1_000 < 15e6


def kept_bytes():
    return sum(len(row.packed) for model in (Revision, LongText) for row in model.objects.all())


class TestLettingGo:
    def revisions(self, api, design, ages):
        """A revision of each age, the oldest first."""
        told = design
        for n, age in enumerate(ages):
            recipe = drawing(1_000, seed=n + 2)
            told = saved(api, told, recipe, n)
            Revision.objects.filter(number=told["revision"]).update(made=NOON - age)
        Revision.objects.filter(number=1).update(made=NOON - timedelta(days=400))
        return told

    def test_the_rule(self, api, design):
        ages = [
            timedelta(days=200), timedelta(days=93),  # too old
            timedelta(days=30, hours=3), timedelta(days=30, hours=2),  # one a day
            timedelta(days=3, minutes=50), timedelta(days=3, minutes=40), timedelta(days=3, minutes=-10),
            timedelta(hours=23), timedelta(minutes=3), timedelta(minutes=2), timedelta(minutes=1),
        ]  # fmt: skip
        told = self.revisions(api, design, ages)
        from designs.models import Design

        kept = Design.objects.get(pk=design["id"])
        let_go(kept, NOON)
        # The first; the last of its day; the last of each hour; all of the last day.
        assert list(kept.revisions.order_by("number").values_list("number", flat=True)) == [
            1, 5, 7, 8, 9, 10, 11, 12,
        ]  # fmt: skip
        assert LongText.objects.count() == 8
        assert art(json.loads(newest(kept))) == art(told["recipe"])

    def test_what_another_window_saved_is_not_forgotten_with_it(self, api, design):
        """A window that comes back after weeks may not write over what it has never seen."""
        told = saved(api, design, drawing(1_000, seed=5), 1)
        told = saved(api, told, drawing(1_000, seed=6), 2)
        Revision.objects.filter(number=2).delete()
        body = {"name": "Tern", "recipe": drawing(1_000, seed=7), "based_on": 1, "window": "w", "edit": 9}
        status, refused = api.put(f"/designs/{design['id']}", body)
        assert (status, refused["kind"]) == (409, "changed-elsewhere")
        assert art(api.get(f"/designs/{design['id']}")[1]["recipe"]) == art(told["recipe"])

    def test_they_are_looked_through_now_and_then(self, api, design, monkeypatch):
        monkeypatch.setattr("designs.revisions.LET_GO_EVERY", 3)
        told = saved(api, design, drawing(1_000, seed=5), 1)
        Revision.objects.update(made=timezone.now() - timedelta(days=100))
        saved(api, told, drawing(1_000, seed=6), 2)
        assert sorted(Revision.objects.values_list("number", flat=True)) == [1, 3]


@pytest.mark.django_db
class TestVersions:
    """The API of a design's versions."""

    def words(self, text):
        return {"format": "fulgen-recipe", "version": 12,
                "parts": [{"kind": "lettering", "id": "one", "text": text}]}  # fmt: skip

    @pytest.fixture
    def design(self, api):
        design = api.post("/designs", {"name": "Yard", "recipe": self.words("Heron")})[1]["id"]
        for number, text in enumerate(("Tern", "Wren"), 1):
            body = {"name": "Yard", "recipe": self.words(text), "based_on": number}
            assert api.put(f"/designs/{design}", body)[0] == 200
        return design

    def test_they_say_what_was_changed_and_are_opened(self, api, design):
        told = api.get(f"/designs/{design}/versions")[1]
        assert [(one["number"], one["changes"]) for one in told] == [
            (3, ["“Tern” is now “Wren”"]), (2, ["“Heron” is now “Tern”"]), (1, ["begun"]),
        ]  # fmt: skip
        opened = api.get(f"/designs/{design}/versions/1")[1]
        assert opened["recipe"]["parts"][0]["text"] == "Heron"

    def test_one_with_a_name_is_kept_for_good(self, api, design):
        told = api.put(f"/designs/{design}/versions/2", {"name": "  As\tsigned "})[1]
        assert told[1]["name"] == "As signed"
        let_go(Design.objects.get(pk=design), timezone.now() + timedelta(days=400))
        kept = api.get(f"/designs/{design}/versions")[1]
        assert [one["number"] for one in kept] == [3, 2, 1]

    def test_what_is_not_kept_is_said(self, api, design):
        assert api.get(f"/designs/{design}/versions/9")[1]["what"] == "This version is not kept any more."
