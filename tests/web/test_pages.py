"""Who may change a harness, and of which version: other pages, other windows."""

from __future__ import annotations

import pytest
from werkzeug.routing import BuildError

from inkthread.storage import Shelf
from inkthread.storage.database import open_database
from inkthread.web import create_app
from tests.conftest import shelve_small
from tests.program import client_of, whole_shelf

LARKSPUR = "/api/designs/larkspur"
WRITES = [
    ("POST", f"{LARKSPUR}/undo"),
    ("POST", f"{LARKSPUR}/redo"),
    ("POST", f"{LARKSPUR}/restore"),
    ("POST", f"{LARKSPUR}/duplicate"),
    ("POST", f"{LARKSPUR}/mend"),
    ("POST", f"{LARKSPUR}/acts"),
    ("POST", "/api/designs"),
    ("POST", "/api/shop/parts/restore?kind=wires&code=X"),
    ("PATCH", LARKSPUR),
    ("PUT", "/api/shop/tools?code=T-IND"),
    ("DELETE", LARKSPUR),
    ("DELETE", "/api/shop/parts?kind=wires&code=X"),
]


@pytest.fixture(scope="module")
def quiet(tmp_path_factory):
    """A client for what changes nothing."""
    path = tmp_path_factory.mktemp("pages") / "pages.db"
    engine = open_database(path)
    shelve_small(Shelf(engine))
    engine.dispose()
    app = create_app(path)
    client = client_of(app)
    whole_shelf(lambda: client.get("/api/designs").json)
    yield client
    app.extensions["workshop"].shelf.engine.dispose()


@pytest.mark.parametrize(("method", "path"), WRITES)
@pytest.mark.parametrize(
    "headers",
    [
        {"Origin": "http://elsewhere.example"},
        {"Origin": "null"},
        {"Origin": "http://localhost:9"},
        {"Sec-Fetch-Site": "cross-site"},
        {"Sec-Fetch-Site": "same-site"},
    ],
)
def test_another_page_changes_nothing(quiet, method, path, headers):
    before = quiet.get(LARKSPUR).json
    listed = quiet.get("/api/designs").json
    reply = quiet.open(path, method=method, headers={**headers, "If-Match": '"1"'})
    assert reply.status_code == 403
    assert "own pages" in reply.json["detail"]
    assert quiet.get(LARKSPUR).json["document"] == before["document"]
    assert quiet.get("/api/designs").json == listed


@pytest.mark.parametrize(("method", "path"), WRITES)
@pytest.mark.parametrize(
    "kind", ["", "text/plain", "application/x-www-form-urlencoded", "multipart/form-data"]
)
def test_what_a_form_can_send_changes_nothing(quiet, method, path, kind):
    reply = quiet.open(path, method=method, content_type=kind, headers={"If-Match": '"1"'})
    assert reply.status_code == 415
    assert "application/json" in reply.json["detail"]


@pytest.mark.parametrize("site", ["same-origin", "none"])
def test_its_own_page_may(client, site):
    headers = {"Origin": "http://localhost", "Sec-Fetch-Site": site}
    assert client.post(f"{LARKSPUR}/duplicate", headers=headers).status_code == 201


def test_replies_say_who_may_use_them(quiet):
    for path in ("/", "/api/designs", "/api/designs/nothing"):
        reply = quiet.get(path)
        headers = reply.headers
        reply.close()
        assert headers["Cross-Origin-Resource-Policy"] == "same-origin"
        assert "camera=()" in headers["Permissions-Policy"]
        assert "unsafe" not in headers["Content-Security-Policy"]


def test_undo_takes_back_only_what_its_window_saw(client):
    def load(amps: str, version: int):
        edit = [{"op": "replace", "path": "/circuits/loads/M1/current_a", "value": amps}]
        return client.patch(LARKSPUR, json=edit, headers={"If-Match": f'"{version}"'})

    first = load("5 A", 1).json["version"]
    second = load("6 A", first).json["version"]
    for way in ("undo", "redo"):
        late = client.post(f"{LARKSPUR}/{way}", headers={"If-Match": f'"{first}"'})
        assert late.status_code == 412
        assert "another window" in late.json["detail"]
        assert late.json["current"]["version"] == second
        assert client.post(f"{LARKSPUR}/{way}").status_code == 428
    assert client.get(LARKSPUR).json["version"] == second
    back = client.post(f"{LARKSPUR}/undo", headers={"If-Match": f'"{second}"'}).json
    assert back["document"]["circuits"]["loads"]["M1"]["current_a"] == 5.0


def test_an_address_is_written_out_when_it_is_asked_for(quiet):
    """As RFC 3986 writes a space, and what the path does not take behind it."""
    app = quiet.application
    with app.test_request_context(base_url="http://127.0.0.1"):
        assert app.url_for("screen", path="d/a b/wire") == "/d/a%20b/wire"
        assert app.url_for("screen", path="d", at="M1") == "/d?at=M1"
        with pytest.raises(BuildError):
            app.url_for("no such view")
