"""The wheel navrel-core in an environment of its own, in which there is what it says that it takes, and nothing else."""

import json
import os
import re
import shutil
import subprocess
import sys
from importlib import metadata
from pathlib import Path

import pytest
from navrel_faults.installation import ROOT


def taken_by(requirements):
    """The distributions that some requirements take, with all that these take."""
    found, waiting = {}, list(requirements)
    while waiting:
        requirement = waiting.pop()
        if "extra ==" in requirement:
            continue
        name = re.split(r"[^\w.-]", requirement, maxsplit=1)[0]
        try:
            distribution = metadata.distribution(name)
        except metadata.PackageNotFoundError:
            # One for another kind of machine.
            assert ";" in requirement, requirement
            continue
        key = re.sub(r"[-_.]+", "-", name).lower()
        if key not in found:
            found[key] = distribution
            waiting += distribution.requires or ()
    return found.values()


@pytest.fixture(scope="session")
def python(tmp_path_factory):
    """The Python of that environment."""
    folder = tmp_path_factory.mktemp("package")
    build = [sys.executable, "-m", "hatchling", "build", "-t", "wheel", "-d", str(folder)]
    subprocess.run(build, cwd=ROOT / "packages" / "core", check=True, capture_output=True)
    (wheel,) = folder.glob("navrel_core-*.whl")
    subprocess.run([sys.executable, "-m", "venv", folder / "venv"], check=True)
    own = folder / "venv" / "bin" / "python"
    subprocess.run([own, "-m", "pip", "install", "-q", "--no-index", "--no-deps", wheel], check=True, env=plain())
    (site_packages,) = (folder / "venv" / "lib").glob("python3*/site-packages")
    (installed,) = metadata.distributions(name="navrel-core", path=[str(site_packages)])
    for distribution in taken_by(installed.requires):
        for top in {file.parts[0] for file in distribution.files or () if file.parts[0] not in ("..", "__pycache__")}:
            source = Path(str(distribution.locate_file(top)))
            if not (site_packages / top).exists():
                (site_packages / top).symlink_to(source)
    return own


def plain():
    """An environment in which nothing of the project's is found."""
    return {name: value for name, value in os.environ.items() if name not in ("PYTHONPATH", "DJANGO_SETTINGS_MODULE")}


@pytest.fixture
def run(python, tmp_path):
    """Run a program there, with the demo's layout file beside it; what it printed."""
    shutil.copy(ROOT / "demo" / "layout.json", tmp_path / "layout.json")

    def ran(program, *options):
        done = subprocess.run(
            [python, *options, "-c", program], cwd=tmp_path, env=plain(), capture_output=True, text=True, check=False
        )
        assert done.returncode == 0, done.stderr
        return done.stdout

    return ran


@pytest.fixture
def demo():
    return json.loads((ROOT / "demo" / "layout.json").read_text())
