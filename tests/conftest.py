"""Shared by all tests: the shipped catalogue, the demo documents, and short ways to make a harness."""

from __future__ import annotations

import copy
import json
import os
from pathlib import Path
from typing import Any

import pytest
from hypothesis import settings

from inkthread.catalogue import shipped_catalogue
from inkthread.core.acts import act_operations
from inkthread.core.catalogue import Catalogue
from inkthread.core.document import parse_document
from inkthread.core.document.against_catalogue import require_known_parts
from inkthread.core.document.starter import new_document
from inkthread.core.evaluate import work_out
from inkthread.core.evaluation import Evaluation
from inkthread.core.shop import EMPTY_SHOP
from inkthread.core.workings import Workings
from inkthread.demo import demo_document
from inkthread.storage import Shelf
from inkthread.storage.patches import apply_with_inverse

# How long a case takes is the bench's business: a test that is late on a busy machine says nothing.
settings.register_profile("untimed", deadline=None)
settings.load_profile("untimed")


@pytest.fixture(scope="session", autouse=True)
def _no_harness_of_the_user(tmp_path_factory):
    """Commands without ``--data`` find a place of the tests' own."""
    os.environ.pop("INKTHREAD_DATA", None)
    os.environ["XDG_DATA_HOME"] = str(tmp_path_factory.mktemp("share"))


class HarnessBuilder:
    """A harness being written by typed lines, and its evaluation."""

    def __init__(self, practice: str = "motorsport", plain: dict[str, Any] | None = None) -> None:
        self.catalogue = shipped_catalogue()
        self.shop = EMPTY_SHOP
        self.gone = False
        """Whether parts may be named that are not held."""
        self.plain = plain if plain is not None else new_document("test", practice)  # type: ignore[arg-type]

    def feed(self, *lines: str) -> HarnessBuilder:
        for line in lines:
            self._act("feed", line)
        return self

    def run(self, *lines: str) -> HarnessBuilder:
        for line in lines:
            self._act("run", line)
        return self

    def _act(self, act: str, line: str) -> None:
        self._act_about(act, line, "")

    def _act_about(self, act: str, line: str, about: str) -> None:
        operations = act_operations(self.plain, self.catalogue, act, line, about)
        self.plain, _ = apply_with_inverse(self.plain, operations)

    def set(self, path: str, value: object) -> HarnessBuilder:
        node = self.plain
        parts = path.split("/")
        for part in parts[:-1]:
            node = node.setdefault(part, {})
        node[parts[-1]] = value
        return self

    def shaded(self) -> HarnessBuilder:
        """No warmer than 40 °C where no zone is named."""
        rule = {"order": 9, "value": 40.0, "reason": "in the shade"}
        return self.set("brief/house_rules/default_ambient_c", rule)

    def workings(self) -> Workings:
        document = parse_document(self.plain)
        if not self.gone:
            require_known_parts(document, self.catalogue)
        return work_out(document, self.catalogue, self.shop)

    def evaluate(self) -> Evaluation:
        return self.workings().evaluation

    def codes(self) -> list[str]:
        return [f.code for f in self.evaluate().findings]


@pytest.fixture(scope="session")
def catalogue() -> Catalogue:
    return shipped_catalogue()


def shelve_small(shelf: Shelf) -> None:
    """Put the small chassis harness and the sketch on a shelf: enough for every screen and view."""
    for name, plain in (
        ("larkspur", harness("chassis").plain),
        ("dawdler-sketch", demo_document("dawdler-sketch")),
    ):
        if shelf.knows(name):
            shelf.overwrite(name, plain, "restore")
        else:
            shelf.create(plain, name)


def harness(name: str) -> HarnessBuilder:
    """A harness kept for tests, as a builder's file."""
    path = Path(__file__).parent / "harnesses" / f"{name}.json"
    return HarnessBuilder(plain=json.loads(path.read_text(encoding="utf-8")))


@pytest.fixture
def chassis() -> HarnessBuilder:
    """Battery, fuse block, controller, dash node, pump and a sensor: 18 wires, nothing wrong."""
    return harness("chassis")


@pytest.fixture
def larkspur() -> HarnessBuilder:
    return HarnessBuilder(plain=copy.deepcopy(demo_document("larkspur")))


@pytest.fixture
def pump() -> HarnessBuilder:
    """Battery, fuse and a 5 A pump on 1.5 m of harness."""
    return (
        HarnessBuilder("vehicle")
        .feed("B1 battery > F1 fuse > M1 pump 5 A > B1")
        .run("B1 100 > F1 900 > mid 400 > M1")
    )
