"""What a recipe comes to: outlines, seams, and files.

Answers go by key: the browser says which outlines, parts and letters' forms it holds, and is sent the others.
"""

from django.http import HttpRequest, HttpResponse
from ninja import Router

from designs.api.evaluation_answers import evaluation_out
from designs.api.evaluation_schemas import EvaluateIn, EvaluationOut, FileRequest, KeyedSeamOut, SeamsOut
from designs.api.seam_answers import joint_out
from designs.api.values import Problems, answered, download, files_of
from designs.faces import face_of
from fulgen.bounded import digest
from fulgen.formats.carried import svg_with_recipe
from fulgen.formats.file_names import safe_names
from fulgen.formats.sheet_files import Written
from fulgen.formats.svg import write_svg
from fulgen.parts.built_lettering import BuiltLettering
from fulgen.readiness.gate import validate_ready
from fulgen.readiness.joints import Joint, joints
from fulgen.recipe.evaluate import evaluate

router = Router(tags=["evaluations"])


@router.post("/evaluate", response={200: EvaluationOut, **Problems}, operation_id="evaluate")
def evaluate_recipe(request: HttpRequest, wanted: EvaluateIn) -> HttpResponse:
    """The outline the knife will follow, and its figures but those of its seams. A part that cannot be made
    is answered beside it, and the others are there."""
    return answered(evaluation_out(evaluate(wanted.recipe, face_of), frozenset(wanted.have)))


@router.post("/seams", response={200: list[SeamsOut], **Problems}, operation_id="measureSeams")
def measure_seams(request: HttpRequest, wanted: EvaluateIn) -> list[SeamsOut]:
    """The seams of a recipe, each measured: asked for after its outline, which is there sooner."""
    evaluation, have = evaluate(wanted.recipe, face_of), frozenset(wanted.have)
    told_of: dict[str, list[Joint]] = {}
    for joint in joints(evaluation):
        told_of.setdefault(joint.part, []).append(joint)
    answers = []
    for part in evaluation.parts:
        own = told_of.get(part.id, [])
        if not isinstance(part.built, BuiltLettering) and not own:
            continue
        seams = [
            KeyedSeamOut(key=digest(seam.model_dump_json()), seam=seam)
            for seam in (joint_out(joint, evaluation) for joint in own)
        ]
        new = [one for one in seams if one.key not in have]
        answers.append(SeamsOut(part=part.id, keys=[one.key for one in seams], seams=new))
    return answers


@router.post(
    "/svg", response={200: None, **Problems}, operation_id="saveSvg", openapi_extra=files_of("image/svg+xml")
)
def save_svg(request: HttpRequest, file: FileRequest) -> HttpResponse:
    """The design as an SVG file, once nothing stands at the gate, or anyway."""
    evaluation = evaluate(file.recipe, face_of)
    document = svg_with_recipe(write_svg(evaluation), file.name.strip(), file.recipe)
    if not file.anyway:
        validate_ready(evaluation)
    name = f"{safe_names([file.name.strip() or file.recipe.display_name])[0]}.svg"
    return download(Written(name, "image/svg+xml", document.encode()))
