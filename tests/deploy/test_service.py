"""The service, the container and the settings as they are shipped and written down."""

import re
import shutil
import subprocess

import pytest
from navrel_faults.installation import ROOT
from navrel_rehearsal.nginx import DEPLOY

from navrel.launch.options import start_options


def said(pattern, text):
    """What a line says."""
    found = re.search(pattern, text, re.MULTILINE)
    assert found is not None
    return found[1]


SOURCES = [
    *(ROOT / "src" / "navrel" / "server" / "settings").glob("*.py"),
    *(ROOT / "src" / "navrel" / "launch").glob("*.py"),
]


@pytest.mark.skipif(shutil.which("systemd-analyze") is None, reason="systemd is not there")
def test_the_service_is_one_that_systemd_takes(tmp_path):
    unit = (DEPLOY / "systemd" / "navrel.service").read_text()
    own = tmp_path / "navrel.service"
    own.write_text(unit.replace("/opt/navrel", str(ROOT)).replace("User=navrel", "User=postgres"))
    checked = subprocess.run(["systemd-analyze", "verify", str(own)], capture_output=True, text=True, check=False)
    about_it = [line for line in checked.stderr.splitlines() if "navrel.service" in line]
    assert about_it == []
    command = said(r"^ExecStart=(.*)$", unit).split()
    options = start_options(command[2:])
    assert (options.port, options.public_port, options.empty, options.host) == (8420, 8421, True, "127.0.0.1")


def test_the_container_is_of_packages_and_files_that_there_are():
    text = (DEPLOY / "container" / "Containerfile").read_text()
    packages = said(r"--no-install-recommends \\\n\s*(.*?) \\\n", text).split()
    for package in packages:
        known = subprocess.run(["apt-cache", "show", package], capture_output=True, check=False)
        assert known.returncode == 0, package
    command = re.findall(r'"([^"]+)"', said(r"^CMD (.*)$", text))
    assert (ROOT / command[0]).exists()
    options = start_options(command[2:])
    assert (options.port, options.public_port, options.host, options.empty) == (8420, 8421, "0.0.0.0", True)  # noqa: S104
    assert {"8420", "8421"} == set(said(r"^EXPOSE (.*)$", text).split())


def test_every_setting_is_written_down_and_no_other():
    read = {
        name for source in SOURCES for name in re.findall(r'environ(?:\.get\(|\[)"(NAVREL_\w+)"', source.read_text())
    }
    chapter = (ROOT / "docs" / "guide.md").read_text().partition("\n## Run it on a server\n")[2].partition("\n## ")[0]
    told = set(re.findall(r"`(NAVREL_\w+)`", chapter))
    assert told == read and len(read) > 15
    # What a table says of itself is what is read where nothing is set.
    table = dict(re.findall(r"^\| `(NAVREL_\w+)` \|.*\| (\S*) *\|$", chapter, re.MULTILINE))
    for name, stated in table.items():
        if stated.isdigit():
            assert any(f'"{name}", "{stated}"' in source.read_text() for source in SOURCES), name


def test_the_guide_names_files_that_there_are():
    chapter = (ROOT / "docs" / "guide.md").read_text()
    named = set(re.findall(r"deploy/[\w./*-]*[\w*]", chapter))
    assert len(named) > 6 and [name for name in named if not any(ROOT.glob(name))] == []
