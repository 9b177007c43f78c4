"""Commands about proving: tests of a design file, readings judged, simulated devices."""

from __future__ import annotations

import argparse
import math
import sys
import threading
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any

from inkthread.command.shared import BAD_INPUT, FINE, STOPS, opened, plain, port_number, print_json

if TYPE_CHECKING:
    from inkthread.core.prove import Judged, ProofPlan, Reading
    from inkthread.core.workings import Workings

Add = Callable[[str, Callable[[argparse.Namespace], int], str], argparse.ArgumentParser]


def add_prove_commands(add: Add) -> None:
    """``judge`` and ``standin``."""
    command = add(
        "judge", _judge, "Judge readings of a harness: what holds, and what explains what does not."
    )
    command.add_argument("file", type=Path)
    command.add_argument("readings", type=Path, metavar="READINGS.csv")
    command.add_argument("--json", action="store_true")
    command.add_argument("--by", choices=("hand", "tester"), default="hand")
    command.add_argument("--at", type=float, default=20.0, metavar="C", help="conductors in deg C")
    command.add_argument("--leads", default="0", metavar="OHM", help="what the leads read by themselves")
    command = add("standin", _standin, "Simulate a device on this machine, until interrupted.")
    command.add_argument("what", choices=("tester", "printer", "supplier"))
    command.add_argument(
        "--port", type=port_number, default=0, help="where it answers; any that is free where none is given"
    )
    command.add_argument(
        "--fault", action="append", default=[], help="what is wrong, as open:C48; may come again"
    )
    command.add_argument("--file", type=Path, help="tester: the design whose harness is plugged in")
    command.add_argument("--slow", type=float, default=0.0, metavar="S", help="seconds for each answer")
    command.add_argument("--drop", type=int, metavar="N", help="tester: hangs up once, after N answers")
    command.add_argument("--noise", action="store_true", help="tester: nonsense between its answers")
    command.add_argument(
        "--to", type=Path, metavar="OUT.csv", help="tester: read all rows into a file, and end"
    )


def _worked(arguments: argparse.Namespace) -> Workings:
    from inkthread.catalogue import shipped_catalogue
    from inkthread.core.evaluate import work_out

    return work_out(opened(arguments.file), shipped_catalogue())


def plan_of_tests(arguments: argparse.Namespace) -> int:
    """Print the tests of a design file."""
    from inkthread.core.prove import plan_tests

    plan = plan_tests(_worked(arguments).rooms, arguments.at, arguments.by)
    if arguments.json:
        print_json({"rows": [plain(row) for row in plan.rows], "uncaught": list(plan.uncaught)})
        return FINE
    for row in plan.rows:
        band = ""
        if row.low_ohm is not None:
            band = (
                f"  {row.low_ohm:.4g} to {row.high_ohm:.4g} ohm"
                if row.high_ohm
                else f"  over {row.low_ohm:g} ohm"
            )
        print(f"{row.id:5}{row.words}{band}")
    print(f"{len(plan.rows)} tests. None of them would find: {'; '.join(plan.uncaught)}.")
    return FINE


def _judge(arguments: argparse.Namespace) -> int:
    from inkthread.core.prove import Reading, judge, plan_tests, read_table, rows_by_id
    from inkthread.core.quantity import QuantityError, parse_resistance_ohm

    worked = _worked(arguments)
    plan = plan_tests(worked.rooms, arguments.at, arguments.by)
    try:
        leads_ohm = parse_resistance_ohm(arguments.leads)
        text = arguments.readings.read_text(encoding="utf-8-sig", errors="replace")
        readings, bad = read_table(text, rows_by_id(plan), plan.harness.places)
    except QuantityError as error:
        print(f"inkthread: {arguments.readings}: {error}", file=sys.stderr)
        return BAD_INPUT
    for line in bad:
        print(f"inkthread: {arguments.readings}, line {line.line}: {line.why}", file=sys.stderr)
    readings = [Reading(r.a, r.b, max(r.ohm - leads_ohm, 0.0), r.moved, r.row) for r in readings]
    judged = judge(plan, readings, worked.catalogue.proofs)
    if arguments.json:
        print_json(_as_json(judged, [plain(line) for line in bad]))
    else:
        _say(plan, judged)
    if bad:
        return BAD_INPUT
    return FINE if judged.verdict == "holds" else STOPS


