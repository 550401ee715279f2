"""A demo site in a real PostgreSQL; every test runs in a transaction that is rolled back."""

import pytest
from django.http import StreamingHttpResponse
from django.test import Client

from navrel.server.accounts.models import Membership
from navrel.server.bindings import finding
from navrel.server.demo import load_demo
from navrel.server.guards import services as guards
from navrel.server.inventory import services as inventory
from navrel.server.inventory.models import Site
from navrel.server.outcomes import findings, written
from navrel.server.publishing import changes, live, services
from navrel.server.sitestate import draft
from navrel.server.sitestate.kept import Kept

from .contract import what_is_wrong


@pytest.fixture(scope="session")
def django_db_setup(django_db_setup, django_db_blocker):
    with django_db_blocker.unblock():
        load_demo()


@pytest.fixture(autouse=True)
def fresh_models(monkeypatch):
    """Rolled-back versions come again with other contents, which never happens outside of tests."""
    for module, name in (
        (draft, "_drafts"), (live, "_served"), (services, "_impacts"), (changes, "_changes"), (changes, "_contents"),
        (findings, "_found"), (guards, "_states"), (written, "_written"), (inventory, "_summaries"),
        (finding, "_kept"),
    ):  # fmt: skip
        monkeypatch.setattr(module, name, Kept())


@pytest.fixture(autouse=True)
def kept_apart(settings, tmp_path_factory):
    """The files of the sites of a test are kept for that test alone."""
    settings.ASSETS = str(tmp_path_factory.mktemp("assets"))


@pytest.fixture(autouse=True)
def unread_files(settings):
    """The built front end is not read anew for every client; what is asked for is looked for."""
    settings.WHITENOISE_AUTOREFRESH = True


@pytest.fixture(autouse=True)
def quick_passwords(settings):
    """A hash that takes no time: the real one, which has to take some, is what the browser's tests sign in by."""
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]


@pytest.fixture(autouse=True)
def seen_by_one_thread(monkeypatch):
    """What a test writes no other thread sees, so none makes anything ready beside."""
    monkeypatch.setattr(Kept, "meanwhile", lambda self, key, version, make, patience: self.get(key, version, make))


@pytest.fixture(autouse=True)
def described(monkeypatch):
    """Every answer of the API in these tests is one that its description describes."""
    ask = Client.request

    def checked(self, **request):
        response = ask(self, **request)
        address = request["PATH_INFO"]
        if address.startswith("/api/"):
            media_type = response.headers.get("Content-Type", "")
            if isinstance(response, StreamingHttpResponse):
                parts = list(response)
                response.streaming_content = parts
                body = b"".join(parts)
            else:
                body = response.content
            wrong = what_is_wrong(request["REQUEST_METHOD"], address, response.status_code, media_type, body)
            assert not wrong, wrong
        return response

    monkeypatch.setattr(Client, "request", checked)


@pytest.fixture
def site(db):
    return Site.objects.get(slug="marrowick")


@pytest.fixture
def api(site, django_user_model, settings):
    """A signed-in client for the demo site: `api.get("rules")` asks `/api/sites/marrowick/rules`."""
    settings.ALLOWED_HOSTS = ["testserver"]
    client = Client()
    una = django_user_model.objects.create_user("una")
    Membership.objects.create(site=site, user=una, role="owner")
    client.force_login(una)
    return Api(client)


class Api:
    def __init__(self, client):
        self.client = client

    def _path(self, path):
        return path if path.startswith("/") else f"/api/sites/marrowick/{path}".rstrip("/")

    def get(self, path, /, **query):
        return self.client.get(self._path(path), query)

    def post(self, path, body=None, version=None):
        headers = {"If-Match": f'"{version}"'} if version else {}
        return self.client.post(self._path(path), body or {}, content_type="application/json", headers=headers)

    def put(self, path, body, version):
        return self.client.put(
            self._path(path), body, content_type="application/json", headers={"If-Match": f'"{version}"'}
        )

    def delete(self, path, version=1):
        return self.client.delete(self._path(path), headers={"If-Match": f'"{version}"'})
