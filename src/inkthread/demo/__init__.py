"""Demo harnesses: invented scenarios, put on an empty shelf."""

from __future__ import annotations

import json
from dataclasses import asdict
from importlib import resources
from typing import Any

from inkthread.catalogue import shipped_catalogue
from inkthread.core.cut.spools import spool_lines
from inkthread.core.parts import stock_lines
from inkthread.storage import Cuts, Shelf, Shop

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


def _stock() -> dict[str, dict[str, Any]]:
    text = resources.files(__name__).joinpath("stock.txt").read_text(encoding="utf-8")
    return {entry.id: asdict(entry) for entry in stock_lines(shipped_catalogue(), text)}


def seed(shelf: Shelf, cuts: Cuts, shop: Shop, *, reset: bool) -> None:
    """Put each demo on the shelf where it never was, or as new where ``reset`` asks for it.

    A demo that the user changed or removed is left alone without ``reset``; a reset can be undone. Wire and
    parts of the demo's lie in the shop only where the demos come for the first time and none are noted.
    """
    if not any(shelf.knows(name) for name in DEMOS):
        if not cuts.spools():
            cuts.keep_spools(_spools())
        if not shop.stock():
            shop.keep_stock(_stock())
    for name in DEMOS:
        if not shelf.knows(name):
            shelf.create(demo_document(name), name)
        elif reset:
            shelf.overwrite(name, demo_document(name), "restore the demo")