def _as_json(judged: Judged, bad: list[Any]) -> dict[str, Any]:
    def ohm(value: float | None) -> float | str | None:
        return "OL" if value is not None and math.isinf(value) else value

    def reading(r: Reading) -> dict[str, Any]:
        return {"from": "&".join(r.a), "to": "&".join(r.b), "moved": r.moved, "ohm": ohm(r.ohm)}

    return {
        "verdict": judged.verdict,
        "explanations": [plain(explained) for explained in judged.explanations],
        "rows": [{"row": r.row, "ohm": ohm(r.ohm), "verdict": r.verdict} for r in judged.rows],
        "left_over": [reading(r) for r in judged.left_over],
        "refused": bad,
    }


def _say(plan: ProofPlan, judged: Judged) -> None:
    rows = {row.id: row for row in plan.rows}
    for r in judged.rows:
        if r.verdict == "fails":
            read = "open" if r.ohm == math.inf else f"{r.ohm:.4g} ohm"
            print(f"{r.row:5}{rows[r.row].words} It reads {read}.")
    for explained in judged.explanations[:4]:
        print(f"{explained.likelihood:.0%} {explained.words}\n     {explained.next}")
    for reading in judged.left_over:
        print(f"not explained: {'&'.join(reading.a)} to {'&'.join(reading.b)} reads {reading.ohm:g} ohm")
    unread = sum(r.verdict == "not read" for r in judged.rows)
    print(f"{judged.verdict}; {unread} of {len(judged.rows)} rows not read.")


def _standin(arguments: argparse.Namespace) -> int:
    """Serve a simulated device; or, of the tester, read all rows of a design into a file."""
    from inkthread.standins.tester import BadFault

    if arguments.to is not None and (arguments.what != "tester" or arguments.file is None):
        print(
            "inkthread: --to reads a harness by the tester: say tester, and --file DESIGN.", file=sys.stderr
        )
        return BAD_INPUT
    try:
        if arguments.what == "tester":
            port = _tester(arguments)
        elif arguments.what == "printer":
            from inkthread.standins.printer import LabelPrinter, serve_printer

            printer = LabelPrinter(Path("labels"), jammed="jam" in arguments.fault, late_s=arguments.slow)
            port = serve_printer(printer, arguments.port)[1]
        else:
            from inkthread.standins.supplier import PartsSupplier, priced_parts, serve_supplier

            supplier = PartsSupplier(
                priced_parts(), late_s=arguments.slow, sometimes_out="out" in arguments.fault
            )
            port = serve_supplier(supplier, arguments.port)[1]
    except BadFault as error:
        print(f"inkthread: {error}", file=sys.stderr)
        return BAD_INPUT
    except OSError as error:
        print(
            f"inkthread: port {arguments.port}: {error.strerror or error}. Give another one.", file=sys.stderr
        )
        return BAD_INPUT
    if arguments.to is not None:
        return FINE
    print(f"The simulated {arguments.what} answers at port {port} of this machine.", flush=True)
    try:
        threading.Event().wait()
    except KeyboardInterrupt:
        return FINE
    return FINE


def _tester(arguments: argparse.Namespace) -> int:
    from inkthread.core.prove import plan_tests
    from inkthread.exchange.tester import LineToTester, plugged_lines, read_rows
    from inkthread.standins.tester import BadFault, CableTester, serve_tester

    tester = CableTester(tuple(arguments.fault), arguments.slow, arguments.drop, noisy=arguments.noise)
    plan = plan_tests(_worked(arguments).rooms, by="tester") if arguments.file is not None else None
    if plan is not None:
        answer = tester.plug(plugged_lines(plan.harness)[1:-1])
        if not answer.startswith("PLUGGED"):
            raise BadFault(answer.removeprefix("REFUSED "))
    server, port = serve_tester(tester, arguments.port)
    if arguments.to is not None and plan is not None:
        with LineToTester(port) as line, arguments.to.open("w", encoding="utf-8") as out:
            out.write("row,from,to,moved,ohm\n")
            for r in read_rows(line, list(plan.rows)):
                ohm = "OL" if math.isinf(r.ohm) else f"{r.ohm:.6g}"
                out.write(f"{r.row},{'&'.join(r.a)},{'&'.join(r.b)},{'yes' if r.moved else ''},{ohm}\n")
        server.shutdown()
        server.server_close()
    return port
