"""Seams and contacts as they are answered."""

from designs.api.evaluation_schemas import SeamOut
from designs.api.values import PointOut
from fulgen.lettering.letters import Way
from fulgen.parts.seams import PlacedSeam
from fulgen.readiness.joints import Joint, Judgement
from fulgen.recipe.contacts import Contact
from fulgen.recipe.evaluation import Evaluation


def joint_out(joint: Joint, evaluation: Evaluation) -> SeamOut:
    if isinstance(joint.of, PlacedSeam):
        return _seam(joint.of, joint.judgement, evaluation)
    return _contact(joint.of, joint.judgement)


def _contact(contact: Contact, judged: Judgement) -> SeamOut:
    """A contact as the seam that it is: nothing is done there by itself."""
    return SeamOut(
        part=contact.one.part,
        left=contact.one.letter or 0,
        right=contact.other.letter or 0,
        left_text=contact.one.display_name,
        right_text=contact.other.display_name,
        line=0,
        gap_mm=0.0,
        neck_mm=judged.neck,
        asked_mm=judged.asked,
        limit_mm=judged.limit,
        at_least=contact.at_least and judged.neck == contact.neck,
        state=judged.holding.value,
        given_mm=contact.given,
        flow=[],
        letter_gap_mm=0.0,
        set_letter_gap_mm=0.0,
        ends=[PointOut(x=x, y=y) for x, y in contact.ends],
        meets=contact.other.part,
        chosen=None,
        done=Way.LEAVE,
        shift_mm=0.0,
        squeeze=0.0,
        covered=0.0,
        remedy="",
        stubs=0,
        pinholes=0,
        notches=0,
        trimmed=0,
        filled=0,
    )


def _seam(placed: PlacedSeam, judged: Judgement, evaluation: Evaluation) -> SeamOut:
    recipe, part = evaluation.recipe, placed.built.lettering
    seam, measured = placed.seam, placed.seam.measured
    choice = part.changes.get(seam.left)
    return SeamOut(
        part=part.id,
        left=part.ids[seam.left],
        right=part.ids[seam.right],
        left_text=placed.left_text,
        right_text=placed.right_text,
        line=seam.line,
        gap_mm=placed.gap,
        neck_mm=judged.neck,
        asked_mm=judged.asked,
        limit_mm=judged.limit,
        at_least=judged.neck >= placed.widest_measured,
        state=judged.holding.value,
        given_mm=placed.given,
        flow=[PointOut(x=x, y=y) for x, y in placed.flow_ends or ()],
        letter_gap_mm=placed.letter_gaps[0],
        set_letter_gap_mm=placed.letter_gaps[1],
        ends=[PointOut(x=x, y=y) for x, y in placed.ends],
        meets=None,
        chosen=choice.seam.way if choice else None,
        done=seam.joint.way,
        shift_mm=placed.shift,
        squeeze=seam.squeeze,
        covered=measured.covered,
        remedy=placed.remedy(recipe.unit),
        stubs=max(0, sum(stub.is_true for stub in measured.stubs) - len(seam.trimmed)),
        pinholes=max(0, placed.pinholes(recipe.limits.hole_mm) - seam.filled),
        notches=len(measured.deep_notches),
        trimmed=len(seam.trimmed),
        filled=seam.filled,
    )
