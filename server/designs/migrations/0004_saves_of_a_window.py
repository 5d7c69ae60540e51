from typing import Any

from django.db import migrations, models
from django.db.models import F


def cards_are_drawn(apps: Any, schema_editor: Any) -> None:
    """The cards there are were drawn as each design was saved."""
    apps.get_model('designs', 'Design').objects.update(card_of=F('head'))


class Migration(migrations.Migration):

    dependencies = [
        ('designs', '0003_own_faces_listed_without_their_files'),
    ]

    operations = [
        migrations.AddField('design', 'card_of', models.PositiveIntegerField(default=0)),
        migrations.AddField('revision', 'window', models.CharField(max_length=40, default='')),
        migrations.AddField('revision', 'edit', models.PositiveBigIntegerField(default=0)),
        migrations.RunPython(cards_are_drawn, migrations.RunPython.noop),
    ]
