import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("publishing", "0003_overruled"),
        ("inventory", "0006_guards"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            "Plan",
            [
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("note", models.CharField(blank=True, max_length=500)),
                ("summary", models.JSONField(default=list)),
                ("site_version", models.PositiveBigIntegerField()),
                ("last_edit", models.PositiveIntegerField(default=0)),
                ("overruled", models.JSONField(null=True)),
                ("archive", models.BinaryField()),
                ("at", models.DateTimeField()),
                ("planned", models.DateTimeField(auto_now_add=True)),
                ("after", models.PositiveIntegerField(default=0)),
                (
                    "state",
                    models.CharField(
                        max_length=10,
                        default="waiting",
                        choices=[(one, one) for one in ("waiting", "done", "refused", "dropped")],
                    ),
                ),
                ("told", models.CharField(blank=True, max_length=500)),
                ("revision", models.PositiveIntegerField(null=True)),
                (
                    "by",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.SET_NULL,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "site",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="plans", to="inventory.site"
                    ),
                ),
            ],
            options={
                "ordering": ["-at", "-pk"],
                "indexes": [
                    models.Index(fields=["at"], condition=models.Q(state="waiting"), name="plans_waiting")
                ],
            },
        ),
    ]
