"""Whole jobs in a real browser, as a builder does them."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect


def tally(page: Page):
    return page.get_by_role("region", name="Tally")


def cell(page: Page, grid: str, row: str, column: int):
    return (
        page.get_by_role("grid", name=grid)
        .get_by_role("row")
        .filter(has_text=row)
        .first.get_by_role("gridcell")
        .nth(column)
    )


def test_raising_the_pump_from_4_to_11_amperes_is_seen_everywhere_and_ctrl_z_takes_it_back(page: Page, site):
    page.goto(f"{site}/d/larkspur/circuits")
    expect(tally(page)).to_contain_text("nothing found")
    grams = tally(page).get_by_role("link").filter(has_text="grams").inner_text()

    draws = cell(page, "Devices", "lift pump", 3)
    expect(draws).to_have_text("4 A")
    draws.click()
    page.keyboard.type("11")
    page.keyboard.press("Enter")
    expect(draws).to_have_text("11 A")
    expect(tally(page)).to_contain_text("1 stop")
    expect(tally(page).get_by_role("link").filter(has_text="grams")).not_to_have_text(grams)
    expect(cell(page, "Circuits", "lift pump feed", 5)).to_have_text("F1 15 A")

    page.get_by_role("link", name=re.compile("^Wire")).click()
    gauge = cell(page, "Wires", "C2", 5)
    expect(gauge).to_have_text("14 AWG")
    expect(cell(page, "Wires", "C2", 6)).to_have_text("15 A")
    gauge.click()
    page.keyboard.press("w")
    why = page.get_by_role("complementary", name="Why")
    expect(why).to_contain_text("Why 14 AWG?")
    expect(why).to_contain_text("behind 15 A of protection")

    page.get_by_role("link", name=re.compile("^Ends")).click()
    page.get_by_role("button", name=re.compile("^M1 ")).click()
    page.get_by_role("button", name="Why R16T-S-B?").click()
    expect(why).to_contain_text("of equals the narrowest")

    page.get_by_role("link", name=re.compile("^Parts")).click()
    page.get_by_role("link", name="The bill").click()
    expect(page.get_by_role("gridcell", name="BF-15")).to_be_visible()
    page.get_by_role("gridcell", name="R16T-S-B").click()
    page.keyboard.press("w")
    expect(why).to_contain_text("Why 2?")
    page.get_by_role("button", name=re.compile("^why .* g$")).click()
    expect(why).to_contain_text("one harness of 18 wires")
    page.get_by_role("link", name=re.compile("^Findings")).click()
    expect(page.get_by_text("Fuse above its weakest link")).to_be_visible()

    page.keyboard.press("Control+z")
    expect(tally(page)).to_contain_text("nothing found")
    page.get_by_role("link", name=re.compile("^Wire")).click()
    expect(gauge).to_have_text("16 AWG")
    page.get_by_role("link", name=re.compile("^Ends")).click()
    page.get_by_role("button", name=re.compile("^M1 ")).click()
    expect(page.get_by_role("complementary", name="Cavity 1")).to_contain_text("R16T-S-A")
    page.get_by_role("link", name=re.compile("^Parts")).click()
    page.get_by_role("link", name="The bill").click()
    expect(page.get_by_role("gridcell", name="BF-5", exact=True)).to_be_visible()
    expect(page.get_by_role("gridcell", name="R16T-S-B")).to_have_count(0)


def test_from_nothing_to_a_bill_and_a_cut_list_by_keyboard_alone(page: Page, site):
    """A pump, a lamp and a two-wire sensor. No mouse after the page is open."""
    page.goto(site)
    expect(page.get_by_label("New harness")).to_be_focused()
    page.keyboard.type("Test rig")
    page.keyboard.press("Enter")
    line = page.get_by_label("add", exact=True)
    expect(line).to_be_visible()
    while not line.evaluate("e => e === document.activeElement"):
        page.keyboard.press("Tab")
    for text in (
        "B1 battery > F1 fuse > M1 fuel pump 5 A > B1",
        "F1.out > E1 rain lamp 2 A > B1",
        "F1.out > A1 controller 0.5 A > B1",
        "A1.I1 > T1 oil sensor > A1.N1",
    ):
        page.keyboard.type(text)
        page.keyboard.press("Enter")
        expect(line).to_have_value("")
    page.keyboard.press("Alt+ArrowDown")
    expect(page.get_by_role("heading", name="Route")).to_be_visible()
    line = page.get_by_label("add", exact=True)
    while not line.evaluate("e => e === document.activeElement"):
        page.keyboard.press("Tab")
    for text in ("B1 180 > F1 650 > mid 4 ft 2 > M1", "mid 250 > E1", "mid 300 > A1 400 > T1"):
        page.keyboard.type(text)
        page.keyboard.press("Enter")
        expect(line).to_have_value("")
    page.keyboard.press("Alt+ArrowDown")
    expect(page.get_by_test_id("sentence")).to_contain_text("11 wires sized")
    for _ in range(2):
        page.keyboard.press("Alt+ArrowDown")
    expect(page.get_by_test_id("sentence")).to_contain_text("11 pieces to cut")
    for _ in range(2):
        page.keyboard.press("Alt+ArrowDown")
    expect(page.get_by_role("grid", name="Bill of materials").get_by_role("row")).not_to_have_count(1)
    expect(page.get_by_test_id("sentence")).to_contain_text("lines to buy")


def test_what_is_not_understood_stays_where_it_was_typed(page: Page, site):
    page.goto(f"{site}/d/larkspur/route")
    length = cell(page, "Branches", "R5", 3)
    length.click()
    page.keyboard.type("25 elephants")
    page.keyboard.press("Enter")
    expect(length).to_contain_text("25 elephants")
    expect(page.get_by_role("alert")).to_contain_text("elephants")
    page.keyboard.press("ArrowUp")
    page.keyboard.press("F2")
    page.keyboard.press("Control+a")
    page.keyboard.type("9 1/4 in")
    page.keyboard.press("Enter")
    expect(length).to_have_text("235")
    expect(page.get_by_role("alert")).to_have_count(0)

    line = page.get_by_label("add", exact=True)
    line.fill("bulk 300 > M1")
    line.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("loop")
    expect(line).to_have_value("bulk 300 > M1")


def test_shelf_new_duplicate_remove_with_undo_import_and_export(page: Page, site, tmp_path):
    page.goto(site)
    expect(page.get_by_role("link", name=re.compile("^Larkspur"))).to_be_visible()
    page.get_by_role("button", name="More for Larkspur").click()
    page.get_by_role("menuitem", name="Duplicate").click()
    expect(page.get_by_role("link", name=re.compile("^Larkspur copy"))).to_be_visible()
    page.get_by_role("button", name="More for Larkspur copy").click()
    page.get_by_role("menuitem", name="Take off the shelf").click()
    expect(page.get_by_role("link", name=re.compile("^Larkspur copy"))).to_have_count(0)
    page.get_by_role("button", name="Put it back").click()
    expect(page.get_by_role("link", name=re.compile("^Larkspur copy"))).to_be_visible()

    page.get_by_role("button", name="More for Larkspur", exact=True).click()
    with page.expect_download() as download:
        page.get_by_role("menuitem", name="Export design file").click()
    file = tmp_path / download.value.suggested_filename
    download.value.save_as(file)
    page.get_by_label("Design file").set_input_files(file)
    expect(page.get_by_role("heading", name="Brief")).to_be_visible()
    page.goto(site)
    foreign = tmp_path / "foreign.json"
    foreign.write_text('{"format": "spreadsheet"}')
    page.get_by_label("Design file").set_input_files(foreign)
    expect(page.get_by_role("alert")).to_contain_text("not a design document")


def test_a_gauge_is_fixed_with_a_reason_judged_and_freed_by_one_click(page: Page, site):
    page.goto(f"{site}/d/larkspur/wire")
    cell(page, "Wires", "C2", 5).click()
    page.keyboard.press("w")
    why = page.get_by_role("complementary", name="Why")
    why.get_by_role("radio", name="22", exact=True).click()
    why.get_by_label("Fix 22 AWG, because").fill("spool at hand")
    page.keyboard.press("Enter")
    expect(cell(page, "Wires", "C2", 5)).to_contain_text("22 AWG")
    expect(why).to_contain_text("Fixed by you: spool at hand.")
    page.get_by_role("link", name=re.compile("^Findings")).click()
    page.get_by_role("button", name="Do it").first.click()
    expect(tally(page)).to_contain_text("nothing found")
