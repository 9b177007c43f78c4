"""Dress on screen: a run drawn dressed, covers chosen, tube and labels set otherwise, errors said."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect


@pytest.fixture
def open_dress(page: Page, site):
    def go(leaf: str = ""):
        page.goto(f"{site}/d/larkspur/dress{f'/{leaf}' if leaf else ''}")
        expect(page.get_by_role("heading", level=1)).to_have_text("Dress")
        page.wait_for_load_state("networkidle")

    return go


def test_a_cover_is_chosen_in_its_cell_and_taken_back(page: Page, open_dress):
    open_dress()
    grid = page.get_by_role("grid", name="Covers")
    row = grid.get_by_role("row").filter(has_text="R3").first
    expect(row.get_by_role("gridcell").nth(3)).to_have_text("braid")
    row.get_by_role("gridcell").nth(3).click()
    page.keyboard.type("conduit")
    page.keyboard.press("Enter")
    expect(row.get_by_role("gridcell").nth(3)).to_have_text("conduit")
    expect(row.get_by_role("gridcell").nth(6)).to_have_text("after")
    page.keyboard.press("Control+z")
    expect(row.get_by_role("gridcell").nth(3)).to_have_text("braid")


def test_a_branch_is_shown_in_layers_and_drawn_in_its_run(page: Page, open_dress):
    open_dress()
    page.get_by_role("grid", name="Covers").get_by_text("R8", exact=True).click()
    card = page.get_by_role("complementary", name="R8 in layers")
    expect(card.get_by_role("img", name="R8 cut across")).to_be_visible()
    expect(card.get_by_text("over all")).to_be_visible()
    expect(page.get_by_role("img", name="dressed")).to_be_visible()
    expect(page).to_have_url(re.compile("branch=R8"))


def test_a_size_that_there_is_not_is_named_and_stays_in_its_cell(page: Page, open_dress):
    open_dress()
    row = page.get_by_role("grid", name="Covers").get_by_role("row").filter(has_text="R3").first
    row.get_by_role("gridcell").nth(4).click()
    page.keyboard.type("BR-99")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert").first).to_contain_text("There is no cover 'BR-99'")
    expect(row.get_by_role("gridcell").nth(4)).to_have_text("BR-99")


def test_a_size_that_does_not_suit_is_a_finding(page: Page, open_dress):
    open_dress()
    row = page.get_by_role("grid", name="Covers").get_by_role("row").filter(has_text="R3").first
    row.get_by_role("gridcell").nth(4).click()
    page.keyboard.type("br-50")
    page.keyboard.press("Enter")
    expect(row.get_by_role("gridcell").nth(4)).to_have_text("BR-50")
    page.get_by_role("navigation").get_by_text("Dress").first.click()
    page.goto(page.url.split("/dress")[0] + "/findings")
    expect(page.get_by_text("Cover does not suit its bundle")).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.get_by_text("Cover does not suit its bundle")).to_have_count(0)


def test_tube_is_made_plain_and_labels_are_worded(page: Page, open_dress):
    open_dress("shrink")
    grid = page.get_by_role("grid", name="Shrink tube")
    row = grid.get_by_role("row").filter(has_text="A1").first
    row.get_by_role("gridcell").nth(6).click()
    page.keyboard.type("plain")
    page.keyboard.press("Enter")
    expect(row.get_by_role("gridcell").nth(6)).to_have_text("plain")
    page.keyboard.press("Control+z")
    expect(row.get_by_role("gridcell").nth(6)).to_have_text("lined")
    open_dress("labels")
    labels = page.get_by_role("grid", name="Labels")
    row = labels.get_by_role("row").filter(has_text="M1").first
    row.get_by_role("gridcell").nth(2).click()
    page.keyboard.type("LIFT PUMP")
    page.keyboard.press("Enter")
    expect(labels.get_by_role("img", name="LIFT PUMP", exact=True)).to_be_visible()
    page.keyboard.press("Control+z")
    expect(labels.get_by_role("img", name="LIFT PUMP", exact=True)).to_have_count(0)


@pytest.mark.parametrize(
    ("leaf", "seen"), [("holds", "Clamps and ties"), ("mass", "Mass by branch"), ("labels", "Labels")]
)
def test_every_leaf_has_its_table(page: Page, open_dress, leaf, seen):
    open_dress(leaf)
    table = page.get_by_role("table", name=seen).or_(page.get_by_role("grid", name=seen))
    expect(table.get_by_role("row").nth(3)).to_be_visible()
