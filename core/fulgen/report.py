"""The report: an evaluation's figures as plain data, with names that scripts can rely on."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from fulgen.parts.frame_builder import BuiltFrame
from fulgen.parts.seams import PlacedSeam
from fulgen.readiness.finding import Finding
from fulgen.readiness.findings import blocking, findings
from fulgen.readiness.gate import stops
from fulgen.readiness.joints import Joint, joints
from fulgen.readiness.mend_summary import counts
from fulgen.recipe.contacts import Contact
from fulgen.recipe.evaluation import Evaluation, box_as_cut
from fulgen.units import Unit


def report(evaluation: Evaluation) -> dict[str, Any]:
    """Size, pieces, length of cut, nodes, faces, seams, contacts, names in bands, what was asked and is not
    so, findings, what was made ready and what is not; lengths in mm, areas in mm², places from the top left
    corner of what is cut, mirrored where it is."""
    every = joints(evaluation)
    return {
        "size": {"width_mm": round(evaluation.box.width, 4), "height_mm": round(evaluation.box.height, 4)},
        "pieces": _pieces(evaluation),
        "cut_length_mm": round(evaluation.cut_length, 3),
        "nodes": evaluation.nodes,
        "face": ", ".join(dict.fromkeys(built.faces.face.name for _, built in evaluation.letterings)),
        "seams": _seams(every, evaluation.recipe.unit),
        "contacts": _contacts(every),
        "bands": _bands(evaluation),
        "unmet": [
            {"part": one.part, "kind": one.problem.kind, "what": one.problem.what, "todo": one.problem.todo}
            for one in evaluation.unmet
        ],
        "findings": [_finding(finding, evaluation) for finding in findings(evaluation)],
        "made_ready": None if evaluation.recipe.ready is None else dict(counts(evaluation)),
        "not_ready": [stop.what for stop in stops(evaluation)],
        "lost_touch_ups": [
            {"number": number + 1, "kind": evaluation.recipe.touch_ups[number].kind}
            for number in evaluation.lost
        ],
    }


def _pieces(evaluation: Evaluation) -> list[dict[str, Any]]:
    box = box_as_cut(evaluation.box, evaluation.recipe)
    placed = [(box_as_cut(piece.box, evaluation.recipe), piece) for piece in evaluation.pieces]
    return [
        {
            "area_mm2": round(piece.area, 4),
            "box_mm": [round(length, 4) for length in (at.x - box.x, at.y - box.y, at.width, at.height)],
            "holes": piece.holes,
        }
        for at, piece in sorted(placed, key=lambda row: row[0].x)
    ]


def _seams(every: Sequence[Joint], unit: Unit) -> list[dict[str, Any]]:
    return [
        {
            "left": joint.of.left_text,
            "right": joint.of.right_text,
            "gap_mm": round(joint.of.gap, 4),
            "neck_mm": round(joint.judgement.neck, 4),
            "state": joint.judgement.holding.value,
            "remedy": joint.of.remedy(unit),
            "shift_mm": round(joint.of.shift, 4),
        }
        for joint in every
        if isinstance(joint.of, PlacedSeam)
    ]


def _contacts(every: Sequence[Joint]) -> list[dict[str, Any]]:
    return [
        {
            "parts": [joint.of.one.part, joint.of.other.part],
            "between": [joint.of.one.display_name, joint.of.other.display_name],
            "neck_mm": round(joint.judgement.neck, 4),
            "state": joint.judgement.holding.value,
        }
        for joint in every
        if isinstance(joint.of, Contact)
    ]


def _bands(evaluation: Evaluation) -> list[dict[str, Any]]:
    return [
        {
            "frame": part.id,
            "name": fitted.part,
            "held": fitted.band.manner,
            "air_mm": [round(air, 4) for air in fitted.air],
            "depth_mm": round(fitted.depth, 4),
            "stretch": round(fitted.stretch, 5),
        }
        for part in evaluation.parts
        if isinstance(part.built, BuiltFrame)
        for fitted in part.built.fitted
    ]


def lost_words(evaluation: Evaluation) -> list[str]:
    """What is to be said of touch-ups that no longer find their place."""
    kinds = [(number + 1, evaluation.recipe.touch_ups[number].kind) for number in evaluation.lost]
    return [f"Touch-up {n} ({kind}) no longer finds its place, and was left out." for n, kind in kinds]


def unmet_words(evaluation: Evaluation) -> list[str]:
    """What is to be said of what was made: what was asked and is not so, and what found no place."""
    unmet = [f"{one.problem.what} {one.problem.todo}" for one in evaluation.unmet]
    return [*unmet, *lost_words(evaluation)]


def summary(evaluation: Evaluation) -> dict[str, Any]:
    """The figures of a design in one row."""
    return {
        "width_mm": round(evaluation.box.width, 4),
        "height_mm": round(evaluation.box.height, 4),
        "pieces": len(evaluation.pieces),
        "cut_length_mm": round(evaluation.cut_length, 3),
        "nodes": evaluation.nodes,
        "mended": sum(counts(evaluation).values()),
        "to_repair": len(blocking(findings(evaluation))),
        "unmet": len(evaluation.unmet),
    }


def _finding(finding: Finding, evaluation: Evaluation) -> dict[str, Any]:
    x, y = finding.place
    mirror = evaluation.recipe.mirror
    box = box_as_cut(evaluation.box, evaluation.recipe)
    return {
        "kind": finding.kind,
        "what": finding.what(evaluation.recipe.unit),
        "blocks": finding.blocks and not finding.accepted,
        "accepted": finding.accepted,
        "at_mm": [round((-x if mirror else x) - box.x, 3), round(y - box.y, 3)],
        "measure": round(finding.measure, 4),
        "limit": round(finding.limit, 4),
        "remedy": finding.remedy.label if finding.remedy else "",
    }
