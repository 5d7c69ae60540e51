"""The list of faces to choose from: those that ship, and those a maker added."""

from django.http import HttpRequest
from ninja import Router
from ninja.responses import Status

from designs import background, faces
from designs.api.values import Problems
from designs.faces import FaceOut

router = Router(tags=["faces"])


@router.get("/faces", response={200: list[FaceOut], **Problems}, operation_id="listFaces")
def list_faces(request: HttpRequest) -> list[FaceOut]:
    """The families to choose from: the maker's own first, then those that ship. Ratings that are missing are
    begun."""
    for slug in faces.unrated():
        background.run_later("rate", slug)
    return faces.listed()


@router.delete("/own-faces/{slug}", response={204: None, **Problems}, operation_id="takeOffFace")
def take_off_face(request: HttpRequest, slug: str) -> Status[None]:
    """A face of the maker's own off the list; designs that use it keep it."""
    faces.take_off(slug)
    return Status(204, None)


@router.post("/own-faces/{slug}/restore", response={200: FaceOut, **Problems}, operation_id="putBackFace")
def put_back_face(request: HttpRequest, slug: str) -> FaceOut:
    """A face back on the list."""
    return faces.put_back(slug)


@router.put("/favourite-faces/{slug}", response={204: None, **Problems}, operation_id="favourFace")
def favour_face(request: HttpRequest, slug: str) -> Status[None]:
    """A face among the shop's favourites."""
    faces.set_favourite(slug, True)
    return Status(204, None)


@router.delete("/favourite-faces/{slug}", response={204: None, **Problems}, operation_id="unfavourFace")
def unfavour_face(request: HttpRequest, slug: str) -> Status[None]:
    """A face no longer among the shop's favourites."""
    faces.set_favourite(slug, False)
    return Status(204, None)


@router.get("/faces/{slug}/like", response={200: list[str], **Problems}, operation_id="facesLike")
def faces_like(request: HttpRequest, slug: str) -> list[str]:
    """The faces that look most like one, by what is measured, the most similar first."""
    return faces.like(slug)
