"""A piece proved over the API: readings by hand, by file, by the tester over its line; signed, and its record."""

from __future__ import annotations

import hashlib
import io
import json
import socketserver
import threading
from datetime import datetime

import pytest

from inkthread.core.measures import measured_in
from inkthread.core.prove import plan_tests
from inkthread.exchange.record import record_pdf
from inkthread.exchange.tester import LineToTester, TroubleAtTester, read_rows
from inkthread.standins.tester import CableTester, serve_tester
from inkthread.storage import Shelf
from inkthread.storage.database import open_database
from inkthread.web import create_app
from tests.core.prove.test_diagnose import motors
from tests.core.scenarios import ruled, zoned
from tests.program import client_of

URL = "/api/designs/motors/prove"


@pytest.fixture
def tester():
    """The stand-in, and its port."""
    machine = CableTester()
    server, port = serve_tester(machine, 0)
    yield machine, port
    server.shutdown()
    server.server_close()


@pytest.fixture
def client(tmp_path, tester):
    path = tmp_path / "prove.db"
    engine = open_database(path)
    Shelf(engine).create(zoned(motors(), vibration=True).plain, "motors")
    engine.dispose()
    app = create_app(path, tester_port=tester[1])
    yield client_of(app)
    app.extensions["workshop"].shelf.engine.dispose()


@pytest.fixture
def post(client):
    def send(act: str, **body: object):
        reply = client.post(f"{URL}/pieces/N1/{act}", json=body)
        return reply.status_code, reply.json

    client.post(f"{URL}/pieces", json={"serial": "N1"})
    return send


def by_hand(client) -> list[dict]:
    return [row for row in client.get(f"{URL}/plan").json["rows"] if row["low_ohm"] is not None]


def right(row: dict) -> str:
    return "OL" if row["high_ohm"] is None else f"{row['expected_ohm']:.6f}"


def read_whole(post) -> dict:
    state: dict = {"not_read": 1}
    for _ in range(20):
        status, state = post("tester", who="Ann")
        assert status == 200
        if not state["not_read"]:
            break
    return state


def test_readings_by_hand_are_judged_against_their_bands(client, post):
    rows = by_hand(client)
    state: dict = {}
    for n, row in enumerate(rows):
        status, state = post("readings", who="Ann", readings=[{"row": row["id"], "text": right(row)}])
        assert status == 200
        assert state["not_read"] == len(rows) - n - 1
    assert (state["verdict"], state["not_signed"], state["explanations"]) == ("holds", "", [])
    first = next(row for row in rows if row["high_ohm"])
    assert any((r["a"], r["b"], r["moved"]) == (first["a"], first["b"], True) for r in rows)
    _, state = post("readings", readings=[{"row": first["id"], "text": "OL"}])
    assert state["verdict"] == "fails"
    assert [r["verdict"] for r in state["readings"] if r["row"] == first["id"]] == ["fails"]
    assert "lets go when it is moved" in state["explanations"][0]["words"], "joined as it was moved"
    assert state["not_signed"].endswith("fail.")
    _, state = post("readings", readings=[{"row": first["id"], "text": ""}])
    assert state["not_read"] == 1, "a reading that is emptied is taken out again"


def test_what_is_no_reading_is_named_and_the_rest_is_kept(client, post):
    row = next(row for row in by_hand(client) if row["high_ohm"])
    status, state = post(
        "readings",
        readings=[
            {"row": row["id"], "text": "four"},
            {"row": "Q9", "text": "1"},
            {"a": "B1-1", "b": "J9-9", "text": "1"},
            {"a": "B1-1", "b": "M1-2", "text": "0L"},
        ],
    )
    assert status == 200
    assert [(r["line"], r["text"]) for r in state["refused"]] == [(1, "four"), (2, "1"), (3, "1")]
    assert "'J9-9' is no place here" in state["refused"][2]["why"]
    assert [(r["a"], r["b"], r["ohm"]) for r in state["readings"]] == [(["B1-1"], ["M1-2"], None)]


def test_a_file_is_taken_line_by_line(client, post):
    rows = by_hand(client)
    text = "row;reading\n" + "\n".join(f"{row['id']};{right(row).replace('.', ',')}" for row in rows[:-1])
    status, state = post("table", text=f"{text}\nX9;4\n{rows[-1]['id']}")
    assert status == 200
    assert state["says"] == f"{len(rows) - 1} readings are taken, 2 lines are not."
    assert [r["line"] for r in state["refused"]] == [len(rows) + 1, len(rows) + 2]
    assert post("table", text="B1-1,M1-2,4\n")[0] == 422


