"""Commands about a design file: work it out, list its findings, write tables, type one."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any

from inkthread.command.shared import BAD_INPUT, FINE, STOPS, opened, plain, print_json

Add = Callable[[str, Callable[[argparse.Namespace], int], str], argparse.ArgumentParser]


def add_design_commands(add: Add) -> None:
    """``evaluate``, ``check``, ``convert``, ``export`` and ``type``."""
    for name, run, text in (
        ("evaluate", _evaluate, "Work a design file out."),
        ("check", _check, "List a design file's findings."),
    ):
        command = add(name, run, text)
        command.add_argument("file", type=Path)
        command.add_argument("--json", action="store_true")
    command = add("convert", _convert, "What a written quantity is in both systems.")
    command.add_argument("text")
    command.add_argument("--json", action="store_true")
    command = add("export", _export, "Write a table of a design file as CSV, or all of it as typed lines.")
    command.add_argument("file", type=Path)
    table = command.add_mutually_exclusive_group(required=True)
    for kind in _TABLES:
        table.add_argument(f"--{kind}", type=Path, metavar="OUT.csv")
    table.add_argument("--xlsx", type=Path, metavar="OUT.xlsx", help="all tables as a workbook, a sheet each")
    table.add_argument("--lines", type=Path, metavar="OUT.txt", help="the harness as typed lines")
    command = add("type", _type, "Make a design file of typed lines under headings.")
    command.add_argument("file", type=Path, metavar="LINES.txt")
    command.add_argument("--onto", type=Path, metavar="DESIGN.json", help="a design file that they go on to")
    command.add_argument("-o", "--out", type=Path, metavar="OUT.json", required=True)
    command.add_argument("--json", action="store_true")


_TABLES = (
    "wires", "bom", "cut", "dress", "labels", "devices", "branches", "pinout", "tools", "findings",
)  # fmt: skip


def _worked(path: Path) -> Any:
    from inkthread.catalogue import shipped_catalogue
    from inkthread.core.evaluate import evaluate

    return evaluate(opened(path), shipped_catalogue())


def _status(evaluation: Any) -> int:
    return STOPS if evaluation.tally.stops else FINE


def _evaluate(arguments: argparse.Namespace) -> int:
    from inkthread.core.opening import spoken

    evaluation = _worked(arguments.file)
    if arguments.json:
        print_json(plain(evaluation))
        return _status(evaluation)
    for room, state in evaluation.rooms.items():
        print(f"{room:9} {spoken(state.sentence)}")
    print()
    _print_findings(evaluation)
    return _status(evaluation)


def _print_findings(evaluation: Any) -> None:
    for n, f in enumerate(evaluation.findings):
        if f.follows is not None:
            continue
        print(f"{f.severity:8} {f.what}")
        print(f"{'':8} {f.remedies[0].text}")
        for brought in (finding for finding in evaluation.findings if finding.follows == n):
            print(f"{'':8} - so: {brought.what}")
    if not evaluation.findings:
        print("Nothing found.")


def _check(arguments: argparse.Namespace) -> int:
    evaluation = _worked(arguments.file)
    if arguments.json:
        print_json([plain(f) for f in evaluation.findings])
    else:
        _print_findings(evaluation)
    return _status(evaluation)


def _convert(arguments: argparse.Namespace) -> int:
    from inkthread.core.converter import convert

    both_systems = convert(arguments.text)
    if arguments.json:
        print_json(both_systems)
    else:
        for name, value in both_systems.items():
            print(f"{name:14} {value}")
    return FINE


def _type(arguments: argparse.Namespace) -> int:
    """Nothing is written where a line is refused."""
    from inkthread.catalogue import shipped_catalogue
    from inkthread.core.document import dump_document, parse_document
    from inkthread.core.document.against_catalogue import require_known_parts
    from inkthread.core.quantity import QuantityError
    from inkthread.core.text import read_text

    onto = dump_document(opened(arguments.onto)) if arguments.onto is not None else None
    try:
        text = arguments.file.read_bytes().decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise QuantityError(f"{arguments.file} is no text in UTF-8, at byte {error.start}.") from None
    read = read_text(text, shipped_catalogue(), onto)
    if arguments.json:
        print_json(
            {
                "made": [plain(sentence) for sentence in read.made],
                "problems": [plain(problem) for problem in read.problems],
            }
        )
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
    from inkthread.catalogue import shipped_catalogue
    from inkthread.core.evaluate import work_out
    from inkthread.exchange import csv_text, xlsx_bytes

    if arguments.lines is not None:
        from inkthread.core.document import dump_document
        from inkthread.core.text import write_text

        text = write_text(dump_document(opened(arguments.file)), shipped_catalogue())
        arguments.lines.write_text(text, encoding="utf-8")
        return FINE
    w = work_out(opened(arguments.file), shipped_catalogue())
    if arguments.xlsx is not None:
        arguments.xlsx.write_bytes(xlsx_bytes(w))
        return FINE
    for kind in _TABLES:
        target: Path | None = getattr(arguments, kind)
        if target is not None:
            target.write_text(csv_text(w, kind), encoding="utf-8", newline="")
    return FINE
