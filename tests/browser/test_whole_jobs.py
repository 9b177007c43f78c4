"""Five whole jobs by keyboard alone, from an empty harness to the same evaluation as their lines."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from inkthread.catalogue import shipped_catalogue
from inkthread.core.document import parse_document
from inkthread.core.evaluate import evaluate
from inkthread.core.text import read_text

LINES = Path(__file__).parent.parent / "jobs" / "lines"
FIELDS = {
    "zones": ("brief", "add a zone"),
    "circuits": ("circuits", "add"),
    "route": ("route", "add"),
    "ends": ("ends", "add"),
}


def sections(text: str) -> dict[str, list[str]]:
    found: dict[str, list[str]] = {}
    for line in text.splitlines():
        if line.startswith("["):
            found[section := line.strip("[]")] = []
        elif line.strip() and not line.startswith("#"):
            found[section].append(line)
    return found


@pytest.mark.parametrize("name", ["vat-probe", "hen-house", "greenhouse", "ice-cart", "timber-trailer"])
def test_a_job_is_typed_on_screen_and_comes_to_what_its_lines_come_to(page: Page, site, name):
    text = (LINES / f"{name}.txt").read_text(encoding="utf-8")
    expected = evaluate(parse_document(read_text(text, shipped_catalogue()).document), shipped_catalogue())
    said = sections(text)
    (practice,) = [x.split()[1] for x in said["brief"] if x.startswith("practice")]
    page.goto(site)
    page.get_by_label("New harness").focus()
    page.keyboard.type(name)
    page.keyboard.press("Tab")
    # Letter by letter a slow machine begins the word anew; arrows always arrive.
    built_to = page.locator("select:focus")
    expect(built_to.locator("option")).to_have_count(6)
    offered = built_to.locator("option").evaluate_all("all => all.map(o => o.value)")
    page.keyboard.press("Home")
    for value in offered[: offered.index(practice) + 1]:
        if value != offered[0]:
            page.keyboard.press("ArrowDown")
        expect(built_to).to_have_value(value)
    page.keyboard.press("Tab")
    page.keyboard.press("Enter")
    tally = page.get_by_role("region", name="Tally")
    expect(tally).to_be_visible()
    address = re.match(r".*/d/[^/]+", page.url)[0]
    for section, (room, label) in FIELDS.items():
        if section not in said:
            continue
        page.goto(f"{address}/{room}")
        field = page.get_by_label(label, exact=True)
        for line in said[section]:
            field.focus()
            page.keyboard.type(line)
            page.keyboard.press("Enter")
            expect(field).to_have_value("")
    expect(tally).to_contain_text(re.compile(rf"\b{expected.tally.wires}\s*wires"))
    expect(tally).to_contain_text(f"{expected.tally.grams:.0f}")
    expect(tally).to_contain_text(re.compile(rf"{expected.tally.cost:.2f}"))
