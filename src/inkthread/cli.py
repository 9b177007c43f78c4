"""The ``inkthread`` command: the same program as the screen.

Exit 0: fine. 1: findings of severity stop. 2: bad usage or bad input, named on standard error.
"""

from __future__ import annotations

import argparse
import errno
import gc
import json
import os
import sys
import threading
from collections.abc import Callable
from contextlib import suppress
from datetime import UTC, date, datetime
from pathlib import Path
from typing import TYPE_CHECKING, Any, NoReturn

if TYPE_CHECKING:
    from inkthread.storage.place import Holding

_THREADS = 24
"""Requests answered at once: most of them wait for a study, not for the processor."""
_TURN_S = 0.001
"""A small request waits no longer than this, time after time, for one that keeps the processor busy."""
_SOON_S, _LOOKED_AGAIN_S = 5.0, 600.0
"""Seconds after the start until the day's copy is made, and until it is looked whether a new day began."""
FINE, STOPS, BAD_INPUT = 0, 1, 2


PART_KINDS = (
    "connector", "contact", "seal", "accessory", "splice", "cover", "tool", "wire", "fuse", "breaker",
)  # fmt: skip


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> NoReturn:
        self.print_usage(sys.stderr)
        print(f"{self.prog}: {message}", file=sys.stderr)
        raise SystemExit(BAD_INPUT)


def main(argv: list[str] | None = None) -> int:
    """Run the command; returns its exit status."""
    # What a command makes while it begins stays: the collector would look at it again and again.
    gc.disable()
    try:
        return _main(sys.argv[1:] if argv is None else argv)
    finally:
        gc.enable()


def _main(given: list[str]) -> int:
    from inkthread.core.document import DocumentError
    from inkthread.core.quantity import QuantityError

    arguments = _parser(given).parse_args(given)
    run: Callable[[argparse.Namespace], int] = arguments.run
    try:
        return run(arguments)
    except DocumentError as error:
        for p in error.problems:
            print(f"{p.path or 'file'}: {p.message} {p.remedy}", file=sys.stderr)
    except QuantityError as error:
        option = getattr(error, "field", "").replace("_", "-")
        print(f"inkthread: {f'--{option}: ' if option else ''}{error}", file=sys.stderr)
    except OSError as error:
        print(f"inkthread: {error.filename or 'file'}: {error.strerror or error}", file=sys.stderr)
        _name_copy(error)
    return BAD_INPUT


def _name_copy(error: OSError) -> None:
    """Of a data file in trouble, how its newest copy is brought back."""
    from inkthread.storage.copies import Copies

    if error.errno == errno.EIO and isinstance(error.filename, str):
        copies = Copies(Path(error.filename))
        for newest in copies.all()[:1]:
            print(f"Its newest copy: inkthread restore {copies.folder / newest.name}", file=sys.stderr)


def _port(text: str) -> int:
    """A port, or 0 for any that is free."""
    if not text.strip().isdecimal() or int(text) > 65_535:
        raise argparse.ArgumentTypeError(f"{text!r} is no port. Give a number from 0 to 65535.")
    return int(text)


