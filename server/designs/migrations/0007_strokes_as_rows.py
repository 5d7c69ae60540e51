from typing import Any

import django.db.models.deletion
from django.db import migrations, models


def as_rows(apps: Any, _editor: Any) -> None:
    """The strokes of the jobs there are, and what was cut of them, as rows."""
    import shapely

    from fulgen.formats.hpgl import read_strokes
    from fulgen.formats.stroke_texts import stroke_texts
    from fulgen.sheet.sheets import Sheet

    CutJob, JobStroke, CutStroke = (
        apps.get_model("designs", name) for name in ("CutJob", "JobStroke", "CutStroke")
    )
    for job in CutJob.objects.iterator(chunk_size=20):
        strokes = read_strokes(job.hpgl.encode(), job.title, job.height_mm)
        promised = list(shapely.get_parts(shapely.from_wkb(bytes.fromhex(job.promised))))
        sheet = Sheet(job.width_mm, job.height_mm)
        sent = stroke_texts(strokes, sheet, promised, job.machine["offset_mm"])
        JobStroke.objects.bulk_create(
            (
                JobStroke(
                    job=job, number=n, text=one.text, turn=one.turn, line=one.line,
                    end_x=one.end[0], end_y=one.end[1],
                )
                for n, one in enumerate(sent)
            ),
            batch_size=500,
        )  # fmt: skip
        cut = [line for line in job.cut.split("\n") if line]
        CutStroke.objects.bulk_create(
            (CutStroke(job=job, film_piece=1, number=n, text=text) for n, text in enumerate(cut)),
            batch_size=500,
        )
        job.lengths = [one.length_mm for one in sent]
        job.film_piece = 0 if job.state == "waiting" else 1
        job.done = min(job.done, len(sent))
        job.save(update_fields=["lengths", "film_piece", "done"])


class Migration(migrations.Migration):
    dependencies = [("designs", "0006_cutting")]

    operations = [
        migrations.AddField("shopmachine", "reached", models.JSONField(default=dict)),
        migrations.RemoveField("cutjob", "strokes"),
        migrations.RenameField("cutjob", "frees", "pieces_free"),
        migrations.AddField("cutjob", "lengths", models.JSONField(default=list)),
        migrations.AddField("cutjob", "film_piece", models.PositiveIntegerField(default=0)),
        migrations.AddField("cutjob", "by_time", models.BooleanField(default=False)),
        migrations.AlterField(
            "cutjob",
            "state",
            models.CharField(
                choices=[
                    ("waiting", "Waiting"), ("cutting", "Cutting"), ("paused", "Paused"), ("lost", "Lost"),
                    ("off", "Off"), ("no-film", "No Film"), ("stopped", "Stopped"), ("done", "Done"),
                ],
                default="waiting",
                max_length=10,
            ),
        ),
        migrations.CreateModel(
            name="JobStroke",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("number", models.PositiveIntegerField()),
                ("text", models.TextField()),
                ("turn", models.TextField(default="")),
                ("end_x", models.IntegerField(default=0)),
                ("end_y", models.IntegerField(default=0)),
                ("line", models.TextField()),
                (
                    "job",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="strokes", to="designs.cutjob"
                    ),
                ),
            ],
            options={"ordering": ("number",)},
        ),
        migrations.AddConstraint(
            "jobstroke", models.UniqueConstraint(fields=("job", "number"), name="one_stroke_of_each_number")
        ),
        migrations.CreateModel(
            name="CutStroke",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("film_piece", models.PositiveIntegerField()),
                ("number", models.PositiveIntegerField()),
                ("text", models.TextField()),
                ("own", models.BooleanField(default=True)),
                (
                    "job",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="+", to="designs.cutjob"
                    ),
                ),
            ],
            options={"ordering": ("film_piece", "number")},
        ),
        migrations.AddConstraint(
            "cutstroke",
            models.UniqueConstraint(fields=("job", "film_piece", "number"), name="one_cut_of_each_number"),
        ),
        migrations.RunPython(as_rows, migrations.RunPython.noop),
        migrations.RemoveField("cutjob", "hpgl"),
        migrations.RemoveField("cutjob", "cut"),
        migrations.AlterField(
            "cutstroke",
            "job",
            models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="cut", to="designs.cutjob"
            ),
        ),
    ]
