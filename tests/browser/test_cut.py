"""Cut on screen: pieces ticked by keyboard and by thumb, spools noted, spoiled pieces, ends left long."""

from __future__ import annotations

import json
import urllib.request

import pytest
from playwright.sync_api import Page, expect


@pytest.fixture
def open_cut(page: Page, site):
    def go(leaf: str = ""):
        page.goto(f"{site}/d/larkspur/cut{f'/{leaf}' if leaf else ''}")
        expect(page.get_by_role("heading", level=1)).to_have_text("Cut")
        page.wait_for_load_state("networkidle")

    return go


@pytest.fixture
def stocked(site):
    """A spool of every wire, of 40 m; taken out again afterwards."""

    def ask(path: str, method: str = "GET", body: object = None):
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(
            f"{site}{path}", data, {"Content-Type": "application/json"}, method=method
        )
        return json.load(urllib.request.urlopen(request))

    parts = ask("/api/designs/larkspur/cut-plan")["plan"]["parts"]
    text = "\n".join(f"{p['part']} {p['colour']} 40 m in drawer {n}" for n, p in enumerate(parts))
    ask("/api/shop/spools", "POST", {"text": text})
    yield ask
    for spool in ask("/api/shop/spools")["spools"]:
        ask(f"/api/shop/spools?id={spool['id']}", "DELETE", {})


def test_a_piece_is_ticked_with_the_space_bar_and_taken_back(page: Page, open_cut, stocked):
    open_cut()
    grid = page.get_by_role("grid", name="Cut list")
    box = grid.get_by_role("checkbox").first
    label = (box.get_attribute("aria-label") or "").removesuffix(" is cut")
    grid.get_by_text(label, exact=True).first.click()
    page.keyboard.press(" ")
    expect(grid.get_by_role("checkbox", name=f"{label} is cut")).to_have_attribute("aria-checked", "true")
    expect(page.get_by_test_id("sentence")).to_contain_text("1 cut")
    page.reload()
    expect(grid.get_by_role("checkbox", name=f"{label} is cut")).to_have_attribute("aria-checked", "true")
    # By thumb it goes back.
    grid.get_by_role("checkbox", name=f"{label} is cut").click()
    expect(page.get_by_test_id("sentence")).to_contain_text("none is cut yet")


def test_pieces_lie_on_their_spools_and_a_spoiled_one_is_cut_again(page: Page, open_cut, stocked):
    open_cut("spools")
    card = page.get_by_role("complementary", name="The plan")
    expect(card.get_by_role("heading")).to_contain_text("less is not possible")
    bars = page.get_by_role("table", name="Spools and what comes off them")
    first = bars.get_by_role("checkbox").first
    name = (first.get_attribute("aria-label") or "").partition(",")[0]
    first.click()
    expect(first).to_have_attribute("aria-checked", "true")
    page.get_by_role("button", name=f"{name} spoiled").click()
    expect(page.get_by_text(f"{name} is cut again.").first).to_be_visible()
    expect(bars.get_by_role("checkbox", name=f"{name},")).to_have_count(2)
    page.get_by_role("button", name="It is good after all").click()
    expect(bars.get_by_role("checkbox", name=f"{name},")).to_have_count(1)
    bars.get_by_role("checkbox", name=f"{name},").click()
    expect(page.get_by_test_id("sentence")).to_contain_text("none is cut yet")


def test_a_wrong_spool_stays_in_its_field_with_what_is_wrong(page: Page, open_cut):
    open_cut("spools")
    field = page.get_by_label("Spools at hand")
    field.fill("AS22759/32 20 AWG 30 m")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("Say the colour")
    expect(field).to_have_value("AS22759/32 20 AWG 30 m")
    field.fill("AS22759/32 20 AWG RD 30 m in drawer 3")
    page.keyboard.press("Enter")
    expect(field).to_have_value("")
    page.get_by_text("All wire at hand").click()
    left = page.get_by_label("AS22759/32 20 AWG RD left")
    left.fill("12.5 m")
    page.keyboard.press("Enter")
    expect(page.get_by_label("AS22759/32 20 AWG RD left")).to_have_value("12500 mm")
    page.get_by_role("button", name="take it out").click()
    expect(left).to_have_count(0)


def test_an_end_is_left_long_and_undone(page: Page, open_cut):
    open_cut("ends")
    grid = page.get_by_role("grid", name="Ends as they are cut")
    row = grid.get_by_role("row").nth(1)
    pin = row.get_by_role("gridcell").first.inner_text()
    row.get_by_role("gridcell").nth(5).click()
    page.keyboard.type("6 in")
    page.keyboard.press("Enter")
    expect(row.get_by_role("gridcell").nth(5)).to_have_text("152")
    open_cut()
    expect(page.get_by_role("grid", name="Cut list").get_by_text("left long").first).to_be_visible()
    expect(page.get_by_role("grid", name="Cut list").get_by_text("+ 152").first).to_be_visible()
    open_cut("ends")
    expect(grid.get_by_role("row").nth(1).get_by_role("gridcell").first).to_have_text(pin)
    page.keyboard.press("Control+z")
    expect(grid.get_by_role("row").nth(1).get_by_role("gridcell").nth(5)).to_have_text("–")


def test_what_is_typed_wrong_at_an_end_is_said_there(page: Page, open_cut):
    open_cut("ends")
    row = page.get_by_role("grid", name="Ends as they are cut").get_by_role("row").nth(1)
    row.get_by_role("gridcell").nth(2).click()
    page.keyboard.type("thumb")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert").first).to_contain_text("thumb")
    expect(row.get_by_role("gridcell").nth(2)).to_have_text("thumb")


def test_the_list_goes_by_connector(page: Page, open_cut):
    open_cut()
    page.get_by_label("cut first").select_option("connector")
    expect(page.get_by_label("cut first")).to_have_value("connector")
    expect(page.get_by_role("grid", name="Cut list").get_by_role("row").nth(1)).to_contain_text("A1")
    page.keyboard.press("Escape")
    page.locator("body").click(position={"x": 5, "y": 5})
    page.keyboard.press("Control+z")
    expect(page.get_by_label("cut first")).to_have_value("longest")


def test_strips_are_drawn_at_true_size_beside_a_ruler(page: Page, open_cut):
    open_cut("strips")
    ruler = page.get_by_role("img", name="Ruler of 100 mm")
    # A CSS millimetre is 96 / 25.4 pixels: the ruler and 6 mm at either side.
    assert ruler.bounding_box()["width"] == pytest.approx(112 * 96 / 25.4, abs=0.5)
    picture = page.get_by_role("img", name="stripped 5 mm").first
    assert picture.bounding_box()["width"] == pytest.approx((22 + 5 + 2) * 96 / 25.4, abs=0.5)


def test_an_address_that_is_none_leads_to_the_brief(page: Page, site):
    page.goto(f"{site}/d/larkspur/cut/ends/and/more")
    expect(page).to_have_url(f"{site}/d/larkspur/brief")
