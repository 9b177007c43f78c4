"""The program as it is started: a process of its own, asked over its port."""

from __future__ import annotations

import json
import os
import re
import subprocess
import sys
import urllib.request
from collections.abc import Callable
from pathlib import Path
from typing import Any

from flask import Flask
from flask.testing import FlaskClient
from werkzeug.exceptions import MethodNotAllowed, NotFound
from werkzeug.routing import RequestRedirect


def whole_shelf(ask: Callable[[], Any]) -> list[dict[str, Any]]:
    """What is on the shelf, asked for until all of it is worked out: that goes on beside the answers."""
    while True:
        found = ask()["designs"]
        if all(d["tally"] or d["trouble"] for d in found):
            return found


class Program:
    """``inkthread`` as a process of its own."""

    def __init__(self, *arguments: str, **env: str) -> None:
        self.process = subprocess.Popen(
            [sys.executable, "-m", "inkthread.cli", *arguments],
            stdout=subprocess.PIPE,
            stderr=subprocess.PIPE,
            text=True,
            # Its Python keeps what it has compiled, as a builder's does.
            env={**{k: v for k, v in os.environ.items() if k != "PYTHONDONTWRITEBYTECODE"}, **env},
        )
        line = self.process.stdout.readline()
        match = re.search(r"http://127\.0\.0\.1:(\d+)", line)
        assert match, line + self.process.stderr.read()
        self.base = match[0]

    def ask(self, path: str, method: str = "GET", body: object = None, **headers: str):
        data = json.dumps(body).encode() if body is not None else None
        request = urllib.request.Request(self.base + path, data, headers, method=method)
        if method != "GET":
            request.add_header("Content-Type", "application/json")
        with urllib.request.urlopen(request, timeout=60) as reply:
            return json.loads(reply.read() or b"null")

    def shelf(self) -> list[dict[str, Any]]:
        """What is on the shelf, asked for until all of it is worked out."""
        return whole_shelf(lambda: self.ask("/api/designs"))

    def stop(self) -> None:
        self.process.terminate()
        self.process.communicate(timeout=60)


CONTRACT = json.loads(
    (Path(__file__).parent.parent / "src/inkthread/web/openapi.json").read_text(encoding="utf-8")
)["paths"]


class JsonClient(FlaskClient):
    """A client that says of every write that it is JSON, as the screens do.

    It holds every answer to the published contract: its status and content type are described there.
    """

    def open(self, *args: Any, **kwargs: Any) -> Any:
        if kwargs.get("method") in ("POST", "PUT", "PATCH", "DELETE"):
            kwargs.setdefault("content_type", "application/json")
        reply = super().open(*args, **kwargs)
        described(self.application, reply)
        return reply


def described(app: Flask, reply: Any) -> None:
    """An answer is of a status and a content type that the contract has for its operation."""
    sent = reply.request
    try:
        rule, _ = app.url_map.bind("127.0.0.1").match(sent.path, sent.method, return_rule=True)
    except (NotFound, MethodNotAllowed, RequestRedirect):
        return
    path = re.sub(r"<(\w+)>", r"{\1}", str(rule))
    if path not in CONTRACT:
        assert not path.startswith("/api/") or path == "/api/openapi.json", path
        return
    answers = CONTRACT[path][sent.method.lower()]["responses"]
    assert str(reply.status_code) in answers, f"{sent.method} {path} answers {reply.status_code}"
    content = answers[str(reply.status_code)].get("content", {})
    assert reply.mimetype in content or not (content or reply.data), f"{path} answers {reply.mimetype}"


def client_of(app: Flask) -> FlaskClient:
    """A client of an application."""
    app.test_client_class = JsonClient
    return app.test_client()


def turn(client: FlaskClient, url: str, way: str = "undo") -> Any:
    """Undo or redo what stands now."""
    seen = client.get(url)
    version = seen.json["version"] if seen.status_code == 200 else 1
    return client.post(f"{url}/{way}", headers={"If-Match": f'"{version}"'})


def study(client: FlaskClient, url: str, **query: str) -> Any:
    """A study, asked for until it is there."""
    while True:
        reply = client.get(url, query_string=query)
        if reply.status_code != 202:
            return reply
        assert 0 <= reply.json["share"] <= 1
