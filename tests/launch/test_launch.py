"""The launcher: one clear line for everything that can stand in its way."""

import os
import socket
import subprocess
import sys
from pathlib import Path

import pytest

from navrel.launch import commands, house, serving, tools
from navrel.launch.house import Stopped

ROOT = Path(__file__).parents[2]


def test_a_port_in_use_is_named():
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = taken.getsockname()[1]
        with pytest.raises(Stopped, match=f"Port {port} is in use"):
            serving.choose_port("127.0.0.1", port, 8420)
        assert serving.choose_port("127.0.0.1", None, port) > port, "the usual one, where nobody named one"
    assert serving.choose_port("127.0.0.1", port, 8420) == port


def test_without_root_the_exact_command_is_named(monkeypatch):
    monkeypatch.setattr(tools, "is_root", lambda: False)
    with pytest.raises(Stopped) as stopped:
        tools.debian(["postgresql"], "PostgreSQL")
    assert str(stopped.value) == "PostgreSQL is not installed. Run: sudo apt-get install -y postgresql"


def test_another_python_is_refused(monkeypatch):
    monkeypatch.setattr(sys, "version_info", (3, 13, 1))
    with pytest.raises(Stopped, match=r"Navrel runs on Python 3\.11"):
        house.check_python()


def test_a_folder_that_cannot_be_written_is_named(monkeypatch, tmp_path):
    file = tmp_path / "file"
    file.write_text("")
    monkeypatch.setattr(house, "STATE", file / "state")
    with pytest.raises(Stopped, match="Cannot write to"):
        house.prepare_state()


def test_a_failing_program_is_quoted_at_its_end():
    with pytest.raises(Stopped, match=r"(?s)exit 3.*last words"):
        house.run([sys.executable, "-c", "print('first'); print('last words'); raise SystemExit(3)"])


def test_a_digest_follows_names_and_contents(monkeypatch, tmp_path):
    monkeypatch.setattr(house, "ROOT", tmp_path)
    (tmp_path / "a").mkdir()
    (tmp_path / "a" / "one").write_text("1")
    first = house.digest([tmp_path / "a"])
    assert house.digest([tmp_path / "a"]) == first
    (tmp_path / "a" / "one").rename(tmp_path / "a" / "two")
    assert house.digest([tmp_path / "a"]) != first


def test_stamps_tell_what_still_has_to_be_done(monkeypatch, tmp_path):
    monkeypatch.setattr(house, "STATE", tmp_path)
    assert house.once("build", "x")
    house.done("build", "x")
    assert not house.once("build", "x")
    assert house.once("build", "y")


def test_a_server_that_ends_at_once_is_told():
    ended = subprocess.Popen([sys.executable, "-c", "raise SystemExit(1)"])
    ended.wait()
    with pytest.raises(Stopped, match="The application ended while starting"):
        serving.wait_until_served("application", ended, 9)


def test_the_intake_of_a_missing_folder_says_so():
    done = subprocess.run(
        [sys.executable, "-m", "navrel.cli", "intake", "/no/such/folder"],
        env={**os.environ, "PYTHONPATH": str(ROOT / "src")}, capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert (done.returncode, done.stdout) == (2, "")
    assert "There is no folder, no ZIP or tar archive, no WARC file and no table /no/such/folder" in done.stderr


def test_nothing_but_the_standard_library_is_needed_to_launch():
    done = subprocess.run(
        [sys.executable, "-I", "-S", "-c", f"import sys; sys.path.insert(0, {str(ROOT / 'src')!r}); import navrel.launch.commands"],
        capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert done.returncode == 0, done.stderr


def test_a_full_disk_is_one_line(monkeypatch, capsys):
    def full():
        raise OSError(28, "No space left on device", "/somewhere/log")

    monkeypatch.setattr(commands, "prepare", full)
    with pytest.raises(SystemExit) as ended:
        commands.main(["schema"])
    assert (ended.value.code, capsys.readouterr().err) == (1, "No space left on device: /somewhere/log\n")


def test_progress_is_told_on_standard_error(capsys):
    house.progress("Building the front end …")
    house.say("[]")
    told = capsys.readouterr()
    assert (told.out, told.err) == ("[]\n", "Building the front end …\n")


def test_a_stop_where_nothing_runs_says_so(monkeypatch, tmp_path, capsys):
    monkeypatch.setattr("navrel.launch.processes.RUNNING", tmp_path / "running.json")
    assert commands.end() == 0
    assert capsys.readouterr().out == "Nothing runs here.\n"
