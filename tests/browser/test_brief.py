"""The brief: house rules, what builders differ on, make or buy."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.browser.test_jobs import cell, tally


def test_a_house_rule_is_set_reasoned_and_given_back(page: Page, open_room):
    open_room("brief")
    value = cell(page, "House rules", "continuous loads", 1)
    expect(value).to_have_text("3 %")
    value.click()
    page.keyboard.type("2 %")
    page.keyboard.press("Enter")
    expect(value).to_have_text("2 %")
    reason = cell(page, "House rules", "continuous loads", 3)
    reason.click()
    page.keyboard.type("long pump lead")
    page.keyboard.press("Enter")
    expect(reason).to_have_text("long pump lead")
    expect(page.get_by_test_id("sentence")).to_contain_text("1 house rule of your own")
    value.click()
    page.keyboard.press("F2")
    page.keyboard.press("Control+a")
    page.keyboard.press("Delete")
    page.keyboard.press("Enter")
    expect(value).to_have_text("3 %")


def test_what_builders_differ_on_is_chosen_with_a_reason_and_goes_back(page: Page, open_room):
    open_room("brief")
    splices = page.get_by_label("Splices are made as")
    expect(splices).to_have_value("1")
    expect(page.get_by_text("the grip can be seen").first).to_be_visible()
    splices.select_option("3")
    why = page.get_by_label("because")
    expect(why).to_have_attribute("placeholder", "why? type your reason")
    expect(tally(page)).to_contain_text("1 more")
    why.fill("no crimper here")
    why.press("Enter")
    expect(tally(page)).to_contain_text("nothing found")
    splices.select_option("1")
    expect(why).to_have_count(0)


def test_a_lead_that_can_be_bought_is_held_against_the_length_wanted(page: Page, open_room):
    open_room("brief")
    grid = page.get_by_role("grid", name="Ready-made leads")
    grid.get_by_role("row").last.get_by_role("gridcell").first.click()
    page.keyboard.type('"stock lead" 600 mm at 12')
    page.keyboard.press("Enter")
    expect(grid).to_contain_text("too short")
    expect(page.get_by_text("None of the lengths on offer will do.")).to_be_visible()
    page.keyboard.press("Control+z")
    expect(grid).not_to_contain_text("too short")
