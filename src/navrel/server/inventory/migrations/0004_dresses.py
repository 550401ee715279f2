from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("inventory", "0003_menus_and_pictures")]

    operations = [migrations.AddField("site", "dresses", models.JSONField(default=list))]
