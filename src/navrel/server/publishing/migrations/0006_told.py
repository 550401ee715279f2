"""Whoever serves the published site is told of what concerns it (PostgreSQL: NOTIFY)."""

from django.db import migrations

_TELL = """
CREATE FUNCTION navrel_tell_published() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM pg_notify('navrel_published', TG_TABLE_NAME);
    RETURN NULL;
END $$;
CREATE TRIGGER navrel_revision_told AFTER INSERT OR UPDATE OR DELETE ON publishing_revision
    FOR EACH STATEMENT EXECUTE FUNCTION navrel_tell_published();
CREATE TRIGGER navrel_sites_told AFTER INSERT OR DELETE ON inventory_site
    FOR EACH STATEMENT EXECUTE FUNCTION navrel_tell_published();
CREATE TRIGGER navrel_site_told AFTER UPDATE ON inventory_site
    FOR EACH ROW WHEN ((OLD.slug, OLD.base_url, OLD.archived) IS DISTINCT FROM (NEW.slug, NEW.base_url, NEW.archived))
    EXECUTE FUNCTION navrel_tell_published();
"""
_SILENCE = """
DROP TRIGGER navrel_site_told ON inventory_site;
DROP TRIGGER navrel_sites_told ON inventory_site;
DROP TRIGGER navrel_revision_told ON publishing_revision;
DROP FUNCTION navrel_tell_published();
"""


class Migration(migrations.Migration):
    dependencies = [("publishing", "0005_chosen"), ("inventory", "0012_crawls")]
    operations = [migrations.RunSQL(_TELL, _SILENCE)]
