"""Frames of the shop's own: artwork with bands drawn on it, kept to be used again."""

from typing import Annotated
from uuid import UUID

from django.http import HttpRequest
from ninja import Router, Schema, Status
from pydantic import Field

from designs.api.values import AnyRecipe, Problems
from designs.models import OwnFrame
from fulgen.parts.frame import Frame
from fulgen.problem import Problem
from fulgen.recipe.model import Recipe
from fulgen.recipe.versions import read_stored, to_store

router = Router(tags=["frames"])

MOST_OWN_FRAMES = 200


class OwnFrameIn(Schema):
    """A frame to keep: what it is called, and a recipe of nothing but the frame and what it is made of."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    recipe: AnyRecipe


class OwnFrameOut(Schema):
    """A frame of the shop's own, by its id."""

    id: UUID
    name: str
    recipe: Recipe


@router.get("/frames/own", response={200: list[OwnFrameOut], **Problems}, operation_id="listOwnFrames")
def list_own(request: HttpRequest) -> list[OwnFrameOut]:
    """The frames of the shop's own, by name."""
    return [_told(frame) for frame in OwnFrame.objects.all()]


@router.post("/frames/own", response={201: OwnFrameOut, **Problems}, operation_id="keepFrame")
def keep(request: HttpRequest, kept: OwnFrameIn) -> Status[OwnFrameOut]:
    """Keeps a frame in the shop's own library."""
    frames = [part for part in kept.recipe.parts if isinstance(part, Frame)]
    if len(frames) != 1 or frames[0].ground is None or frames[0].members:
        raise Problem(
            "not-a-frame",
            "This is not a frame made of artwork, without its names.",
            "Make a drawing or shape a frame first, then keep it.",
            "recipe",
        )
    if OwnFrame.objects.count() >= MOST_OWN_FRAMES:
        raise Problem(
            "too-many-frames",
            f"The library holds up to {MOST_OWN_FRAMES} frames of your own.",
            "Take one out first.",
        )
    return Status(201, _told(OwnFrame.objects.create(name=kept.name, recipe=to_store(kept.recipe))))


@router.delete("/frames/own/{frame_id}", response={204: None, **Problems}, operation_id="forgetFrame")
def forget(request: HttpRequest, frame_id: UUID) -> Status[None]:
    """Takes a frame out of the library. Designs that use it keep it."""
    OwnFrame.objects.filter(id=frame_id).delete()
    return Status(204, None)


def _told(frame: OwnFrame) -> OwnFrameOut:
    return OwnFrameOut(id=frame.id, name=frame.name, recipe=read_stored(frame.recipe))
