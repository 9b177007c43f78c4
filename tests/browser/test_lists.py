"""Lists as they are worked with: emptied, taken out, found in, put in order, chosen from, filled down."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from tests.browser.test_jobs import cell, tally


def rows_of(page: Page, name: str) -> list[str]:
    grid = page.get_by_role("grid", name=name, exact=True)
    return [row.inner_text() for row in grid.get_by_role("row").all()[1:]]


def test_delete_empties_a_cell_and_control_delete_takes_the_row_out(page: Page, open_room):
    open_room("circuits")
    name = cell(page, "Devices", "lift pump", 1)
    name.click()
    page.keyboard.press("Delete")
    expect(cell(page, "Devices", "M1", 1)).to_have_text("")
    page.keyboard.press("Control+z")
    expect(name).to_have_text("lift pump")
    cell(page, "Devices", "lift pump", 0).click()
    page.keyboard.press("Delete")
    expect(page.get_by_text("Ctrl+Delete takes the row out").first).to_be_visible()
    expect(name).to_have_text("lift pump")
    page.keyboard.press("Control+Delete")
    expect(page.get_by_text("is taken out").first).to_contain_text("M1, with")
    expect(name).to_have_count(0)
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(name).to_have_text("lift pump")


def test_a_row_is_taken_out_by_its_menu(page: Page, open_room):
    open_room("circuits")
    cell(page, "Devices", "lift pump", 0).click()
    page.get_by_role("button", name="What can be done with M1").click()
    page.get_by_role("menuitem", name="Take out").click()
    expect(cell(page, "Devices", "lift pump", 0)).to_have_count(0)


def test_a_list_is_filtered_put_in_order_and_grouped(page: Page, open_room):
    open_room("wire")
    grid = page.get_by_role("grid", name="Wires")
    cell(page, "Wires", "C1", 0).first.click()
    wires = grid.get_by_role("row").count()
    page.keyboard.press("/")
    page.keyboard.type("lift pump")
    expect(page.get_by_role("status").filter(has_text=" of ")).to_contain_text("2 of")
    expect(grid.get_by_role("row")).to_have_count(3)
    page.keyboard.press("Escape")
    expect(page.get_by_role("status").filter(has_text=" of ")).to_have_count(0)
    expect(grid.get_by_role("row")).to_have_count(wires)
    whole = rows_of(page, "Wires")
    grid.get_by_role("columnheader", name="Current").get_by_role("button").click()
    expect(grid.get_by_role("columnheader", name="Current")).to_have_attribute("aria-sort", "ascending")
    ordered = rows_of(page, "Wires")
    assert sorted(ordered) == sorted(whole)
    assert ordered != whole
    page.get_by_role("button", name="columns").click()
    page.get_by_role("menuitemcheckbox", name="Fuse").click()
    expect(grid.get_by_role("columnheader", name="Fuse")).to_have_count(0)
    page.get_by_role("menuitemradio", name="Gauge").last.click()
    expect(grid.locator("p").filter(has_text="16 AWG")).to_be_visible()
    page.reload()
    expect(grid.get_by_role("columnheader", name="Fuse")).to_have_count(0)


def test_what_is_typed_goes_into_every_row_that_is_chosen_as_one_edit(page: Page, open_room):
    open_room("circuits")
    names = ("controller", "dash node", "lift pump")
    cell(page, "Devices", names[0], 3).click()
    page.keyboard.press("Shift+ArrowDown")
    page.keyboard.press("Shift+ArrowDown")
    page.keyboard.type("1.1")
    page.keyboard.press("Enter")
    for name in names:
        expect(cell(page, "Devices", name, 3)).to_contain_text("1.1 A")
    page.keyboard.press("Control+z")
    for name, draws in zip(names, ("0.8 A", "0.4 A", "4 A"), strict=True):
        expect(cell(page, "Devices", name, 3)).to_contain_text(draws)


def test_rows_stay_chosen_when_the_list_is_put_in_another_order(page: Page, open_room):
    open_room("circuits")
    names = ("controller", "dash node")
    cell(page, "Devices", names[0], 3).click()
    page.keyboard.press("Shift+ArrowDown")
    heading = page.get_by_role("grid", name="Devices").get_by_role("columnheader", name="Name")
    heading.get_by_role("button").click()
    expect(heading).to_have_attribute("aria-sort", "ascending")
    chosen = page.get_by_role("grid", name="Devices").locator("[role=row][aria-selected=true]")
    expect(chosen).to_have_count(2)
    for name in names:
        expect(chosen.filter(has_text=name)).to_have_count(1)


def test_edits_are_taken_back_by_their_words_and_say_what_they_changed(page: Page, open_room):
    open_room("circuits")
    draws = cell(page, "Devices", "lift pump", 3)
    draws.click()
    page.keyboard.type("11")
    page.keyboard.press("Enter")
    edits = page.get_by_role("region", name="Edits")
    expect(edits.get_by_role("button", name="Undo: lift pump draws 11")).to_be_visible()
    expect(page.get_by_role("status", name="What the last edit changed")).to_contain_text("was")
    edits.get_by_role("button", name="what changed").click()
    expect(page.get_by_role("dialog", name="What this edit changed")).to_contain_text("was 16 AWG")
    page.get_by_role("button", name="close").click()
    page.get_by_role("link", name="Wire", exact=False).first.click()
    changed = page.locator(".differs").first
    expect(changed).to_be_visible()
    edits.get_by_role("button", name="all edits").click()
    listed = page.get_by_role("dialog", name="Edits of this harness")
    expect(listed).to_contain_text("lift pump draws 11")
    listed.get_by_role("button", name="take back").first.click()
    expect(edits.get_by_role("button", name="Redo: lift pump draws 11")).to_be_visible()


def test_control_k_goes_to_a_wire_a_device_and_a_room(page: Page, open_room):
    open_room("brief")
    expect(tally(page)).to_be_visible()
    for typed, where in (
        ("lift pump", "circuits?at=M1"),
        ("dress: labels", "dress/labels"),
        ("C11", "at=C11"),
    ):
        page.keyboard.press("Control+k")
        page.get_by_role("combobox", name="Go to").fill(typed)
        page.get_by_role("dialog", name="Go to").get_by_role("option").first.wait_for()
        page.keyboard.press("Enter")
        page.wait_for_url(lambda url, where=where: where in url)


def test_the_card_is_put_away_by_a_key_and_stays_away(page: Page, open_room):
    open_room("circuits")
    cell(page, "Devices", "lift pump", 0).click()
    card = page.get_by_role("complementary", name="M1")
    expect(card).to_be_visible()
    page.keyboard.press("\\")
    expect(card).to_have_count(0)
    page.reload()
    cell(page, "Devices", "lift pump", 0).click()
    page.get_by_role("button", name="show the card").click()
    expect(card).to_be_visible()
    page.get_by_role("button", name="below the list").click()
    assert card.bounding_box()["y"] > page.get_by_role("grid", name="Circuits").bounding_box()["y"]


def test_control_z_in_a_text_that_is_typed_undoes_text_only(page: Page, open_room):
    open_room("circuits")
    cell(page, "Devices", "lift pump", 3).click()
    page.keyboard.type("11")
    page.keyboard.press("Enter")
    edits = page.get_by_role("region", name="Edits")
    expect(edits.get_by_role("button", name="Undo: lift pump draws 11")).to_be_visible()
    line = page.locator("input[data-line]")
    line.fill("B1 > E9 lamp")
    page.keyboard.press("Control+z")
    expect(edits.get_by_role("button", name="Undo: lift pump draws 11")).to_be_visible()


def test_a_line_half_typed_is_there_again_when_the_room_is_come_back_to(page: Page, open_room):
    open_room("circuits")
    line = page.locator("input[data-line]")
    line.fill("B1 > E9 la")
    rooms = page.get_by_role("navigation", name="Rooms")
    rooms.get_by_role("link", name="Wire").first.click()
    expect(page.get_by_role("heading", level=1, name="Wire")).to_be_visible()
    rooms.get_by_role("link", name="Circuits").first.click()
    expect(line).to_have_value("B1 > E9 la")


def test_the_question_mark_lists_the_keys(page: Page, open_room):
    open_room("circuits")
    cell(page, "Devices", "lift pump", 0).click()
    page.keyboard.press("?")
    keys = page.get_by_role("dialog", name="Keys")
    expect(keys).to_contain_text("Ctrl Delete")
    page.keyboard.press("Escape")
    expect(keys).to_have_count(0)


def test_the_tab_key_comes_to_the_work_by_a_link(page: Page, open_room):
    open_room("circuits")
    expect(tally(page)).to_be_visible()
    page.keyboard.press("Tab")
    page.keyboard.press("Enter")
    expect(page.locator("input[data-line]")).to_be_focused()


CLIPPED = """() => [...document.querySelectorAll('[role=gridcell].font-figures')]
    .filter((cell) => {
      const style = getComputedStyle(cell), written = document.createRange();
      written.selectNodeContents(cell);
      const room = cell.clientWidth - parseFloat(style.paddingLeft) - parseFloat(style.paddingRight);
      return written.getBoundingClientRect().width > room + 1 && /\\d/.test(cell.innerText);
    })
    .map((cell) => cell.innerText)"""


@pytest.mark.parametrize(
    "leaf",
    [
        "circuits",
        "circuits/supply",
        "route",
        "route/points",
        "wire",
        "ends/A1",
        "cut",
        "dress",
        "parts/bill",
        "prove",
    ],
)
def test_no_figure_is_cut_short_and_no_page_scrolls_sideways(page: Page, open_leaf, leaf):
    open_leaf(leaf)
    cells = page.get_by_role("gridcell")
    cells.first.wait_for()
    if leaf in ("wire", "cut"):
        cells.first.click()
        page.keyboard.press("w")
        expect(page.get_by_role("complementary").first).to_be_visible()
    assert page.evaluate(CLIPPED) == []
    assert page.evaluate("document.documentElement.scrollWidth - innerWidth") <= 0


@pytest.mark.parametrize("leaf", ["brief", "circuits", "wire", "parts/bill", "prove"])
def test_on_a_phone_the_rooms_are_a_strip_and_no_page_scrolls_sideways(page: Page, open_room, leaf):
    page.set_viewport_size({"width": 390, "height": 780})
    open_room(leaf)
    rooms = page.get_by_role("navigation", name="Rooms")
    assert rooms.bounding_box()["height"] < 60
    expect(rooms.locator("[aria-current=page]")).to_be_in_viewport()
    assert page.evaluate("document.documentElement.scrollWidth - innerWidth") <= 0
