from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("library", "0002_names_may_be_swapped")]

    operations = [
        migrations.CreateModel(
            name="FileData",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("digest", models.CharField(max_length=64)),
                ("width", models.PositiveIntegerField(default=0)),
                ("type", models.CharField(max_length=40)),
                ("data", models.BinaryField()),
            ],
            options={
                "constraints": [
                    models.UniqueConstraint(fields=("digest", "width"), name="one_file_a_digest_and_width")
                ],
            },
        ),
    ]