def _parser(given: list[str]) -> argparse.ArgumentParser:
    parser = _Parser(prog="inkthread", description="Works out wire harnesses, and says why.")
    commands = parser.add_subparsers(dest="command", required=True, parser_class=_Parser)

    def add(name: str, run: Callable[[argparse.Namespace], int], text: str) -> argparse.ArgumentParser:
        sub = commands.add_parser(name, help=text, description=text)
        sub.set_defaults(run=run)
        return sub

    def add_data(sub: argparse.ArgumentParser) -> None:
        sub.add_argument("--data", type=data_file, default=None, help="data file, or the folder it is in")

    def data_file(text: str) -> Path:
        from inkthread.storage.place import data_file

        return data_file(Path(text))

    for name, run, text in (
        ("demo", _demo, "Put the demo harnesses on the shelf (once) and serve."),
        ("serve", _serve, "Serve the screen on this machine."),
    ):
        sub = add(name, run, text)
        sub.add_argument("--port", type=_port, default=os.environ.get("PORT", "8137"))
        add_data(sub)
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
    sub = add("export", _export, "Write a table of a design file as CSV, or all of it as typed lines.")
    sub.add_argument("file", type=Path)
    table = sub.add_mutually_exclusive_group(required=True)
    for kind in ("wires", "bom", "cut"):
        table.add_argument(f"--{kind}", type=Path, metavar="OUT.csv")
    table.add_argument("--lines", type=Path, metavar="OUT.txt", help="the harness as typed lines")
    sub = add("type", _type, "Make a design file of typed lines under headings.")
    sub.add_argument("file", type=Path, metavar="LINES.txt")
    sub.add_argument("--onto", type=Path, metavar="DESIGN.json", help="a design file that they go on to")
    sub.add_argument("-o", "--out", type=Path, metavar="OUT.json", required=True)
    sub.add_argument("--json", action="store_true")
    sub = add("backup", _backup, "Copy all harnesses into one file, while the program runs or not.")
    sub.add_argument("file", type=Path, help="the copy, or a folder to put it in")
    add_data(sub)
    sub = add("restore", _restore, "Look into a copy; with --yes put it in the place of all harnesses here.")
    sub.add_argument("file", type=Path)
    sub.add_argument("--yes", action="store_true", help="put it in place; what is there now is kept")
    add_data(sub)
    sub = add("catalogue", _usage, "Parts: what there is, what answers a need, your own.")
    parts = sub.add_subparsers(dest="what", required=True, parser_class=_Parser)
    for what, run, text in (
        ("families", _families, "Wire families."),
        ("connectors", _families, "Connector families."),
        ("search", _search, "Parts that answer a need, and why others do not."),
        ("add", _add_parts, "Take parts of your own from a JSON or CSV file."),
        ("export", _export_parts, "Write your own parts to a JSON or CSV file."),
    ):
        sub = parts.add_parser(what, help=text, description=text)
        sub.set_defaults(run=run, what=what)
        add_data(sub)
        sub.add_argument("--json", action="store_true")
        if what in ("add", "export"):
            sub.add_argument("file", type=Path)
        if what == "search":
            sub.add_argument("need", nargs="*", help="like: sealed, 3 ways, 18 AWG thin wall, 125 C")
            sub.add_argument("--kind", choices=PART_KINDS)
            sub.add_argument("--ways", type=int)
            sub.add_argument("--sealed", action="store_true")
            sub.add_argument("--owned", action="store_true", help="only what owned tools can make")
            sub.add_argument("--limit", type=int, default=20)

    bench = add("reckon", _usage, "The bench: quick calculators without a harness.")
    calculators = bench.add_subparsers(dest="calculator", required=True, parser_class=_Parser)
    if given[:1] != ["reckon"]:
        return parser  # the calculators take a while to load
    from inkthread.core.bench import CALCULATORS

    for calculator in CALCULATORS.values():
        if calculator.name == "convert":
            continue  # a command of its own
        sub = calculators.add_parser(calculator.name, help=calculator.asks, description=calculator.asks)
        sub.set_defaults(run=_reckon, calculator=calculator.name)
        for f in calculator.fields:
            option = "--" + f.name.replace("_", "-")
            words = "; ".join(x for x in (f.label, f.help, f.example and f"like {f.example}") if x)
            words = words.replace("%", "%%")
            if f.kind == "flag":
                sub.add_argument(
                    option, dest=f"field_{f.name}", action="store_const", const="yes", help=words
                )
            else:
                sub.add_argument(
                    option,
                    dest=f"field_{f.name}",
                    action="append" if f.kind == "wires" else "store",
                    required=f.required,
                    metavar=f.name.partition("_")[0].upper(),
                    help=words,
                )
        sub.add_argument("--json", action="store_true")
    return parser


