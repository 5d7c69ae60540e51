"""A design at the cutter: its sheets, files, ticket and jobs."""

from collections.abc import Sequence
from dataclasses import replace
from functools import cached_property
from typing import Any
from uuid import UUID, uuid4

import numpy as np
import shapely
from django.db import transaction

from designs import shop
from designs.faces import face_of
from designs.job_states import ENDED
from designs.models import CutJob, CutStroke, Design, JobState, JobStroke
from designs.revisions import newest
from fulgen.formats.drawn_sheet import DrawnSheet, about_all, about_of, drawn_sheet
from fulgen.formats.file_names import safe_names
from fulgen.formats.hpgl import tools_of
from fulgen.formats.sheet_files import Written, cut_file, proven_files
from fulgen.formats.stroke_texts import StrokeText, paces_of, stroke_texts
from fulgen.joining.materials import Material
from fulgen.problem import Problem
from fulgen.readiness.films import film_name
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.evaluation import Evaluation
from fulgen.recipe.model import Recipe
from fulgen.recipe.versions import read_stored
from fulgen.sheet.checklist import Point, checklist
from fulgen.sheet.file_kinds import FileKind
from fulgen.sheet.machines import profile_of
from fulgen.sheet.plan import Other, sheets_of
from fulgen.sheet.sheets import LaidSheet

MOST_JOBS = 500


class CutWork:
    """A design with its sheets, and how each is cut. Raises Problem where that cannot be made."""

    def __init__(self, name: str, recipe: Recipe) -> None:
        self.name = name.strip() or recipe.display_name
        self.evaluation: Evaluation = evaluate(recipe, face_of).whole()
        self.machine = shop.machine_named(recipe.cut.machine)
        self.others, self.missing = _others(recipe)
        self.sheets: list[LaidSheet] = sheets_of(self.name, self.evaluation, self.others)
        if not self.sheets:
            raise Problem("no-letters", "There is nothing to cut yet.", "Type a word, or add a shape.")

    @cached_property
    def checklist(self) -> list[Point]:
        found = checklist(self.evaluation, self.sheets, self.machine, self.others)
        asked = self.evaluation.recipe.cut.machine
        if self.machine.name != asked:
            what = f"The machine “{asked}” is not in this shop: it is cut as for {self.machine.name}."
            found.insert(0, Point("know", "machine", what, "Choose the machine below."))
        return [*self.missing, *found]

    def number_of(self, index: int) -> tuple[int, int]:
        """Which sheet of its film it is, and of how many."""
        film = self.sheets[index].film
        own = [n for n, sheet in enumerate(self.sheets) if sheet.film == film]
        return own.index(index) + 1, len(own)

    @cached_property
    def file_names(self) -> list[str]:
        """Names for the files of all sheets."""
        names = []
        for index, sheet in enumerate(self.sheets):
            number, of = self.number_of(index)
            film = film_name(self.evaluation.recipe, sheet.film)
            names.append(f"{self.name} {film}{f' {number}' if of > 1 else ''}")
        return safe_names(names)

    def drawn(self, index: int, hairline: float | None = None) -> DrawnSheet:
        """A sheet as its files draw it: as the machine wants it, or with lines of another width."""
        sheet = self.sheets[index]
        film = film_name(self.evaluation.recipe, sheet.film)
        abouts = [about_of(self.name, self.evaluation)]
        abouts += [about_of(other.name, other.evaluation) for other in self.others]
        about = replace(about_all(abouts, film), material=self.material(index))
        width = self.machine.hairline_mm if hairline is None else hairline
        drawn = drawn_sheet(self.file_names[index], sheet.job(self.machine), about, width)
        return replace(drawn, design=None if self.others else self.evaluation.recipe)

    def material(self, index: int) -> str:
        return self.evaluation.recipe.material_of(self.sheets[index].film).name

    def look_whether_ready(self, anyway: bool = False) -> None:
        """Raises Problem "not-ready" while anything of the checklist blocks the cut, and "at-gate" while it
        asks: that is passed ``anyway``."""
        for point in self.checklist:
            if point.state == "blocks":
                raise Problem("not-ready", point.what, point.todo or "See the checklist.", "checklist")
        for point in self.checklist:
            if point.state == "ask" and not anyway:
                raise Problem("at-gate", point.what, point.todo, "checklist")

    def sheet(self, index: int) -> LaidSheet:
        if not 0 <= index < len(self.sheets):
            raise Problem("no-sheet", "This sheet is not there any more.", "Choose another sheet.", "sheet")
        return self.sheets[index]

    def files(
        self, sheet: int | None, film: str | None, kind: FileKind | None, tolerance: float,
        hairline: float | None = None,
    ) -> list[Written]:  # fmt: skip
        """The files of one sheet, of a film or of all; of one kind, or of all that the machine reads, with
        the ticket. Each was read back, and its sheet cut on the simulated machine. Raises Problem
        "not-as-promised"."""
        if sheet is not None:
            self.sheet(sheet)
        found: list[Written] = []
        for index, laid in enumerate(self.sheets):
            if sheet not in (None, index) or film not in (None, laid.film):
                continue
            kinds = [kind] if kind else self.machine.formats
            found += proven_files(self.drawn(index, hairline), kinds, tolerance)[0]
        return found if kind else [*found, self.ticket()]

    def ticket(self) -> Written:
        """The page that goes with the job."""
        from designs.ticket import ticket_pdf  # with all that writes PDF: imported when it is wanted

        jobs = [sheet.job(self.machine) for sheet in self.sheets]
        data = ticket_pdf(self.name, self.evaluation, jobs, self.checklist)
        return Written(f"{safe_names([self.name])[0]}-ticket.pdf", "application/pdf", data)

    def look_whether_shown(self, index: int, key: str) -> None:
        """Raises Problem "other-sheet" where a sheet is not cut as it was shown: a design on it, the machine
        or the knife may have been changed elsewhere."""
        if not 0 <= index < len(self.sheets) or self.sheets[index].cut_key(self.machine) != key:
            raise Problem(
                "other-sheet",
                "This sheet has changed since it was shown: a design on it, or the machine, was changed in "
                "another window.",
                "Nothing was cut. Look at the sheet as it is now, then cut it.",
                "sheet",
            )

    def job(self, design: Design, index: int, job_id: UUID | None = None) -> CutJob:
        """A job for the cutter, ready to start; asked for twice by the same id, it is one job. Raises Problem
        "not-as-promised"."""
        sheet = self.sheet(index)
        material = self.evaluation.recipe.material_of(sheet.film)
        about = {
            "design": design,
            "sheet": index,
            "noted": [point.what for point in self.checklist if point.state == "ask"],
        }
        return keep_job(self.drawn(index), sheet, material, about, job_id)


