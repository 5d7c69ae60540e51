"""What is known of a maker's own faces is kept as it is of those that ship, and worked out anew; favourites."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("designs", "0015_named_versions")]

    operations = [
        migrations.CreateModel(
            name="FavouriteFace",
            fields=[("slug", models.CharField(max_length=80, primary_key=True, serialize=False))],
        ),
        migrations.AddField("ownface", "facts", models.JSONField(null=True)),
        migrations.AddField("ownface", "record", models.JSONField(null=True)),
        migrations.RemoveField("ownface", "about"),
        migrations.RemoveField("ownface", "rating"),
    ]