def _data(arguments: argparse.Namespace) -> Path:
    """The data file that is meant."""
    from inkthread.storage.place import default_data

    given: Path | None = getattr(arguments, "data", None)
    return given if given is not None else default_data()


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
    require_known_parts(document, shipped_catalogue(), from_elsewhere=True)
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
    for n, f in enumerate(evaluation.findings):
        if f.follows is not None:
            continue
        print(f"{f.severity:8} {f.what}")
        print(f"{'':8} {f.remedies[0].text}")
        for brought in (x for x in evaluation.findings if x.follows == n):
            print(f"{'':8} - so: {brought.what}")
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
    from inkthread.core.bench.converter import convert

    found = convert(arguments.text)
    if arguments.json:
        _print_json(found)
    else:
        for name, value in found.items():
            print(f"{name:14} {value}")
    return FINE


def _type(arguments: argparse.Namespace) -> int:
    """Nothing is written where a line is refused."""
    from inkthread.catalogue import shipped_catalogue
    from inkthread.core.document import dump_document, parse_document
    from inkthread.core.document.against_catalogue import require_known_parts
    from inkthread.core.quantity import QuantityError
    from inkthread.core.text import read_text

    onto = dump_document(_open(arguments.onto)) if arguments.onto is not None else None
    try:
        text = arguments.file.read_bytes().decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise QuantityError(f"{arguments.file} is no text in UTF-8, at byte {error.start}.") from None
    read = read_text(text, shipped_catalogue(), onto)
    if arguments.json:
        _print_json({"made": [_plain(x) for x in read.made], "problems": [_plain(x) for x in read.problems]})
    else:
        for line in read.made:
            print(f"{line.number:5}  {'; '.join(line.says) or line.text}")
    for problem in read.problems:
        print(
            f"{arguments.file}: line {problem.number}, letter {problem.start + 1}: {problem.says}",
            file=sys.stderr,
        )
        print(f"  {problem.text}", file=sys.stderr)
        print(f"  {' ' * problem.start}{'^' * max(problem.end - problem.start, 1)}", file=sys.stderr)
    if read.document is None:
        return BAD_INPUT
    document = parse_document(read.document)
    require_known_parts(document, shipped_catalogue())
    arguments.out.write_text(
        json.dumps(dump_document(document), ensure_ascii=False, indent=1) + "\n", encoding="utf-8"
    )
    return FINE


def _export(arguments: argparse.Namespace) -> int:
    from inkthread.exchange import csv_text

    if arguments.lines is not None:
        from inkthread.catalogue import shipped_catalogue
        from inkthread.core.document import dump_document
        from inkthread.core.text import write_text

        text = write_text(dump_document(_open(arguments.file)), shipped_catalogue())
        arguments.lines.write_text(text, encoding="utf-8")
        return FINE
    evaluation = _worked(arguments.file)
    for kind in ("wires", "bom", "cut"):
        target: Path | None = getattr(arguments, kind)
        if target is not None:
            target.write_text(csv_text(evaluation, kind), encoding="utf-8", newline="")
    return FINE


def _stocked(data: Path) -> tuple[Any, Any, Any]:
    """The catalogue with the shop's own parts, those parts, and the tools owned. No database is made."""
    from inkthread.catalogue import shipped_catalogue
    from inkthread.core.catalogue.own import OwnParts, own_parts, with_own

    shipped = shipped_catalogue()
    if not data.is_file():
        return shipped, OwnParts(), {}
    from inkthread.storage import Shop
    from inkthread.storage.database import open_database

    engine = open_database(data)
    shop = Shop(engine)
    own, tools = own_parts(shop.parts()), {t["code"]: t for t in shop.tools()}
    engine.dispose()
    return with_own(shipped, own, ""), own, tools


def _families(arguments: argparse.Namespace) -> int:
    catalogue, _, _ = _stocked(_data(arguments))
    things: list[Any] = list(
        catalogue.wires.values() if arguments.what == "families" else catalogue.connectors.values()
    )
    if arguments.json:
        _print_json([_plain(t) for t in things])
    else:
        for t in things:
            print(f"{t.code:14} {t.name}, to {t.temperature_c:g} °C")
    return FINE


