"""The program as it is started: processes, ports, restarts, and what reaches its files."""

from __future__ import annotations

import os
import re
import socket
import subprocess
import sys
from pathlib import Path

import pytest

from inkthread.web import create_app
from tests.program import Program, client_of

ROOT = Path(__file__).parent.parent.parent


def test_a_demo_started_twice_keeps_what_was_done_and_a_reset_restores(tmp_path):
    data = str(tmp_path / "demo.db")
    first = Program("demo", "--port", "0", "--data", data)
    try:
        assert {d["id"] for d in first.ask("/api/designs")["designs"]} == {
            "larkspur",
            "glider",
            "dawdler",
            "dawdler-sketch",
            "mushroom",
        }
        edit = [{"op": "replace", "path": "/circuits/loads/M1/current_a", "value": "11 A"}]
        first.ask("/api/designs/larkspur", "PATCH", edit, **{"If-Match": '"1"'})
        mine = first.ask("/api/designs", "POST", {"name": "mine", "practice": "vehicle"})["id"]
    finally:
        first.stop()
    second = Program("demo", "--port", "0", "--data", data)
    try:
        kept = second.ask("/api/designs/larkspur")
        assert kept["document"]["circuits"]["loads"]["M1"]["current_a"] == 11
        assert kept["undo_label"] == "edit"
        back = second.ask("/api/designs/larkspur/undo", "POST", **{"If-Match": '"2"'})
        assert back["document"]["circuits"]["loads"]["M1"]["current_a"] == 7.5
        second.ask("/api/designs/larkspur/redo", "POST", **{"If-Match": '"3"'})
    finally:
        second.stop()
    reset = subprocess.run(
        [sys.executable, "-m", "inkthread.cli", "demo", "--reset", "--seed-only", "--data", data],
        capture_output=True,
        text=True,
        check=False,
    )
    assert (reset.returncode, reset.stderr) == (0, "")
    third = Program("serve", "--port", "0", "--data", data)
    try:
        assert third.ask("/api/designs/larkspur")["document"]["circuits"]["loads"]["M1"]["current_a"] == 7.5
        assert third.ask(f"/api/designs/{mine}")["document"]["brief"]["name"] == "mine"
    finally:
        third.stop()


def test_the_port_comes_from_the_environment_and_a_busy_one_is_named(tmp_path):
    with socket.socket() as busy:
        busy.bind(("127.0.0.1", 0))
        busy.listen()
        port = str(busy.getsockname()[1])
        done = subprocess.run(
            [sys.executable, "-m", "inkthread.cli", "serve", "--data", str(tmp_path / "x.db")],
            capture_output=True,
            text=True,
            env={**os.environ, "PORT": port},
            check=False,
        )
    assert done.returncode == 2
    assert port in done.stderr
    assert "PORT" in done.stderr
    assert "Traceback" not in done.stderr


def test_only_this_machine_is_listened_on(tmp_path):
    program = Program("serve", "--port", "0", "--data", str(tmp_path / "x.db"))
    try:
        port = int(program.base.rsplit(":", 1)[1])
        listening = Path("/proc/net/tcp").read_text().splitlines()[1:]
        addresses = {x.split()[1] for x in listening if x.split()[3] == "0A"}
        assert f"0100007F:{port:04X}" in addresses, "127.0.0.1"
        assert f"00000000:{port:04X}" not in addresses
    finally:
        program.stop()


@pytest.fixture
def client(tmp_path):
    app = create_app(tmp_path / "files.db")
    yield client_of(app)
    app.extensions["workshop"].shelf.engine.dispose()


@pytest.mark.parametrize(
    "path",
    [
        "/../pyproject.toml",
        "/assets/../../app.py",
        "/%2e%2e/app.py",
        "/assets/..%2f..%2fapi.py",
        "/openapi.json",
    ],
)
def test_nothing_but_the_screen_is_handed_out(client, path):
    reply = client.get(path)
    text = reply.get_data(as_text=True)
    assert "import" not in text.split("<")[0]
    assert reply.status_code == 404 or '<div id="root">' in text
    reply.close()


def test_the_page_and_its_parts_are_served_with_their_policies(client):
    page = client.get("/d/larkspur/wire")
    text = page.get_data(as_text=True)
    assert page.headers["Cache-Control"] == "no-cache"
    assert "script-src" not in page.headers["Content-Security-Policy"], "default-src 'self' covers it"
    assert not re.search(r"https?://", text), "nothing is fetched from elsewhere"
    script = re.search(r'src="(/assets/[^"]+\.js)"', text)[1]
    part = client.get(script)
    assert "immutable" in part.headers["Cache-Control"]
    assert part.headers["X-Content-Type-Options"] == "nosniff"
    part.close()
    page.close()


@pytest.mark.parametrize(
    ("method", "path", "status"),
    [
        ("GET", "/api/nothing", 404),
        ("PUT", "/api/designs", 405),
        ("GET", "/api/designs/unknown", 404),
        ("POST", "/api/designs/unknown/undo", 428),
        ("POST", "/api/designs/unknown/duplicate", 404),
        ("DELETE", "/api/designs/unknown", 404),
        ("GET", "/api/designs/" + "x" * 80, 422),
    ],
)
def test_every_error_is_problem_details(client, method, path, status):
    reply = client.open(path, method=method)
    assert reply.status_code == status
    assert reply.content_type == "application/problem+json"
    assert {"type", "title", "status", "detail", "errors"} <= set(reply.json)
    assert reply.json["status"] == status


@pytest.mark.parametrize("header", ["", "abc", '"x-y"', "*", '"-1"', '"' + "9" * 23 + '"'])
def test_an_if_match_that_is_no_version_is_refused(client, header):
    made = client.post("/api/designs", json={"name": "x", "practice": "vehicle"}).json
    reply = client.patch(f"/api/designs/{made['id']}", json=[], headers={"If-Match": header})
    assert reply.status_code in (422, 428)
    assert "ETag" in reply.json["detail"]


def test_the_built_screen_fetches_nothing_from_elsewhere():
    """Styles load no address; scripts import and fetch none. A browser test watches the rest."""
    static = ROOT / "src/inkthread/web/static"
    styles = [f.read_text(encoding="utf-8") for f in static.rglob("*.css")]
    scripts = [f.read_text(encoding="utf-8") for f in static.rglob("*.js")]
    assert styles
    assert scripts
    for text in styles:
        assert not re.search(r"(url\(|@import)\s*[\"']?(https?:)?//", text)
    for text in scripts:
        assert not re.search(r"(fetch|import|open)\(\s*[\"'`](https?:)?//", text)


def test_the_readme_links_every_picture_and_names_every_command():
    readme = (ROOT / "README.md").read_text()
    pictures = sorted(p.name for p in (ROOT / "docs/screenshots").glob("*.png"))
    assert 8 <= len(pictures) < 20
    assert all(f"docs/screenshots/{p}" in readme for p in pictures)
    for command in ("evaluate", "check", "convert", "export", "reckon wire", "catalogue"):
        assert f"inkthread {command}" in readme
    for target in ("make demo", "make demo-reset", "make setup"):
        assert target in readme
