"""The one place where the application is assembled."""

from __future__ import annotations

import gzip
from ipaddress import ip_address
from pathlib import Path

from flask import Response, request, send_from_directory
from flask_openapi3 import Info, OpenAPI

import inkthread
from inkthread.catalogue import shipped_catalogue
from inkthread.collector import collect_seldom
from inkthread.core.document import DocumentError, Problem
from inkthread.core.document.load import MAX_DOCUMENT_BYTES, read_json
from inkthread.exchange.photos import PHOTO_BYTES_AT_MOST
from inkthread.exchange.tester import DEFAULT_PORT
from inkthread.storage import Buying, Cuts, Pieces, Records, Shelf, Shop, ToolLog, WorkLog
from inkthread.storage.copies import Copies
from inkthread.storage.database import open_database
from inkthread.storage.prints import Prints
from inkthread.web import printing, problems, supplying
from inkthread.web.schemas import ProblemDetails
from inkthread.web.views import ReadRule, make_api
from inkthread.web.workshop import Workshop

STATIC = Path(__file__).parent / "static"

_AROUND = 4096
_PICTURES = ("image/jpeg", "image/png")
"""What a request may be longer than the file it brings."""
_WRITES = ("POST", "PUT", "PATCH", "DELETE")
_HEADERS = {
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "no-referrer",
    "Cross-Origin-Resource-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Permissions-Policy": "camera=(), geolocation=(), microphone=(), payment=(), usb=()",
}
_POLICY = (
    "default-src 'self'; img-src 'self' data:; style-src 'self'; "
    "object-src 'none'; base-uri 'none'; frame-ancestors 'none'"
)


def create_app(
    database: Path,
    *,
    describe: bool = False,
    printer_port: int = printing.DEFAULT_PORT,
    supplier_port: int = supplying.DEFAULT_PORT,
    tester_port: int = DEFAULT_PORT,
) -> OpenAPI:
    """The application over a database file (made if absent).

    The label printer is spoken to at ``printer_port`` of this machine, the supplier at ``supplier_port``,
    the continuity tester at ``tester_port``.
    ``describe`` works the OpenAPI document out anew; otherwise the shipped one is served.
    """
    app = OpenAPI(
        "inkthread",
        info=Info(title="Ink Thread", version=inkthread.__version__),
        security_schemes={},
        validation_error_model=ProblemDetails,
        validation_error_callback=problems.validation_problem,
        doc_prefix="/api",
        doc_ui=describe,
        static_folder=None,
    )
    app.url_rule_class = ReadRule
    app.config["MAX_CONTENT_LENGTH"] = MAX_DOCUMENT_BYTES + _AROUND
    engine = open_database(database)
    app.extensions["workshop"] = Workshop(
        Shelf(engine),
        Shop(engine),
        Cuts(engine),
        WorkLog(engine),
        Pieces(engine),
        Records(engine),
        ToolLog(engine),
        printing.Printing(Prints(engine), printing.PrinterLine(printer_port)),
        supplying.Supplying(Buying(engine), supplying.SupplierLine(supplier_port)),
        shipped_catalogue(),
        Copies(database),
        tester_port,
    )
    problems.register(app)
    app.register_api(make_api(describe=describe))
    app.before_request(_only_this_machine)
    app.before_request(_only_own_pages)
    app.before_request(_readable_json)
    app.after_request(_finish)
    if not describe:
        app.add_url_rule("/api/openapi.json", "contract", _contract)
    # What start-up made stays: the collector need not look at it again after every edit.
    collect_seldom()
    app.add_url_rule("/", "screen", _screen, defaults={"path": ""})
    app.add_url_rule("/<path:path>", "screen", _screen)
    return app


def _only_this_machine() -> Response | None:
    """Refuse names that are not this machine's: a page elsewhere must not reach in (DNS rebinding)."""
    host = request.host.rpartition(":")[0] or request.host
    if host not in ("127.0.0.1", "localhost", "[::1]"):
        return problems.problem(421, "Wrong host", "Open this program as http://127.0.0.1.")
    return None


def _only_own_pages() -> Response | None:
    """Refuse a write that another page's script or form sends: the browser says whose page it is."""
    if request.method not in _WRITES:
        return None
    origin, site = request.headers.get("Origin"), request.headers.get("Sec-Fetch-Site")
    foreign = origin is not None and origin != f"{request.scheme}://{request.host}"
    if foreign or site not in (None, "same-origin", "none"):
        return problems.problem(
            403, "Another page", "Harnesses are changed from this program's own pages only."
        )
    if request.mimetype in _PICTURES and request.path.endswith("/work/photos"):
        # No form can send these: a browser asks first whether another page may.
        request.max_content_length = PHOTO_BYTES_AT_MOST + _AROUND
        return None
    if not request.mimetype.endswith("json"):
        detail = "Send Content-Type: application/json, with or without a body."
        return problems.problem(415, "Not JSON", detail)
    return None


def _contract() -> Response:
    """The OpenAPI document, as shipped; a test holds it to the views."""
    return Response((Path(__file__).parent / "openapi.json").read_bytes(), mimetype="application/json")


def _readable_json() -> Response | None:
    """What no reader of documents takes is refused before anything reads the body."""
    if not request.mimetype.endswith("json"):
        return None
    data = request.get_data()
    if not data:
        return None
    try:
        if b"\\u0000" in data:
            item = Problem("", "There is a character in it that is none (NUL).", "Take it out.")
            raise DocumentError([item])
        read_json(data)
    except DocumentError as error:
        item = error.problems[0]
        return problems.problem(400, "Malformed JSON", f"{item.message} {item.remedy}", error.problems)
    return None


def _screen(path: str) -> Response:
    """The front end: its files, and its page for every place in it."""
    if path.startswith("api/"):
        return problems.problem(404, "Not found", f"There is no {path} here.")
    if path and _is_file(path):
        response = send_from_directory(STATIC, path)
        if path.startswith("assets/"):
            response.headers["Cache-Control"] = "public, max-age=31536000, immutable"
        return response
    if not (STATIC / "index.html").is_file():
        return problems.problem(503, "Screen not built", "Run make setup to build the screen.")
    response = send_from_directory(STATIC, "index.html")
    response.headers["Cache-Control"] = "no-cache"
    return response


def _is_file(path: str) -> bool:
    """Whether the screen has such a file; a name that no file can have is none of its."""
    try:
        return (STATIC / path).is_file()
    except (OSError, ValueError):
        return False


def _near() -> bool:
    """True for a client on this machine: packing a reply takes longer there than passing it on whole."""
    try:
        return ip_address(request.remote_addr or "").is_loopback
    except ValueError:
        return False


def _finish(response: Response) -> Response:
    response.headers.update(_HEADERS)
    response.headers["Content-Security-Policy"] = _POLICY
    if (
        response.direct_passthrough is False
        and response.status_code == 200
        and "gzip" in request.headers.get("Accept-Encoding", "")
        and not _near()
        and (response.content_type or "").startswith(("application/json", "text/csv"))
    ):
        data = response.get_data()
        if len(data) > 1000:
            response.set_data(gzip.compress(data, 5))
            response.headers["Content-Encoding"] = "gzip"
            response.headers["Vary"] = "Accept-Encoding"
    return response
