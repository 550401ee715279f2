from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("rules", "0001_initial")]

    operations = [
        migrations.RenameField("rule", "place", "position"),
        migrations.AlterModelOptions("rule", {"ordering": ["position"]}),
        migrations.RemoveConstraint("rule", "one_rule_a_name"),
        migrations.AddConstraint(
            "rule",
            models.UniqueConstraint(
                fields=["site", "name"], name="one_rule_a_name", deferrable=models.Deferrable.DEFERRED
            ),
        ),
    ]
