"""What the commands share: how they read, what they print, which data file they mean."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path
from typing import Any, NoReturn

FINE, STOPS, BAD_INPUT = 0, 1, 2
"""Exit status: fine, findings of severity stop, bad usage or bad input."""


class Parser(argparse.ArgumentParser):
    """Says what is wrong with the usage on standard error, and ends with ``BAD_INPUT``."""

    def error(self, message: str) -> NoReturn:
        self.print_usage(sys.stderr)
        print(f"{self.prog}: {message}", file=sys.stderr)
        raise SystemExit(BAD_INPUT)


def port_number(text: str) -> int:
    """A port, or 0 for any that is free. Raises ArgumentTypeError, saying what would do."""
    if not text.strip().isdecimal() or int(text) > 65_535:
        raise argparse.ArgumentTypeError(f"{text!r} is no port. Give a number from 0 to 65535.")
    return int(text)


def data_of(arguments: argparse.Namespace) -> Path:
    """The data file that is meant."""
    from inkthread.storage.place import default_data

    given: Path | None = getattr(arguments, "data", None)
    return given if given is not None else default_data()


def print_json(value: object) -> None:
    """Print plain data."""
    print(json.dumps(value, ensure_ascii=False, indent=1))


def plain(value: Any) -> Any:
    """A core dataclass as plain data."""
    from pydantic import TypeAdapter

    return TypeAdapter(type(value)).dump_python(value, mode="json")


def opened(path: Path) -> Any:
    """The design document in a file, its parts known here or its shop's own. Raises DocumentError."""
    from inkthread.catalogue import shipped_catalogue
    from inkthread.core.document import parse_document_text
    from inkthread.core.document.against_catalogue import require_known_parts

    document = parse_document_text(path.read_bytes())
    require_known_parts(document, shipped_catalogue(), from_elsewhere=True)
    return document


def add_data(command: argparse.ArgumentParser) -> None:
    """Let a command be told which data file is meant."""
    command.add_argument("--data", type=_data_file, default=None, help="data file, or the folder it is in")


def _data_file(text: str) -> Path:
    from inkthread.storage.place import data_file

    return data_file(Path(text))
