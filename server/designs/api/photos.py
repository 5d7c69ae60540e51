"""Photographs under designs, and proofs: the lettering shown on them."""

import hashlib

from django.http import HttpRequest, HttpResponse
from ninja import File, Router, Schema
from ninja.files import UploadedFile

from designs.api.values import AnyRecipe, Problems, download, files_of
from designs.faces import face_of
from designs.models import Photo
from fulgen.formats.file_names import safe_names
from fulgen.formats.proof import MOST_PHOTO_BYTES, read_photo, write_proof
from fulgen.formats.sheet_files import Written
from fulgen.problem import Problem
from fulgen.recipe.evaluate import evaluate

router = Router(tags=["photos"])

MOST_PHOTOS = 500


class PhotoOut(Schema):
    """A photograph that is kept: what it goes by, and how many points it is wide and high."""

    image: str
    width_px: int
    height_px: int


class ProofIn(Schema):
    name: str = ""
    recipe: AnyRecipe


@router.post("/photos", response={200: PhotoOut, **Problems}, operation_id="keepPhoto")
def keep(request: HttpRequest, file: File[UploadedFile]) -> PhotoOut:
    """Keeps a photograph. One that is kept already is not kept twice."""
    data, wide, high = read_photo(file.read(MOST_PHOTO_BYTES + 1))
    image = hashlib.sha256(data).hexdigest()
    if not Photo.objects.filter(pk=image).exists() and Photo.objects.count() >= MOST_PHOTOS:
        what = f"The shop keeps {MOST_PHOTOS} photographs, and has as many."
        raise Problem("photos-full", what, "Lay a photograph under it that was used before.", "photo")
    Photo.objects.get_or_create(image=image, defaults={"data": data, "width_px": wide, "height_px": high})
    return PhotoOut(image=image, width_px=wide, height_px=high)


@router.get(
    "/photos/{image}",
    response={200: None, **Problems},
    operation_id="showPhoto",
    openapi_extra=files_of("image/jpeg"),
)
def show(request: HttpRequest, image: str) -> HttpResponse:
    """A photograph. It never changes, so it may be kept for good."""
    photo = Photo.objects.filter(pk=image[:64]).first()
    if photo is None:
        raise Problem("not-found", "This photograph is not here any more.", "Choose it again.", "photo")
    headers = {"Cache-Control": "private, max-age=31536000, immutable"}
    return HttpResponse(bytes(photo.data), "image/jpeg", headers=headers)


@router.post(
    "/proof", response={200: None, **Problems}, operation_id="saveProof", openapi_extra=files_of("image/png")
)
def proof(request: HttpRequest, wanted: ProofIn) -> HttpResponse:
    """The design on its photograph as a picture, to be looked at."""
    evaluation = evaluate(wanted.recipe, face_of).whole()
    photo = wanted.recipe.photo
    kept = Photo.objects.filter(pk=photo.image).first() if photo else None
    data = write_proof(evaluation, bytes(kept.data) if kept else None)
    name = f"{safe_names([wanted.name.strip() or wanted.recipe.display_name])[0]}-proof.png"
    return download(Written(name, "image/png", data))
