"""What came off a sheet that was cut: worked out from what the cutter really did, against what was
promised."""

from typing import Any

import shapely

from designs.models import CutJob
from fulgen.cutter.comes_off import tears
from fulgen.formats.hpgl import read_strokes
from fulgen.sheet.machines import Machine
from fulgen.sheet.proof import proven


def prove(job_id: str) -> None:
    """Works out what came off a sheet that was cut."""
    job = CutJob.objects.get(pk=job_id)
    strokes = read_strokes(("IN;" + job.cut).encode(), job.title, job.height_mm)
    told, came = proven(promised_of(job), strokes, machine_of(job))
    job.told = {
        "promised": told.promised,
        "came_off": told.came_off,
        "as_promised": told.is_kept,
        "tears": [list(place.bounds) for place in tears(came.pieces, job.holds_mm)[:40]],
        "wrong": [
            {"what": what, "box": list(region.bounds)}
            for what, regions in (("missing", told.missing), ("other", told.others))
            for region in regions[:20]
        ],
    }
    job.save(update_fields=["told", "changed"])


def proof_failed(job_id: str) -> None:
    """A sheet too large to be worked out says so."""
    CutJob.objects.filter(pk=job_id).update(told={"failed": True})


def promised_of(job: CutJob) -> list[Any]:
    """The pieces that a job promised."""
    return list(shapely.get_parts(shapely.from_wkb(bytes.fromhex(job.promised))))


def machine_of(job: CutJob) -> Machine:
    """The machine that a job was made for, as it was then."""
    return Machine(**{**job.machine, "formats": tuple(job.machine["formats"])})
