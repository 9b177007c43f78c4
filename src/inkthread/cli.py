"""The ``inkthread`` command: the same program as the screen.

Exit 0: fine. 1: findings of severity stop. 2: bad usage or bad input, named on standard error.
"""

from __future__ import annotations

import argparse
import errno
import gc
import os
import sys
from collections.abc import Callable
from pathlib import Path

from inkthread.command.designs import add_design_commands
from inkthread.command.keeping import add_keeping_commands
from inkthread.command.parts import add_parts_commands
from inkthread.command.prove import add_prove_commands
from inkthread.command.reckon import add_calculators
from inkthread.command.server import add_server_commands
from inkthread.command.shared import BAD_INPUT, FINE, Parser
from inkthread.command.work import add_work_commands


def main(argv: list[str] | None = None) -> int:
    """Run the command; returns its exit status."""
    # What a command makes while it begins stays: the collector would look at it again and again.
    gc.disable()
    try:
        return _main(sys.argv[1:] if argv is None else argv)
    finally:
        gc.enable()


def _main(given: list[str]) -> int:
    arguments = _parser(given).parse_args(given)
    run: Callable[[argparse.Namespace], int] = arguments.run
    try:
        status = run(arguments)
        sys.stdout.flush()
        return status
    except BrokenPipeError:
        # Whoever read it has enough: what is left goes nowhere, and nothing is said of it at the end.
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return FINE
    except ValueError as error:
        _say(error)
    except OSError as error:
        print(f"inkthread: {error.filename or 'file'}: {error.strerror or error}", file=sys.stderr)
        _name_copy(error)
    return BAD_INPUT


def _say(error: ValueError) -> None:
    """What is wrong with what was given. Raises any other error again."""
    from inkthread.core.document.problems import DocumentError
    from inkthread.core.quantity import QuantityError

    if isinstance(error, DocumentError):
        for p in error.problems:
            print(f"{p.path or 'file'}: {p.message} {p.remedy}", file=sys.stderr)
    elif isinstance(error, QuantityError):
        option = getattr(error, "field", "").replace("_", "-")
        print(f"inkthread: {f'--{option}: ' if option else ''}{error}", file=sys.stderr)
    else:
        raise error


def _name_copy(error: OSError) -> None:
    """Of a data file in trouble, how its newest copy is brought back."""
    from inkthread.storage.copies import Copies

    if error.errno == errno.EIO and isinstance(error.filename, str):
        copies = Copies(Path(error.filename))
        for newest in copies.all()[:1]:
            print(f"Its newest copy: inkthread restore {copies.folder / newest.name}", file=sys.stderr)


def _parser(given: list[str]) -> argparse.ArgumentParser:
    parser = Parser(prog="inkthread", description="Works out wire harnesses, and says why.")
    commands = parser.add_subparsers(dest="command", required=True, parser_class=Parser)

    def add(name: str, run: Callable[[argparse.Namespace], int], text: str) -> argparse.ArgumentParser:
        command = commands.add_parser(name, help=text, description=text)
        command.set_defaults(run=run)
        return command

    add_server_commands(add)
    add_design_commands(add)
    add_work_commands(add)
    add_prove_commands(add)
    add_keeping_commands(add)
    add_parts_commands(add("catalogue", _usage, "Parts: what there is, what answers a need, your own."))
    bench = add("reckon", _usage, "The bench: quick calculators without a harness.")
    add_calculators(bench, wanted=given[:1] == ["reckon"])
    return parser


def _usage(_arguments: argparse.Namespace) -> int:
    return BAD_INPUT


if __name__ == "__main__":
    sys.exit(main())
