"""The ``inkthread`` command: the same program as the screen.

Exit 0: fine. 1: findings of severity stop. 2: bad usage or bad input, named on standard error.
"""

from __future__ import annotations

import argparse
import json
import os
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any, NoReturn

FINE, STOPS, BAD_INPUT = 0, 1, 2


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> NoReturn:
        self.print_usage(sys.stderr)
        print(f"{self.prog}: {message}", file=sys.stderr)
        raise SystemExit(BAD_INPUT)


def main(argv: list[str] | None = None) -> int:
    """Run the command; returns its exit status."""
    from inkthread.core.document import DocumentError
    from inkthread.core.quantity import QuantityError

    arguments = _parser().parse_args(argv)
    run: Callable[[argparse.Namespace], int] = arguments.run
    try:
        return run(arguments)
    except DocumentError as error:
        for p in error.problems:
            print(f"{p.path or 'file'}: {p.message} {p.remedy}", file=sys.stderr)
    except QuantityError as error:
        print(f"inkthread: {error}", file=sys.stderr)
    except OSError as error:
        print(f"inkthread: {error.filename or 'file'}: {error.strerror or error}", file=sys.stderr)
    return BAD_INPUT


def _parser() -> argparse.ArgumentParser:
    parser = _Parser(prog="inkthread", description="Works out wire harnesses, and says why.")
    commands = parser.add_subparsers(dest="command", required=True, parser_class=_Parser)

    def add(name: str, run: Callable[[argparse.Namespace], int], text: str) -> argparse.ArgumentParser:
        sub = commands.add_parser(name, help=text, description=text)
        sub.set_defaults(run=run)
        return sub

    for name, run, text in (
        ("demo", _demo, "Put the demo harnesses on the shelf (once) and serve."),
        ("serve", _serve, "Serve the screen on this machine."),
    ):
        sub = add(name, run, text)
        sub.add_argument("--port", type=int, default=int(os.environ.get("PORT", "8137")))
        sub.add_argument("--data", type=Path, default=_default_data(), help="database file")
        if name == "demo":
            sub.add_argument("--reset", action="store_true", help="restore the demo harnesses first")
            sub.add_argument("--seed-only", action="store_true", help="do not serve")
    sub = add("evaluate", _evaluate, "Work a design file out.")
    sub.add_argument("file", type=Path)
    sub.add_argument("--json", action="store_true")
    sub = add("check", _check, "List a design file's findings.")
    sub.add_argument("file", type=Path)
    sub.add_argument("--json", action="store_true")
    sub = add("convert", _convert, "What a written quantity is in both systems.")
    sub.add_argument("text")
    sub.add_argument("--json", action="store_true")
    sub = add("export", _export, "Write a table of a design file as CSV.")
    sub.add_argument("file", type=Path)
    table = sub.add_mutually_exclusive_group(required=True)
    for kind in ("wires", "bom", "cut"):
        table.add_argument(f"--{kind}", type=Path, metavar="OUT.csv")
    sub = add("catalogue", _catalogue, "What ships with the program.")
    sub.add_argument("what", choices=["families", "connectors"])
    sub.add_argument("--json", action="store_true")

    bench = add("reckon", _usage, "The bench: quick calculators without a harness.")
    calculators = bench.add_subparsers(dest="calculator", required=True, parser_class=_Parser)
    wire = calculators.add_parser("wire", help="Gauge of one wire.")
    wire.set_defaults(run=_reckon_wire)
    wire.add_argument("--practice", default="motorsport")
    wire.add_argument("--family", help="wire family code; the practice's own when absent")
    wire.add_argument("--amps", required=True)
    wire.add_argument("--length", required=True, help="one way")
    wire.add_argument("--volts", required=True, help="working voltage")
    wire.add_argument("--ambient", help="the practice's when absent")
    wire.add_argument("--service", choices=["continuous", "intermittent"], default="continuous")
    wire.add_argument("--return", dest="return_path", choices=["wired", "structure"], default="wired")
    wire.add_argument("--drop-limit", help="such as '3 %%' or '0.5 V'; the practice's when absent")
    wire.add_argument("--json", action="store_true")
    return parser


def _default_data() -> Path:
    given = os.environ.get("INKTHREAD_DATA")
    return Path(given) if given else Path("var") / "inkthread.db"


def _usage(_arguments: argparse.Namespace) -> int:
    return BAD_INPUT


def _print_json(value: object) -> None:
    print(json.dumps(value, ensure_ascii=False, indent=1))


def _plain(value: Any) -> Any:
    """A core dataclass as plain data."""
    from pydantic import TypeAdapter

    return TypeAdapter(type(value)).dump_python(value, mode="json")


def _open(path: Path) -> Any:
    from inkthread.catalogue import shipped_catalogue
    from inkthread.core.document import parse_document_text
    from inkthread.core.document.against_catalogue import require_known_parts

    document = parse_document_text(path.read_bytes())
    require_known_parts(document, shipped_catalogue())
    return document


def _worked(path: Path) -> Any:
    from inkthread.catalogue import shipped_catalogue
    from inkthread.core.evaluate import evaluate

    return evaluate(_open(path), shipped_catalogue())


def _status(evaluation: Any) -> int:
    return STOPS if evaluation.tally.stops else FINE


