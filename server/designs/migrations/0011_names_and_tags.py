"""Designs may have no name of their own, and have tags; cards are drawn anew, for they say what is found."""

from typing import Any

from django.db import migrations, models


def draw_anew(apps: Any, schema_editor: object) -> None:
    apps.get_model("designs", "Design").objects.update(card_of=0)


class Migration(migrations.Migration):
    dependencies = [("designs", "0010_materials_and_notes")]

    operations = [
        migrations.AlterField("design", "name", models.CharField(blank=True, max_length=120)),
        migrations.AddField("design", "tags", models.JSONField(default=list)),
        migrations.RunPython(draw_anew, migrations.RunPython.noop),
    ]
