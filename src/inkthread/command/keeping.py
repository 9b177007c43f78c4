"""Commands that keep the data file: a copy of all harnesses, and back."""

from __future__ import annotations

import argparse
import sys
from datetime import UTC, datetime
from pathlib import Path

from inkthread.command.designs import Add
from inkthread.command.shared import BAD_INPUT, FINE, add_data, data_of


def add_keeping_commands(add: Add) -> None:
    """``backup`` and ``restore``."""
    command = add("backup", _backup, "Copy all harnesses into one file, while the program runs or not.")
    command.add_argument("file", type=Path, help="the copy, or a folder to put it in")
    add_data(command)
    command = add(
        "restore", _restore, "Look into a copy; with --yes put it in the place of all harnesses here."
    )
    command.add_argument("file", type=Path)
    command.add_argument("--yes", action="store_true", help="put it in place; what is there now is kept")
    add_data(command)


def _backup(arguments: argparse.Namespace) -> int:
    from inkthread.storage.copies import checked_copy

    target: Path = arguments.file
    if target.is_dir():
        target = target / f"inkthread-{datetime.now():%Y-%m-%d}.db"
    if target.exists():
        print(f"inkthread: {target}: is there already. Give another name.", file=sys.stderr)
        return BAD_INPUT
    checked_copy(data_of(arguments), target)
    print(f"Copied and checked: {target}")
    return FINE


def _restore(arguments: argparse.Namespace) -> int:
    from inkthread.storage.copies import look, opened_copy, restore
    from inkthread.storage.models import utc_now
    from inkthread.storage.place import held

    data, copy = data_of(arguments), arguments.file
    with opened_copy(copy) as theirs:
        if data.is_file():
            try:
                with opened_copy(data) as ours:
                    missing, there = look(ours, None), look(theirs, ours)
            except OSError as error:
                print(f"{data}: {error.strerror}")
                missing, there = [], look(theirs, None)
        else:
            missing, there = [], look(theirs, None)
    words = {"same": "the same here", "changed": "another version here", "removed": "removed here"}
    print(f"{copy} has {len(there)} harness{'' if len(there) == 1 else 'es'}:")
    for item in there:
        changed = item.changed_at.replace(tzinfo=UTC).astimezone()
        here_too = words.get(item.here, "not here")
        print(f"  {item.name or 'unnamed'}, changed {changed:%Y-%m-%d %H:%M}; {here_too}")
    kept = {item.id for item in there}
    for item in missing:
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
