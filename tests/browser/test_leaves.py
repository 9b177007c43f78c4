"""The leaves of Circuits, Route and Wire: what is worked at in each, mostly by keyboard."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.test_jobs import cell, tally
from tests.browser.test_rooms import paste


@pytest.fixture
def open_leaf(page: Page, site):
    def go(leaf: str):
        page.goto(f"{site}/d/larkspur/{leaf}")
        expect(page.get_by_role("heading", level=1)).to_be_visible()
        page.wait_for_load_state("networkidle")

    return go


LIST = (
    "Signal\tFrom\tFrom pin\tTo\tTo pin\tColour\n"
    "horn feed\tF1\tout1\tZ1\t+\tRD\n"
    "horn return\tZ1\t-\tB1\t-\tBK\n"
    "tell-tale\tZ1\t\tA1\t9\tVT\n"
)


def test_a_list_is_matched_put_in_and_what_is_refused_stays(page: Page, open_leaf):
    open_leaf("circuits/paste")
    box = page.get_by_label("The list")
    box.focus()
    paste(page, LIST)
    expect(page.get_by_text("2 of 3 understood")).to_be_visible()
    expect(page.get_by_text("It does not say from where")).to_be_visible()
    expect(page.get_by_label("Colour", exact=False).last).to_have_value("colour")
    page.get_by_role("button", name=re.compile("^Put in the 2")).click()
    expect(box).to_have_value("tell-tale\tZ1\t\tA1\t9\tVT")
    expect(page.get_by_text("0 of 1 understood")).to_be_visible()
    box.fill("tell-tale\tZ1\tt\tA1\t9\tVT")
    page.get_by_role("button", name="Put in the line").click()
    expect(page.get_by_role("grid", name="Circuits").get_by_text("tell-tale")).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.get_by_role("grid", name="Circuits").get_by_text("tell-tale")).to_have_count(0)
    page.keyboard.press("Control+z")
    expect(page.get_by_role("grid", name="Devices").get_by_text("Z1")).to_have_count(0)


def test_a_mode_is_made_and_a_load_put_off_in_it(page: Page, open_leaf):
    open_leaf("circuits/supply")
    modes = page.get_by_role("grid", name="Modes")
    for name in ("run", "start"):
        modes.get_by_text("new mode").click()
        page.keyboard.type(name)
        page.keyboard.press("Enter")
        expect(modes.get_by_role("gridcell", name=name, exact=True)).to_be_visible()
    shares = page.get_by_role("grid", name="What runs in each mode")
    pump = shares.get_by_role("row").filter(has_text="lift pump").get_by_role("gridcell")
    pump.nth(3).click()
    page.keyboard.type("off")
    page.keyboard.press("Enter")
    expect(pump.nth(3)).to_have_text("off")
    section = page.get_by_role("region").filter(has_text="in all")
    expect(section.get_by_role("row").filter(has_text="lift pump")).to_contain_text("–")


def test_a_wrong_share_is_kept_with_the_reason(page: Page, open_leaf):
    open_leaf("circuits/supply")
    page.get_by_role("grid", name="Modes").get_by_text("new mode").click()
    page.keyboard.type("run")
    page.keyboard.press("Enter")
    shares = page.get_by_role("grid", name="What runs in each mode")
    pump = shares.get_by_role("row").filter(has_text="lift pump").get_by_role("gridcell")
    pump.nth(2).click()
    page.keyboard.type("140")
    page.keyboard.press("Enter")
    expect(shares.get_by_role("alert")).to_contain_text("at most 100 %")


def test_the_schematic_draws_every_load_and_signal(page: Page, open_leaf):
    open_leaf("circuits/schematic")
    drawing = page.get_by_role("img", name="Schematic")
    expect(drawing).to_contain_text("lift pump")
    expect(drawing).to_contain_text("F1")
    expect(page.get_by_text("Signals and the rest")).to_be_visible()


def test_another_way_of_joining_is_taken_from_the_comparison(page: Page, open_leaf):
    open_leaf("circuits")
    circuits = page.get_by_role("grid", name="Circuits")
    wide = circuits.get_by_role("row").filter(has_text=re.compile(r"(\S+\.\S+ ){3,}")).first
    name = wide.get_by_role("gridcell").first.inner_text()
    wide.get_by_role("gridcell").first.click()
    card = page.get_by_role("complementary", name=f"Circuit {name}")
    before = card.get_by_label("joined by").input_value()
    card.get_by_role("button", name="home runs").click()
    expect(card.get_by_label("joined by")).to_have_value("home runs")
    page.keyboard.press("Control+z")
    expect(card.get_by_label("joined by")).to_have_value(before)


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
    page.keyboard.press("Delete")
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


def test_one_paste_of_many_cells_is_one_edit(page: Page, open_leaf):
    open_leaf("route")
    lengths = [cell(page, "Branches", f"R{n}", 3) for n in (1, 2, 3)]
    before = [c.inner_text() for c in lengths]
    lengths[0].click()
    paste(page, "111 mm\n222 mm\n333 mm\n")
    for c, mm in zip(lengths, (111, 222, 333), strict=True):
        expect(c).to_have_text(f"{mm} mm")
    page.keyboard.press("Control+z")
    for c, text in zip(lengths, before, strict=True):
        expect(c).to_have_text(text)


def test_a_paste_with_one_wrong_cell_keeps_the_others_and_says_why(page: Page, open_leaf):
    open_leaf("route")
    cell(page, "Branches", "R1", 3).click()
    paste(page, "111 mm\nthree feet or so\n333 mm\n")
    expect(cell(page, "Branches", "R1", 3)).to_have_text("111 mm")
    expect(cell(page, "Branches", "R3", 3)).to_have_text("333 mm")
    expect(page.get_by_role("grid", name="Branches").get_by_role("alert")).to_contain_text("three feet")


def test_another_family_is_taken_from_the_comparison(page: Page, open_leaf):
    open_leaf("wire/compare")
    table = page.get_by_role("table", name="Families side by side")
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


def test_a_device_is_kept_in_the_library_and_known_by_its_name(page: Page, open_leaf):
    open_leaf("circuits")
    cell(page, "Devices", "lift pump", 0).click()
    card = page.get_by_role("complementary", name="Device M1")
    card.get_by_text("Keep it in the library").click()
    card.get_by_label("also known as").fill("whirligig")
    card.get_by_role("button", name="Keep it").click()
    expect(page.get_by_text("begins like M1 from now on").first).to_be_visible()
    page.get_by_label("add").first.fill("whirligig 3 A")
    page.get_by_role("button", name="Put it in").click()
    expect(page.get_by_role("grid", name="Devices").get_by_text("whirligig").first).to_be_visible()
    page.get_by_role("link", name="Device library").click()
    library = page.get_by_role("grid", name="Device library")
    library.get_by_role("gridcell", name="lift pump", exact=True).click()
    page.keyboard.press("Delete")
    page.get_by_role("button", name="Put it back").click()
    kept = library.get_by_role("row").filter(has_text="your own")
    expect(kept).to_be_visible()
    kept.get_by_role("gridcell").first.click()
    page.keyboard.press("Delete")
    expect(kept).to_have_count(0)


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
    own = page.get_by_role("grid", name="Own families")
    own.get_by_text("new: its code").click()
    page.keyboard.type("shop ptfe")
    page.keyboard.press("Enter")
    own.get_by_role("gridcell", name="SHOP-PTFE", exact=True).click()
    sizes = page.get_by_role("grid", name="Sizes of SHOP-PTFE")
    sizes.get_by_text("new size").click()
    page.keyboard.type("18 AWG, 0.96, 1.9, 1.2, 20.9")
    page.keyboard.press("Enter")
    expect(sizes).to_contain_text("20.9 mΩ/m")
    page.get_by_label("Wire family").select_option("SHOP-PTFE")
    expect(page.get_by_test_id("sentence")).to_contain_text("SHOP-PTFE")
    expect(tally(page)).to_contain_text("wires")


def test_a_path_inside_a_device_is_added_by_keyboard_and_one_pin_to_itself_is_refused(page: Page, open_leaf):
    open_leaf("circuits")
    cell(page, "Devices", "lift pump", 0).click()
    card = page.get_by_role("complementary", name="Device M1")
    closed = card.get_by_text("Add a path for current inside it")
    expect(card.get_by_role("combobox", name="by a")).to_have_count(0)
    closed.focus()
    page.keyboard.press("Enter")
    card.get_by_role("combobox", name="to", exact=True).select_option("+")
    card.get_by_role("button", name="Add it").press("Enter")
    expect(card.get_by_role("alert")).to_contain_text("from one pin to another")
    card.get_by_role("combobox", name="to", exact=True).select_option("-")
    card.get_by_role("combobox", name="by a").select_option("switch")
    # Shut and opened again, what was chosen stands.
    closed.click()
    expect(card.get_by_role("combobox", name="by a")).not_to_be_visible()
    closed.click()
    expect(card.get_by_role("combobox", name="by a")).to_have_value("switch")
    card.get_by_role("button", name="Add it").press("Enter")
    expect(card.get_by_text("+ → - switch")).to_be_visible()
    expect(card.get_by_role("alert")).to_have_count(0)
    page.keyboard.press("Control+z")
    expect(card.get_by_text("+ → - switch")).to_have_count(0)


def test_a_typed_peak_is_seen_in_the_row_and_on_the_card(page: Page, open_leaf):
    open_leaf("circuits")
    page.get_by_label("add", exact=True).fill("M2 coolant pump 3 A, peak 9 A for 2 s")
    page.keyboard.press("Enter")
    draws = cell(page, "Devices", "coolant pump", 3)
    expect(draws).to_have_text("3 A")
    expect(draws.get_by_role("img", name="more for a moment")).to_be_visible()
    draws.click()
    card = page.get_by_role("complementary", name="Device M2")
    expect(card.get_by_text("Peak and inrush: peak 9 A for 2 s")).to_be_visible()
    expect(cell(page, "Devices", "lift pump", 3).get_by_role("img")).to_have_count(0)
