"""Design files of earlier format numbers, in the newest form."""

from __future__ import annotations

from typing import Any

from inkthread.core.document.types import FORMAT, FORMAT_NUMBER


def newest_form(data: object) -> object:
    """The same harness under the newest format number; what is no design file stays as it is.

    1 to 2: what the gauges are chosen for is called ``wire.objective``; it was ``wire.choice``.
    """
    if not isinstance(data, dict) or data.get("format") != FORMAT or _number(data) != 1:
        return data
    newer: dict[str, Any] = {**data, "format_number": FORMAT_NUMBER}
    wire = data.get("wire")
    if isinstance(wire, dict) and "choice" in wire:
        newer["wire"] = {"objective" if k == "choice" else k: v for k, v in wire.items()}
    return newer


def _number(data: dict[str, Any]) -> int | None:
    number = data.get("format_number")
    return number if isinstance(number, int) and not isinstance(number, bool) else None