def test_leads_and_warmth_are_reckoned_with(client, post):
    row = next(row for row in by_hand(client) if row["high_ohm"])
    with_leads = f"{row['expected_ohm'] + 0.2:.6f}"
    post("readings", readings=[{"row": row["id"], "text": with_leads}])
    assert client.get(f"{URL}/pieces/N1").json["verdict"] == "fails"
    status, state = post("measure", bench="21 C", leads="200 mohm")
    assert (status, state["verdict"], state["bench_c"], state["leads_ohm"]) == (200, "holds", 21.0, 0.2)
    assert post("measure", bench="warm", leads="0")[0] == 422
    assert post("measure", bench="500", leads="0")[0] == 422
    assert post("measure", bench="20", leads="40")[0] == 422


def test_the_tester_reads_every_row_and_a_fault_is_named(tester, post):
    machine, _ = tester
    machine.faults = ("swap:M1-1/M1-2",)
    state = read_whole(post)
    assert state["verdict"] == "fails"
    assert [e["words"] for e in state["explanations"]] == ["Contacts of M1 are exchanged: 1-2."]
    machine.faults = ()
    for _ in range(20):  # the contacts are put right, and all is read again
        _, state = post("tester", anew=True)
    assert state["verdict"] == "holds"


def test_a_line_that_is_lost_loses_no_reading(tester, client, post):
    machine, _ = tester
    machine.drops_after = 9
    status, state = post("tester")
    assert (status, state["says"]) == (200, "The tester has hung up. What was read is kept.")
    kept = len(state["readings"])
    assert 0 < kept < state["rows"]
    state = read_whole(post)
    assert state["verdict"] == "holds"
    assert len(state["readings"]) == state["rows"]


def test_noise_and_slowness_are_borne(tester, post):
    machine, _ = tester
    machine.noisy, machine.late_s = True, 0.02
    assert read_whole(post)["verdict"] == "holds"


class _Mad(socketserver.StreamRequestHandler):
    says = b"TESTER 1\n"

    def handle(self) -> None:
        while line := self.rfile.readline():
            self.wfile.write(self.says if line.startswith(b"HELLO") else b"lorem ipsum\n" * 30)


def test_a_tester_that_talks_nonsense_is_said_to(tmp_path):
    with socketserver.ThreadingTCPServer(("127.0.0.1", 0), _Mad) as server:
        threading.Thread(target=server.serve_forever, daemon=True).start()
        port = server.server_address[1]
        with (
            LineToTester(port, patience_s=60.0) as tester,
            pytest.raises(TroubleAtTester, match="talks nonsense: 'lorem ipsum'"),
        ):
            tester.read(("A1-1",), ("A1-2",))
        server.shutdown()


def test_no_tester_at_all_is_said(tmp_path):
    with pytest.raises(TroubleAtTester, match="No tester answers at port 1:"):
        LineToTester(1)


@pytest.mark.parametrize("answer", ["nan", "-3", "inf", "12 ohms", ""])
def test_what_is_no_resistance_is_not_taken_from_a_tester(answer):
    class Odd(_Mad):
        def handle(self) -> None:
            while line := self.rfile.readline():
                hello = line.startswith(b"HELLO")
                self.wfile.write(self.says if hello else line.strip() + f" {answer}\n".encode())

    with socketserver.ThreadingTCPServer(("127.0.0.1", 0), Odd) as server:
        threading.Thread(target=server.serve_forever, daemon=True).start()
        port = server.server_address[1]
        with (
            LineToTester(port, patience_s=60.0) as tester,
            pytest.raises(TroubleAtTester, match="which is no resistance"),
        ):
            tester.read(("A1-1",), ("A1-2",))
        server.shutdown()


def test_a_serial_number_is_given_once(client, post):
    reply = client.post(f"{URL}/pieces", json={"serial": "N1"})
    assert (reply.status_code, reply.json["detail"]) == (409, "There is a piece 'N1' already.")
    assert client.post(f"{URL}/pieces", json={"serial": "N 1/2"}).status_code == 422
    assert client.post(f"{URL}/pieces", json={"serial": "N2", "number": 7}).status_code == 422
    offered = client.get(f"{URL}/pieces").json
    assert [p["serial"] for p in offered["pieces"]] == ["N1"]
    assert offered["next_serial"] == "test-002"


