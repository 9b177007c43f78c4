"""Labels to the simulated printer: printed once, queued, refused in words, never twice by accident."""

from __future__ import annotations

import socket
import threading
import time

import pytest
from PIL import Image

from inkthread.standins.printer import FEED_MM, LabelPrinter, Strip, draw, serve_printer
from inkthread.storage import Shelf
from inkthread.storage.database import open_database
from inkthread.web import create_app
from tests.conftest import HarnessBuilder
from tests.core.scenarios import pump


@pytest.fixture
def printer(tmp_path):
    printer = LabelPrinter(tmp_path / "strips", sleeve="LS-1/8")
    server, port = serve_printer(printer, 0)
    yield printer, port
    server.shutdown()
    server.server_close()


PATIENT_S, SHORT_S = 60.0, 0.2
"""How long an answer is waited for: on a machine that is busy too, and where it is to be too late."""


def served(tmp_path, port: int, builder: HarnessBuilder | None = None):
    """A client of the program with a pump on its shelf, at a printer's port."""
    database = tmp_path / "prints.db"
    engine = open_database(database)
    Shelf(engine).create((builder or pump()).plain, "pump")
    engine.dispose()
    app = create_app(database, printer_port=port)
    printing = app.extensions["workshop"].printing
    printing.line._patience_s = PATIENT_S
    return app.test_client(), printing


def sleeves(reply) -> dict[str, dict]:
    return {j["sleeve"]: j for j in reply.json["jobs"]}


URL = "/api/designs/pump/prints"


def test_labels_are_printed_sleeve_by_sleeve_and_the_cassette_counts_down(tmp_path, printer):
    machine, port = printer
    client, printing = served(tmp_path, port)
    client.post(URL, json={})
    printing.wait()
    reply = client.get(URL)
    assert reply.json["there"]
    jobs = sleeves(reply)
    loaded = jobs.pop("LS-1/8", None)
    assert all("is loaded" in j["says"] for j in jobs.values()), "one cassette is in it"
    assert all(j["state"] == "refused" for j in jobs.values())
    if loaded is not None:
        assert loaded["state"] == "printed"
    for sleeve, job in jobs.items():
        client.post(f"{URL}/cassette", json={"sleeve": sleeve})
        before = machine.left_mm
        client.post(f"{URL}/again?job={job['id']}", json={})
        printing.wait()
        assert sleeves(client.get(URL))[sleeve]["state"] == "printed"
        strips = sorted((tmp_path / "strips").glob(f"job-{job['id']}-*.png"))
        assert len(strips) == job["labels"]
        assert machine.left_mm < before - FEED_MM * job["labels"]
        assert all(s.with_suffix(".pdf").read_bytes().startswith(b"%PDF") for s in strips)


@pytest.mark.parametrize(
    ("fault", "said"),
    [("jam", "jammed"), ("short", "mm short"), ("sleeve", "is loaded")],
)
def test_what_is_wrong_is_said_in_words_and_put_right_on_request(tmp_path, printer, fault, said):
    machine, port = printer
    client, printing = served(tmp_path, port)
    code = next(iter(sleeves_of(client, printing)))
    machine.sleeve, machine.left_mm = code, 1500.0
    if fault == "jam":
        machine.jammed = True
    elif fault == "short":
        machine.left_mm = 5.0
    else:
        machine.sleeve = "LS-2"
    client.post(URL, json={"sleeve": code})
    printing.wait()
    job = client.get(URL).json["jobs"][-1]
    assert job["state"] == "refused"
    assert said in job["says"]
    assert not machine.printed
    client.post(f"{URL}/cassette", json={"sleeve": code, "cleared": True})
    client.post(f"{URL}/again?job={job['id']}", json={})
    printing.wait()
    assert client.get(URL).json["jobs"][-1]["state"] == "printed"
    assert machine.printed == {str(job["id"]): job["labels"]}


def sleeves_of(client, printing) -> dict[str, int]:
    labels = client.get("/api/designs/pump/dress").json["sheet"]["labels"]
    return {x["code"]: 1 for x in labels}


def test_what_may_have_been_printed_is_asked_after_and_never_printed_twice(tmp_path, printer):
    machine, port = printer
    client, printing = served(tmp_path, port)
    code = next(iter(sleeves_of(client, printing)))
    machine.sleeve, machine.late_s = code, 1.0
    printing.line._patience_s = SHORT_S
    client.post(URL, json={"sleeve": code})
    printing.wait()
    job = client.get(URL).json["jobs"][-1]
    assert job["state"] == "not known"
    assert "did not answer in time" in job["says"]
    machine.late_s, printing.line._patience_s = 0.0, PATIENT_S
    until(lambda: machine.printed)
    left = machine.left_mm
    client.post(f"{URL}/again?job={job['id']}", json={})
    printing.wait()
    assert client.get(URL).json["jobs"][-1]["state"] == "printed"
    assert machine.left_mm == left, "no strip came out again"
    # Even sent outright a second time, it is not printed again.
    assert machine.job(str(job["id"]), code, []).startswith("PRINTED")
    assert machine.left_mm == left


