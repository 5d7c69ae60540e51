"""Photographs that lie under designs."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("designs", "0011_names_and_tags")]

    operations = [
        migrations.CreateModel(
            name="Photo",
            fields=[
                ("image", models.CharField(max_length=64, primary_key=True, serialize=False)),
                ("data", models.BinaryField()),
                ("width_px", models.PositiveIntegerField()),
                ("height_px", models.PositiveIntegerField()),
                ("added", models.DateTimeField(auto_now_add=True)),
            ],
        ),
    ]