def test_a_piece_is_signed_when_it_is_proved_and_its_record_is_closed(client, post):
    import pypdf

    assert post("sign", who="Ann")[0] == 409
    assert client.get(f"{URL}/pieces/N1/record.pdf").status_code == 409
    assert read_whole(post)["not_signed"] == ""
    post("looks", place="M1", fine=True, who="Bo")
    assert post("looks", place="M9", fine=True)[0] == 422
    status, state = post("sign", who="Ann Able")
    assert status == 200
    plain = client.get("/api/designs/motors").json["document"]
    text = json.dumps(plain, sort_keys=True, separators=(",", ":"))
    assert state["piece"]["sha256"] == hashlib.sha256(text.encode()).hexdigest()
    for act, body in (
        ("tester", {"anew": True}),
        ("readings", {"readings": [{"a": "B1-1", "b": "M1-1", "text": "4"}]}),
        ("looks", {"place": "M1", "fine": False}),
        ("measure", {"bench": "30", "leads": "0"}),
    ):
        status, refused = post(act, **body)
        assert (status, refused["detail"]) == (409, "N1 is signed by Ann Able: its record is closed."), act
    assert client.delete(f"{URL}/pieces/N1").status_code == 409
    pdf = client.get(f"{URL}/pieces/N1/record.pdf")
    pages = pypdf.PdfReader(io.BytesIO(pdf.data)).pages
    assert len(pages) == 1
    said = pages[0].extract_text()
    assert "Conductors at 20 °C" in said
    assert [float(side) for side in pages[0].mediabox[2:]] == [595.28, 841.89]
    for word in (
        "N1",
        "signed by Ann Able",
        "Looked at",
        "M1",
        state["piece"]["sha256"],
        "/d/motors/prove?piece=N1",
    ):
        assert word in said, word


def test_a_record_is_in_the_units_and_on_the_paper_of_its_harness():
    """No source: settings of the house. What a page does not take goes on the next, and nothing is lost."""
    check = {"test": "insulation", "fine": True, "value": 100.0}
    record = {
        "serial": "N9", "design": "motors", "machine": "", "number": 1, "version": 3, "bench_c": 20.0,
        "leads_ohm": 0.0, "readings": [], "looks": [{"place": f"connector {n}", "fine": True} for n in range(400)],
        "checks": [check], "as_built": [], "tools": [], "wires": ["UL1007"], "made_by": ["Ann Able"],
    }  # fmt: skip
    import pypdf

    pdf = record_pdf(
        record, "f00d" * 16, "Ann Able", datetime(2026, 1, 2), "/d/motors", "Letter",
        measured_in("inch", "oz", "F"),
    )  # fmt: skip
    pages = pypdf.PdfReader(io.BytesIO(pdf)).pages
    said = " ".join(page.extract_text() for page in pages)
    assert [float(side) for side in pages[0].mediabox[2:]] == [612.0, 792.0]
    assert "Conductors at 68 °F" in said
    assert len(pages) == 2
    assert "connector 399" in said
    assert "f00d" * 16 in said


def test_a_piece_that_never_was_one_goes(client, post):
    assert client.delete(f"{URL}/pieces/N1").json["pieces"] == []
    assert client.get(f"{URL}/pieces/N1").status_code == 404
    assert post("tester")[0] == 404


def test_a_plan_is_read_over_the_line_as_it_is_without(tester):
    """Protocol and stand-in together: the same ohms as asked of the stand-in itself."""
    machine, port = tester
    plan = plan_tests(ruled(motors(), test_motion=3).workings().rooms)
    with LineToTester(port) as line:
        line.plug(plan.harness)
        readings = list(read_rows(line, list(plan.rows)))
    assert {r.row for r in readings} == {row.id for row in plan.rows if row.by_ohm}
    for reading in readings:
        direct = machine.harness.read(reading.a, reading.b)
        assert reading.ohm == pytest.approx(direct, rel=1e-5)


def test_expected_volts_are_told_place_by_place(client):
    sheet = client.get(f"{URL}/volts").json
    rows = {(row["place"], row["side"]): row for row in sheet["rows"]}
    assert sheet["modes"] == [""]
    assert rows["M1-1", "feed"]["load"] == "M1"
    assert rows["M1-1", "feed"]["volts"][0] < rows["M1-1", "feed"]["unplugged_v"][0] <= 13.2
    assert rows["M1-2", "return"]["volts"][0] > 0
    assert rows["M1-1", "feed"]["fuse"] == "F1.1"
    places = [row["place"] for row in sheet["rows"]]
    assert places.index("B1-1") < places.index("F1-1") < places.index("M1-1")


def test_a_tester_of_metal_is_not_told_what_is_plugged_into_it():
    class Metal(_Mad):
        def handle(self) -> None:
            while line := self.rfile.readline():
                known = {b"HELLO": b"TESTER 1\n", b"READ": line.strip() + b" OPEN\n"}
                self.wfile.write(known.get(line.split()[0], b"WHAT\n"))

    plan = plan_tests(ruled(motors(), test_motion=3).workings().rooms)
    with socketserver.ThreadingTCPServer(("127.0.0.1", 0), Metal) as server:
        threading.Thread(target=server.serve_forever, daemon=True).start()
        with LineToTester(server.server_address[1], patience_s=60.0) as line:
            line.plug(plan.harness)
            assert line.read(("B1-1",), ("B1-2",)) == float("inf")
        server.shutdown()
