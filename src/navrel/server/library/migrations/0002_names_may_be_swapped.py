from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("library", "0001_initial")]

    operations = [
        migrations.RemoveConstraint("piece", "one_piece_a_kind_and_name"),
        migrations.AddConstraint(
            "piece",
            models.UniqueConstraint(
                fields=["site", "kind", "name"],
                name="one_piece_a_kind_and_name",
                deferrable=models.Deferrable.DEFERRED,
            ),
        ),
    ]