def _evaluate(arguments: argparse.Namespace) -> int:
    evaluation = _worked(arguments.file)
    if arguments.json:
        _print_json(_plain(evaluation))
        return _status(evaluation)
    for room, state in evaluation.rooms.items():
        print(f"{room:9} {state.sentence.replace('**', '')}")
    print()
    _print_findings(evaluation)
    return _status(evaluation)


def _print_findings(evaluation: Any) -> None:
    for f in evaluation.findings:
        print(f"{f.severity:8} {f.what}")
        print(f"{'':8} {f.remedies[0].text}")
    if not evaluation.findings:
        print("Nothing found.")


def _check(arguments: argparse.Namespace) -> int:
    evaluation = _worked(arguments.file)
    if arguments.json:
        _print_json([_plain(f) for f in evaluation.findings])
    else:
        _print_findings(evaluation)
    return _status(evaluation)


def _convert(arguments: argparse.Namespace) -> int:
    from inkthread.core.quantity import convert

    found = convert(arguments.text)
    if arguments.json:
        _print_json(found)
    else:
        for name, value in found.items():
            print(f"{name:14} {value}")
    return FINE


def _export(arguments: argparse.Namespace) -> int:
    from inkthread.exchange import csv_text

    evaluation = _worked(arguments.file)
    for kind in ("wires", "bom", "cut"):
        target: Path | None = getattr(arguments, kind)
        if target is not None:
            target.write_text(csv_text(evaluation, kind), encoding="utf-8", newline="")
    return FINE


def _catalogue(arguments: argparse.Namespace) -> int:
    from inkthread.catalogue import shipped_catalogue

    catalogue = shipped_catalogue()
    things: list[Any] = list(
        catalogue.wires.values() if arguments.what == "families" else catalogue.connectors.values()
    )
    if arguments.json:
        _print_json([_plain(t) for t in things])
    else:
        for t in things:
            print(f"{t.code:14} {t.name}, to {t.temperature_c:g} °C")
    return FINE


def _reckon_wire(arguments: argparse.Namespace) -> int:
    from typing import cast

    from inkthread.catalogue import shipped_catalogue
    from inkthread.core.bench import reckon_wire
    from inkthread.core.document.starter import practices
    from inkthread.core.document.types import Practice
    from inkthread.core.quantity import (
        QuantityError,
        parse_current_a,
        parse_length_mm,
        parse_temperature_c,
        parse_voltage_v,
    )

    catalogue = shipped_catalogue()
    if arguments.practice not in practices():
        raise QuantityError(f"--practice {arguments.practice!r}: choose one of {', '.join(practices())}.")
    practice = cast(Practice, arguments.practice)
    family = arguments.family or catalogue.preset_families[practice]
    if family not in catalogue.wires:
        raise QuantityError(f"--family {family!r}: choose one of {', '.join(catalogue.wires)}.")
    volts = parse_voltage_v(arguments.volts)
    length = parse_length_mm(arguments.length)
    if volts <= 0:
        raise QuantityError("--volts is zero. Give the working voltage, like 13.2.")
    if not 0 < length <= 200_000:
        raise QuantityError("--length is out of range. Give it one way, like 4.2 m, at most 200 m.")
    if arguments.ambient is not None:
        ambient = parse_temperature_c(arguments.ambient)
    else:
        ambient = catalogue.rules["default_ambient_c"].values[practice] or 40.0
    if not -80 <= ambient <= 350:
        raise QuantityError("--ambient is out of range. Give it like 60C, from -80 to 350 C.")
    current = parse_current_a(arguments.amps)
    if current > 2000:
        raise QuantityError("--amps is above 2000 A. Check the unit.")
    found = reckon_wire(
        catalogue,
        practice,
        family,
        current,
        length,
        volts,
        ambient,
        arguments.service,
        arguments.return_path,
        arguments.drop_limit,
    )
    if arguments.json:
        _print_json(_plain(found))
    else:
        fuse = f"{found.fuse_a:g} A fuse" if found.fuse_a else "no fuse is large enough"
        print(f"{found.gauge} {family}: {found.governs} decides")
        print(f"drop {found.drop_v:.3f} V ({found.drop_percent:.2f} %) of {found.drop_limit_v:.3f} V allowed")
        print(f"{found.ampacity_a:.1f} A alone in air, {found.allowed_a:.1f} A in a bundle; {fuse}")
        if not found.fits:
            print("No size of this family holds every limit.")
    return FINE if found.fits else STOPS


def _seed(arguments: argparse.Namespace) -> None:
    from inkthread.demo import seed
    from inkthread.storage import Shelf
    from inkthread.storage.database import open_database

    engine = open_database(arguments.data)
    seed(Shelf(engine), reset=arguments.reset)
    engine.dispose()


def _demo(arguments: argparse.Namespace) -> int:
    _seed(arguments)
    return FINE if arguments.seed_only else _serve(arguments)


def _serve(arguments: argparse.Namespace) -> int:
    from waitress import create_server

    from inkthread.web import create_app

    app = create_app(arguments.data)
    try:
        server = create_server(app, host="127.0.0.1", port=arguments.port, threads=4)
    except OSError as error:
        print(
            f"inkthread: port {arguments.port}: {error.strerror}. Set PORT to another one.", file=sys.stderr
        )
        return BAD_INPUT
    print(f"Ink Thread on http://127.0.0.1:{server.effective_port}", flush=True)
    try:
        server.run()
    except KeyboardInterrupt:
        server.close()
    return FINE


if __name__ == "__main__":
    sys.exit(main())
