from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("publishing", "0004_plans")]

    operations = [
        migrations.AddField(name, "chosen", models.BooleanField(default=False)) for name in ("revision", "plan")
    ]
