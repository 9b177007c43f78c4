"""What nobody should send: each is one sentence with its remedy, no traceback, and nothing changes."""

from __future__ import annotations

import copy
import json

import pytest

from inkthread.cli import main
from inkthread.demo import demo_document
from inkthread.storage import Shelf
from inkthread.storage.database import open_database
from inkthread.web import create_app
from tests.program import client_of

SKETCH = "dawdler-sketch"
URL = f"/api/designs/{SKETCH}"


@pytest.fixture(scope="module")
def quiet(tmp_path_factory):
    """A client for what changes nothing."""
    yield from application(tmp_path_factory.mktemp("quiet") / "input.db")


@pytest.fixture
def client(tmp_path):
    yield from application(tmp_path / "input.db")


def application(path):
    engine = open_database(path)
    Shelf(engine).create(demo_document(SKETCH), SKETCH)
    engine.dispose()
    app = create_app(path)
    app.config["PROPAGATE_EXCEPTIONS"] = False
    yield client_of(app)
    app.extensions["workshop"].shelf.engine.dispose()


def refused(client, reply, *statuses: int) -> str:
    """Refused in words, and the harness is as it was."""
    assert reply.status_code in (statuses or (400, 422)), reply.get_data(as_text=True)[:300]
    assert reply.content_type == "application/problem+json"
    assert reply.json["detail"].strip()
    assert client.get(URL).json["document"] == demo_document(SKETCH)
    return reply.json["detail"]


def patch(client, path: str, value: object, op: str = "replace"):
    operations = [{"op": op, "path": path, "value": value}]
    return client.patch(URL, json=operations, headers={"If-Match": '"1"'})


def raw(client, text: str | bytes, method: str = "PATCH", url: str = URL):
    return client.open(url, method=method, data=text, headers={"If-Match": '"1"'})


LONG = ["9" * 400, "10^400", "1e400", "9" * 5000, "-" + "9" * 400]


@pytest.mark.parametrize("typed", LONG)
@pytest.mark.parametrize(
    "path", ["/circuits/loads/M1/current_a", "/route/branches/R1/length_mm", "/brief/quantity"]
)
def test_a_figure_beyond_all_bounds_typed_or_sent(quiet, path, typed):
    refused(quiet, patch(quiet, path, typed))
    number = typed if typed[0] != "1" or "^" not in typed else "1e999"
    refused(quiet, raw(quiet, f'[{{"op": "replace", "path": "{path}", "value": {number}}}]'))


@pytest.mark.parametrize("path", ["/circuits/loads/M1/current_a", "/route/branches/R1/length_mm"])
@pytest.mark.parametrize("typed", [*LONG, "1/0 mm", "0/0", "nan", "inf", "٣ A", "½½", "1,000,000"])
def test_a_typed_line_with_an_odd_figure_makes_no_fault(client, path, typed):
    for act in ("feed", "run"):
        for text in (f"B1 > F9 fuse > M9 pump {typed} > B1", f"B1 {typed} > F9", typed):
            reply = client.post(f"{URL}/acts", json={"act": act, "text": text, "about": ""})
            assert reply.status_code in (200, 422), reply.get_data(as_text=True)[:300]
            if reply.status_code == 200 and reply.json["version"] > 1:
                headers = {"If-Match": f'"{reply.json["version"]}"'}
                assert client.post(f"{URL}/undo", headers=headers).status_code == 200


@pytest.mark.parametrize("text", ["\ud800", "pump \udfff", "a\x00b", "a\x07b", "a\x1bb", "\u202eevil"])
@pytest.mark.parametrize("path", ["/brief/name", "/circuits/devices/M1/name", "/brief/machine"])
def test_characters_that_are_none_are_refused_in_a_name(quiet, path, text):
    detail = refused(quiet, raw(quiet, json.dumps([{"op": "replace", "path": path, "value": text}])))
    assert "character" in detail or "JSON" in detail


@pytest.mark.parametrize("text", ["\ud800", "a\x00b"])
def test_characters_that_are_none_are_refused_everywhere(client, text):
    for url, body in (
        ("/api/designs", {"name": text, "practice": "vehicle"}),
        (f"{URL}/acts", {"act": "feed", "text": f"B1 > M9 {text} 5 A > B1", "about": ""}),
        (f"{URL}/acts", {"act": "feed", "text": "B1 > M9 pump 5 A > B1", "about": text}),
        (f"{URL}/paste", {"text": f"{text}\t5 A", "meanings": None, "headed": None}),
        ("/api/shop/parts", {"text": text}),
        ("/api/bench/wire", {"fields": {"amps": text}}),
    ):
        reply = client.open(url, method="POST", data=json.dumps(body))
        assert reply.status_code in (200, 400, 422), (url, reply.get_data(as_text=True)[:300])
        if reply.status_code == 200:
            assert json.dumps(text)[1:-1] not in reply.get_data(as_text=True)


@pytest.mark.parametrize("depth", [100, 700, 5_000, 100_000])
def test_a_value_nested_beyond_reason(quiet, depth):
    nested = '{"a":' * depth + "1" + "}" * depth
    refused(quiet, raw(quiet, f'[{{"op": "add", "path": "/brief/zones/z", "value": {nested}}}]'))
    lists = "[" * depth + "]" * depth
    refused(quiet, raw(quiet, f'[{{"op": "add", "path": "/brief/zones/z", "value": {lists}}}]'))


