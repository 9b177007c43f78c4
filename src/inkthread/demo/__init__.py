"""Demo harnesses: invented scenarios, put on an empty shelf."""

from __future__ import annotations

import json
from dataclasses import asdict
from importlib import resources
from typing import Any

from inkthread.catalogue import shipped_catalogue
from inkthread.core.cut.spools import spool_lines
from inkthread.storage import Cuts, Shelf

DEMOS = ("dawdler", "dawdler-sketch", "glider", "larkspur", "mushroom")


def demo_document(name: str) -> dict[str, Any]:
    """A demo design document as plain data."""
    text = resources.files(__name__).joinpath(f"{name}.json").read_text(encoding="utf-8")
    document: dict[str, Any] = json.loads(text)
    return document


def _spools() -> list[dict[str, Any]]:
    text = resources.files(__name__).joinpath("spools.txt").read_text(encoding="utf-8")
    spools = spool_lines(shipped_catalogue(), text)
    return [{name: value for name, value in asdict(s).items() if name != "id"} for s in spools]


def seed(shelf: Shelf, cuts: Cuts, *, reset: bool) -> None:
    """Put each demo on the shelf where it never was, or as new where ``reset`` asks for it.

    A demo that the user changed or removed is left alone without ``reset``; a reset can be undone. Wire of
    the demo's lies in the shop only where the demos come for the first time and no wire is noted.
    """
    if not any(shelf.knows(name) for name in DEMOS) and not cuts.spools():
        cuts.keep_spools(_spools())
    for name in DEMOS:
        if not shelf.knows(name):
            shelf.create(demo_document(name), name)
        elif reset:
            shelf.overwrite(name, demo_document(name), "restore the demo")
