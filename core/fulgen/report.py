"""The report: an evaluation's figures as plain data, with names that scripts can rely on."""

from __future__ import annotations

from typing import Any

from fulgen.readiness.findings import Finding, findings
from fulgen.recipe.evaluate import Evaluation


def report(evaluation: Evaluation) -> dict[str, Any]:
    """Size, pieces, length of cut, nodes, faces, seams and findings; lengths in mm, areas in mm²."""
    return {
        "size": {
            "width_mm": round(evaluation.box.width, 4),
            "height_mm": round(evaluation.box.height, 4),
        },
        "pieces": [
            {
                "area_mm2": round(piece.area, 4),
                "box_mm": [
                    round(piece.box.x - evaluation.box.x, 4),
                    round(piece.box.y - evaluation.box.y, 4),
                    round(piece.box.width, 4),
                    round(piece.box.height, 4),
                ],
                "holes": piece.holes,
            }
            for piece in evaluation.pieces
        ],
        "cut_length_mm": round(evaluation.cut_length, 3),
        "nodes": evaluation.nodes,
        "face": ", ".join(dict.fromkeys(part.face.name for part in evaluation.parts)),
        "seams": [
            {
                "left": placed.left_text,
                "right": placed.right_text,
                "gap_mm": round(placed.gap, 4),
                "neck_mm": round(placed.neck, 4),
                "state": placed.state.value,
                "remedy": placed.remedy,
                "shift_mm": round(placed.shift, 4),
            }
            for placed in evaluation.seams
        ],
        "findings": [_finding(finding, evaluation) for finding in findings(evaluation)],
        "lost_touch_ups": [
            {"number": number + 1, "kind": evaluation.recipe.touch_ups[number].kind}
            for number in evaluation.lost
        ],
    }


def _finding(finding: Finding, evaluation: Evaluation) -> dict[str, Any]:
    x, y = finding.place
    side = -1 if evaluation.recipe.mirror else 1
    return {
        "kind": finding.kind,
        "what": finding.what,
        "blocks": finding.blocks and not finding.accepted,
        "accepted": finding.accepted,
        "at_mm": [round(x * side - evaluation.box.x, 3), round(y - evaluation.box.y, 3)],
        "measure": round(finding.measure, 4),
        "limit": round(finding.limit, 4),
        "remedy": finding.remedy.label if finding.remedy else "",
    }
