"""Where the data file is, and whose it is while a server runs on it."""

from __future__ import annotations

import errno
import os
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

FILE_NAME = "inkthread.db"
OLD_PLACE = Path("var") / FILE_NAME
"""Beside the current folder, where earlier versions of the program kept it."""


def default_data() -> Path:
    """The data file of who runs this: as ``INKTHREAD_DATA`` says, else where the platform keeps such."""
    given = os.environ.get("INKTHREAD_DATA")
    if given:
        return data_file(Path(given))
    from platformdirs import user_data_path

    return user_data_path("inkthread", appauthor=False) / FILE_NAME


def data_file(given: Path) -> Path:
    """The data file that is meant: a file, or the folder it stands in."""
    given = given.expanduser()
    return given / FILE_NAME if given.is_dir() else given


def old_place(data: Path) -> Path | None:
    """The data file of an earlier version beside the current folder, where it is not the one in use."""
    old = OLD_PLACE.absolute()
    return old if old.is_file() and old.resolve() != data.resolve() else None


class Holding:
    """A data file held by this process for as long as it lives, by a lock that ends with it."""

    def __init__(self, data: Path) -> None:
        self._address = data.with_name(f"{data.name}.served")

    def at(self, address: str) -> None:
        """Leave word where this process answers, for one who finds the file held."""
        self._address.write_text(address, encoding="utf-8")

    def no_more(self) -> None:
        self._address.unlink(missing_ok=True)


@contextmanager
def held(data: Path) -> Iterator[Holding]:
    """Hold the data file against every other server and command that would write to it.

    Raises OSError naming the address of the server that has it, or where its folder cannot be written.
    """
    from filelock import FileLock, Timeout

    data.parent.mkdir(parents=True, exist_ok=True)
    lock = FileLock(f"{data}.lock", timeout=0)
    holding = Holding(data)
    try:
        lock.acquire()
    except Timeout:
        try:
            address = f" on {holding._address.read_text(encoding='utf-8').strip()}"
        except OSError:
            address = ""
        said = f"is served by another Ink Thread{address}; use that one, or stop it first"
        raise OSError(errno.EBUSY, said, str(data)) from None
    try:
        holding.no_more()  # what a process that was killed left behind
        yield holding
    finally:
        holding.no_more()
        lock.release()