def _search(arguments: argparse.Namespace) -> int:
    from dataclasses import replace

    from inkthread.core.catalogue.search import find_parts, read_need

    catalogue, _, tools = _stocked(_data(arguments))
    need = read_need(catalogue, " ".join(arguments.need), arguments.kind)
    if arguments.ways is not None:
        need = replace(need, ways=arguments.ways)
    need = replace(
        need,
        sealed=True if arguments.sealed else need.sealed,
        owned_only=need.owned_only or arguments.owned,
    )
    found = find_parts(catalogue, need, tools, max(arguments.limit, 1))
    if arguments.json:
        fields = (
            "kind", "code", "description", "family", "group", "ways", "sealed", "protection", "temperature_c",
            "voltage_v", "mm2", "od_mm", "current_a", "tools", "price", "mass_g",
        )  # fmt: skip
        _print_json([{f: getattr(r, f) for f in fields} for r in found.rows])
        return FINE
    for r in found.rows:
        print(f"{r.code:14} {r.description}  {r.price:.2f}")
    print(f"{found.count} found, {found.rejected_count} would not do:")
    for r, why in found.rejected[:10]:
        print(f"  {r.code:14} {why}")
    return FINE


def _add_parts(arguments: argparse.Namespace) -> int:
    from inkthread.core.catalogue.own import PartsError, parts_to_plain, read_parts
    from inkthread.storage import Shop
    from inkthread.storage.database import open_database
    from inkthread.storage.place import held

    catalogue, present, _ = _stocked(_data(arguments))
    try:
        own = read_parts(catalogue, arguments.file.read_bytes(), present)
    except PartsError as error:
        for p in error.problems:
            print(f"inkthread: {arguments.file}: {p.path}: {p.message} {p.remedy}", file=sys.stderr)
        print("inkthread: nothing was taken.", file=sys.stderr)
        return BAD_INPUT
    data = _data(arguments)
    with held(data):
        engine = open_database(data)
        Shop(engine).keep_parts({k: v for k, v in parts_to_plain(own).items() if isinstance(v, list)})
        engine.dispose()
    codes = [*own.connectors, *own.tools, *own.splices, *own.wires]
    if arguments.json:
        _print_json({"taken": codes})
    else:
        print(f"Taken: {', '.join(codes)}.")
    return FINE


def _export_parts(arguments: argparse.Namespace) -> int:
    from inkthread.core.catalogue.own import parts_to_csv, parts_to_plain

    _, own, _ = _stocked(_data(arguments))
    if arguments.file.suffix.lower() == ".csv":
        text = parts_to_csv(own.connectors.values(), own.tools.values())
    else:
        text = json.dumps(parts_to_plain(own), ensure_ascii=False, indent=1) + "\n"
    arguments.file.write_text(text, encoding="utf-8", newline="")
    return FINE


def _reckon(arguments: argparse.Namespace) -> int:
    from inkthread.catalogue import shipped_catalogue
    from inkthread.core.bench import calculate

    given = {
        name.removeprefix("field_"): ", ".join(value) if isinstance(value, list) else str(value)
        for name, value in vars(arguments).items()
        if name.startswith("field_") and value is not None
    }
    catalogue = _stocked(_data(arguments))[0] if arguments.calculator in ("fit", "splice") else None
    answer = calculate(catalogue or shipped_catalogue(), arguments.calculator, given)
    if arguments.json:
        _print_json(answer.figures)
        if not answer.holds:
            print(f"inkthread: {answer.sentence}", file=sys.stderr)
    else:
        print(answer.sentence)
        for line in answer.lines:
            print(f"  {line.label}: {line.value}" + (f" ({line.note})" if line.note else ""))
        for source in answer.sources:
            print(f"  from: {source}")
    return FINE if answer.holds else STOPS


def _backup(arguments: argparse.Namespace) -> int:
    from inkthread.storage.copies import checked_copy

    target: Path = arguments.file
    if target.is_dir():
        target = target / f"inkthread-{datetime.now():%Y-%m-%d}.db"
    if target.exists():
        print(f"inkthread: {target}: is there already. Give another name.", file=sys.stderr)
        return BAD_INPUT
    checked_copy(_data(arguments), target)
    print(f"Copied and checked: {target}")
    return FINE


