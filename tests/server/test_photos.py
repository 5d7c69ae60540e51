"""Photographs under designs: what is kept of them, where they are seen, and what is refused."""

import io
import re

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image
from PIL.ExifTags import Base

from designs.models import Photo
from tests.server.conftest import recipe

RED, GREEN = (200, 30, 30), (30, 160, 60)


def picture(size=(400, 200), kind="JPEG", half=RED, other=GREEN, **saved):
    """A photograph whose left half is of one colour and whose right half is of another."""
    drawn = Image.new("RGB", size, other)
    drawn.paste(half, (0, 0, size[0] // 2, size[1]))
    data = io.BytesIO()
    drawn.save(data, kind, **saved)
    return data.getvalue()


def keep(api, data, name="boat.jpg"):
    answer = api.client.post("/api/photos", {"file": SimpleUploadedFile(name, data)})
    return answer.status_code, answer.json()


def test_a_photograph_is_kept_once_drawn_anew_and_without_where_it_was_taken(api):
    exif = Image.Exif()
    exif[Base.Make.value] = "A camera"
    exif[Base.Orientation.value] = 6  # lies on its side (Exif 2.32, 4.6.4 A)
    status, kept = keep(api, picture(exif=exif))
    assert status == 200
    assert (kept["width_px"], kept["height_px"]) == (200, 400)
    answer = api.client.get(f"/api/photos/{kept['image']}")
    assert answer["Content-Type"] == "image/jpeg"
    with Image.open(io.BytesIO(answer.content)) as shown:
        assert shown.size == (200, 400)
        assert not shown.getexif()
        assert shown.getpixel((100, 50)) == pytest.approx(RED, abs=12)
        assert shown.getpixel((100, 350)) == pytest.approx(GREEN, abs=12)
    assert keep(api, picture(exif=exif))[1] == kept
    assert Photo.objects.count() == 1


@pytest.mark.parametrize("kind", ["PNG", "WEBP"])
def test_other_kinds_are_read_and_large_ones_made_smaller(api, kind):
    status, kept = keep(api, picture((5000, 1000), kind), "boat")
    assert (status, kept["width_px"], kept["height_px"]) == (200, 2400, 480)


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "not a photograph"),
        (b"<svg xmlns='http://www.w3.org/2000/svg'/>", "not a photograph"),
        (picture()[:300], "not a photograph"),
        (picture((4, 4), "GIF"), "not a photograph"),
        (picture((10_000, 6_001), "PNG"), "60 million"),
    ],
)
def test_what_is_no_photograph_is_refused_and_nothing_is_kept(api, data, says):
    status, problem = keep(api, data)
    assert status == 422
    assert says in problem["what"]
    assert problem["todo"]
    assert not Photo.objects.exists()


def test_one_that_is_gone_is_said(api):
    assert api.get(f"/photos/{'0' * 64}")[0] == 404
    assert api.get("/photos/../designs")[0] == 404


class TestProof:
    """A disc of 60 mm on a photograph of 400 by 200 mm, looked up in the picture by arithmetic."""

    DISC = {"kind": "shape", "id": "disc", "form": "disc", "film": "#1F4E6B", "width_mm": 60.0,
            "height_mm": 60.0, "place": {"x": 100.0, "y": 0.0}}  # fmt: skip

    def proof(self, api, **photo):
        image = keep(api, picture())[1]["image"]
        laid = {"image": image, "x": 100.0, "y": 0.0, "width_mm": 400.0, "height_mm": 200.0, **photo}
        body = {"name": "", "recipe": {**recipe(), "version": 11, "parts": [self.DISC], "photo": laid}}
        status, data = api.post("/proof", body)
        assert status == 200
        return Image.open(io.BytesIO(data))

    def test_the_work_lies_on_it_in_its_film(self, api):
        shown = self.proof(api)
        assert shown.size == (2000, 1000)
        assert shown.getpixel((1000, 500)) == (0x1F, 0x4E, 0x6B)
        # 31 mm to the left and to the right of the middle is the photograph.
        assert shown.getpixel((1000 - 155, 500)) == pytest.approx(RED, abs=12)
        assert shown.getpixel((1000 + 155, 500)) == pytest.approx(GREEN, abs=12)
        covered = sum(p == (0x1F, 0x4E, 0x6B) for p in shown.get_flattened_data())
        assert covered == pytest.approx(3.14159 * 150**2, rel=0.01)

    def test_turned_by_a_quarter_what_was_left_is_above(self, api):
        shown = self.proof(api, turn=90.0)
        assert shown.size == (1000, 2000)
        assert shown.getpixel((500, 300)) == pytest.approx(RED, abs=12)
        assert shown.getpixel((500, 1700)) == pytest.approx(GREEN, abs=12)

    def test_hidden_it_is_not_there(self, api):
        shown = self.proof(api, hidden=True)
        assert shown.getpixel((10, 10)) == (245, 241, 232)

    def test_a_proof_without_its_photograph_is_on_plain_ground(self, api):
        body = {"name": "x", "recipe": {**recipe(), "version": 11, "parts": [self.DISC],
                                        "photo": {"image": "0" * 64}}}  # fmt: skip
        assert api.post("/proof", body)[0] == 200

    def test_what_is_engraved_and_drawn_is_seen(self, api):
        """On a plate of 100 by 60 mm: a square of 20 mm engraved, and a line that is drawn."""
        plate = {"kind": "shape", "id": "p", "form": "rectangle", "width_mm": 100.0, "height_mm": 60.0}
        square = {"kind": "shape", "id": "s", "form": "rectangle", "use": "engrave", "width_mm": 20.0,
                  "height_mm": 20.0}  # fmt: skip
        line = {"kind": "line", "id": "l", "course": "straight", "use": "draw",
                "points": [{"x": -40.0, "y": 22.0}, {"x": 40.0, "y": 22.0}]}  # fmt: skip
        body = {"name": "", "recipe": {**recipe(), "version": 11, "parts": [plate, square, line]}}
        with Image.open(io.BytesIO(api.post("/proof", body)[1])) as shown:
            middle, scale = (shown.width / 2, shown.height / 2), shown.width / 112
            assert shown.getpixel((round(middle[0]), round(middle[1]))) == (0x5B, 0x3A, 0x22)
            on_line = round(middle[0] + 20 * scale), round(middle[1] + 22 * scale)
            assert shown.getpixel(on_line) == (0x23, 0x20, 0x1C)

    def test_it_is_in_no_file(self, api):
        """Of the design that a file carries it has the digest, and nothing more."""
        image = keep(api, picture())[1]["image"]
        plain = {**recipe(), "version": 11, "parts": [self.DISC]}
        laid = {**plain, "photo": {"image": image}}
        for path, more in (("/svg", {}), ("/cut/file", {"kind": "dxf", "sheet": 0})):
            files = [
                re.sub(b"<metadata>.*</metadata>", b"", api.post(path, {
                    "name": "x", "recipe": one, "anyway": True, **more
                })[1])
                for one in (plain, laid)
            ]  # fmt: skip
            assert len(files[0]) == len(files[1])
        assert api.evaluated(laid)["films"] == api.evaluated(plain)["films"]

    @pytest.mark.parametrize(
        "photo",
        [
            {"image": "../../etc"},
            {"image": "0" * 63},
            {"image": "0" * 64, "width_mm": 0.0},
            {"image": "0" * 64, "shows": 2.0},
            {},
        ],
    )
    def test_a_photograph_that_is_none_is_refused(self, api, photo):
        body = {"recipe": {**recipe(), "version": 11, "photo": photo}}
        assert api.post("/evaluate", body)[0] in (400, 422)
