"""One server for a data file; where the file is; what the commands say of copies."""

from __future__ import annotations

import io
import os
import signal
import subprocess
import sys
from contextlib import redirect_stderr, redirect_stdout
from dataclasses import dataclass

import pytest

from inkthread.cli import main
from inkthread.demo import demo_document
from inkthread.storage import Shelf
from inkthread.storage.database import open_database
from inkthread.storage.place import default_data, old_place
from tests.program import Program


@dataclass
class Done:
    returncode: int
    stdout: str
    stderr: str


def command(*arguments: str) -> Done:
    """The command in this process: what it says and its status."""
    out, err = io.StringIO(), io.StringIO()
    with redirect_stdout(out), redirect_stderr(err):
        status = main(list(arguments))
    return Done(status, out.getvalue(), err.getvalue())


def test_a_second_server_is_told_where_the_first_one_is(tmp_path):
    data = tmp_path / "here.db"
    first = Program("serve", "--port", "0", "--data", str(data))
    try:
        for other in (
            ["serve", "--port", "0"],
            ["demo", "--seed-only", "--reset"],
            ["catalogue", "add", str(parts_file(tmp_path))],
        ):
            second = command(*other, "--data", str(data))
            assert second.returncode == 2, other
            assert first.base in second.stderr
            assert "Traceback" not in second.stderr
        assert command("catalogue", "search", "sealed", "--data", str(data)).returncode == 0, (
            "reading goes on"
        )
    finally:
        os.kill(first.process.pid, signal.SIGKILL)
        first.process.communicate(timeout=60)
    # A lock that dies with its process: the kill has let go of it.
    third = Program("serve", "--port", "0", "--data", str(data))
    third.stop()


def parts_file(tmp_path):
    path = tmp_path / "parts.json"
    made = command("catalogue", "export", str(path), "--data", str(tmp_path / "none.db"))
    assert made.returncode == 0, made.stderr
    return path


def test_the_data_is_where_the_platform_keeps_such_or_where_it_is_said(tmp_path, monkeypatch):
    monkeypatch.delenv("INKTHREAD_DATA", raising=False)
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "share"))
    monkeypatch.chdir(tmp_path)
    if sys.platform == "linux":
        assert default_data() == tmp_path / "share/inkthread/inkthread.db"
    monkeypatch.setenv("INKTHREAD_DATA", str(tmp_path / "mine.db"))
    assert default_data() == tmp_path / "mine.db"
    monkeypatch.setenv("INKTHREAD_DATA", str(tmp_path))
    assert default_data() == tmp_path / "inkthread.db", "a folder is meant for the file in it"


def test_it_is_printed_at_the_start_and_an_earlier_place_is_offered(tmp_path):
    (tmp_path / "var").mkdir()
    engine = open_database(tmp_path / "var/inkthread.db")
    Shelf(engine).create(demo_document("dawdler-sketch"), "boat")
    engine.dispose()
    env = {**os.environ, "XDG_DATA_HOME": str(tmp_path / "share")}
    env.pop("INKTHREAD_DATA", None)
    process = subprocess.Popen(
        [sys.executable, "-m", "inkthread.cli", "serve", "--port", "0"],
        cwd=tmp_path,
        env=env,
        stdout=subprocess.PIPE,
        text=True,
    )
    try:
        lines = [process.stdout.readline() for _ in range(3)]
    finally:
        process.terminate()
        process.communicate(timeout=60)
    assert lines[0].startswith("Ink Thread on http://127.0.0.1:")
    assert str(tmp_path / "share/inkthread/inkthread.db") in lines[1]
    assert str(tmp_path / "var/inkthread.db") in lines[2]


def test_the_file_in_use_is_no_earlier_place(tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    assert old_place(tmp_path / "inkthread.db") is None
    (tmp_path / "var").mkdir()
    (tmp_path / "var/inkthread.db").touch()
    assert old_place(tmp_path / "inkthread.db") == tmp_path / "var/inkthread.db"
    assert old_place(tmp_path / "var/inkthread.db") is None


@pytest.fixture
def kept(tmp_path):
    """A data file with a harness, and a copy of it made by the command; the harness has gone on since."""
    data, copy = tmp_path / "data.db", tmp_path / "copy.db"
    engine = open_database(data)
    shelf = Shelf(engine)
    shelf.create(demo_document("dawdler-sketch"), "boat")
    made = command("backup", str(copy), "--data", str(data))
    assert (made.returncode, made.stderr) == (0, "")
    shelf.remove("boat")
    shelf.create(demo_document("glider"), "tray")
    engine.dispose()
    return data, copy


def test_restore_looks_first_and_then_keeps_what_was_there(kept):
    data, copy = kept
    looked = command("restore", str(copy), "--data", str(data))
    assert looked.returncode == 0
    assert "removed here" in looked.stdout
    assert "here only" in looked.stdout
    assert "Nothing is changed" in looked.stdout
    engine = open_database(data)
    assert [e.id for e in Shelf(engine).entries()] == ["tray"]
    engine.dispose()
    done = command("restore", str(copy), "--yes", "--data", str(data))
    assert (done.returncode, done.stderr) == (0, "")
    engine = open_database(data)
    assert [e.id for e in Shelf(engine).entries()] == ["boat"]
    engine.dispose()
    former = done.stdout.splitlines()[-1].rpartition(": ")[2]
    back = command("restore", former, "--yes", "--data", str(data))
    assert back.returncode == 0
    engine = open_database(data)
    assert [e.id for e in Shelf(engine).entries()] == ["tray"]
    engine.dispose()


def test_a_backup_writes_over_nothing_and_one_that_fails_says_so(kept, tmp_path):
    data, copy = kept
    before = copy.read_bytes()
    again = command("backup", str(copy), "--data", str(data))
    assert again.returncode == 2
    assert copy.read_bytes() == before
    (tmp_path / "folder").mkdir()
    assert command("backup", str(tmp_path / "folder"), "--data", str(data)).returncode == 0
    assert len(list((tmp_path / "folder").glob("inkthread-*.db"))) == 1
    for file in (tmp_path / "nothing.db", tmp_path / "empty.db"):
        if file.name == "empty.db":
            file.write_bytes(b"x" * 5000)
        for failed in (
            command("backup", str(tmp_path / "b.db"), "--data", str(file)),
            command("restore", str(file), "--yes", "--data", str(data)),
        ):
            assert failed.returncode == 2
            assert len(failed.stderr.splitlines()) == 1
            assert str(file) in failed.stderr
    assert not (tmp_path / "b.db").exists()


def test_a_served_file_is_not_restored_over(kept):
    data, copy = kept
    running = Program("serve", "--port", "0", "--data", str(data))
    try:
        refused = command("restore", str(copy), "--yes", "--data", str(data))
        assert refused.returncode == 2
        assert running.base in refused.stderr
        assert [d["id"] for d in running.ask("/api/designs")["designs"]] == ["tray"]
        made = command("backup", str(copy.with_name("live.db")), "--data", str(data))
        assert made.returncode == 0, "a copy is made while it is served"
    finally:
        running.stop()
