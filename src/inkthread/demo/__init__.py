"""Demo harnesses: invented scenarios, put on an empty shelf."""

from __future__ import annotations

import json
from importlib import resources
from typing import Any

from inkthread.storage import Shelf

DEMOS = ("dawdler", "dawdler-sketch", "glider", "larkspur", "mushroom")


def demo_document(name: str) -> dict[str, Any]:
    """A demo design document as plain data."""
    text = resources.files(__name__).joinpath(f"{name}.json").read_text(encoding="utf-8")
    document: dict[str, Any] = json.loads(text)
    return document


def seed(shelf: Shelf, *, reset: bool) -> None:
    """Put each demo on the shelf where it never was, or as new where ``reset`` asks for it.

    A demo that the user changed or removed is left alone without ``reset``; a reset can be undone.
    """
    for name in DEMOS:
        if not shelf.knows(name):
            shelf.create(demo_document(name), name)
        elif reset:
            shelf.overwrite(name, demo_document(name), "restore the demo")
