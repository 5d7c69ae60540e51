"""Faces of a maker's own, ratings and the shapes of letters, as the web app asks for them."""

import json

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from designs import faces
from designs.management.commands.write_schemas import ratings
from designs.models import OwnFace
from fulgen.joining.rating import Rating
from fulgen.lettering.catalogue import FACES_DIR
from tests.fonts import make_font
from tests.server.conftest import recipe
from tests.server.test_api import of_part, refused

LOBSTER = (FACES_DIR / "lobster" / "Lobster_400Regular.ttf").read_bytes()


@pytest.fixture(autouse=True)
def no_face_known():
    faces._own_families.clear()


def upload(api, data, name="mine.ttf", licence=""):
    body = {"file": SimpleUploadedFile(name, data), "licence": licence}
    answer = api.client.post("/api/own-faces", body)
    return answer.status_code, answer.json()


class TestAFaceOfOnesOwn:
    @pytest.mark.parametrize("kind", ["ttf", "otf", "woff", "woff2"])
    def test_it_is_checked_kept_rated_and_used(self, api, kind):
        status, face = upload(api, make_font(kind), f"square.{kind}", "mine to cut")
        assert status == 201
        assert (face["name"], face["kind"], face["licence"]) == ("Test Square", "own", "mine to cut")
        listed = api.get("/faces")[1]
        assert listed[0]["slug"] == face["slug"]
        assert listed[0]["joins"]["words"] == "needs joining"
        set_in_it = api.evaluated(recipe("ab", face={"family": face["slug"]}))
        assert len(set_in_it["films"][0]["pieces"]) == 2
        samples = api.post("/faces/samples", {"text": "ab", "faces": [face["slug"]]})[1]
        assert samples[0]["lacks"] == []

    def test_the_same_file_again_is_the_same_face(self, api):
        one, other = upload(api, LOBSTER)[1], upload(api, LOBSTER, "again.ttf")[1]
        assert one["slug"] == other["slug"]
        assert OwnFace.objects.count() == 1

    def test_one_taken_off_the_list_stays_in_the_designs_that_use_it_and_can_be_put_back(self, api):
        slug = upload(api, LOBSTER)[1]["slug"]
        design = api.post("/designs", {"name": "d", "recipe": recipe("Tern", face={"family": slug})})[1]
        assert api.call("DELETE", f"/own-faces/{slug}")[0] == 204
        assert all(face["slug"] != slug for face in api.get("/faces")[1])
        assert api.evaluated(design["recipe"])["letters"]
        assert api.post(f"/own-faces/{slug}/restore")[1]["slug"] == slug
        assert api.get("/faces")[1][0]["slug"] == slug

    @pytest.mark.parametrize(
        ("data", "said"),
        [
            (b"", "not a font"),
            (b"GIF89a and so on", "not a font"),
            (LOBSTER[: len(LOBSTER) // 2], "mine.ttf"),
            (make_font(letters=""), "has no letters"),
            (b"\0" * 13_000_000, "larger than"),
        ],
    )
    def test_what_is_no_face_is_refused_and_nothing_is_kept(self, api, data, said):
        problem = refused(upload(api, data))
        assert said in problem["what"] + problem["todo"]
        assert OwnFace.objects.count() == 0
        assert api.get("/faces")[0] == 200

    def test_a_body_beyond_all_measure_is_refused_at_the_door(self, api):
        answer = api.client.post(
            "/api/own-faces",
            b"x",
            "multipart/form-data; boundary=x",
            headers={"content-length": str(50 * 2**20)},
        )
        assert answer.status_code == 413
        assert "13 MB" in answer.json()["what"]

    def test_a_design_whose_face_is_not_here_says_so(self, api):
        problem = of_part(api.post("/evaluate", {"recipe": recipe("Tern", face={"family": "own-gone"})}))
        assert problem["kind"] == "no-face"
        assert "add its file again" in problem["todo"]

    def test_a_face_that_is_none_of_ones_own_cannot_be_taken_off(self, api):
        assert refused(api.call("DELETE", "/own-faces/lobster"), 404)["kind"] == "not-found"

    def test_a_full_list_says_so(self, api, monkeypatch):
        monkeypatch.setattr(faces, "MAX_OWN_FACES", 1)
        assert upload(api, LOBSTER)[0] == 201
        assert refused(upload(api, make_font()))["kind"] == "list-full"

    def test_a_rating_that_was_cut_short_is_taken_up_again(self, api):
        slug = upload(api, LOBSTER)[1]["slug"]
        OwnFace.objects.update(rating=None, rated_share=0.4)
        api.get("/faces")
        assert OwnFace.objects.get(slug=slug).rating["small"] > 0.5

    def test_a_rating_that_fails_is_told_and_not_tried_again_at_every_look(self, api, monkeypatch):
        tries = []

        def fails(face, done):
            tries.append(face)
            raise ValueError("a face that no one can rate")

        monkeypatch.setattr(faces, "rate", fails)
        slug = upload(api, LOBSTER)[1]["slug"]
        for _ in range(3):
            listed = api.get("/faces")[1][0]
        assert (listed["slug"], listed["joins"], listed["rating_failed"]) == (slug, None, True)
        assert len(tries) == 1

    def test_a_list_of_many_reads_no_file_and_keeps_no_more_than_its_bound(self, api, monkeypatch):
        letters = "".join(map(chr, range(0x4E00, 0x4E00 + 300)))
        monkeypatch.setattr(faces, "rate", lambda face, done: Rating(0, 0, 0.1))
        for n in range(8):
            upload(api, make_font(letters=letters, advance=700 + n))
        api.get("/faces")
        faces._own_families.clear()
        assert len([f for f in api.get("/faces")[1] if f["kind"] == "own"]) == 8
        assert faces._own_families.bytes_kept == 0
        assert all(file.size for file in faces._own(api.get("/faces")[1][0]["slug"]).face().files)
        assert 0 < faces._own_families.bytes_kept <= 64 * 2**20


def test_shipped_faces_come_with_how_they_join(api):
    listed = {face["slug"]: face for face in api.get("/faces")[1]}
    assert listed["pacifico"]["joins"]["words"] == "joins by itself"
    assert listed["anton"]["joins"]["words"] == "needs joining"
    assert listed["great-vibes"]["joins"]["thinnest"] < 0.03


def test_the_ratings_kept_in_the_project_are_what_is_measured():
    kept = json.loads((FACES_DIR / "ratings.json").read_text("utf-8"))
    assert kept == json.loads(ratings())


class TestSeams:
    def test_every_seam_comes_with_its_figures_in_mm(self, api):
        body = recipe("Moss", face={"family": "courgette"}, join={"how": "auto", "neck_mm": 1.2})
        seams = api.seams({**body, "version": 2})
        assert [seam["left_text"] + seam["right_text"] for seam in seams] == ["Mo", "os", "ss"]
        assert [seam["left"] for seam in seams] == [1, 2, 3]
        for seam in seams:
            assert seam["state"] == "joined"
            assert seam["neck_mm"] >= 1.2
            (x0, y0), (x1, y1) = ((end["x"], end["y"]) for end in seam["ends"])
            assert ((x1 - x0) ** 2 + (y1 - y0) ** 2) ** 0.5 == pytest.approx(seam["neck_mm"], rel=0.02)

    def test_materials_say_how_wide_their_joints_want_to_be(self, api):
        materials = api.get("/materials")[1]
        film = next(m["material"] for m in materials if m["material"]["name"] == "Adhesive film")
        assert (film["joint_mm"], film["limits"]["neck_mm"], film["limits"]["hole_mm"]) == (1.2, 0.8, 1.0)


class TestAlternates:
    def test_the_shapes_of_a_letter_each_once_with_what_brings_it(self, api):
        body = {"recipe": recipe("Rose", face={"family": "allura"}), "part": "lettering-1", "at": 3}
        shapes = api.post("/faces/alternates", body)[1]
        assert shapes[0]["features"] == {}
        assert len({shape["d"] for shape in shapes}) == len(shapes) >= 3
        changed = recipe(
            "Rose", face={"family": "allura"}, letters={"4": {"alternates": shapes[1]["features"]}}
        )
        plain, other = (
            api.evaluated({**b, "version": 2})["letters"][3]["form"]
            for b in (recipe("Rose", face={"family": "allura"}), changed)
        )
        assert plain != other

    def test_a_place_without_a_letter_has_none(self, api):
        body = {"recipe": recipe("Rose"), "part": "lettering-1", "at": 99}
        assert api.post("/faces/alternates", body)[1] == []
