import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    initial = True

    dependencies = [
        ("inventory", "0002_site_settings"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="Edit",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("number", models.PositiveIntegerField()),
                ("made", models.DateTimeField(auto_now_add=True)),
                (
                    "kind",
                    models.CharField(
                        choices=[("edit", "edit"), ("undo", "undo"), ("redo", "redo")], default="edit", max_length=4
                    ),
                ),
                ("undone", models.BooleanField(default=False)),
                ("words", models.TextField()),
                ("parts", models.JSONField(default=list)),
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
                    "of",
                    models.ForeignKey(
                        null=True, on_delete=django.db.models.deletion.CASCADE, related_name="turns", to="edits.edit"
                    ),
                ),
                (
                    "site",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="edits", to="inventory.site"
                    ),
                ),
            ],
            options={
                "ordering": ["-number"],
                "indexes": [models.Index(fields=["site", "by", "-number"], name="edits_of_a_person")],
                "constraints": [models.UniqueConstraint(fields=("site", "number"), name="one_edit_a_number")],
            },
        ),
    ]
