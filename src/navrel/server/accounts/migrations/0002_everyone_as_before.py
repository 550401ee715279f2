"""Whoever had an account could do everything at every site; so it stays."""

from django.db import migrations


def everyone_owns(apps, schema_editor):
    user = apps.get_model("auth", "User")
    site = apps.get_model("inventory", "Site")
    membership = apps.get_model("accounts", "Membership")
    membership.objects.bulk_create(
        membership(site=one, user=person, role="owner") for one in site.objects.all() for person in user.objects.all()
    )


class Migration(migrations.Migration):
    dependencies = [("accounts", "0001_people"), ("auth", "0012_alter_user_first_name_max_length")]

    operations = [migrations.RunPython(everyone_owns, migrations.RunPython.noop)]
