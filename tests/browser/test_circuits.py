"""Circuits and its leaves: devices, lists, modes, patterns, the schematic."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.browser.hands import paste
from tests.browser.test_jobs import cell, tally

LIST = (
    "Signal\tFrom\tFrom pin\tTo\tTo pin\tColour\n"
    "horn feed\tF1\tout1\tZ1\t+\tRD\n"
    "horn return\tZ1\t-\tB1\t-\tBK\n"
    "tell-tale\tZ1\t\tA1\t9\tVT\n"
)


def test_a_device_card_takes_pins_roles_and_a_fixed_fuse(page: Page, open_room):
    open_room("circuits")
    cell(page, "Devices", "fuse block", 0).click()
    card = page.get_by_role("complementary", name="Device F1")
    pins = card.get_by_role("grid", name="Pins of F1")
    pins.get_by_text("new pin").click()
    page.keyboard.type("o4 rain lamp")
    page.keyboard.press("Enter")
    expect(pins.get_by_role("gridcell", name="o4")).to_be_visible()
    pins.get_by_role("row").filter(has_text="o4").get_by_role("gridcell").nth(1).click()
    page.keyboard.type("supply o")
    page.keyboard.press("Enter")
    expect(pins.get_by_role("row").filter(has_text="o4")).to_contain_text("supply out")

    rating = card.get_by_label("rating").first
    expect(rating).to_have_attribute("placeholder", "5 A, worked out")
    rating.fill("elephant")
    rating.press("Enter")
    expect(card.get_by_role("alert")).to_contain_text("elephant")
    expect(rating).to_have_value("elephant")
    rating.fill("30")
    rating.press("Enter")
    expect(rating).to_have_value("30 A")
    expect(tally(page)).to_contain_text("stop")
    card.get_by_role("button", name="why").first.click()
    expect(page.get_by_role("complementary", name="Why")).to_contain_text("You fixed this rating.")


def test_a_taken_out_device_comes_back_whole(page: Page, open_room):
    open_room("circuits")
    cell(page, "Devices", "lift pump", 0).click()
    page.keyboard.press("Control+Delete")
    expect(cell(page, "Devices", "lift pump", 0)).to_have_count(0)
    expect(tally(page).get_by_role("link").filter(has_text="wires")).to_contain_text("16")
    page.keyboard.press("Control+z")
    expect(cell(page, "Devices", "lift pump", 3)).to_have_text("4 A")
    expect(tally(page).get_by_role("link").filter(has_text="wires")).to_contain_text("18")
    page.keyboard.press("Control+Shift+z")
    expect(cell(page, "Devices", "lift pump", 0)).to_have_count(0)


def test_a_pin_in_use_is_not_taken_out_and_the_reason_is_said(page: Page, open_room):
    open_room("circuits")
    cell(page, "Devices", "lift pump", 0).click()
    pins = page.get_by_role("grid", name="Pins of M1")
    pins.get_by_role("row").filter(has_text="feed").get_by_role("gridcell").first.click()
    page.keyboard.press("Control+Delete")
    expect(page.get_by_text("There is no pin").first).to_be_visible()
    expect(pins.get_by_role("row")).to_have_count(4)


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


def test_one_paste_of_many_cells_is_one_edit(page: Page, open_leaf):
    open_leaf("route")
    lengths = [cell(page, "Branches", f"R{n}", 3) for n in (1, 2, 3)]
    before = [c.inner_text() for c in lengths]
    lengths[0].click()
    paste(page, "111 mm\n222 mm\n333 mm\n")
    for c, mm in zip(lengths, (111, 222, 333), strict=True):
        expect(c).to_have_text(str(mm))
    page.keyboard.press("Control+z")
    for c, text in zip(lengths, before, strict=True):
        expect(c).to_have_text(text)


def test_a_paste_with_one_wrong_cell_keeps_the_others_and_says_why(page: Page, open_leaf):
    open_leaf("route")
    cell(page, "Branches", "R1", 3).click()
    paste(page, "111 mm\nthree feet or so\n333 mm\n")
    expect(cell(page, "Branches", "R1", 3)).to_have_text("111")
    expect(cell(page, "Branches", "R3", 3)).to_have_text("333")
    expect(page.get_by_role("grid", name="Branches").get_by_role("alert")).to_contain_text("three feet")


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
    page.keyboard.press("Control+Delete")
    page.get_by_role("button", name="Put it back").click()
    kept = library.get_by_role("row").filter(has_text="your own")
    expect(kept).to_be_visible()
    kept.get_by_role("gridcell").first.click()
    page.keyboard.press("Control+Delete")
    expect(kept).to_have_count(0)


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