@pytest.mark.parametrize(
    "path", ["x" * 300, "x" * 5000, "a\x00b", "..%2f..%2fetc%2fpasswd", "%00", "/" * 300]
)
def test_an_address_that_is_no_file(quiet, path):
    reply = quiet.get(f"/{path}")
    assert reply.status_code in (200, 404, 503, 308), reply.status_code
    reply.close()


def test_an_act_on_a_circuit_without_ends(client):
    circuit = next(iter(demo_document(SKETCH)["circuits"]["circuits"]))
    gone = patch(client, f"/circuits/circuits/{circuit}/ends", None, "remove")
    assert gone.status_code in (200, 422)
    for act, text in (
        ("feed", "B1 > F9 fuse > M9 pump 5 A > B1"),
        ("feed", "M9 lamp 2 A"),
        ("run", "B1 300 > M1"),
    ):
        reply = client.post(f"{URL}/acts", json={"act": act, "text": text, "about": circuit})
        assert reply.status_code in (200, 422), reply.get_data(as_text=True)[:300]


def test_a_route_line_that_names_a_connector_without_a_point(client):
    plain = copy.deepcopy(demo_document(SKETCH))
    for connector in plain["ends"]["connectors"].values():
        connector.pop("point", None)
    made = client.post("/api/designs", json={"document": plain})
    assert made.status_code == 201
    for name in plain["ends"]["connectors"]:
        for text in (f"{name} 300 > M1", f"B1 300 > {name}", f"{name}"):
            reply = client.post(
                f"/api/designs/{made.json['id']}/acts", json={"act": "run", "text": text, "about": ""}
            )
            assert reply.status_code in (200, 422), reply.get_data(as_text=True)[:300]


DOCUMENT = json.dumps(demo_document(SKETCH))


def command(capsys, *words: object) -> tuple[int, str]:
    """The command line's status, and what it says is wrong."""
    try:
        status = main([str(w) for w in words])
    except SystemExit as stop:
        status = int(stop.code or 0)
    return status, capsys.readouterr().err


def instead(of: str, text: str) -> str:
    return DOCUMENT.replace(of, text, 1)


FILES = {
    "twice a key": (instead('"brief":', '"brief": {}, "brief":'), "'brief' is there twice"),
    "twice a key inside": (
        instead('"units":', '"units": "inch", "units":'),
        "'units' is there twice",
    ),
    "a long format number": (DOCUMENT.replace('"format_number": 2', '"format_number": ' + "9" * 5000, 1), ""),
    "a lone surrogate": (DOCUMENT.replace('"machine": "', '"machine": "\\ud800', 1), "character"),
    "cut off": (DOCUMENT[: len(DOCUMENT) // 2], "JSON"),
    "a list": ("[1, 2]", "JSON object"),
    "nothing": ("", "JSON"),
    "nested": ("[" * 100_000, "nested"),
    "no number": (DOCUMENT.replace('"format_number": 2', '"format_number": NaN', 1), "NaN"),
    "not text": (b"\xff\xfe\x00", "JSON"),
}


@pytest.mark.parametrize("name", FILES)
def test_a_file_is_refused_alike_on_the_command_line_and_on_the_screen(client, tmp_path, capsys, name):
    text, says = FILES[name]
    data = text.encode("utf-8", "surrogatepass") if isinstance(text, str) else text
    path = tmp_path / "design.json"
    path.write_bytes(data)
    status, err = command(capsys, "evaluate", path)
    assert status == 2
    assert "Traceback" not in err
    assert len(err.strip().splitlines()) == 1
    said = refused(client, raw(client, data, "POST", "/api/designs/file"))
    assert says in err
    assert says in said


@pytest.mark.parametrize("before", [b"\xef\xbb\xbf", b" \r\n"])
def test_a_file_saved_by_another_program_opens_in_both(client, tmp_path, capsys, before):
    path = tmp_path / "design.json"
    path.write_bytes(before + DOCUMENT.encode())
    status, err = command(capsys, "check", path)
    assert status in (0, 1), err
    made = raw(client, before + DOCUMENT.encode(), "POST", "/api/designs/file")
    assert made.status_code == 201
    assert made.json["document"] == demo_document(SKETCH)


@pytest.mark.parametrize(("bytes_over", "taken"), [(-1, True), (1, False)])
def test_a_file_of_about_8_mb(client, tmp_path, capsys, bytes_over, taken):
    data = DOCUMENT.encode()
    data += b" " * (8_000_000 + bytes_over - len(data))
    path = tmp_path / "design.json"
    path.write_bytes(data)
    status, err = command(capsys, "check", path)
    reply = raw(client, data, "POST", "/api/designs/file")
    assert (status in (0, 1)) == taken
    assert (reply.status_code == 201) == taken
    if not taken:
        assert "8 MB" in err
        assert "8 MB" in reply.json["detail"]


@pytest.mark.parametrize("port", ["99999", "-1", "65536", "http", "1.5"])
def test_a_port_that_is_none_is_said(tmp_path, capsys, port):
    status, err = command(capsys, "serve", "--port", port, "--data", tmp_path / "x.db")
    assert status == 2
    assert "Traceback" not in err
    assert "0 to 65535" in err
