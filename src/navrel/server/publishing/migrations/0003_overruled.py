from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("publishing", "0002_last_edit")]

    operations = [migrations.AddField("revision", "overruled", models.JSONField(null=True))]
