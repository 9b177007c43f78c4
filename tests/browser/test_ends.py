"""Ends and the drawers on screen: ways by keyboard, families taken, parts found, tools owned."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.test_jobs import cell, tally


@pytest.fixture
def open_ends(page: Page, site):
    def go(path: str):
        page.goto(f"{site}{path if path.startswith('/') else f'/d/larkspur/ends/{path}'}")
        expect(page.get_by_role("heading", level=1)).to_be_visible()
        page.wait_for_load_state("networkidle")

    return go


def test_two_ways_are_exchanged_locked_and_given_out_by_keyboard(page: Page, open_ends):
    open_ends("A1")
    grid = page.get_by_role("grid", name="Ways of A1")
    first, third = grid.get_by_role("row").nth(1), grid.get_by_role("row").nth(3)
    at_first, at_third = first.get_by_role("gridcell").nth(1), third.get_by_role("gridcell").nth(1)
    was_first, was_third = at_first.inner_text(), at_third.inner_text()
    page.get_by_label("exchange").fill("1 3")
    page.keyboard.press("Enter")
    expect(at_third).to_have_text(was_first)
    expect(at_first).to_have_text(was_third)
    # Locked, a way cannot be exchanged, and it says so.
    cell(page, "Ways of A1", "1", 2).click()
    page.keyboard.type("locked")
    page.keyboard.press("Enter")
    expect(cell(page, "Ways of A1", "1", 2)).to_have_text("lock")
    page.get_by_label("exchange").fill("1 3")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("locked on way 1")
    page.get_by_label("give ways out").select_option("by name")
    page.get_by_role("button", name="Give", exact=True).click()
    expect(at_first).to_have_text(was_third)
    for _ in range(3):
        page.keyboard.press("Control+z")
    expect(at_first).to_have_text(was_first)


def test_a_spare_way_is_kept_with_a_reason(page: Page, open_ends):
    open_ends("M1")
    page.get_by_label("Ways", exact=True).select_option("4")
    grid = page.get_by_role("grid", name="Ways of M1")
    cell(page, "Ways of M1", "4", 1).click()
    card = page.get_by_role("complementary", name="Cavity 4")
    card.get_by_label("for").fill("horn, next winter")
    page.keyboard.press("Enter")
    expect(grid.get_by_text("kept: horn, next winter")).to_be_visible()
    expect(cell(page, "Ways of M1", "4", 2)).to_have_text("kept")
    cell(page, "Ways of M1", "3", 2).click()
    page.keyboard.type("open")
    page.keyboard.press("Enter")
    expect(cell(page, "Ways of M1", "3", 2)).to_have_text("open")


def test_the_half_that_meets_what_is_on_the_device_is_fitted(page: Page, open_ends):
    open_ends("M1")
    page.get_by_role("button", name="its mate, marks and accessories").click()
    page.get_by_label("Series on the device").select_option("TW25")
    page.get_by_label("Shell and contacts on the device").select_option("receptacle pin")
    page.get_by_role("button", name="Fit the half that meets it").click()
    expect(page.get_by_text("Meets: TW25, receptacle shell with pins.")).to_be_visible()
    expect(page.get_by_role("gridcell", name="A", exact=True)).to_be_visible()
    page.get_by_label("Series on the device").select_option("SR16")
    page.get_by_label("Ways on the device").select_option("2")
    page.get_by_label("Key on the device").select_option("B")
    page.get_by_role("button", name="Fit the half that meets it").click()
    expect(page.get_by_text("Meets: SR16, receptacle shell with pins, key B.")).to_be_visible()


def test_a_family_is_taken_from_those_that_would_do(page: Page, open_ends):
    open_ends("M1/choose")
    expect(page.get_by_role("heading", name="Would not do")).to_be_visible()
    row = page.get_by_role("row").filter(has=page.get_by_role("button", name="Take it")).first
    family = row.get_by_role("strong").or_(row.locator("strong")).first.inner_text()
    row.get_by_role("button", name="Take it").click()
    expect(page.get_by_role("row").filter(has_text="fitted now")).to_contain_text(family)
    page.get_by_role("link", name="Ways").click()
    expect(page.get_by_label("Connector series", exact=True)).to_have_value(family)
    expect(page.get_by_role("complementary")).not_to_contain_text("does not fit")
    expect(tally(page)).not_to_contain_text("stop")


def test_a_better_order_of_ways_is_taken(page: Page, open_ends):
    open_ends("A1/neighbours")
    score = page.get_by_text(re.compile(r"this one scores"))
    before = float(re.search(r"scores ([\d.]+)", score.inner_text())[1].rstrip("."))
    page.get_by_role("button", name="Take that order").click()
    expect(score).not_to_contain_text(f"scores {before:g}")
    assert float(re.search(r"scores ([\d.]+)", score.inner_text())[1].rstrip(".")) < before


def test_the_weakest_links_are_listed_the_least_to_spare_first(page: Page, open_ends):
    open_ends("M1/links")
    rows = page.get_by_role("table", name="Weakest links").get_by_role("row")
    expect(rows.nth(1)).to_contain_text(re.compile(r"wire|contact|fuse|splice|terminal"))


def test_faces_come_at_true_size_once_a_ruler_was_laid_on(page: Page, open_ends):
    open_ends("M1/faces")
    page.get_by_label("true size on this screen").check()
    face = page.get_by_role("radiogroup", name=re.compile("^Wire side"))
    small = face.bounding_box()["width"]
    page.get_by_label("It measures").fill("50")
    # A bar of 100 mm that measures 50 is drawn half too small: twice as large now.
    page.wait_for_function(
        "small => document.querySelector('figure svg').getBoundingClientRect().width > 1.9 * small", arg=small
    )
    assert face.bounding_box()["width"] / small == pytest.approx(2.0, rel=0.01)
    page.get_by_label("It measures").fill("100")


def test_a_cavity_shows_its_tool_and_a_nest_is_noted(page: Page, open_ends):
    open_ends("M1")
    card = page.get_by_role("complementary", name="Cavity 1")
    expect(card).to_contain_text("T-OB-M")
    card.get_by_role("button", name="note a crimp die proven here").click()
    card.get_by_label("Crimp die (nest)").fill("9")
    card.get_by_label("Note").fill("held 9 kg")
    page.keyboard.press("Enter")
    expect(card.get_by_role("alert")).to_contain_text("Its nests are ")
    card.get_by_label("Crimp die (nest)").fill("16-14")
    page.keyboard.press("Enter")
    expect(card).to_contain_text("held 9 kg")
    page.goto(page.url.split("/d/")[0] + "/drawers/tools")
    page.get_by_role("button", name="forget it").click()
    expect(page.get_by_role("heading", name="Proven here")).to_have_count(0)


def test_a_part_is_found_copied_and_a_bad_file_refused(page: Page, open_ends):
    open_ends("/drawers")
    need = page.get_by_role("textbox").first
    need.fill("sealed 2 ways 16 AWG thin wall")
    expect(page.get_by_text("Understood: connector; sealed; 2 ways")).to_be_visible()
    row = page.get_by_role("row").filter(has_text="TW25/2")
    row.get_by_role("button", name="copy it").click()
    page.keyboard.type("mytower")
    page.keyboard.press("Enter")
    expect(page.get_by_text("MYTOWER is yours", exact=False).first).to_be_visible()
    page.get_by_role("link", name="Parts of your own").click()
    # What was found before goes with its leaf.
    expect(page.get_by_label("Parts as text")).to_be_visible()
    expect(page.get_by_role("main").get_by_role("listitem").filter(has_text="MYTOWER")).to_be_visible()
    page.get_by_label("Parts as text").fill("code,price\nX,1\n")
    page.get_by_role("button", name="Take them in").click()
    expect(page.get_by_role("alert")).to_contain_text("Nothing was taken")
    expect(page.get_by_label("Parts as text")).to_have_value("code,price\nX,1\n")
    page.get_by_role("button", name="take it out").click()
    expect(page.get_by_text("None yet.", exact=False)).to_be_visible()


def test_a_tool_that_is_owned_changes_what_is_chosen_and_bought(page: Page, open_ends):
    open_ends("/drawers/tools")
    page.get_by_label("T-IND is owned").click()
    page.get_by_label("T-IND gauge result").select_option("passed")
    expect(page.get_by_text("gauged, good")).to_be_visible()
    open_ends("/d/larkspur/parts/tools")
    tools = page.get_by_role("table", name="Tools")
    expect(tools.get_by_role("row").filter(has_text="T-IND")).to_contain_text("gauged")
    page.get_by_role("link", name="The bill").click()
    expect(
        page.get_by_role("grid", name="Bill of materials").get_by_text("R16-S-M", exact=True)
    ).to_be_visible()
    open_ends("/drawers/tools")
    page.get_by_label("T-IND is owned").click()
    expect(page.get_by_label("T-IND gauge result")).to_have_count(0)


def test_a_family_of_ones_own_is_changed_cell_by_cell(page: Page, open_ends, site):
    page.request.post(
        f"{site}/api/shop/parts/copy", data={"code": "SS15", "new_code": "OWN15", "name": "Mine"}
    )
    open_ends("/drawers/own")
    mine = page.get_by_role("listitem").filter(has_text="OWN15")
    mine.get_by_role("button", name="change it").click()
    contacts = page.get_by_role("grid", name="Contacts of OWN15")
    least = contacts.get_by_role("row").nth(1).get_by_role("gridcell").nth(4)
    expect(least).not_to_have_text("")
    was = least.inner_text()
    least.click()
    page.keyboard.type("22 AWG")
    page.keyboard.press("Enter")
    expect(least).to_have_text("0.326")
    page.get_by_role("button", name="Take it back").first.click()
    expect(least).to_have_text(was)
    # Wrong, it is said at the cell, and what was typed stays.
    least.click()
    page.keyboard.type("900")
    page.keyboard.press("Enter")
    expect(contacts.get_by_role("alert")).to_contain_text("no window")
    expect(least).to_have_text("900")
    page.keyboard.press("ArrowUp")
    page.keyboard.press("Enter")
    page.keyboard.press("Control+a")
    page.keyboard.type(was)
    page.keyboard.press("Enter")
    expect(contacts.get_by_role("alert")).to_have_count(0)
    # A new one begins as the last, and goes out again with the way back.
    rows = contacts.get_by_role("row").count()
    contacts.get_by_text("new contact").click()
    page.keyboard.type("own-s-20 mine")
    page.keyboard.press("Enter")
    expect(contacts.get_by_text("OWN-S-20", exact=True)).to_be_visible()
    contacts.get_by_text("OWN-S-20", exact=True).click()
    page.keyboard.press("Control+Delete")
    expect(contacts.get_by_role("row")).to_have_count(rows)
    page.get_by_role("button", name="Put it back").last.click()
    expect(contacts.get_by_text("OWN-S-20", exact=True)).to_be_visible()


def test_a_replacement_asks_for_old_colours_and_how_mates_are_known(page: Page, open_ends):
    open_ends("/d/larkspur/brief")
    page.get_by_label("Job").select_option("replacement")
    expect(tally(page)).to_contain_text("fix")
    open_ends("M1")
    page.get_by_role("button", name="its mate").click()
    page.get_by_label("Known from").select_option("marking")
    open_ends("/d/larkspur/findings")
    mates = page.get_by_text("nobody has said how the mates of").first
    expect(mates).to_be_visible()
    expect(mates).not_to_contain_text("M1")
    open_ends("/d/larkspur/circuits")
    cell(page, "Circuits", "lift pump feed", 1).click()
    card = page.get_by_role("complementary", name="Circuit ")
    card.get_by_label("was").fill("violet")
    page.keyboard.press("Enter")
    expect(card.get_by_label("was")).to_have_value("violet")
    page.keyboard.press("Escape")


def test_one_connector_is_shown_at_a_time(page: Page, open_ends):
    open_ends("A1")
    buttons = page.get_by_role("list", name="Connectors").get_by_role("button")
    for n in (1, 2, 0):
        buttons.nth(n).click()
        expect(buttons.nth(n)).to_have_attribute("aria-pressed", "true")
        expect(page.get_by_role("grid", name=re.compile("^Ways of "))).to_have_count(1)
        expect(page.get_by_label("exchange")).to_have_count(1)


def test_parts_at_hand_are_noted_and_the_bill_says_what_is_still_to_buy(page: Page, open_ends):
    open_ends("/drawers/stock")
    lines = page.get_by_label("a part a line")
    lines.fill("FB-S-A 4 keep 2\nNOTHING 3")
    page.get_by_role("button", name="Note it").click()
    expect(page.get_by_role("alert")).to_contain_text("Line 2")
    expect(lines).to_have_value("FB-S-A 4 keep 2\nNOTHING 3")
    lines.fill("FB-S-A 400 keep 2 in drawer 9")
    page.keyboard.press("Enter")
    table = page.get_by_role("table", name="Parts at hand")
    mine = table.get_by_role("row").filter(has_text="FB-S-A")
    expect(mine).to_be_visible()
    expect(page.get_by_label("FB-S-A lies in")).to_have_value("drawer 9")
    mine.get_by_role("button", name="take it out").click()
    expect(mine).to_have_count(0)
    page.get_by_role("button", name="Put it back").click()
    expect(page.get_by_label("FB-S-A at hand")).to_have_value("400")
    mine.get_by_role("button", name="take it out").click()


def test_a_fuse_says_what_else_it_may_be_made_as_and_becomes_it(page: Page, site):
    page.goto(f"{site}/d/larkspur/circuits")
    page.get_by_role("grid", name="Devices").get_by_role("row").filter(has_text="fuse block").first.click()
    page.get_by_text("What else it may be made as").click()
    expect(page.get_by_text("as it is now")).to_be_visible(timeout=30_000)
    expect(page.get_by_text(re.compile("reset by hand")).first).to_be_visible()
    page.get_by_role("button", name="make it so").click()
    now = page.get_by_role("listitem").filter(has_text="as it is now")
    expect(now).to_contain_text("breaker", timeout=30_000)
    page.keyboard.press("Control+z")
    expect(now).to_contain_text("fuse", timeout=30_000)


def test_the_first_connector_and_its_first_leaf_are_shown_and_said(page: Page, open_room):
    leaf = page.get_by_role("navigation", name="Leaves of ends").get_by_role("link", name="Ways")
    open_room("ends")
    expect(leaf).to_have_attribute("aria-current", "page")
    expect(page.get_by_text("No connector is called")).to_have_count(0)
    open_room("ends/NOPE/faces")
    expect(page.get_by_text("No connector is called NOPE here. This is B1.")).to_be_visible()
    faces = page.get_by_role("navigation", name="Leaves of ends").get_by_role("link", name="Faces")
    expect(faces).to_have_attribute("aria-current", "page")


def test_the_menu_of_a_way_is_within_a_narrow_list(page: Page, open_room):
    page.set_viewport_size({"width": 1280, "height": 800})
    open_room("ends/B1")
    grid = page.get_by_role("grid", name="Ways of B1")
    grid.get_by_role("gridcell").first.click()
    dots = grid.get_by_role("button", name="What can be done with").bounding_box()
    place = grid.bounding_box()
    assert dots is not None
    assert place is not None
    assert dots["x"] + dots["width"] <= place["x"] + place["width"] + 0.5
