"""Faces of a maker's own, ratings and the shapes of letters, as the web app asks for them."""

import io
import json

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from fontTools.ttLib import TTCollection, TTFont

from designs import faces
from designs.management.commands.write_schemas import face_marks, face_row
from designs.models import FavouriteFace, OwnFace
from fulgen.joining.face_record import FaceRecord, shipped_records
from fulgen.lettering.catalogue import FACES_DIR, face_index, families
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
        assert [joins["words"] for joins in listed[0]["joins"]] == ["needs joining"]
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
        OwnFace.objects.update(record=None, rated_share=0.4)
        api.get("/faces")
        assert OwnFace.objects.get(slug=slug).record["ratings"]["Latin"]["small"] > 0.5

    def test_a_rating_that_fails_is_told_and_not_tried_again_at_every_look(self, api, monkeypatch):
        tries = []

        def fails(face, done):
            tries.append(face)
            raise ValueError("a face that no one can rate")

        monkeypatch.setattr(faces, "record_of", fails)
        slug = upload(api, LOBSTER)[1]["slug"]
        for _ in range(3):
            listed = api.get("/faces")[1][0]
        assert (listed["slug"], listed["joins"], listed["rating_failed"]) == (slug, [], True)
        assert len(tries) == 1

    def test_a_list_of_many_reads_no_file_and_keeps_no_more_than_its_bound(self, api, monkeypatch):
        letters = "".join(map(chr, range(0x4E00, 0x4E00 + 300)))
        known = shipped_records()["anton"]
        monkeypatch.setattr(faces, "record_of", lambda family, done: known)
        for n in range(8):
            upload(api, make_font(letters=letters, advance=700 + n))
        api.get("/faces")
        faces._own_families.clear()
        assert len([f for f in api.get("/faces")[1] if f["kind"] == "own"]) == 8
        assert faces._own_families.bytes_kept == 0
        assert all(file.size for file in faces._own(api.get("/faces")[1][0]["slug"]).face().files)
        assert 0 < faces._own_families.bytes_kept <= 64 * 2**20


def test_shipped_faces_come_with_what_they_write_how_they_look_and_join(api):
    listed = {face["slug"]: face for face in api.get("/faces")[1]}
    joins = {slug: {one["system"]: one for one in face["joins"]} for slug, face in listed.items()}
    assert joins["pacifico"]["Latin"]["words"] == joins["rakkas"]["Arabic"]["words"] == "joins by itself"
    assert joins["anton"]["Latin"]["words"] == "needs joining"
    assert joins["great-vibes"]["Latin"]["thinnest"] < 0.03
    assert {"thick", "upright"} <= set(listed["anton"]["looks"])
    assert {"fine", "slanted", "swashes"} <= set(listed["great-vibes"]["looks"])
    assert (listed["pacifico"]["written"], listed["anton"]["written"]) == (True, False)
    assert {"Latin", "Devanagari"} == set(listed["yatra-one"]["systems"])


def test_what_is_kept_of_the_faces_is_of_their_files_as_they_are():
    """./fulgen schemas writes it anew where files, or how they are looked at, have changed."""
    assert {slug: row["made_of"] for slug, row in face_index().items()} == face_marks()
    assert list(face_index()) == list(families())


@pytest.mark.parametrize("slug", ["anton", "rakkas", "comfortaa", "windsong"])
def test_what_is_kept_of_a_face_is_what_is_measured(slug):
    kept = {name: value for name, value in face_index()[slug].items() if name != "made_of"}
    assert kept == json.loads(json.dumps(face_row(slug)))


class TestFavourites:
    def test_they_are_the_shops_and_told_in_the_list(self, api):
        assert api.call("PUT", "/favourite-faces/anton")[0] == 204
        assert api.call("PUT", "/favourite-faces/anton")[0] == 204
        assert [face["slug"] for face in api.get("/faces")[1] if face["favourite"]] == ["anton"]
        assert api.call("DELETE", "/favourite-faces/anton")[0] == 204
        assert not FavouriteFace.objects.exists()

    def test_a_face_that_is_not_here_is_none(self, api):
        assert refused(api.call("PUT", "/favourite-faces/nowhere"))["kind"] == "no-face"
        assert not FavouriteFace.objects.exists()


class TestFacesLikeOne:
    def test_the_most_similar_come_first_and_write_the_same(self, api):
        found = api.get("/faces/great-vibes/like")[1]
        assert "great-vibes" not in found
        kinds = [families()[slug].kind for slug in found[:8]]
        assert kinds == ["script"] * 8
        assert families()[found[-1]].kind not in ("script", "brush")

    def test_one_that_is_not_measured_yet_says_so(self, api, monkeypatch):
        slug = upload(api, LOBSTER)[1]["slug"]
        OwnFace.objects.update(record=None)
        assert refused(api.get(f"/faces/{slug}/like"))["kind"] == "not-measured"

    def test_one_of_ones_own_is_compared_too(self, api):
        slug = upload(api, LOBSTER)[1]["slug"]
        api.get("/faces")
        assert api.get(f"/faces/{slug}/like")[1][0] == "lobster"
        assert FaceRecord.from_dict(OwnFace.objects.get(slug=slug).record) == shipped_records()["lobster"]


