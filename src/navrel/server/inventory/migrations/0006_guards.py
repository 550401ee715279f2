from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("inventory", "0005_corrections")]

    operations = [migrations.AddField("site", "guards", models.JSONField(default=list))]
