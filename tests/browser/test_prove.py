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


def test_a_gauge_and_a_lot_of_samples_are_noted(page: Page, site):
    page.goto(f"{site}/d/larkspur/prove/tools")
    log = page.get_by_role("table", name="Tool log")
    expect(log.get_by_role("row").nth(1)).to_be_visible()
    page.get_by_role("button", name="It passed").click()
    expect(log.get_by_text("passed")).to_be_visible()
    page.get_by_label("gave at").fill("1500 1600, 1700")
    page.get_by_label("made by").fill("Ada")
    page.keyboard.press("Enter")
    expect(page.get_by_role("table", name="Hands")).to_contain_text("3 of 3")
    page.get_by_label("gave at").fill("strong")
    page.keyboard.press("Enter")
    expect(page.get_by_text("is no force in N").first).to_be_visible()
    expect(page.get_by_label("gave at")).to_have_value("strong")


def test_what_fails_is_ranked_and_what_is_not_understood_stays(page: Page, site):
    page.goto(f"{site}/d/larkspur/prove/later")
    box = page.get_by_label("What fails")
    box.fill("the moon dim")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("There is no device 'the moon'")
    expect(box).to_have_value("the moon dim")
    box.fill("M1 dim")
    page.keyboard.press("Enter")
    causes = page.get_by_role("region", name="What it may be")
    expect(causes.get_by_role("heading")).to_contain_text("Along the circuit of M1")
    expect(causes.get_by_role("listitem").first).to_contain_text("%")
    expect(causes).to_contain_text("Measure at ")


def test_the_machine_s_book_is_written_with_the_keyboard(page: Page, site):
    page.goto(f"{site}/d/larkspur/prove/pieces")
    page.get_by_role("button", name="Begin a piece").click()
    expect(page.get_by_role("table", name="Pieces")).to_contain_text("larkspur-001")
    page.get_by_role("link", name="On the machine").click()
    page.get_by_label("Where").fill("outfit 12")
    page.keyboard.press("Enter")
    expect(page.get_by_text("is fitted to")).to_contain_text("outfit 12")
    expect(page.get_by_role("list", name="Spares to carry")).to_contain_text("fuse block")
    page.get_by_role("list", name="Machine's book").get_by_role("button", name="take out").click()
    expect(page.get_by_text("is not fitted yet")).to_be_visible()


def test_an_end_is_found_by_its_label_on_a_phone(page: Page, site):
    page.set_viewport_size({"width": 390, "height": 780})
    page.goto(f"{site}/find")
    expect(page.get_by_label("What its label says")).to_be_focused()
    page.keyboard.type("Larkspur M1")
    page.keyboard.press("Enter")
    expect(page.get_by_text("meets M1 lift pump")).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    page.get_by_label("What its label says").fill("Z99")
    page.keyboard.press("Enter")
    expect(page.get_by_text("No label here says Z99")).to_be_visible()


def test_a_batch_is_noted_and_recalled(page: Page, site):
    page.goto(f"{site}/d/larkspur/prove/pieces")
    page.get_by_role("button", name="Begin a piece").click()
    part = page.locator("#parts-of-bill option").nth(3).get_attribute("value")
    page.get_by_label("part", exact=True).fill(part)
    page.get_by_label("batch", exact=True).fill("B-4471")
    page.keyboard.press("Enter")
    expect(page.get_by_role("list", name="Batches")).to_contain_text("B-4471")
    page.get_by_placeholder("T-OB-S").fill("4471")
    page.keyboard.press("Enter")
    expect(page.get_by_role("list", name="Pieces that have it")).to_contain_text(f"{part} of batch B-4471")
