"""The commands that list what there is: faces, frames and shapes."""

from __future__ import annotations

import argparse
import json
from dataclasses import asdict
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    pass


def list_frames(options: argparse.Namespace) -> None:
    from fulgen.framing.frames import FRAMES

    if options.json:
        rows = [
            {
                "name": form.name,
                "description": form.description,
                "ratio": form.ratio,
                "uses": list(form.uses),
                "most_names": form.most_names,
                "has_initial": form.has_initial,
                "measures": [asdict(measure) for measure in form.measures],
            }
            for form in FRAMES.values()
        ]
        print(json.dumps(rows, indent=2))
        return
    for form in FRAMES.values():
        settable = ", ".join(m.key for m in form.measures)
        print(f"{form.name:18}{form.description}; {settable}")


def list_shapes(options: argparse.Namespace) -> None:
    from fulgen.geometry.shape_library import LIBRARY_SHAPES

    if options.json:
        rows = [
            {
                "name": form.name,
                "group": form.group,
                "ratio": form.ratio,
                "parameters": [asdict(parameter) for parameter in form.parameters],
            }
            for form in LIBRARY_SHAPES.values()
        ]
        print(json.dumps(rows, indent=2))
        return
    for form in LIBRARY_SHAPES.values():
        settable = ", ".join(f"{p.key} {p.low:g} to {p.high:g} ({p.default:g})" for p in form.parameters)
        print(f"{form.name:14}{settable}")


def list_faces(options: argparse.Namespace) -> None:
    from fulgen.lettering.catalogue import families

    rows: list[dict[str, Any]] = [
        {
            "name": family.name,
            "kind": family.kind,
            "weights": list(family.numbered_weights),
            "axes": [asdict(axis) for axis in family.axes],
            "features": [feature.tag for feature in family.facts.features],
            "writes": [system.name for system in family.facts.systems],
            "letters": len(family.letters),
        }
        for family in families().values()
    ]  # fmt: skip
    if options.rate:
        _add_ratings(rows)
    if options.json:
        print(json.dumps(rows, indent=2, ensure_ascii=False))
        return
    for row in rows:
        axes = ", ".join(f"{a['name'].lower()} {a['low']:g} to {a['high']:g}" for a in row["axes"])
        weights = ", ".join(map(str, row["weights"]))
        about = axes or "weight " + weights
        if options.rate:
            about = (
                f"{row['joins']:15} {row['small_share']:4.0%} of small letters, "
                f"{row['capital_share']:4.0%} after a capital, "
                f"strokes from {row['thinnest_stroke']:.3f} of the size, {', '.join(row['looks'])}"
            )
        print(f"{row['name']:24} {row['kind']:10} {about}")


def _add_ratings(rows: list[dict[str, Any]]) -> None:
    """Adds to each row how the face looks, and how it joins in the first writing system that it writes."""
    from fulgen.joining.face_record import shipped_records
    from fulgen.lettering.catalogue import find_family

    records = shipped_records()
    for row in rows:
        record = records[find_family(row["name"]).slug]
        rating = next(iter(record.ratings.values()))
        row["looks"] = list(record.said)
        row["joins"] = rating.words
        row["small_share"] = rating.small
        row["capital_share"] = rating.capital
        row["thinnest_stroke"] = rating.thinnest
        row["smallest_counter"] = rating.counter
