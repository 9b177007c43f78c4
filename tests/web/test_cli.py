"""The command line: the same program, with its exit statuses."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

import pytest

from inkthread.cli import main
from inkthread.command import server
from tests.core.document.test_document import REFUSED, put

EXAMPLES = Path(__file__).parent.parent.parent / "src/inkthread/demo"
LARKSPUR = str(EXAMPLES / "larkspur.json")
SKETCH = str(EXAMPLES / "dawdler-sketch.json")
ROOMS = {"brief", "circuits", "route", "wire", "ends", "cut", "dress", "parts", "findings"}


def run(capsys, *arguments):
    try:
        status = main(list(arguments))
    except SystemExit as stop:
        status = stop.code
    out, err = capsys.readouterr()
    return status, out, err


def test_evaluate_and_check_tell_stops_by_their_status(capsys):
    status, out, _ = run(capsys, "evaluate", LARKSPUR, "--json")
    assert status == 0
    assert set(json.loads(out)) >= ROOMS
    status, out, _ = run(capsys, "check", SKETCH)
    assert status == 1
    assert "meets no fuse" in out
    status, out, _ = run(capsys, "check", SKETCH, "--json")
    assert [f["severity"] for f in json.loads(out)] == [
        "stop",
        "fix",
        "fix",
        "consider",
        "consider",
        "consider",
    ]
    assert "105 wires sized" in run(capsys, "evaluate", LARKSPUR)[1]


def test_reckon_wire_prints_what_was_promised(capsys):
    asked = (
        "--practice motorsport --family J1128-TXL --amps 9 --length 4.2m --volts 13.2 --ambient 60C "
        "--service continuous --return wired --json --drop-limit"
    )
    status, out, _ = run(capsys, "reckon", "wire", *asked.split(), "3 %")
    assert status == 0
    found = json.loads(out)
    assert {
        "gauge",
        "area_mm2",
        "governs",
        "drop_v",
        "drop_percent",
        "ampacity_a",
        "fuse_a",
        "candidates",
    } <= set(found)
    assert (found["gauge"], found["governs"], found["fuse_a"]) == ("10 AWG", "drop", 15.0)
    assert found["drop_percent"] == pytest.approx(found["drop_v"] / 13.2 * 100, rel=1e-3)


def test_convert_and_catalogue(capsys):
    found = json.loads(run(capsys, "convert", "18 AWG", "--json")[1])
    assert (found["awg"], found["area_mm2"], found["diameter_mm"]) == (18, 0.823, 1.0237)
    codes = {f["code"] for f in json.loads(run(capsys, "catalogue", "families", "--json")[1])}
    assert {"J1128-TXL", "AS22759/16", "ISO6722-THIN", "J1127-SGX", "COAX", "IGNITION-8"} <= codes


def test_export_writes_each_table(capsys, tmp_path):
    for kind in ("wires", "bom", "cut"):
        target = tmp_path / f"{kind}.csv"
        assert run(capsys, "export", LARKSPUR, f"--{kind}", str(target))[0] == 0
        assert target.read_bytes().count(b"\r\n") > 15


@pytest.mark.parametrize(
    ("arguments", "named"),
    [
        (["evaluate", "nothing.json"], "nothing.json"),
        (["convert", "seven"], "seven"),
        (["reckon", "wire", "--amps", "x", "--length", "1 m", "--volts", "12"], "'x'"),
        (["reckon", "wire", "--amps", "1", "--length", "-1 m", "--volts", "12"], "-1 m"),
        (["reckon", "wire", "--amps", "1", "--length", "1 m", "--volts", "12", "--family", "nope"], "nope"),
        (["reckon", "wire", "--amps", "1", "--length", "1 m", "--volts", "12", "--drop-limit", "0 %"], "0 %"),
        (
            ["reckon", "wire", "--amps", "1", "--length", "1 m", "--volts", "12", "--ambient", "9000"],
            "--ambient",
        ),
        (["export", LARKSPUR], "required"),
        (["nonsense"], "nonsense"),
        ([], "required"),
    ],
)
def test_bad_usage_is_named_on_standard_error(capsys, arguments, named):
    status, out, err = run(capsys, *arguments)
    assert status == 2
    assert named in err
    assert out == ""
    assert "Traceback" not in err


def test_a_file_that_is_no_database_is_named(capsys, tmp_path):
    data = tmp_path / "notes.txt"
    data.write_text("this is not a database, and it is long enough to be sure of that" * 20)
    status, out, err = run(capsys, "demo", "--seed-only", "--data", str(data))
    assert (status, out) == (2, "")
    assert "notes.txt" in err
    assert "no data file" in err


def test_a_bad_file_is_refused_by_field(capsys, tmp_path):
    document = json.loads(Path(LARKSPUR).read_text())
    document["route"]["branches"]["R1"]["length_mm"] = -3
    bad = tmp_path / "bad.json"
    bad.write_text(json.dumps(document))
    for command in ("evaluate", "check"):
        status, out, err = run(capsys, command, str(bad))
        assert (status, out) == (2, "")
        assert "/route/branches/R1/length_mm" in err
    for text in ("{", '{"format": "inkthread-design", "format_number": NaN}', "[]"):
        bad.write_text(text)
        status, out, err = run(capsys, "check", str(bad))
        assert (status, out) == (2, "")
        assert err
        assert "Traceback" not in err


GONE = (
    "/ends/connectors/M1/family",
    "/ends/connectors/M1/ways",
    "/ends/pinout/M1.+/cavity",
    "/wire/family",
)
"""A part of a stored design that has gone: it is evaluated, and said."""


@pytest.mark.parametrize("path", GONE)
def test_a_part_that_has_gone_is_a_finding_and_the_rest_is_evaluated(capsys, tmp_path, path):
    value = next(v for p, v, _ in REFUSED if p == path)
    old = tmp_path / "old.json"
    old.write_text(json.dumps(put(json.loads(Path(LARKSPUR).read_text()), path, value)))
    status, out, err = run(capsys, "evaluate", str(old), "--json")
    assert (status, err) == (1, "")
    made = json.loads(out)
    gone = [f for f in made["findings"] if f["code"] in ("part-gone", "family-gone")]
    assert [f["places"][0]["id"] for f in gone] == ["harness" if path == "/wire/family" else "M1"]
    whole = json.loads(run(capsys, "evaluate", LARKSPUR, "--json")[1])
    assert made["wire"]["wires"].keys() == whole["wire"]["wires"].keys()
    assert made["tally"]["metres"] == pytest.approx(whole["tally"]["metres"], rel=0.02)


KEPT_OUT = [r for r in REFUSED if r[0] not in GONE]


@pytest.mark.parametrize(("path", "value", "named"), KEPT_OUT, ids=[p for p, _, _ in KEPT_OUT])
def test_every_bad_document_ends_with_status_2_and_its_field(capsys, tmp_path, path, value, named):
    bad = tmp_path / "bad.json"
    bad.write_text(json.dumps(put(json.loads(Path(LARKSPUR).read_text()), path, value)))
    status, out, err = run(capsys, "evaluate", str(bad), "--json")
    assert (status, out) == (2, "")
    assert named in err or "NaN" in err
    assert "Traceback" not in err


def test_a_harness_is_written_as_lines_and_made_of_them(capsys, tmp_path):
    lines, made = tmp_path / "lines.txt", tmp_path / "made.json"
    assert run(capsys, "export", LARKSPUR, "--lines", str(lines))[0] == 0
    status, out, _ = run(capsys, "type", str(lines), "-o", str(made))
    assert status == 0
    assert "zone engine bay: 85 °C" in out
    first, second = (json.loads(run(capsys, "evaluate", x, "--json")[1]) for x in (LARKSPUR, str(made)))
    assert first == second
    status, out, _ = run(capsys, "type", str(lines), "-o", str(made), "--json")
    assert {"made", "problems"} == set(json.loads(out))


def test_a_refused_line_is_shown_and_nothing_is_written(capsys, tmp_path):
    lines, made = tmp_path / "lines.txt", tmp_path / "made.json"
    lines.write_text("[circuits]\nB1 battery > F1 fuse > M1 pump 5 A wobbly > B1\n", encoding="utf-8")
    status, _, err = run(capsys, "type", str(lines), "-o", str(made))
    assert status == 2
    assert "line 2, letter 36: 'wobbly' is not understood" in err
    assert err.splitlines()[2].index("^") == err.splitlines()[1].index("wobbly")
    assert not made.exists()
    lines.write_bytes(b"[brief]\nname \xff\xfe\n")
    assert "is no text in UTF-8" in run(capsys, "type", str(lines), "-o", str(made))[2]
    lines.write_text("[circuits]\nF1 > M2 fan 1 A > B1\n", encoding="utf-8")
    assert run(capsys, "type", str(lines), "--onto", LARKSPUR, "-o", str(made))[0] == 2
    assert "M2 is there already" in run(capsys, "type", str(lines), "--onto", LARKSPUR, "-o", str(made))[2]


def test_piped_into_one_that_has_enough_it_ends_quietly():
    command = [sys.executable, "-m", "inkthread.cli", "evaluate", str(EXAMPLES / "larkspur.json"), "--json"]
    with subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE) as ran:
        assert ran.stdout is not None
        assert ran.stderr is not None
        ran.stdout.readline()
        ran.stdout.close()
        assert ran.stderr.read() == b""
        assert ran.wait(60) == 0


def test_plan_build_prints_steps_in_order_and_tells_what_is_broken(capsys, tmp_path):
    status, out, _ = run(capsys, "plan", "build", LARKSPUR, "--json")
    planned = json.loads(out)
    assert status == 0
    at = {own["id"]: n for n, own in enumerate(planned["steps"])}
    assert all(at[before] < at[own["id"]] for own in planned["steps"] for before in own["after"])
    assert planned["minutes"] == pytest.approx(sum(own["minutes"] for own in planned["steps"]), abs=0.1)
    plain = json.loads(Path(LARKSPUR).read_text(encoding="utf-8"))
    seal = next(s for s in at if s.startswith("thread-seal"))
    plain["build"] = {"steps": {seal: {"order": 1, "left_out": True}}}
    changed = tmp_path / "without.json"
    changed.write_text(json.dumps(plain), encoding="utf-8")
    status, out, _ = run(capsys, "plan", "build", str(changed))
    assert status == 1
    assert f"waits for {seal}, which is left out" in out


def test_plan_test_prints_what_each_row_should_read(capsys):
    status = main(["plan", "test", LARKSPUR, "--json"])
    plan = json.loads(capsys.readouterr().out)
    assert status == 0
    lead = next(row for row in plan["rows"] if row["kind"] == "resistive lead")
    assert lead["low_ohm"] < lead["expected_ohm"] < lead["high_ohm"]
    assert plan["uncaught"]
    assert main(["plan", "test", LARKSPUR]) == 0
    assert "None of them would find" in capsys.readouterr().out


def test_a_simulated_tester_s_file_is_judged(capsys, tmp_path):
    out = tmp_path / "r.csv"
    spoil = ["--fault", "swap:J2b-2/J2b-3", "--fault", "high:C9/0.4"]
    assert main(["standin", "tester", "--port", "0", "--file", LARKSPUR, *spoil, "--to", str(out)]) == 0
    assert main(["judge", LARKSPUR, str(out), "--json"]) == 1
    judged = json.loads(capsys.readouterr().out)
    assert judged["verdict"] == "fails"
    best = judged["explanations"][0]
    assert {f["kind"] for f in best["faults"]} == {"swapped", "high joint"}
    assert best["words"]
    assert best["next"]
    assert main(["standin", "tester", "--file", LARKSPUR, "--to", str(out)]) == 0
    assert main(["judge", LARKSPUR, str(out)]) == 0
    assert capsys.readouterr().out.startswith("holds; 6 of")


@pytest.mark.parametrize(
    ("fault", "named"),
    [
        ("swp:A1", "Write one of open:WIRE"),
        ("open:ZZ", "Write open:WIRE"),
        ("leak:A1-1/A1-2", "PLACE/PLACE/OHM"),
    ],
)
def test_a_fault_that_is_none_is_named(capsys, tmp_path, fault, named):
    out = tmp_path / "r.csv"
    arguments = ["standin", "tester", "--port", "0", "--file", LARKSPUR, "--fault", fault, "--to", str(out)]
    assert main(arguments) == 2
    assert named in capsys.readouterr().err


@pytest.mark.parametrize("port", ["99999", "-1", "http", "9139.5"])
def test_a_stand_in_at_no_port_is_refused(capsys, port):
    with pytest.raises(SystemExit) as ended:
        main(["standin", "tester", "--port", port])
    assert ended.value.code == 2
    assert "Give a number from 0 to 65535" in capsys.readouterr().err


def test_reading_into_a_file_wants_a_harness_and_the_tester(capsys, tmp_path):
    out = tmp_path / "r.csv"
    assert main(["standin", "tester", "--to", str(out)]) == 2
    assert main(["standin", "printer", "--file", LARKSPUR, "--to", str(out)]) == 2
    assert "--file DESIGN" in capsys.readouterr().err
    assert not out.exists()


def test_a_port_in_the_environment_that_is_none_is_said(capsys, monkeypatch):
    monkeypatch.setenv("TESTER_PORT", "70000")
    assert server.tester_port() == 9139
    assert "TESTER_PORT: '70000' is no port" in capsys.readouterr().err


def test_a_line_of_readings_that_cannot_be_taken_is_named(capsys, tmp_path):
    table = tmp_path / "r.csv"
    table.write_text("from,to,ohm\nG1-1,F3-2,0.002\nG1-1,ZZ-1,4\nG1-1,F3-2,0,031\n")
    assert main(["judge", LARKSPUR, str(table)]) == 2
    said = capsys.readouterr()
    assert "line 3: 'ZZ-1' is no place here" in said.err
    assert "line 4: There are more columns than headings" in said.err
    assert said.out.startswith("holds;")
    table.write_text("nothing\n")
    assert main(["judge", LARKSPUR, str(table)]) == 2