def _restore(arguments: argparse.Namespace) -> int:
    from inkthread.storage.copies import look, opened_copy, restore
    from inkthread.storage.models import utc_now
    from inkthread.storage.place import held

    data, copy = _data(arguments), arguments.file
    with opened_copy(copy) as theirs:
        if data.is_file():
            try:
                with opened_copy(data) as ours:
                    here, there = look(ours, None), look(theirs, ours)
            except OSError as error:
                print(f"{data}: {error.strerror}")
                here, there = [], look(theirs, None)
        else:
            here, there = [], look(theirs, None)
    words = {"same": "the same here", "changed": "another version here", "removed": "removed here"}
    print(f"{copy} has {len(there)} harness{'' if len(there) == 1 else 'es'}:")
    for item in there:
        changed = item.changed_at.replace(tzinfo=UTC).astimezone()
        here_too = words.get(item.here, "not here")
        print(f"  {item.name or 'unnamed'}, changed {changed:%Y-%m-%d %H:%M}; {here_too}")
    kept = {item.id for item in there}
    for item in here:
        if item.id not in kept:
            print(f"  {item.name or 'unnamed'} is here only, and would go with what is kept of today")
    if not arguments.yes:
        print(f"Nothing is changed. With --yes it takes the place of {data}; that is kept beside it.")
        return FINE
    with held(data):
        former = restore(copy, data, utc_now())
    print(f"Put in place: {data}")
    if former is not None:
        print(f"What was there is kept: {former}")
    return FINE


def _demo(arguments: argparse.Namespace) -> int:
    from inkthread.demo import seed
    from inkthread.storage import Shelf
    from inkthread.storage.database import open_database
    from inkthread.storage.place import held

    data = _data(arguments)
    with held(data) as holding:
        engine = open_database(data)
        seed(Shelf(engine), reset=arguments.reset)
        engine.dispose()
        return FINE if arguments.seed_only else _run(data, arguments.port, holding)


def _serve(arguments: argparse.Namespace) -> int:
    from inkthread.storage.place import held

    data = _data(arguments)
    with held(data) as holding:
        return _run(data, arguments.port, holding)


def _run(data: Path, port: int, holding: Holding) -> int:
    """Serve a data file that is held, until interrupted."""
    from waitress import create_server

    from inkthread.storage.place import old_place
    from inkthread.web import create_app

    app = create_app(data)
    try:
        server = create_server(app, host="127.0.0.1", port=port, threads=_THREADS)
    except OSError as error:
        print(f"inkthread: port {port}: {error.strerror}. Set PORT to another one.", file=sys.stderr)
        return BAD_INPUT
    address = f"http://127.0.0.1:{server.effective_port}"
    holding.at(address)
    print(f"Ink Thread on {address}", flush=True)
    print(f"Harnesses are kept in {data}", flush=True)
    earlier = old_place(data)
    if earlier is not None:
        print(
            f"There are harnesses of an earlier place, {earlier}: the shelf offers to bring them in.",
            flush=True,
        )
    over = threading.Event()
    keeper = threading.Thread(target=_keep_copies, args=(app, over), daemon=True)
    keeper.start()
    gc.enable()
    sys.setswitchinterval(_TURN_S)
    try:
        server.run()
    except KeyboardInterrupt:
        server.close()
    finally:
        over.set()
        app.extensions["workshop"].studies.close()
    return FINE


def _keep_copies(app: Any, over: threading.Event) -> None:
    """Once a day, also while the program runs on for days: a copy, and the drawer's oldest let go."""
    from inkthread.storage.models import utc_now

    kept = app.extensions["workshop"]
    pause = _SOON_S
    while not over.wait(pause):
        if pause == _SOON_S:
            kept.studies.warm()
        kept.copies.daily(date.today())
        with suppress(Exception):  # the data file is in trouble; what is asked of it next says so
            kept.shelf.empty_drawer(utc_now())
        pause = _LOOKED_AGAIN_S


if __name__ == "__main__":
    sys.exit(main())
