"""The shopping list on screen: prices asked, an order written, parts set aside, wholes side by side."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.hands import under


@pytest.fixture
def parts(page: Page, site):
    def go(leaf: str = "", design: str = "larkspur") -> None:
        page.goto(f"{site}/d/{design}/parts/{leaf}".rstrip("/"))
        expect(page.get_by_role("heading", level=1)).to_have_text("Parts")

    return go


def test_prices_are_asked_for_and_an_order_is_written_and_sent(page: Page, parts):
    parts()
    page.get_by_role("button", name="Ask for prices").click()
    orders = page.get_by_role("table", name=re.compile("^From "))
    expect(orders.first).to_be_visible(timeout=30_000)
    expect(orders.first).to_contain_text("just now")
    page.get_by_role("button", name="write this order").first.click()
    written = page.get_by_role("table", name="Orders written")
    expect(written).to_contain_text("written")
    written.get_by_role("button", name="send it").click()
    written.get_by_role("link", name="as CSV").wait_for()
    page.reload()
    expect(written).to_contain_text("sent")
    written.get_by_role("button", name="tear it up").click()
    expect(written).to_have_count(0)


def test_a_price_is_corrected_in_its_cell_for_every_harness_and_taken_back(page: Page, parts):
    parts("bill")
    page.wait_for_load_state("networkidle")
    page.get_by_label("Filter Bill of materials").fill("fuse BF")
    each = under(page, "Bill of materials", "Each")
    was = each.inner_text()
    each.click()
    page.keyboard.type("9.75")
    page.keyboard.press("Enter")
    expect(each).to_have_text("9.75")
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(each).to_have_text(was)
    each.click()
    page.keyboard.type("dear")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert").first).to_contain_text("dear")
    page.keyboard.press("Escape")


def test_parts_in_the_drawers_are_set_aside_let_go_and_taken_out(page: Page, site, parts):
    bill = page.request.get(f"{site}/api/designs/larkspur").json()["evaluation"]["parts"]["lines"]
    fuse = next(x for x in bill if x["group"] == "fuse")
    url = f"{site}/api/shop/stock"
    page.request.post(url, data={"text": f"{fuse['code']} 1 in drawer 3"})
    parts("drawers")
    lying = page.get_by_role("table", name="In the drawers")
    row = lying.get_by_role("row").filter(has_text=fuse["code"])
    expect(row).to_contain_text("drawer 3")
    page.get_by_role("button", name="Set all of it aside").click()
    expect(row.get_by_role("cell").nth(4)).to_have_text("1")
    page.get_by_role("button", name="let it go", exact=True).click()
    expect(row.get_by_role("cell").nth(4)).to_have_text("–")
    row.get_by_role("button", name="take out").click()
    expect(row.get_by_role("cell").nth(3)).to_have_text("0")
    page.get_by_role("button", name="Put it back").click()
    expect(row.get_by_role("cell").nth(3)).to_have_text("1")
    page.request.delete(f"{url}?id={fuse['code']}", headers={"Content-Type": "application/json"})


def test_another_way_stands_beside_it_and_is_taken_in_one_act(page: Page, parts):
    parts("ways")
    page.get_by_label("put another way beside it").select_option("cover 4")
    table = page.get_by_role("table", name="Side by side")
    expect(table.get_by_role("columnheader", name="harness tape")).to_be_visible(timeout=30_000)
    table.get_by_role("button", name="make it so").click()
    page.get_by_role("link", name="Held against").click()
    page.get_by_label("held against").select_option(index=1)
    expect(page.get_by_role("table", name="Parts otherwise")).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.get_by_role("table", name="Parts otherwise")).to_have_count(0)


def test_a_table_of_stock_comes_in_or_says_its_row(page: Page, site, tmp_path):
    page.goto(f"{site}/drawers/stock")
    bad = tmp_path / "stock.csv"
    bad.write_text("code,quantity,place\nSS15-P6,4,bin 4\nNOBODY,2,\n", encoding="utf-8")
    page.get_by_label("Table of stock").set_input_files(bad)
    expect(page.get_by_role("alert")).to_contain_text("Row 3")
    bad.write_text("code,quantity,place\nSS15-P6,4,bin 4\n", encoding="utf-8")
    page.get_by_label("Table of stock").set_input_files(bad)
    expect(page.get_by_label("SS15-P6 lies in")).to_have_value("bin 4")
    row = page.get_by_role("row").filter(has_text="SS15-P6")
    row.get_by_role("button", name="take it out").click()
    expect(row).to_have_count(0)
