"""The guide puts Navrel behind nginx: each of its commands, word for word."""

import os
import re
import subprocess

import pytest
from navrel_faults.installation import ROOT
from navrel_rehearsal.nginx import DEPLOY

from .edges import fetched
from .old import AFTER, BEFORE

#: They ask the same servers, one after the other.
pytestmark = pytest.mark.xdist_group("edges")


def commands(chapter, number):
    """A block of commands of a chapter of the guide."""
    text = (ROOT / "docs" / "guide.md").read_text().partition(f"\n## {chapter}\n")[2].partition("\n## ")[0]
    return re.findall(r"```sh\n(.*?)```", text, re.DOTALL)[number]


def test_the_guide_puts_it_behind_nginx(place, tmp_path):
    written = commands("Put it behind nginx", 0)
    install, *rest = written.replace("sudo ", "").splitlines()
    assert install == "apt-get install -y nginx-light libnginx-mod-http-headers-more-filter curl"
    etc, log = tmp_path / "nginx", tmp_path / "error.log"
    (etc / "conf.d").mkdir(parents=True)
    (etc / "nginx.conf").write_text(
        f"error_log {log}; pid {tmp_path}/pid; include /etc/nginx/modules-enabled/*.conf; events {{}}\n"
        f"http {{ access_log off; include {etc}/conf.d/*.conf; }}\n"
    )
    env = {
        **os.environ, "NAVREL_REVISION_FILE": f"{etc}/navrel/revision.conf", "NAVREL_PUBLISHED": place.stage.published,
        "NGINX_COMMAND": f"echo {etc}/nginx.conf",
    }  # fmt: skip
    done = subprocess.run(
        ["sh", "-e"], input="\n".join(rest).replace("/etc/nginx", str(etc)), cwd=ROOT, env=env, text=True,
        capture_output=True, check=False,
    )  # fmt: skip
    assert done.returncode == 0, done.stderr
    assert done.stdout == f"{etc}/nginx.conf -s reload\n"
    assert (etc / "navrel" / "revision.conf").read_text() == f"set $navrel_revision {max(place.begun)};\n"
    for file in etc.rglob("*.conf"):
        text = file.read_text().replace("/etc/nginx/navrel", f"{etc}/navrel")
        file.write_text(
            text.replace("listen 80;", "listen 127.0.0.1:9;").replace("/var/cache/nginx/navrel", f"{tmp_path}/cache")
        )
    checked = subprocess.run(
        ["/usr/sbin/nginx", "-t", "-e", str(log), "-c", str(etc / "nginx.conf")],
        capture_output=True,
        text=True,
        check=False,
    )
    assert checked.returncode == 0, checked.stderr


def test_what_tells_nginx_takes_only_what_is_newer_and_is_a_number(tmp_path):
    file = tmp_path / "revision.conf"

    def told(revision):
        env = {**os.environ, "NAVREL_REVISION": revision, "NAVREL_REVISION_FILE": str(file), "NGINX_COMMAND": "echo"}
        done = subprocess.run([DEPLOY / "nginx" / "published"], env=env, capture_output=True, text=True, check=False)
        return done.returncode, done.stdout, file.read_text() if file.exists() else ""

    assert told("3") == (0, "-s reload\n", "set $navrel_revision 3;\n")
    assert told("2") == (0, "", "set $navrel_revision 3;\n")
    assert told("12") == (0, "-s reload\n", "set $navrel_revision 12;\n")
    for nonsense in ("x", "1;2", "$(id)", "-1"):
        assert told(nonsense) == (2, "", "set $navrel_revision 12;\n")


def test_the_guide_puts_it_before_an_old_site(place):
    settings = commands("Put it before an old site", 0).split()
    assert settings.pop() == "start" and settings.pop() == "./navrel"
    env = dict(one.split("=", 1) for one in settings)
    assert env["NAVREL_OLD_SITES"] == "marrowick=http://127.0.0.1:8080"
    assert "http://127.0.0.1:8080;" in (DEPLOY / "nginx" / "old-site.conf").read_text()
    place.desk("clear")
    place.desk("bindings", header="body > header")
    place.publish()
    place.restart(**{**env, "NAVREL_OLD_SITES": f"marrowick=http://{place.old.host}"})
    try:
        body = fetched(place.nginx.origins["old-site"] + "/about")[2]
        assert body.startswith(BEFORE) and body.endswith(AFTER) and b'data-piece="main-header"' in body
    finally:
        place.desk("bindings")
        place.publish()
        place.restart()
