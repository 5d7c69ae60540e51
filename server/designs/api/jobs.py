"""Jobs at the cutter: their state, and what a person at it can do."""

from collections.abc import Mapping
from contextlib import suppress
from datetime import datetime
from typing import Annotated, Any, Literal
from uuid import UUID

from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from cutters.lines import Connection
from designs import jobs, shop
from designs.api.values import BoxOut, PointOut, Problems
from designs.models import CutJob, JobState
from fulgen.problem import Problem

router = Router(tags=["jobs"])

MOST_LISTED = 40

CutterState = Literal["off", "unplugged", "no-film", "cutting", "ready"]


class Wrong(Schema):
    """A piece that did not come off as promised, or that nobody promised."""

    what: Literal["missing", "other"]
    box: BoxOut


class Outcome(Schema):
    """How a job ended: pieces promised, pieces that came off, and what is wrong with any; tears are places
    thinner than the material holds. unseen: the machine does not say what it cut. foreign: so many cuts on
    the film were sent by somebody else. failed: it was too much to be worked out."""

    promised: int = 0
    came_off: int = 0
    as_promised: bool = False
    unseen: bool = False
    foreign: int = 0
    failed: bool = False
    wrong: list[Wrong] = []
    tears: list[BoxOut] = []


class JobOut(Schema):
    """A job: its sheet, how far it is, and how it ended; seconds_left while it is not done. free_at tells at
    which share of the job each piece is free. by_time: the machine does not say how far it is. noted: what
    stood at the gate when it was cut all the same."""

    id: UUID
    design: UUID
    title: str
    film: str
    sheet: int
    key: str
    state: JobState
    done: int
    strokes: int
    pieces: int
    pieces_off: int
    free_at: list[float]
    share: float
    seconds_left: float
    by_time: bool
    outcome: Outcome | None
    noted: list[str]
    made: datetime


class JobAtWork(JobOut):
    """A job with where the cutter is: at, while it is cut."""

    at: PointOut | None
    down: bool


class JobLines(Schema):
    """What a job cuts: the lines in their order, on its sheet."""

    width_mm: float
    height_mm: float
    lines: list[str]


class CutterOut(Schema):
    """The bench cutter as a person at it sees it. film_mm is what is left of the film; None: plenty.
    sheet_mm: how long the sheet is that lies in it."""

    state: CutterState
    film_mm: float | None
    sheet_mm: float | None


class PanelIn(Schema):
    """What a person at the cutter does: switch it on or off, pull its cable or plug it in, or let the film
    end after so much."""

    do: Literal["on", "off", "unplug", "plug", "film"]
    film_mm: Annotated[float, Field(strict=True, ge=0, le=20_000)] | None = None


def _told(job: CutJob) -> Outcome | None:
    if job.outcome is None:
        return None
    tears = [_box(*bounds) for bounds in job.outcome.get("tears", [])]
    wrong = []
    for row in job.outcome.get("wrong", []):
        wrong.append(Wrong(what=row["what"], box=_box(*row["box"])))
    return Outcome(**{**job.outcome, "wrong": wrong, "tears": tears})


def _box(x: float, y: float, right: float, bottom: float) -> BoxOut:
    return BoxOut(x=x, y=y, width=right - x, height=bottom - y)


def job_out(job: CutJob, ways: Mapping[str, Connection] | None = None) -> JobOut:
    """A job as it is told."""
    left = (
        0.0 if job.state == JobState.DONE else jobs.seconds_left(job, shop.ways() if ways is None else ways)
    )
    return JobOut(
        id=job.pk,
        design=job.design_id,
        title=job.title,
        film=job.film,
        sheet=job.sheet,
        key=job.key,
        state=JobState(job.state),
        done=job.done,
        strokes=len(job.lengths),
        pieces=len(job.pieces_free),
        pieces_off=sum(after <= job.done for after in job.pieces_free),
        free_at=jobs.shares_free(job),
        share=jobs.share_done(job),
        seconds_left=left,
        by_time=job.by_time,
        outcome=_told(job),
        noted=job.noted,
        made=job.made,
    )


@router.get("/jobs", response={200: list[JobOut], **Problems}, operation_id="listJobs")
def list_jobs(request: HttpRequest, design: UUID) -> list[JobOut]:
    """The jobs of a design, newest first."""
    return [job_out(job) for job in CutJob.objects.filter(design_id=design).defer("promised")[:MOST_LISTED]]


@router.get("/jobs/{job_id}", response={200: JobAtWork, **Problems}, operation_id="watchJob")
def watch_job(request: HttpRequest, job_id: UUID) -> JobAtWork:
    """A job, and where the cutter is."""
    job = jobs.find(job_id)
    at, down = None, False
    if job.state == JobState.CUTTING and shop.reached(job.machine["name"]).by == "bench":
        with suppress(Problem):  # a machine that has just died: the job will say so
            panel = jobs.bench.ask("state")
            at, down = PointOut(x=panel["x"], y=panel["y"]), panel["down"]
    return JobAtWork(**job_out(job).model_dump(), at=at, down=down)


@router.get("/jobs/{job_id}/lines", response={200: JobLines, **Problems}, operation_id="linesOfJob")
def lines_of_job(request: HttpRequest, job_id: UUID) -> JobLines:
    """What a job cuts."""
    job = jobs.find(job_id)
    lines = list(job.strokes.values_list("line", flat=True))
    return JobLines(width_mm=job.width_mm, height_mm=job.height_mm, lines=lines)


@router.post("/jobs/{job_id}/start", response={200: JobOut, **Problems}, operation_id="startJob")
def start_job(request: HttpRequest, job_id: UUID) -> JobOut:
    """Cuts, from where the job stopped."""
    return job_out(jobs.start(job_id))


@router.post("/jobs/{job_id}/pause", response={200: JobOut, **Problems}, operation_id="pauseJob")
def pause_job(request: HttpRequest, job_id: UUID) -> JobOut:
    """Holds the cutter; start goes on."""
    return job_out(jobs.pause(job_id))


@router.post("/jobs/{job_id}/stop", response={200: JobOut, **Problems}, operation_id="stopJob")
def stop_job(request: HttpRequest, job_id: UUID) -> JobOut:
    """Stops a job. It can be taken up again."""
    return job_out(jobs.stop(job_id))


@router.get("/cutter", response={200: CutterOut, **Problems}, operation_id="seeCutter")
def see_cutter(request: HttpRequest) -> CutterOut:
    """The bench cutter's panel."""
    return _seen(jobs.bench.ask("state"))


@router.post("/cutter", response={200: CutterOut, **Problems}, operation_id="touchCutter")
def touch_cutter(request: HttpRequest, panel: PanelIn) -> CutterOut:
    """What a person at the bench cutter does."""
    if panel.do in ("on", "off"):
        return _seen(jobs.bench.ask("power", on=panel.do == "on"))
    if panel.do in ("plug", "unplug"):
        return _seen(jobs.bench.ask("plug", on=panel.do == "plug"))
    return _seen(jobs.bench.ask("film", mm=panel.film_mm))


def _seen(panel: dict[str, Any]) -> CutterOut:
    state: CutterState = (
        "off" if not panel["on"]
        else "unplugged" if not panel["plugged"]
        else "no-film" if panel["no_film"]
        else "cutting" if panel["busy"]
        else "ready"
    )  # fmt: skip
    return CutterOut(state=state, film_mm=panel["film_mm"], sheet_mm=panel["sheet_mm"])
