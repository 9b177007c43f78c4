"""Each recipe for contributors is true: its files are there, and one of each is added by it."""

from __future__ import annotations

import dataclasses
import doctest
import importlib.util
import inspect
import json
import re
import shutil
from pathlib import Path
from typing import Any

import pytest
from pydantic import TypeAdapter

import inkthread.catalogue
from inkthread.catalogue import read_catalogue
from inkthread.core.acts import act_operations
from inkthread.core.catalogue import Catalogue
from inkthread.core.context import Context
from inkthread.core.document import parse_document
from inkthread.core.evaluate import evaluate, work_out
from inkthread.core.findings import FindingBook, Place
from inkthread.core.route.view import RouteView, route_view
from inkthread.exchange import tables
from inkthread.storage.patches import apply_with_inverse

ROOT = Path(__file__).parent.parent.parent.parent
TEXT = (ROOT / "CONTRIBUTING.md").read_text(encoding="utf-8")
RECIPES = dict(re.findall(r"^\*\*([^*]+)\.\*\* (.+?)(?=\n\n)", TEXT, re.MULTILINE | re.DOTALL))
ADDED = {"A check", "A rule", "A part family", "A device kind", "An equation", "A room's figure", "An export"}


def test_there_is_a_recipe_for_everything_that_is_often_added():
    assert set(RECIPES) == ADDED


@pytest.mark.parametrize("name", sorted(ADDED))
def test_a_recipe_is_five_lines_and_names_files_that_are_there(name):
    recipe = RECIPES[name]
    assert len(recipe.splitlines()) <= 5
    paths = re.findall(r"`((?:src|tests|frontend|docs)/[^`]+)`", recipe)
    assert len(paths) >= 2
    assert [p for p in paths if not (ROOT / p).exists()] == []


class Shelf:
    """A copy of the shipped data, to which things are added."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder / "catalogue"
        shipped = Path(inkthread.catalogue.__file__).parent
        shutil.copytree(shipped, self.folder, ignore=shutil.ignore_patterns("*.py*", "__pycache__"))

    def add(self, file: str, collection: str, name: str, entry: dict[str, Any]) -> None:
        path = self.folder / file
        data = json.loads(path.read_text(encoding="utf-8"))
        data[collection][name] = entry
        path.write_text(json.dumps(data), encoding="utf-8")

    def entry(self, file: str, collection: str, name: str) -> dict[str, Any]:
        found: dict[str, Any] = json.loads((self.folder / file).read_text(encoding="utf-8"))[collection][name]
        return found

    def read(self) -> Catalogue:
        return read_catalogue(self.folder)


@pytest.fixture
def shelf(tmp_path) -> Shelf:
    return Shelf(tmp_path)


def test_a_check_is_worded_in_data_and_found_by_its_code(shelf):
    words = {"severity": "fix", "title": "Too blue", "what": "{wire} is too blue.", "why": "It is.",
             "remedies": ["Paint {wire}."]}  # fmt: skip
    shelf.add("checks.json", "checks", "too-blue", words)
    book = FindingBook(shelf.read().checks)
    book.add("too-blue", Place("wire", "wire", "C1"), wire="Wire 1")
    (found,) = book.in_order()
    assert (found.what, found.remedies[0].text) == ("Wire 1 is too blue.", "Paint Wire 1.")


def test_a_rule_is_read_by_its_name_and_set_by_a_builder(shelf, pump):
    rule = shelf.entry("rules.json", "rules", "support_mm")
    shelf.add(
        "rules.json",
        "rules",
        "tail_mm",
        {**rule, "label": "Tail left", "values": dict.fromkeys(rule["values"], 40)},
    )
    catalogue = shelf.read()

    def value() -> float:
        context: Context = work_out(parse_document(pump.plain), catalogue).context
        return context.brief.value("tail_mm")

    assert value() == 40
    pump.set("brief/house_rules/tail_mm", {"order": 1, "value": 55.0, "reason": "we do"})
    assert value() == 55


def test_a_part_family_is_a_file_and_is_fitted(shelf, pump):
    family = json.loads((shelf.folder / "connectors/SR16.json").read_text(encoding="utf-8"))
    (shelf.folder / "connectors/NEW16.json").write_text(
        json.dumps({**family, "code": "NEW16"}), encoding="utf-8"
    )
    pump.plain["ends"]["connectors"]["M1"].update(family="NEW16", ways=2, shell="plug", stud=None)
    ends = evaluate(parse_document(pump.plain), shelf.read()).ends.connectors["M1"]
    assert ends.family == "NEW16"
    assert ends.housing == evaluate(parse_document(pump.plain), shelf.read()).ends.connectors["M1"].housing


def test_a_device_kind_is_known_to_typed_lines(shelf, pump):
    kind = shelf.entry("kinds.json", "kinds", "motor")
    shelf.add("kinds.json", "kinds", "bilgewhirl", {**kind, "label": "bilgewhirl", "words": ["bilgewhirl"]})
    operations = act_operations(pump.plain, shelf.read(), "feed", "F1 > M9 bilgewhirl 3 A > B1", "")
    plain, _ = apply_with_inverse(pump.plain, operations)
    assert plain["circuits"]["devices"]["M9"]["kind"] == "bilgewhirl"


def test_an_equation_has_an_example_that_runs(tmp_path):
    path = tmp_path / "ohm.py"
    path.write_text(
        'def drop_v(current_a, resistance_ohm):\n    """Volts lost: I R. Source: Ohm.\n\n'
        '    >>> drop_v(2.0, 0.5)\n    1.0\n    """\n    return current_a * resistance_ohm\n'
    )
    spec = importlib.util.spec_from_file_location("ohm", path)
    assert spec is not None
    assert spec.loader is not None
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    assert doctest.testmod(module) == (0, 1)
    assert "Source" in (inspect.getdoc(module.drop_v) or "")


def test_a_rooms_figure_is_a_field_of_its_view_and_is_sent(pump):
    wider = dataclasses.make_dataclass("Wider", [("bends", int)], bases=(RouteView,), slots=True)
    w = pump.workings()
    view = route_view(w.context, w.route, w.wire.branch_hottest_c)
    shown = wider(*(getattr(view, f.name) for f in dataclasses.fields(view)), bends=3)
    sent = json.loads(TypeAdapter(wider).dump_json(shown))
    assert sent["bends"] == 3
    assert set(sent) == {f.name for f in dataclasses.fields(RouteView)} | {"bends"}


def test_an_export_is_a_function_that_yields_rows(pump, monkeypatch):
    monkeypatch.setitem(
        tables.TABLES,
        "branches",
        lambda w: iter(
            [("branch", "wires"), *((b, x.wires) for b, x in w.evaluation.route.branches.items())]
        ),
    )
    lines = tables.csv_text(pump.workings(), "branches").splitlines()
    assert lines[0] == "branch,wires"
    assert len(lines) == 1 + len(pump.plain["route"]["branches"])
