"""Prove on screen: readings typed in the sheet, the tester let read, what explains them, a piece signed."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from tests.browser.hands import under


@pytest.fixture
def sheet(page: Page, site):
    page.goto(f"{site}/d/larkspur/prove")
    grid = page.get_by_role("grid", name="Test sheet")
    expect(grid.get_by_role("row").nth(3)).to_be_visible()
    return grid


def type_in(page: Page, row: int, text: str) -> None:
    under(page, "Test sheet", "Read", row).click()
    page.keyboard.type(text)
    page.keyboard.press("Enter")


def test_a_reading_is_typed_in_its_row_and_begins_a_piece(page: Page, sheet):
    expect(page.get_by_test_id("sentence")).to_contain_text("rows to measure end to end")
    type_in(page, 1, "0L")
    expect(page.get_by_test_id("sentence")).to_contain_text("Piece larkspur-001: 1 of")
    expect(under(page, "Test sheet", "Read", 1)).to_have_text("open")
    card = page.get_by_role("complementary", name="Diagnosis")
    expect(card.get_by_role("heading").first).to_contain_text("does not arrive")
    # What is no reading is named at its cell, and what was typed stays there.
    type_in(page, 2, "about four")
    expect(page.get_by_role("alert")).to_contain_text("'about four' is no reading")
    page.keyboard.press("Escape")
    type_in(page, 1, "0")
    expect(under(page, "Test sheet", "Read", 1)).not_to_have_text("open")
    page.reload()
    expect(page.get_by_test_id("sentence")).to_contain_text("Piece larkspur-001: 1 of")


def test_a_reading_is_taken_out_by_delete(page: Page, sheet):
    type_in(page, 1, "OL")
    expect(under(page, "Test sheet", "Read", 1)).to_have_text("open")
    under(page, "Test sheet", "Read", 1).click()
    page.keyboard.press("Enter")
    page.keyboard.press("Control+A")
    page.keyboard.press("Backspace")
    page.keyboard.press("Enter")
    expect(under(page, "Test sheet", "Read", 1)).to_have_text("")


def test_the_tester_reads_all_and_the_piece_is_signed(page: Page, sheet, site):
    page.get_by_role("button", name="Let the tester read").click()
    expect(page.get_by_test_id("sentence")).to_contain_text("all hold: it can be signed", timeout=60_000)
    page.get_by_role("link", name="Samples and looks").click()
    first = page.get_by_role("button", name="looks right").first
    first.click()
    expect(first).to_have_attribute("aria-pressed", "true")
    page.get_by_role("link", name="Pieces", exact=True).click()
    sign = page.get_by_role("button", name="Sign")
    expect(sign).to_be_disabled()
    page.get_by_placeholder("your name").fill("Ann Able")
    sign.click()
    expect(page.get_by_test_id("sentence")).to_contain_text("Signed by Ann Able; its record is closed.")
    link = page.get_by_role("link", name="Record on a page")
    pdf = page.request.get(f"{site}{link.get_attribute('href')}")
    assert pdf.body().startswith(b"%PDF")
    page.get_by_role("link", name="Test sheet").click()
    expect(page.get_by_role("button", name="Let the tester read")).to_have_count(0)


def test_readings_come_from_a_file(page: Page, sheet):
    rows = [under(page, "Test sheet", head, 1).inner_text() for head in ("From", "To")]
    text = f"from;to;ohm\n{rows[0]};{rows[1]};OL\nZ9-1;{rows[1]};0,2\n"
    page.get_by_label("File of readings").set_input_files(
        {"name": "readings.csv", "mimeType": "text/csv", "buffer": text.encode()}
    )
    expect(
        page.get_by_text("1 reading is taken, 1 line is not. Line 3: 'Z9-1' is no place here").first
    ).to_be_visible()
    expect(under(page, "Test sheet", "Read", 1)).to_have_text("open")


@pytest.mark.parametrize("view", ["", "/volts", "/samples", "/pieces"])
def test_views_are_accessible(page: Page, sheet, site, axe, view):
    type_in(page, 1, "OL")
    expect(under(page, "Test sheet", "Read", 1)).to_have_text("open")
    page.goto(f"{site}/d/larkspur/prove{view}")
    expect(page.get_by_role("complementary", name="Diagnosis")).to_be_visible()
    assert axe() == []
