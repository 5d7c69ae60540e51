"""What came off a sheet that was cut: worked out from what the cutter really did, against what was
promised."""

import shapely

from designs.models import CutJob
from fulgen.cutter.cut_simulation import torn_pieces
from fulgen.formats.hpgl import read_strokes
from fulgen.sheet.machines import Machine, machine_from
from fulgen.sheet.verification import verify_job


def prove(job_id: str) -> None:
    """Works out what came off a sheet that was cut."""
    job = CutJob.objects.get(pk=job_id)
    promised = list(shapely.get_parts(shapely.from_wkb(bytes.fromhex(job.promised))))
    cut = list(job.cut.filter(film_piece=job.film_piece))
    if not cut:
        # A machine of the shop's own does not say what it has cut.
        job.outcome = {"promised": len(promised), "unseen": True}
        job.save(update_fields=["outcome", "changed"])
        return
    text = "IN;" + "".join(stroke.text for stroke in cut)
    strokes = read_strokes(text.encode(), job.title, job.height_mm)
    comparison, came = verify_job(promised, strokes, machine_of(job))
    job.outcome = {
        "promised": comparison.promised,
        "came_off": comparison.came_off,
        "as_promised": comparison.is_kept,
        "foreign": sum(not stroke.own for stroke in cut),
        "tears": [list(place.bounds) for place in torn_pieces(came.pieces, job.holds_mm)[:40]],
        "wrong": [
            {"what": what, "box": list(region.bounds)}
            for what, regions in (("missing", comparison.missing), ("other", comparison.others))
            for region in regions[:20]
        ],
    }
    job.save(update_fields=["outcome", "changed"])


def proof_failed(job_id: str) -> None:
    """A sheet too large to be worked out says so."""
    CutJob.objects.filter(pk=job_id).update(outcome={"failed": True})


def machine_of(job: CutJob) -> Machine:
    """The machine that a job was made for, as it was then."""
    return machine_from(job.machine)
