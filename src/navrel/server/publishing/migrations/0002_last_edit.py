from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("publishing", "0001_initial")]

    operations = [
        migrations.AddField("revision", "last_edit", models.PositiveIntegerField(default=0)),
    ]
