from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("inventory", "0004_dresses")]

    operations = [
        migrations.AddField("site", "by_hand", models.BooleanField(default=True)),
        migrations.AddField("page", "corrections", models.JSONField(null=True, blank=True)),
        migrations.AddField("page", "corrections_version", models.PositiveIntegerField(default=1)),
        migrations.AddIndex(
            "page",
            models.Index(fields=["site"], condition=models.Q(corrections__isnull=False), name="pages_corrected"),
        ),
    ]
