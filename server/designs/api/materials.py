"""Materials to choose from: those that Fulgen knows, and the shop's own."""

from typing import Annotated

from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from designs import shop
from designs.api.values import Problems
from fulgen.joining.materials import MATERIALS, Material

router = Router(tags=["materials"])


class MaterialOut(Schema):
    """A material; whether it is as Fulgen knows it, and whether it is the shop's own."""

    material: Material
    is_default: bool
    own: bool


class MaterialIn(Schema):
    material: Material


@router.get("/materials", response={200: list[MaterialOut], **Problems}, operation_id="listMaterials")
def list_materials(request: HttpRequest) -> list[MaterialOut]:
    """Materials with what they hold."""
    defaults = {material.name: material for material in MATERIALS}
    return [
        MaterialOut(material=one, is_default=defaults.get(one.name) == one, own=one.name not in defaults)
        for one in shop.materials()
    ]


@router.put("/materials", response={200: list[MaterialOut], **Problems}, operation_id="keepMaterial")
def keep_material(request: HttpRequest, kept: MaterialIn) -> list[MaterialOut]:
    """Keeps what a material holds, by its name."""
    shop.keep_material(kept.material)
    return list_materials(request)


@router.delete("/materials", response={200: list[MaterialOut], **Problems}, operation_id="forgetMaterial")
def forget_material(
    request: HttpRequest, name: Annotated[str, Field(min_length=1, max_length=60)]
) -> list[MaterialOut]:
    """Takes a material out; one of those that Fulgen knows is as at first."""
    shop.forget_material(name)
    return list_materials(request)
