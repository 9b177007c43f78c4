"""Try the running program with calls of every sort for a while: make fuzz SECONDS=120."""

from __future__ import annotations

import json
import os
import re
import subprocess
import sys
import tempfile
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

ROOT = Path(__file__).parent.parent
SLOWEST_S = 1.0
_CHECKS = (
    "not_a_server_error",
    "status_code_conformance",
    "content_type_conformance",
    "response_schema_conformance",
)
_CONFIG = """[parameters]
"path.design_id" = "{design}"
"path.calculator" = "drop"
"""


@contextmanager
def program(folder: Path, *arguments: str) -> Iterator[str]:
    """The program as a process of its own on the demo harnesses; its address."""
    process = subprocess.Popen(
        [sys.executable, "-m", "inkthread.cli", "demo", "--port", "0", "--data", str(folder / "data.db")],
        stdout=subprocess.PIPE,
        text=True,
        env={k: v for k, v in os.environ.items() if k != "PYTHONDONTWRITEBYTECODE"},
    )
    try:
        assert process.stdout is not None
        match = re.search(r"http://127\.0\.0\.1:\d+", process.stdout.readline())
        assert match is not None
        yield match[0]
    finally:
        process.terminate()
        process.communicate(timeout=10)


def contract_calls(
    address: str, folder: Path, seconds: int | None, *more: str, slowest_s: float = SLOWEST_S
) -> tuple[int, str]:
    """Call every operation of the contract with what it allows and what it does not, for so long or once.

    The number of calls that were made, and what was found amiss; empty where nothing was.
    """
    (folder / "schemathesis.toml").write_text(_CONFIG.format(design="larkspur"), encoding="utf-8")
    done = subprocess.run(
        [
            str(Path(sys.executable).with_name("schemathesis")),
            "run",
            f"{address}/api/openapi.json",
            "--checks",
            ",".join(_CHECKS),
            "--max-response-time",
            str(slowest_s),
            *(("--max-time", str(seconds)) if seconds is not None else ()),
            "--header",
            "Content-Type: application/json",
            "--generation-database",
            "none",
            "--no-color",
            *more,
        ],
        cwd=folder,
        capture_output=True,
        text=True,
        check=False,
    )
    match = re.search(r"([\d,]+) generated", done.stdout)
    calls = int(match[1].replace(",", "")) if match else 0
    return calls, "" if done.returncode == 0 and calls else done.stdout + done.stderr


def random_edits(seconds: int) -> str:
    """Our own random patches, lines and bodies, ever new, for about as long; what was found amiss."""
    done = subprocess.run(
        [sys.executable, "-m", "pytest", "tests/web/test_fuzz.py", "-q", "-x"],
        cwd=ROOT,
        capture_output=True,
        text=True,
        check=False,
        env={**os.environ, "FUZZ_SECONDS": str(seconds)},
    )
    return "" if done.returncode == 0 else done.stdout + done.stderr


def main(seconds: int) -> int:
    """Half the time on the contract, half on edits. Returns 1 where something was found."""
    with tempfile.TemporaryDirectory() as name, program(Path(name)) as address:
        calls, amiss = contract_calls(address, Path(name), seconds // 2)
        shelf = json.load(urllib.request.urlopen(f"{address}/api/designs", timeout=60))["designs"]
    print(f"{calls} calls by the contract, {len(shelf)} harnesses on the shelf afterwards")
    print(amiss or "nothing amiss")
    edits = random_edits(seconds // 2)
    print(edits or "random patches, lines and bodies: nothing amiss")
    return int(bool(amiss or edits))


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]) if len(sys.argv) > 1 else 120))
