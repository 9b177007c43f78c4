"""Devices as findings name them."""

from __future__ import annotations

from inkthread.core.document.types import Document


def named(document: Document, device_id: str) -> str:
    """``M1 lift pump``."""
    device = document.circuits.devices[device_id]
    return f"{device_id} {device.name}".strip()
