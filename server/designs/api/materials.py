"""Materials to choose from."""

from django.http import HttpRequest
from ninja import Router, Schema

from designs.api.values import Problems
from fulgen.joining.materials import MATERIALS, Limits

router = Router(tags=["materials"])


class MaterialOut(Schema):
    """A material: the neck that a joint in it is given, in mm, and the least it holds."""

    name: str
    joint_mm: float
    limits: Limits


@router.get("/materials", response={200: list[MaterialOut], **Problems}, operation_id="listMaterials")
def list_materials(request: HttpRequest) -> list[MaterialOut]:
    """Materials with what they hold."""
    return [MaterialOut(name=m.name, joint_mm=m.joint_mm, limits=m.limits) for m in MATERIALS]
