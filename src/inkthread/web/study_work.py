"""The process beside the server in which studies are worked out. Nothing of the web is in it."""

from __future__ import annotations

import os
import pickle
import signal
from collections import OrderedDict
from collections.abc import Callable
from contextlib import suppress
from multiprocessing.connection import Connection
from typing import Any

from pydantic_core import from_json

from inkthread.core.alternatives import alternatives
from inkthread.core.catalogue import Catalogue
from inkthread.core.compare import Tell, compare_families, compare_threading, future_cost
from inkthread.core.document import DocumentError, parse_document
from inkthread.core.evaluate import work_out
from inkthread.core.headroom import headroom
from inkthread.core.record import record
from inkthread.core.shop import Shop
from inkthread.core.trade import trade_study
from inkthread.core.workings import Workings

_IDLE_S = 120.0
_KEPT = 3
_GENTLE = 10
"""How much it gives way to the server."""


def _families(w: Workings, _of: str, tell: Tell) -> Any:
    return compare_families(w, [f.code for f in w.wire.families.values() if f.construction == "single"], tell)


STUDIES: dict[str, Callable[[Workings, str, Tell], Any]] = {
    "alternatives": lambda w, of, tell: alternatives(w, of, tell),
    "families": _families,
    "future": lambda w, _of, _tell: future_cost(w),
    "headroom": lambda w, _of, tell: headroom(w, tell),
    "trade": lambda w, of, tell: trade_study(w, of.split("|"), tell),
    "threading": lambda w, of, tell: compare_threading(w, of, tell),
}


@record
class Task:
    """A study of one version of a harness."""

    name: str
    of: str
    """What of the harness it is about, where it is not the whole."""
    key: tuple[str, int, str]
    """Design, version, and the stamp of catalogue and shop."""


@record
class Material:
    """What a study is worked out from, as it is sent where the process has it not yet."""

    document: bytes
    """JSON, as it stands on the shelf."""
    stock: bytes
    """Catalogue and shop, pickled."""


def _worked(material: Material) -> Workings:
    stock: tuple[Catalogue, Shop] = pickle.loads(material.stock)
    return work_out(parse_document(from_json(material.document)), *stock)


def work(connection: Connection) -> None:
    """Answer tasks until the server has gone or has had none for two minutes."""
    with suppress(AttributeError, OSError):
        os.nice(_GENTLE)
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    kept: OrderedDict[tuple[str, int, str], Workings] = OrderedDict()
    with suppress(EOFError, BrokenPipeError, ConnectionResetError):
        while connection.poll(_IDLE_S):
            task: Task = connection.recv()
            if task.key not in kept:
                connection.send(("need", None))
                material: Material = connection.recv()
                try:
                    kept[task.key] = _worked(material)
                except DocumentError as error:
                    connection.send(("unreadable", error.problems))
                    continue
                while len(kept) > _KEPT:
                    kept.popitem(last=False)
            try:
                value = STUDIES[task.name](
                    kept[task.key], task.of, lambda share: connection.send(("share", share))
                )
            except (EOFError, BrokenPipeError, ConnectionResetError):
                raise
            except Exception as error:  # told to the server, which says it; the process lives on
                connection.send(("failed", f"{type(error).__name__}: {error}"))
            else:
                connection.send(("done", value))