def keep_job(
    drawn: DrawnSheet, sheet: LaidSheet, material: Material, about: dict[str, Any], job_id: UUID | None = None
) -> CutJob:
    """A job for the cutter, ready to start, once its sheet was cut on the simulated machine; asked for twice
    by the same id, it is one job. about: the design that it is of, the number of the sheet among all, and
    what else is to be known of it. Raises Problem "not-as-promised"."""
    cut_file(drawn)
    machine = drawn.job.machine
    sent = stroke_texts(
        drawn.job.strokes, sheet.sheet, sheet.promised, machine.offset_mm,
        tools_of(machine, material.name), paces_of(machine, material.name),
    )  # fmt: skip
    frees = sheet.promised if machine.cuts else []
    promised = shapely.to_wkb(shapely.multipolygons(np.array(frees, object)), hex=True)
    with transaction.atomic():
        kept, is_new = CutJob.objects.get_or_create(
            pk=job_id or uuid4(),
            defaults={
                **about,
                "revision": about["design"].head,
                "title": drawn.name.replace("-", " "),
                "film": sheet.film,
                "key": sheet.cut_key(machine),
                "width_mm": sheet.sheet.width_mm,
                "height_mm": sheet.sheet.height_mm,
                "machine": profile_of(machine),
                "lengths": [stroke.length_mm for stroke in sent],
                "pieces_free": [drawn.job.stroke_of(cut) + 1 for cut in drawn.frees if machine.cuts],
                "holds_mm": min(material.limits.neck_mm, material.limits.stroke_mm),
                "promised": str(promised),
            },
        )
        if is_new:
            keep_strokes(kept, sent)
            old = CutJob.objects.filter(state__in=ENDED).exclude(pk=kept.pk)
            CutJob.objects.filter(pk__in=list(old.values_list("pk", flat=True)[MOST_JOBS:])).delete()
    return kept


def keep_strokes(job: CutJob, sent: Sequence[StrokeText]) -> None:
    """Keeps what a job sends."""
    JobStroke.objects.bulk_create(
        (
            JobStroke(
                job=job, number=n, text=stroke.text, turn=stroke.turn, line=stroke.line,
                end_x=stroke.end[0], end_y=stroke.end[1],
            )
            for n, stroke in enumerate(sent)
        ),
        batch_size=500,
    )  # fmt: skip


def _others(recipe: Recipe) -> tuple[list[Other], list[Point]]:
    """The designs that are cut from the same sheets, and a word about those that cannot be."""
    found, missing = [], []
    for also in recipe.cut.extra_designs:
        design = Design.objects.filter(pk=also.design, deleted=None).first()
        if design is None:
            what = "A design that was on these sheets is not on the shelf any more."
            missing.append(Point("know", "others", what, "Take it off the sheets below."))
            continue
        name = design.name
        try:
            other = read_stored(newest(design))
            name = design.name or other.display_name
            evaluation = evaluate(other, face_of).whole()
        except Problem as problem:
            missing.append(Point("blocks", "others", f"{name}: {problem.what}", problem.todo))
        else:
            found.append(Other(also.design, name, also.copies, evaluation))
    return found, missing


def half_done(design: Design, film: str) -> CutJob:
    """A job of a film that was stopped half way: for the demo shop."""
    made = CutWork(design.name, read_stored(newest(design)))
    index = next(n for n, sheet in enumerate(made.sheets) if sheet.film == film)
    job = made.job(design, index)
    job.state, job.film_piece, job.done = JobState.STOPPED, 1, len(job.lengths) // 2
    job.save()
    CutStroke.objects.bulk_create(
        CutStroke(job=job, film_piece=1, number=stroke.number, text=stroke.text)
        for stroke in job.strokes.filter(number__lt=job.done)
    )
    return job
