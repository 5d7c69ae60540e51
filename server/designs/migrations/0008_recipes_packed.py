from typing import Any

from django.db import migrations, models


def pack(apps: Any, _editor: Any) -> None:
    """The recipes there are, each drawing once."""
    from designs.revisions import packed, taken_apart

    Revision, LongText = (apps.get_model("designs", name) for name in ("Revision", "LongText"))
    for revision in Revision.objects.iterator(chunk_size=20):
        short, texts = taken_apart(revision.recipe)
        revision.packed = packed(short)
        revision.save(update_fields=["packed"])
        for digest, text in texts.items():
            LongText.objects.get_or_create(digest=digest, defaults={"packed": packed(text)})
        revision.texts.set(texts)


class Migration(migrations.Migration):
    dependencies = [("designs", "0007_strokes_as_rows")]

    operations = [
        migrations.CreateModel(
            name="LongText",
            fields=[
                ("digest", models.CharField(max_length=64, primary_key=True, serialize=False)),
                ("packed", models.BinaryField()),
            ],
        ),
        migrations.AddField("revision", "packed", models.BinaryField(default=b""), preserve_default=False),
        migrations.AddField("revision", "texts", models.ManyToManyField(to="designs.longtext")),
        migrations.RunPython(pack, migrations.RunPython.noop),
        migrations.RemoveField("revision", "recipe"),
    ]
