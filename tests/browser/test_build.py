"""Build on screen: the order changed by typing, cards turned by space and thumb, two benches, what happened."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.exchange.test_photos import with_place


@pytest.fixture
def at_bench(page: Page, site):
    def go(on: Page | None = None) -> Page:
        on = on or page
        on.goto(f"{site}/d/larkspur/build/cards")
        expect(on.get_by_role("list", name="Steps")).to_be_visible()
        return on

    return go


def until_an_end(page: Page) -> None:
    """Cards turned without a tick until a wire's end lies there."""
    while not page.get_by_text("the end that goes to").count():
        before = page.get_by_role("heading", level=1).inner_text()
        page.keyboard.press("ArrowRight")
        expect(page.get_by_role("heading", level=1)).not_to_have_text(before)


def lit(page: Page):
    return page.get_by_role("list", name="Steps").locator("[aria-current=step]")


def test_space_goes_on_u_takes_back_and_a_reload_loses_nothing(page: Page, at_bench):
    at_bench()
    until_an_end(page)
    first = lit(page).inner_text()
    page.keyboard.press("Space")
    expect(lit(page)).not_to_have_text(first)
    second = lit(page).locator("p").first.inner_text()
    page.keyboard.press("Space")
    page.keyboard.press("u")
    expect(lit(page).locator("p").first).to_have_text(second)
    expect(page.get_by_role("status").first).to_have_text("Taken back.")
    page.reload()
    until_an_end(page)
    expect(lit(page).locator("p").first).to_have_text(second)
    # By thumb, as with gloves.
    page.get_by_role("button", name="done, next").click()
    expect(lit(page).locator("p").first).not_to_have_text(second)
    page.get_by_role("button", name="take back").click()
    expect(lit(page).locator("p").first).to_have_text(second)


def test_a_key_that_is_held_down_ticks_once(page: Page, at_bench):
    at_bench()
    until_an_end(page)
    page.keyboard.down("Space")
    page.keyboard.down("Space")
    page.keyboard.down("Space")
    page.keyboard.up("Space")
    expect(page.get_by_role("list", name="Steps").get_by_text("✓")).to_have_count(1)


def test_two_benches_never_do_the_same_end_twice(page: Page, at_bench, browser: Browser, site):
    at_bench()
    page.get_by_label("Who works here").fill("Ann")
    page.get_by_label("Who works here").blur()
    until_an_end(page)
    mine = page.get_by_role("heading", level=1).inner_text()
    page.keyboard.press("Space")
    expect(page.get_by_role("list", name="Steps").get_by_text("✓")).to_have_count(1)
    context = browser.new_context(viewport={"width": 820, "height": 1180})
    other = at_bench(context.new_page())
    other.get_by_label("Who works here").fill("Bo")
    other.get_by_label("Who works here").blur()
    until_an_end(other)
    expect(other.get_by_role("heading", level=1)).to_have_text(mine)
    expect(other.get_by_text("Ann has this card. Go on to another.")).to_be_visible()
    other.keyboard.press("Space")
    expect(other.get_by_role("status").first).to_contain_text("Ann's bench")
    expect(other.get_by_role("list", name="Steps").get_by_text("✓")).to_have_count(1)
    # Ann goes on: her card is free, and Bo sees what is done of it.
    page.keyboard.press("ArrowRight")
    expect(other.get_by_text("Ann has this card")).to_have_count(0)
    other.keyboard.press("ArrowLeft")
    other.keyboard.press("ArrowRight")
    other.keyboard.press("Space")
    expect(other.get_by_role("list", name="Steps").get_by_text("✓")).to_have_count(2)
    context.close()


def test_a_spoiled_contact_is_noted_and_its_end_made_again(page: Page, at_bench, site):
    at_bench()
    until_an_end(page)
    while "full stroke" not in lit(page).inner_text():
        before = lit(page).inner_text()
        page.keyboard.press("Space")
        expect(lit(page)).not_to_have_text(before)
    page.keyboard.press("n")
    sheet = page.get_by_role("dialog", name="What happened?")
    sheet.get_by_label("In words").fill("wings bent")
    sheet.get_by_role("button", name=re.compile("^Spoiled")).click()
    expect(sheet).to_have_count(0)
    expect(page.get_by_role("status").first).to_contain_text("spares")
    expect(lit(page)).to_contain_text("Strip")
    page.goto(f"{site}/d/larkspur/build/happened")
    row = page.get_by_role("table", name="What happened").get_by_role("row").filter(has_text="wings bent")
    expect(row).to_contain_text("spoiled")
    row.get_by_role("button", name="Take out").click()
    expect(page.get_by_text("Nothing was noted yet.")).to_be_visible()


