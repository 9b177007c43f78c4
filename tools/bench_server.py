"""What the running program promises of memory: at rest, and after an afternoon's edits of a large harness."""

from __future__ import annotations

import json
import re
import urllib.request
from collections.abc import Callable
from contextlib import AbstractContextManager
from pathlib import Path
from typing import Any

from tools.harnesses import synthetic

_IDLE_MB, _AFTER_MB, _EDITS = 80, 200, 50
Program = Callable[[Path], AbstractContextManager[tuple[str, int]]]


def _resident_mb(process: int) -> int:
    status = Path(f"/proc/{process}/status").read_text(encoding="ascii")
    found = re.search(r"VmRSS:\s+(\d+)", status)
    return int(found[1]) // 1000 if found else 0


def _call(method: str, url: str, body: Any = None, headers: dict[str, str] | None = None) -> Any:
    data = None if body is None else json.dumps(body).encode()
    typed = {"Content-Type": "application/json", **(headers or {})}
    request = urllib.request.Request(url, method=method, data=data, headers=typed)
    with urllib.request.urlopen(request, timeout=300) as reply:
        return json.load(reply)


def server_memory(program: Program, data: Path, wires: int = 3000) -> bool:
    """Resident memory of the server, started a second time, and after edits of a harness of 3,000 wires."""
    with program(data):
        pass
    with program(data) as (base, process):
        idle = _resident_mb(process)
        held = _call("POST", f"{base}/api/designs", {"document": synthetic(wires)})
        loads, etag = held["document"]["circuits"]["loads"], held["etag"]
        url = f"{base}/api/designs/{held['id']}"
        for n in range(_EDITS):
            load = list(loads)[n % len(loads)]
            more = [
                {
                    "op": "replace",
                    "path": f"/circuits/loads/{load}/current_a",
                    "value": loads[load]["current_a"] + 0.2,
                }
            ]
            etag = _call("PATCH", url, more, {"If-Match": f'"{etag}"', "X-Holds": f'"{etag}"'})["etag"]
        after = _resident_mb(process)
    print(f"server at rest: {idle} MB (at most {_IDLE_MB})")
    print(f"  after {_EDITS} edits at {wires} wires: {after} MB (at most {_AFTER_MB})")
    return idle <= _IDLE_MB and after <= _AFTER_MB
