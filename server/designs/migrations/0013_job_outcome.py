from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("designs", "0012_photos")]

    operations = [
        migrations.RenameField(model_name="cutjob", old_name="told", new_name="outcome"),
    ]