class TestFacesThatHaveTheLetters:
    @pytest.mark.parametrize(
        ("text", "system", "has"),
        [("مريم", "Arabic", "rakkas"), ("Ελένη", "Greek", "comfortaa"), ("Nguyễn", "Vietnamese", "pacifico"),
         ("Щепан", "Cyrillic", "lobster"), ("Maud", "Latin", "anton")],
    )  # fmt: skip
    def test_they_are_named_with_the_writing_system(self, api, text, system, has):
        told = api.post("/faces/able", {"text": text})[1]
        assert told["system"] == system
        assert has in told["faces"]
        assert ("anton" in told["faces"]) == (system in ("Latin", "Vietnamese"))

    def test_a_name_that_the_face_cannot_write_is_answered_by_faces_that_do(self, api):
        problem = of_part(api.post("/evaluate", {"recipe": recipe("مريم", face={"family": "pacifico"})}))
        assert problem["what"] == "Pacifico has no Arabic letters."
        assert "Rakkas" in problem["faces"]


class TestWhatAFaceCanDo:
    def wanted(self, api, text, family):
        body = {"text": text, "face": {"family": family}, "features": {}}
        return {one["tag"]: one for one in api.post("/faces/features", body)[1]}

    def test_each_thing_is_drawn_on_the_words_and_told_whether_it_changes_them(self, api):
        found = self.wanted(api, "Rose", "allura")
        assert any(one["changes"] for one in found.values())
        plain = api.post("/faces/samples", {"text": "Rose", "faces": ["allura"]})[1][0]["d"]
        assert all((one["d"] != plain) == one["changes"] for one in found.values())

    def test_forms_that_every_arabic_word_has_are_none_of_them(self, api):
        assert not {"init", "fina"} & set(self.wanted(api, "مريم", "lemonada"))

    def test_words_that_the_face_cannot_write_have_no_pictures(self, api):
        assert self.wanted(api, "مريم", "allura") == {}


class TestFacesOfThisComputer:
    @pytest.fixture
    def folder(self, tmp_path, monkeypatch):
        monkeypatch.setenv("FULGEN_FONT_FOLDERS", str(tmp_path))
        (tmp_path / "within").mkdir()
        (tmp_path / "within" / "lobster.ttf").write_bytes(LOBSTER)
        (tmp_path / "notes.txt").write_text("no face")
        (tmp_path / "broken.ttf").write_bytes(b"no face at all")
        return tmp_path

    def test_they_are_listed_shown_and_copied_into_the_shop_when_taken(self, api, folder):
        [face] = api.get("/installed-faces")[1]
        assert (face["name"], face["forbids"]) == ("Lobster", "")
        assert "Latin" in face["systems"]
        assert str(folder) not in json.dumps(face)
        [sample] = api.post("/installed-faces/samples", {"text": "Tern", "keys": [face["key"], "none"]})[1]
        assert sample["slug"] == face["key"]
        assert sample["d"]
        status, taken = api.post("/installed-faces/take", {"key": face["key"]})
        assert (status, taken["name"], taken["kind"]) == (201, "Lobster", "own")
        (folder / "within" / "lobster.ttf").unlink()
        assert api.evaluated(recipe("Tern", face={"family": taken["slug"]}))["letters"]
        assert api.get("/installed-faces")[1] == []

    def test_one_that_has_gone_meanwhile_says_so(self, api, folder):
        [face] = api.get("/installed-faces")[1]
        (folder / "within" / "lobster.ttf").unlink()
        problem = refused(api.post("/installed-faces/take", {"key": face["key"]}))
        assert "not installed on this computer any more" in problem["what"]
        assert OwnFace.objects.count() == 0

    @pytest.mark.parametrize(
        ("bits", "said"), [(0x0002, "lets nobody put it"), (0x0004, "looking and printing only"),
                           (0x0200, "only pictures"), (0x0008, ""), (0x0000, "")],
    )  # fmt: skip
    def test_what_licence_bits_forbid_is_said_and_noted(self, api, folder, bits, said):
        font = TTFont(io.BytesIO(LOBSTER))
        font["OS/2"].fsType = bits
        font.save(folder / "within" / "lobster.ttf")
        [face] = api.get("/installed-faces")[1]
        assert said in face["forbids"]
        assert bool(face["forbids"]) == bool(said)
        taken = api.post("/installed-faces/take", {"key": face["key"]})[1]
        assert taken["licence"] == face["forbids"]

    def test_the_faces_of_a_collection_are_each_one(self, api, folder):
        (folder / "within" / "lobster.ttf").unlink()
        collection = TTCollection()
        anton = (FACES_DIR / "anton" / "Anton_400Regular.ttf").read_bytes()
        collection.fonts = [TTFont(io.BytesIO(LOBSTER)), TTFont(io.BytesIO(anton))]
        collection.save(folder / "two.ttc")
        listed = api.get("/installed-faces")[1]
        assert [face["name"] for face in listed] == ["Anton", "Lobster"]
        taken = api.post("/installed-faces/take", {"key": listed[0]["key"]})[1]
        assert taken["name"] == "Anton"


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