def test_the_order_is_changed_by_typing_and_what_that_breaks_is_said(page: Page, site):
    page.goto(f"{site}/d/larkspur/build")
    grid = page.get_by_role("grid", name="Order of work")
    expect(grid).to_be_visible()
    page.get_by_label("Steps shown").select_option(
        label=page.get_by_label("Steps shown").locator("option", has_text="M1").first.inner_text()
    )
    row = grid.get_by_role("row").filter(has_text="Seal").first
    number = int(row.get_by_role("gridcell").first.inner_text())
    row.get_by_role("gridcell").first.dblclick()
    page.keyboard.press("Control+A")
    page.keyboard.type(str(number + 2))
    page.keyboard.press("Enter")
    expect(page.get_by_text("One step waits in vain.")).to_be_visible()
    expect(grid.get_by_text("comes later").first).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.get_by_text("One step waits in vain.")).to_have_count(0)


def test_a_finding_leads_to_its_step(page: Page, site):
    page.goto(f"{site}/d/larkspur/build")
    grid = page.get_by_role("grid", name="Order of work")
    shown = page.get_by_label("Steps shown")
    shown.select_option(label=shown.locator("option", has_text="M1").first.inner_text())
    row = grid.get_by_role("row").filter(has_text="Seal").first
    row.get_by_role("gridcell").last.click()
    page.keyboard.press("Enter")
    page.get_by_role("option", name="left out").click()
    expect(page.get_by_text("One step waits in vain.")).to_be_visible()
    page.goto(f"{site}/d/larkspur/findings")
    page.get_by_role("link", name="Go to the step in Build").first.click()
    expect(grid.get_by_text("left out", exact=True)).to_be_visible()
    expect(grid.get_by_text("left out:").first).to_be_visible()


def test_a_place_that_is_none_is_refused_and_what_was_typed_is_kept(page: Page, site):
    page.goto(f"{site}/d/larkspur/build")
    grid = page.get_by_role("grid", name="Order of work")
    cell = grid.get_by_role("row").nth(1).get_by_role("gridcell").first
    cell.dblclick()
    page.keyboard.press("Control+A")
    page.keyboard.type("first")
    page.keyboard.press("Enter")
    expect(page.get_by_text("A place in the order is a whole number")).to_be_visible()
    expect(grid.get_by_text("first", exact=True)).to_be_visible()


def test_a_photograph_is_kept_with_the_step_and_shown(page: Page, at_bench, site):
    at_bench()
    page.keyboard.press("n")
    sheet = page.get_by_role("dialog", name="What happened?")
    sheet.get_by_label("Photograph").set_input_files(
        {"name": "crimp.jpg", "mimeType": "image/jpeg", "buffer": with_place()}
    )
    expect(sheet).to_have_count(0)
    expect(page.get_by_role("status").first).to_have_text("Kept with the step.")
    page.goto(f"{site}/d/larkspur/build/happened")
    picture = page.get_by_role("table", name="What happened").get_by_role("img")
    expect(picture).to_be_visible()
    page.wait_for_function("img => img.complete && img.naturalWidth > 0", arg=picture.element_handle())


def test_right_and_wrong_are_drawn_and_questions_lead_to_what_to_do(page: Page, at_bench):
    at_bench()
    until_an_end(page)
    before = lit(page).inner_text()
    page.get_by_role("button", name="Right or wrong?").click()
    sheet = page.get_by_role("dialog")
    expect(sheet).to_contain_text("Insulation caught")
    sheet.get_by_role("button", name="It will not go in").click()
    sheet.get_by_role("button", name="No", exact=True).click()
    expect(sheet).to_contain_text("make a new one")
    sheet.get_by_role("button", name="Back to the pictures").click()
    page.keyboard.press("Escape")
    expect(sheet).to_be_hidden()
    expect(lit(page)).to_have_text(before, use_inner_text=True)


def test_a_section_and_the_whole_book_are_printed_from_a_room(page: Page, site):
    page.goto(f"{site}/d/larkspur/cut")
    page.get_by_text("Print", exact=True).click()
    with page.expect_download() as section:
        page.get_by_role("group").get_by_role("link", name="Cut list").click()
    assert section.value.suggested_filename == "larkspur-cut.pdf"
    with page.expect_download() as book:
        page.get_by_role("button", name="The whole book").click()
    assert book.value.suggested_filename == "larkspur-book.pdf"


def test_a_hidden_fault_is_sought_with_a_meter(page: Page, site):
    page.goto(f"{site}/d/larkspur/build/practice")
    page.get_by_role("button", name="Hide one").click()
    red, black = page.get_by_label("Red probe"), page.get_by_label("Black probe")
    expect(red).to_be_visible()
    red.select_option(index=1)
    black.select_option(index=2)
    page.get_by_role("button", name="Measure").click()
    expect(page.get_by_role("list", name="Measured").get_by_role("listitem")).to_have_count(1)
    page.get_by_label("It is").select_option(index=1)
    page.get_by_role("button", name="That is it").click()
    expect(page.get_by_role("status").filter(has_text="would have shown it")).to_be_visible()
    page.get_by_role("button", name="Ask me").click()
    for _ in range(10):
        page.locator("button[aria-pressed=false]").first.click()
        page.get_by_role("button", name="Next").click()
    expect(page.get_by_text("of 10 right")).to_be_visible()
