from django.db import migrations

#: Contents are large texts, written by the thousand; where the server knows lz4 it packs them many times as fast.
PACK = """
DO $$ BEGIN
    ALTER TABLE inventory_content ALTER COLUMN html SET COMPRESSION lz4;
    ALTER TABLE inventory_content ALTER COLUMN text SET COMPRESSION lz4;
EXCEPTION WHEN feature_not_supported THEN NULL;
END $$
"""
AS_BEFORE = """
ALTER TABLE inventory_content ALTER COLUMN html SET COMPRESSION default;
ALTER TABLE inventory_content ALTER COLUMN text SET COMPRESSION default;
"""


class Migration(migrations.Migration):
    dependencies = [("inventory", "0010_recipe")]
    operations = [migrations.RunSQL(PACK, AS_BEFORE)]
