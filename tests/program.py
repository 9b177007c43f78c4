"""The program as it is started: a process of its own, asked over its port."""

from __future__ import annotations

import json
import os
import re
import subprocess
import sys
import urllib.request
from typing import Any

from flask import Flask
from flask.testing import FlaskClient


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
        with urllib.request.urlopen(request, timeout=10) as reply:
            return json.loads(reply.read() or b"null")

    def stop(self) -> None:
        self.process.terminate()
        self.process.communicate(timeout=10)


class JsonClient(FlaskClient):
    """A client that says of every write that it is JSON, as the screens do."""

    def open(self, *args: Any, **kwargs: Any) -> Any:
        if kwargs.get("method") in ("POST", "PUT", "PATCH", "DELETE"):
            kwargs.setdefault("content_type", "application/json")
        return super().open(*args, **kwargs)


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
