"""Tokens that ask for published layouts alone; whoever serves those is told when a token is taken back."""

from django.db import migrations, models

_TELL = """
CREATE TRIGGER navrel_token_told AFTER DELETE ON accounts_token
    FOR EACH STATEMENT EXECUTE FUNCTION navrel_tell_published();
CREATE TRIGGER navrel_membership_told AFTER DELETE ON accounts_membership
    FOR EACH STATEMENT EXECUTE FUNCTION navrel_tell_published();
"""
_SILENCE = """
DROP TRIGGER navrel_membership_told ON accounts_membership;
DROP TRIGGER navrel_token_told ON accounts_token;
"""


class Migration(migrations.Migration):
    dependencies = [("accounts", "0004_second_factor"), ("publishing", "0006_told")]

    operations = [
        migrations.AlterField(
            model_name="token",
            name="role",
            field=models.CharField(
                choices=[
                    ("published", "published"),
                    ("viewer", "viewer"),
                    ("editor", "editor"),
                    ("publisher", "publisher"),
                    ("owner", "owner"),
                ],
                max_length=10,
            ),
        ),
        migrations.RunSQL(_TELL, _SILENCE),
    ]
