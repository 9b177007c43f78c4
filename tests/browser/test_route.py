"""The route: zones, lengths, points, the drawing."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.browser.hands import paste
from tests.browser.test_jobs import cell, tally


def test_a_zone_is_made_and_given_to_a_branch_by_keyboard(page: Page, open_room):
    open_room("brief")
    zones = page.get_by_role("grid", name="Zones")
    page.get_by_label("add a zone").click()
    page.keyboard.type("Exhaust 130 C")
    page.keyboard.press("Enter")
    expect(zones.get_by_role("row").filter(has_text="Exhaust")).to_contain_text("130")
    open_room("route")
    cell(page, "Branches", "R7", 5).click()
    page.keyboard.type("exh")
    page.keyboard.press("Enter")
    expect(cell(page, "Branches", "R7", 5)).to_have_text("Exhaust")
    expect(tally(page)).to_contain_text("1 stop")
    page.get_by_role("link", name=re.compile("^Findings")).click()
    expect(page.get_by_text("M1 (SR16) is rated 125 °C; Exhaust reaches 130 °C.")).to_be_visible()


def test_lengths_in_inches_are_shown_and_read_as_inches(page: Page, open_room):
    open_room("route")
    length = cell(page, "Branches", "R1", 3)
    expect(length).to_have_text("120")
    page.get_by_role("link", name=re.compile("^Brief")).click()
    page.get_by_label("Lengths", exact=True).select_option("inch")
    page.get_by_role("link", name=re.compile("^Route")).click()
    expect(length).to_have_text("4 3/4")
    # Shown otherwise, it is the same length: no mark says that it was another.
    expect(length).to_have_attribute("title", "120 mm")
    length.click()
    page.keyboard.type("10")
    page.keyboard.press("Enter")
    expect(length).to_have_text("10")
    page.get_by_role("link", name=re.compile("^Cut")).click()
    expect(page.get_by_test_id("sentence")).to_contain_text(" in.")


def test_lengths_are_pasted_from_a_spreadsheet(page: Page, open_room):
    open_room("route")
    cell(page, "Branches", "R1", 3).click()
    paste(page, "200 mm\r\n9 1/4 in\r\n0.4 m\r\n")
    expect(cell(page, "Branches", "R3", 3)).to_have_text("400")
    expect(cell(page, "Branches", "R1", 3)).to_have_text("200")
    expect(cell(page, "Branches", "R2", 3)).to_have_text("235")


def test_a_branch_is_picked_on_the_drawing_taken_out_and_brought_back(page: Page, open_room):
    open_room("route")
    drawing = page.get_by_role("img", name="The route, drawn to scale")
    expect(drawing).to_contain_text("340")
    drawing.locator("g.cursor-pointer").nth(6).locator("line").last.click(force=True)
    expect(page.get_by_role("complementary", name="Branch R7")).to_contain_text(
        "engine breakout to lift pump"
    )
    cell(page, "Branches", "R7", 0).click()
    page.keyboard.press("Control+Delete")
    expect(tally(page)).to_contain_text("fix")
    page.keyboard.press("Control+z")
    expect(tally(page)).to_contain_text("nothing found")
    expect(cell(page, "Branches", "R7", 3)).to_have_text("340")


def test_a_point_is_put_on_a_branch_and_taken_out_again(page: Page, open_leaf):
    open_leaf("route")
    cell(page, "Branches", "R1", 0).click()
    card = page.get_by_role("complementary", name="Branch R1")
    card.get_by_label("put in").fill("grommet")
    card.get_by_label("put in").press("Enter")
    expect(card.get_by_role("alert")).to_contain_text("How far is grommet")
    card.get_by_label("put in").fill("grommet 20 mm")
    card.get_by_label("put in").press("Enter")
    page.get_by_role("link", name="Points").click()
    points = page.get_by_role("grid", name="Points")
    expect(points.get_by_role("gridcell", name="grommet").first).to_be_visible()
    points.get_by_role("gridcell", name="grommet").first.click()
    page.keyboard.press("Control+Delete")
    expect(points.get_by_role("gridcell", name="grommet")).to_have_count(0)


def test_the_drawing_comes_closer_by_keyboard_and_hides_no_name_for_good(page: Page, open_leaf):
    open_leaf("route")
    drawing = page.get_by_role("img", name=re.compile("^The route"))
    scale = drawing.locator("text").last
    before = scale.inner_html()
    drawing.focus()
    for _ in range(4):
        page.keyboard.press("+")
    expect(scale).not_to_have_text(before)
    page.keyboard.press("0")
    expect(scale).to_have_text(before)


def test_a_choice_in_a_cell_is_made_by_arrows_and_what_is_not_among_them_is_said(page: Page, open_room):
    open_room("route")
    grid = page.get_by_role("grid", name="Branches")
    last = grid.get_by_role("row").last
    zone = last.get_by_role("gridcell").nth(5)
    zone.scroll_into_view_if_needed()
    before = zone.inner_text()
    zone.click()
    page.keyboard.press("Enter")
    choices = page.get_by_role("listbox", name="Zone of").get_by_role("option")
    expect(choices.last).to_be_in_viewport(ratio=1)
    page.keyboard.type("nowhere")
    expect(page.get_by_text("none of these")).to_be_visible()
    page.keyboard.press("Escape")
    expect(choices).to_have_count(0)
    expect(zone).to_have_text(before)
    page.keyboard.press("Enter")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowUp")
    wanted = choices.nth(1)
    expect(wanted).to_have_attribute("aria-selected", "true")
    expect(page.get_by_label("Zone of").first).to_have_attribute(
        "aria-activedescendant", wanted.get_attribute("id") or ""
    )
    name = wanted.inner_text()
    page.keyboard.press("Enter")
    expect(zone).to_have_text(name)


def test_leaves_are_gone_through_by_arrows_and_opened_by_enter(page: Page, open_room):
    open_room("route")
    shown = page.get_by_role("navigation", name="Leaves of route").get_by_role("link")
    expect(shown.first).to_have_attribute("aria-current", "page")
    shown.first.focus()
    page.keyboard.press("ArrowRight")
    expect(shown.nth(1)).to_be_focused()
    page.keyboard.press("ArrowRight")
    expect(shown.nth(2)).to_be_focused()
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile("/route/splices$"))
    expect(shown.nth(2)).to_have_attribute("aria-current", "page")
