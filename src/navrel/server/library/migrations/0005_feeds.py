from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("library", "0004_origin")]

    operations = [
        migrations.CreateModel(
            "Feed",
            [
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("url", models.CharField(max_length=2000, unique=True)),
                ("title", models.CharField(blank=True, max_length=300)),
                ("entries", models.JSONField(default=list)),
                ("asks", models.JSONField(default=dict)),
                ("tried", models.DateTimeField(null=True)),
                ("fetched", models.DateTimeField(null=True)),
                ("problem", models.CharField(blank=True, max_length=500)),
            ],
        )
    ]
