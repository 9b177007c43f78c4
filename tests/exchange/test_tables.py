"""CSV that a spreadsheet reads and does not run."""

from __future__ import annotations

import csv
import dataclasses
import io
import json

import openpyxl
import pytest

from inkthread.catalogue import shipped_catalogue
from inkthread.cli import main
from inkthread.core.catalogue.own import OwnParts, PartsError, parts_to_csv, read_parts, with_own
from inkthread.core.table import TableError, read_table
from inkthread.exchange import TABLES, csv_text, xlsx_bytes


def rows(text):
    return list(csv.reader(io.StringIO(text, newline="")))


def test_tables_hold_every_line(chassis):
    w = chassis.workings()
    e = w.evaluation
    for kind, count in (
        ("wires", 18),
        ("cut", 18),
        ("bom", len(e.parts.lines)),
        ("labels", len(w.dress.labels.labels)),
        ("branches", len(w.document.route.branches)),
        ("tools", len(w.parts.tools)),
        ("findings", len(e.findings)),
        ("pinout", sum(len(c.cavities) for c in e.ends.connectors.values())),
    ):
        table = rows(csv_text(w, kind))
        assert len(table) == count + 1
        assert len({len(r) for r in table}) == 1
    cut = rows(csv_text(w, "cut"))
    assert [float(r[3]) for r in cut[1:]] == [c.cut_mm for c in e.cut.cuts]


def test_cells_that_a_spreadsheet_would_run_are_disarmed(chassis):
    for name in ("=1+1", "+1", "-1", "@x"):
        chassis.set("circuits/devices/M1/name", name)
        chassis.set("route/points/mid/name", '=HYPERLINK("x"), "quoted"')
        for kind in TABLES:
            for row in rows(csv_text(chassis.workings(), kind)):
                assert not any(cell[:1] in "=+@" for cell in row if cell)
                assert not any(cell.startswith("-") and not cell[1:2].isdigit() for cell in row)


def test_the_cut_list_has_every_cable_once_and_its_cores_by_its_name(larkspur):
    w = larkspur.workings()
    e = w.evaluation
    rows = list(csv.DictReader(io.StringIO(csv_text(w, "cut"))))
    cables = [r for r in rows if r["wire"] == r["cable"]]
    assert [r["wire"] for r in cables] == [c.id for c in e.cut.cables]
    assert len(rows) == len(e.cut.cuts) + len(e.cut.cables)
    for c in e.cut.cables:
        cores = [r for r in rows if r["cable"] == c.id and r["wire"] != c.id]
        assert len(cores) == len(c.wires) + (c.shield is not None)
        assert {r["cut_mm"] for r in cores} == {str(c.cut_mm)}


@pytest.mark.parametrize("text", ["=1+1", "+5 V supply", "-lug", "@x", "'=quoted", "plain, with a comma"])
def test_a_table_of_parts_is_not_run_and_comes_back_as_it_was(text):
    """Written as every table is, and read again: what a spreadsheet would run is disarmed between."""
    shipped = shipped_catalogue()
    contact = dataclasses.replace(shipped.connectors["SR16"].contacts[0], description=text)
    mine = dataclasses.replace(shipped.connectors["SR16"], code="MY-SR", contacts=(contact,), seals=())
    table = parts_to_csv([mine], [])
    for row in rows(table):
        assert not any(cell[:1] in ("=", "+", "-", "@", "\t") for cell in row)
    held = OwnParts(connectors={"MY-SR": mine})
    again = read_parts(with_own(shipped, held, ""), table, held)
    assert again.connectors["MY-SR"].contacts[0].description == text


@pytest.mark.parametrize("text", ['a,"' + "x" * 200_000 + '"', 'kind,"' + "y" * 140_000])
def test_a_cell_that_is_too_long_is_said(text):
    with pytest.raises(TableError, match="longer than"):
        read_table(text)
    with pytest.raises(PartsError, match="longer than"):
        read_parts(shipped_catalogue(), text)


def test_a_workbook_has_every_table_with_numbers_as_numbers_and_runs_nothing(chassis):
    chassis.set("circuits/devices/M1/name", "=1+1")
    w = chassis.workings()
    book = openpyxl.load_workbook(io.BytesIO(xlsx_bytes(w)))
    assert book.sheetnames == list(TABLES)
    for kind in TABLES:
        sheet = book[kind]
        expected = list(TABLES[kind](w))
        assert sheet.freeze_panes == "A2"
        assert sheet.max_row == len(expected)
        head = [c.value for c in sheet[1]]
        assert all(("(mm)" in h) == name.endswith("_mm") for h, name in zip(head, expected[0], strict=True))
        for row, told in zip(sheet.iter_rows(min_row=2), expected[1:], strict=True):
            for cell, value in zip(row, told, strict=True):
                assert cell.data_type != "f"
                if isinstance(value, (int, float)) and not isinstance(value, bool):
                    assert cell.value == pytest.approx(value)
                    assert cell.data_type == "n"


def test_the_command_line_writes_labels_dress_and_a_workbook(tmp_path, chassis):
    design = tmp_path / "chassis.json"
    design.write_text(json.dumps(chassis.plain), encoding="utf-8")
    for option, name in (("--labels", "labels.csv"), ("--dress", "dress.csv"), ("--xlsx", "all.xlsx")):
        assert main(["export", str(design), option, str(tmp_path / name)]) == 0
    assert (tmp_path / "labels.csv").read_text(encoding="utf-8").startswith("on,at,text")
    assert (tmp_path / "dress.csv").read_text(encoding="utf-8").startswith("what,at,part")
    assert openpyxl.load_workbook(tmp_path / "all.xlsx").sheetnames == list(TABLES)
