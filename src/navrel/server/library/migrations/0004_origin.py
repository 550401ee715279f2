from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("library", "0003_pictures")]

    operations = [migrations.AddField("piece", "origin", models.CharField(blank=True, max_length=80, default=""))]
