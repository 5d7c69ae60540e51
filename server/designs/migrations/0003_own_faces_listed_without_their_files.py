from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('designs', '0002_own_faces'),
    ]

    operations = [
        migrations.AddField('ownface', 'rating_failed', models.BooleanField(default=False)),
        migrations.AddField('ownface', 'about', models.JSONField(null=True)),
    ]