def until(there, at_most_s: float = PATIENT_S):
    """Wait for what goes on in another thread."""
    end = time.monotonic() + at_most_s
    while not there():
        assert time.monotonic() < end, "it did not come"
        time.sleep(0.01)


def test_a_job_that_comes_the_moment_the_queue_is_empty_does_not_wait_for_ever(tmp_path, printer):
    machine, port = printer
    client, printing = served(tmp_path, port)
    code = next(iter(sleeves_of(client, printing)))
    machine.sleeve = code
    waiting, came = printing.prints.waiting, []

    def emptied():
        jobs = waiting()
        if not jobs and not came:
            came.append(printing.prints.add("pump", [(code, [])]))
            printing.go()
        return jobs

    printing.prints.waiting = emptied
    client.post(URL, json={"sleeve": code})
    printing.wait()
    assert [j["state"] for j in client.get(URL).json["jobs"]] == ["printed", "printed"]


def test_a_job_taken_out_while_it_is_printed_does_not_stop_those_behind_it(tmp_path, printer):
    machine, port = printer
    client, printing = served(tmp_path, port)
    machine.sleeve = next(iter(sleeves_of(client, printing)))
    send, done = printing.line.send, threading.Event()

    def slowly(job, **asked):
        outcome = send(job, **asked)
        done.wait()
        return outcome

    printing.line.send = slowly
    printing.prints.add("pump", [(machine.sleeve, [])] * 3)
    first, middle, last = (j["id"] for j in client.get(URL).json["jobs"])
    printing.go()
    until(lambda: machine.printed)
    for job in (first, middle):
        client.delete(f"{URL}?job={job}", json={})
    done.set()
    printing.wait()
    assert [(j["id"], j["state"]) for j in client.get(URL).json["jobs"]] == [(last, "printed")]
    assert set(machine.printed) == {str(first), str(last)}


def test_without_a_printer_the_job_waits_its_turn_and_says_so(tmp_path):
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    client, printing = served(tmp_path, port)
    reply = client.post(URL, json={})
    assert not reply.json["there"]
    printing.wait()
    jobs = client.get(URL).json["jobs"]
    assert jobs
    assert all(j["state"] == "refused" and f"port {port}" in j["says"] for j in jobs)
    gone = client.delete(f"{URL}?job={jobs[0]['id']}", json={})
    assert len(gone.json["jobs"]) == len(jobs) - 1
    assert client.delete(f"{URL}?job={jobs[0]['id']}", json={}).status_code == 404
    assert client.post(f"{URL}/again?job=9999", json={}).status_code == 404


def test_a_strip_is_as_long_as_it_says_at_eight_dots_a_mm(tmp_path):
    draw(Strip(18.5, 2.1, "C12 F1-3 / pump feed"), tmp_path / "one")
    with Image.open(tmp_path / "one.png") as image:
        assert image.size == (148, round(2.1 * 3.5 * 8))
        assert 0 < image.histogram()[0] < image.size[0] * image.size[1] / 2


@pytest.mark.parametrize("line", ["", "HELLO", "LOAD", "JOB 1", "JOB 1 LS-1 x", "ASK"])
def test_what_the_printer_does_not_know_it_says(printer, line):
    _, port = printer
    with socket.create_connection(("127.0.0.1", port), PATIENT_S) as wire:
        wire.sendall(f"{line}\nSTATUS\n".encode())
        said = wire.recv(200).decode()
    assert not line or said.startswith("WHAT")


def test_a_job_that_is_no_job_is_refused_and_prints_nothing(printer):
    machine, port = printer
    with socket.create_connection(("127.0.0.1", port), PATIENT_S) as wire:
        wire.sendall(b"JOB 1 LS-1/8 1\nlong high text\n")
        assert wire.recv(200).startswith(b"REFUSED what")
    assert not machine.printed


def test_a_square_code_is_drawn_beside_the_text(tmp_path):
    draw(Strip(40, 3, "A1", "Larkspur A1"), tmp_path / "with")
    draw(Strip(40, 3, "A1"), tmp_path / "without")
    dark = {}
    for name in ("with", "without"):
        with Image.open(tmp_path / f"{name}.png") as image:
            left = image.crop((0, 0, 64, image.height)).convert("L")
            dark[name] = sum(1 for value in left.tobytes() if value < 128)
    assert dark["with"] > 500 > dark["without"]


def test_the_code_is_shown_as_it_is_printed(tmp_path, printer):
    client, _ = served(tmp_path, printer[1])
    reply = client.get("/api/square?text=Larkspur%20A1")
    assert reply.mimetype == "image/svg+xml"
    assert reply.text.startswith("<svg")
    assert client.get("/api/square").status_code == 422
