"""Wire and its leaves: families, headroom, methods, colours."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.browser.test_jobs import cell, tally


def test_another_family_is_taken_from_the_comparison(page: Page, open_leaf):
    open_leaf("wire/compare")
    table = page.get_by_role("table", name="Wire types side by side")
    row = table.get_by_role("row").filter(has_text="J1128-TXL")
    row.get_by_role("button", name="use it").click()
    expect(row).to_contain_text("now")
    page.get_by_role("link", name="Wires", exact=True).click()
    expect(page.get_by_test_id("sentence")).to_contain_text("J1128-TXL")


def test_headroom_says_what_changes_first(page: Page, open_leaf):
    open_leaf("wire/headroom")
    table = page.get_by_role("table", name="Behind each fuse")
    expect(table).to_contain_text(re.compile(r"from [\d.]+ to [\d.]+ A|voltage drop"))


def test_two_methods_stand_side_by_side_for_one_wire(page: Page, open_leaf):
    open_leaf("wire")
    cell(page, "Wires", "C2", 4).click()
    page.keyboard.press("w")
    table = page.get_by_role("table", name="Two methods side by side")
    expect(table).to_contain_text("decides")
    table.get_by_label("second method").select_option(label="marine table")
    expect(table.get_by_role("row").nth(4)).to_contain_text("A")


def test_a_gauge_is_typed_over_and_marked_where_a_list_was_seen_before(page: Page, open_leaf):
    open_leaf("dress")
    page.get_by_role("grid", name="Covers").get_by_role("row").nth(1).wait_for()
    page.get_by_role("link", name=re.compile("^Wire")).first.click()
    gauge = cell(page, "Wires", "C2", 5)
    gauge.click()
    page.keyboard.type("12")
    page.keyboard.press("Enter")
    expect(gauge).to_contain_text("12 AWG *")
    expect(gauge).to_have_attribute("title", re.compile(r"^was \d+ AWG"))
    page.get_by_role("link", name=re.compile("^Dress")).first.click()
    covers = page.get_by_role("grid", name="Covers")
    expect(covers.locator("[title^='was ']").first).to_be_visible()
    page.get_by_role("link", name=re.compile("^Wire")).first.click()
    gauge.click()
    page.keyboard.press("Delete")
    expect(gauge).not_to_contain_text("*")


def test_families_and_colours_of_ones_own(page: Page, open_leaf):
    open_leaf("wire/families")
    roles = page.get_by_role("grid", name="Colours by role")
    supply = roles.get_by_role("row").filter(has_text="supply").get_by_role("gridcell")
    supply.nth(1).click()
    page.keyboard.type("pk og")
    page.keyboard.press("Enter")
    expect(supply.nth(2)).to_contain_text("PK")
    supply.nth(1).click()
    page.keyboard.type("mauve")
    page.keyboard.press("Enter")
    expect(roles.get_by_role("alert")).to_contain_text("colour")
    own = page.get_by_role("grid", name="Own wire types")
    own.get_by_text("new: its code").click()
    page.keyboard.type("shop ptfe")
    page.keyboard.press("Enter")
    own.get_by_role("gridcell", name="SHOP-PTFE", exact=True).click()
    sizes = page.get_by_role("grid", name="Sizes of SHOP-PTFE")
    sizes.get_by_text("new size").click()
    page.keyboard.type("18 AWG, 0.96, 1.9, 1.2, 20.9")
    page.keyboard.press("Enter")
    expect(sizes).to_contain_text("20.9 mΩ/m")
    page.get_by_label("Wire type", exact=True).select_option("SHOP-PTFE")
    expect(page.get_by_test_id("sentence")).to_contain_text("SHOP-PTFE")
    expect(tally(page)).to_contain_text("wires")
