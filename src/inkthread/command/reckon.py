"""The bench on the command line: quick calculators without a harness."""

from __future__ import annotations

import argparse
import sys

from inkthread.command.parts import stocked
from inkthread.command.shared import FINE, STOPS, Parser, data_of, print_json


def add_calculators(bench: argparse.ArgumentParser, *, wanted: bool) -> None:
    """A command for each calculator. They take a while to load: only where they are ``wanted``."""
    calculators = bench.add_subparsers(dest="calculator", required=True, parser_class=Parser)
    if not wanted:
        return
    from inkthread.core.bench import CALCULATORS, SEVERAL

    for calculator in CALCULATORS.values():
        if calculator.name == "convert":
            continue  # a command of its own
        command = calculators.add_parser(calculator.name, help=calculator.asks, description=calculator.asks)
        command.set_defaults(run=_reckon, calculator=calculator.name)
        for field in calculator.fields:
            option = "--" + field.name.replace("_", "-")
            words = "; ".join(
                text for text in (field.label, field.help, field.example and f"like {field.example}") if text
            )
            words = words.replace("%", "%%")
            to = f"field_{field.name}"
            if field.kind == "flag":
                command.add_argument(option, dest=to, action="store_const", const="yes", help=words)
                continue
            command.add_argument(
                option,
                dest=to,
                action="append" if field.kind in SEVERAL else "store",
                required=field.required,
                metavar=field.name.partition("_")[0].upper(),
                help=words,
            )
        command.add_argument("--json", action="store_true")


def _reckon(arguments: argparse.Namespace) -> int:
    from inkthread.catalogue import shipped_catalogue
    from inkthread.core.bench import calculate

    given = {
        name.removeprefix("field_"): ", ".join(value) if isinstance(value, list) else str(value)
        for name, value in vars(arguments).items()
        if name.startswith("field_") and value is not None
    }
    catalogue = stocked(data_of(arguments))[0] if arguments.calculator in ("fit", "splice") else None
    answer = calculate(catalogue or shipped_catalogue(), arguments.calculator, given)
    if arguments.json:
        print_json(answer.figures)
        if not answer.holds:
            print(f"inkthread: {answer.plain}", file=sys.stderr)
    else:
        print(answer.plain)
        for line in answer.lines:
            print(f"  {line.label}: {line.value}" + (f" ({line.note})" if line.note else ""))
        for source in answer.sources:
            print(f"  from: {source}")
    return FINE if answer.holds else STOPS
