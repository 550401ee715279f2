from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("inventory", "0002_site_settings")]

    operations = [
        migrations.AddField("site", "menus", models.JSONField(default=list)),
        migrations.AddField("site", "files", models.JSONField(default=list)),
    ]
