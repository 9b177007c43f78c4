"""A served copy of the program and a Chromium to look at it with: shared by tests and tools."""

from __future__ import annotations

import shutil
import threading
from collections.abc import Iterator, Sequence
from contextlib import contextmanager, suppress
from pathlib import Path

from waitress import create_server

from inkthread.demo import seed
from inkthread.standins.supplier import PartsSupplier, priced_parts, serve_supplier
from inkthread.standins.tester import CableTester, serve_tester
from inkthread.storage import Cuts, Shelf, Shop
from inkthread.storage.database import open_database
from inkthread.web import create_app

CHROMIUM_FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]


def chromium() -> str:
    """Path of the installed Chromium. Raises RuntimeError that says what to install."""
    for name in ("chromium", "chromium-browser", "google-chrome"):
        found = shutil.which(name)
        if found:
            return found
    raise RuntimeError("Chromium is missing: apt-get install chromium")


@contextmanager
def served(database: Path, *, demo: bool = True, faults: Sequence[str] = ()) -> Iterator[str]:
    """Serve on a free port of 127.0.0.1, a simulated supplier beside it, and a tester with a harness of these
    faults plugged in; yields the base URL.
    """
    if demo:
        engine = open_database(database)
        seed(Shelf(engine), Cuts(engine), Shop(engine), reset=False)
        engine.dispose()
    supplier, port = serve_supplier(PartsSupplier(priced_parts()), 0)
    tester, tester_port = serve_tester(CableTester(tuple(faults)), 0)
    app = create_app(database, supplier_port=port, tester_port=tester_port)
    server = create_server(app, host="127.0.0.1", port=0, threads=4)

    def run() -> None:
        with suppress(OSError):  # it still waits on its sockets when they are closed
            server.run()

    thread = threading.Thread(target=run, daemon=True)
    thread.start()
    try:
        yield f"http://127.0.0.1:{server.effective_port}"
    finally:
        for device in (supplier, tester):
            device.shutdown()
            device.server_close()
        server.close()
        thread.join(timeout=0.3)
