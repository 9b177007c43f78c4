"""Commands that serve the screen on this machine."""

from __future__ import annotations

import argparse
import os
import sys
import threading
from contextlib import suppress
from datetime import date
from pathlib import Path
from typing import TYPE_CHECKING, Any

from inkthread.collector import share_one_heap
from inkthread.command.designs import Add
from inkthread.command.shared import BAD_INPUT, FINE, add_data, data_of, port_number

if TYPE_CHECKING:
    from inkthread.storage.place import Holding

_THREADS = 24
"""Requests answered at once: most of them wait for a study, not for the processor."""
_TURN_S = 0.001
"""A small request waits no longer than this, time after time, for one that keeps the processor busy."""
_SOON_S, _LOOKED_AGAIN_S = 5.0, 600.0
"""Seconds after the start until the day's copy is made, and until it is looked whether a new day began."""


def add_server_commands(add: Add) -> None:
    """``demo`` and ``serve``."""
    for name, run, text in (
        ("demo", _demo, "Put the demo harnesses on the shelf (once) and serve."),
        ("serve", _serve, "Serve the screen on this machine."),
    ):
        command = add(name, run, text)
        command.add_argument("--port", type=port_number, default=os.environ.get("PORT", "8137"))
        add_data(command)
        if name == "demo":
            command.add_argument("--reset", action="store_true", help="restore the demo harnesses first")
            command.add_argument("--seed-only", action="store_true", help="do not serve")


def _demo(arguments: argparse.Namespace) -> int:
    share_one_heap()
    from inkthread.demo import seed
    from inkthread.storage import Cuts, Shelf, Shop
    from inkthread.storage.database import open_database
    from inkthread.storage.place import held

    data = data_of(arguments)
    with held(data) as holding:
        engine = open_database(data)
        seed(Shelf(engine), Cuts(engine), Shop(engine), reset=arguments.reset)
        engine.dispose()
        if arguments.seed_only:
            return FINE
        return _run(data, arguments.port, holding, simulated=True)


def _printer(data: Path) -> int:
    """Start the simulated label printer beside a data file; the port that it is spoken to at."""
    from inkthread.standins.printer import LabelPrinter, serve_printer

    port = printer_port()
    try:
        _, port = serve_printer(LabelPrinter(data.parent / "labels"), port)
    except OSError:
        print(
            f"inkthread: port {port} is taken: no label printer is simulated. Set PRINTER_PORT.", flush=True
        )
    return port


def _supplier() -> int:
    """Start the simulated supplier; the port that it is spoken to at."""
    from inkthread.standins.supplier import PartsSupplier, priced_parts, serve_supplier

    port = supplier_port()
    try:
        _, port = serve_supplier(PartsSupplier(priced_parts(), late_s=0.4, sometimes_out=True), port)
    except OSError:
        print(f"inkthread: port {port} is taken: no supplier is simulated. Set SUPPLIER_PORT.", flush=True)
    return port


def _tester() -> int:
    """Start the simulated continuity tester; the port that it is spoken to at."""
    from inkthread.standins.tester import CableTester, serve_tester

    port = tester_port()
    try:
        _, port = serve_tester(CableTester(), port)
    except OSError:
        print(f"inkthread: port {port} is taken: no tester is simulated. Set TESTER_PORT.", flush=True)
    return port


def tester_port() -> int:
    """The continuity tester's port: ``TESTER_PORT``, or the usual one."""
    from inkthread.exchange.tester import DEFAULT_PORT

    return _port_of("TESTER_PORT", DEFAULT_PORT)


def printer_port() -> int:
    """The label printer's port: ``PRINTER_PORT``, or the usual one."""
    from inkthread.web.printing import DEFAULT_PORT

    return _port_of("PRINTER_PORT", DEFAULT_PORT)


def supplier_port() -> int:
    """The supplier's port: ``SUPPLIER_PORT``, or the usual one."""
    from inkthread.web.supplying import DEFAULT_PORT

    return _port_of("SUPPLIER_PORT", DEFAULT_PORT)


def _port_of(name: str, usual: int) -> int:
    text = os.environ.get(name, "")
    if not text:
        return usual
    try:
        return port_number(text)
    except argparse.ArgumentTypeError as error:
        print(f"inkthread: {name}: {error} {usual} is taken.", file=sys.stderr, flush=True)
        return usual


def _serve(arguments: argparse.Namespace) -> int:
    share_one_heap()
    from inkthread.storage.place import held

    data = data_of(arguments)
    with held(data) as holding:
        return _run(data, arguments.port, holding)


def _run(data: Path, port: int, holding: Holding, *, simulated: bool = False) -> int:
    """Serve a data file that is held, until interrupted."""
    from waitress import create_server

    from inkthread.storage.place import old_place
    from inkthread.web import create_app

    app = create_app(
        data,
        printer_port=_printer(data) if simulated else printer_port(),
        supplier_port=_supplier() if simulated else supplier_port(),
        tester_port=_tester() if simulated else tester_port(),
    )
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
