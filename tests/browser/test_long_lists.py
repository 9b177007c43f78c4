"""Long lists: only rows near to what is seen are made, and none is harder to reach for it."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect
from tools.harnesses import synthetic


@pytest.fixture
def long_list(page: Page, site):
    """A harness of 240 wires: its address."""
    made = page.request.post(f"{site}/api/designs", data={"document": synthetic(240)})
    return f"{site}/d/{made.json()['id']}"


def test_few_rows_are_made_of_a_long_list_and_every_one_is_reached(page: Page, long_list):
    page.goto(f"{long_list}/circuits")
    grid = page.get_by_role("grid", name="Devices")
    rows = grid.get_by_role("row")
    rows.nth(3).wait_for()
    count = int(grid.get_attribute("aria-rowcount"))
    assert count > 250
    assert rows.count() < 80
    grid.get_by_role("gridcell").nth(3).click()
    page.keyboard.press("Control+End")
    last = grid.locator(f"[aria-rowindex='{count}']")
    expect(last).to_be_in_viewport()
    active = page.evaluate("document.activeElement.getAttribute('aria-activedescendant')")
    expect(page.locator(f"[id='{active}']")).to_be_in_viewport()
    page.keyboard.press("ArrowUp")
    page.keyboard.press("PageUp")
    expect(grid.locator(f"[aria-rowindex='{count - 11}']")).to_be_in_viewport()
    page.keyboard.press("Control+Home")
    expect(grid.locator("[aria-rowindex='2']")).to_be_in_viewport()
    assert rows.count() < 80


def test_rows_of_a_long_list_follow_each_other_without_a_gap(page: Page, long_list):
    page.goto(f"{long_list}/wire")
    grid = page.get_by_role("grid", name="Wires")
    grid.get_by_role("row").nth(3).wait_for()
    page.mouse.move(600, 500)
    for _ in range(12):
        page.mouse.wheel(0, 700)
        page.wait_for_timeout(120)
        page.wait_for_function(
            """() => {
              const seen = [...document.querySelectorAll('[role=grid][aria-label=Wires] [role=row]')].slice(1)
                .map(r => [Number(r.ariaRowIndex), r.getBoundingClientRect()])
                .filter(([, b]) => b.bottom > 60 && b.top < innerHeight);
              const foot = seen.at(-1)[1].bottom;
              return seen.every(([n, b], i) => !i || (n === seen[i - 1][0] + 1
                && Math.abs(b.top - seen[i - 1][1].bottom) < 1.5))
                && (foot >= innerHeight - 1 || scrollY + innerHeight > document.body.scrollHeight - 80);
            }"""
        )


def test_the_browsers_own_search_of_a_long_list_leads_to_its_filter(page: Page, long_list):
    page.goto(f"{long_list}/circuits")
    grid = page.get_by_role("grid", name="Devices")
    grid.get_by_role("row").nth(3).wait_for()
    page.keyboard.press("Control+f")
    expect(page.get_by_role("textbox", name="Filter Devices")).to_be_focused()
    expect(page.get_by_text("The filter seeks in all").first).to_be_visible()
    page.keyboard.type("L5n1")
    expect(grid.get_by_role("gridcell", name="L5n1", exact=True).first).to_be_visible()
    expect(grid.get_by_role("row")).to_have_count(3)


def test_what_is_half_typed_stays_while_its_row_is_scrolled_away(page: Page, long_list):
    page.goto(f"{long_list}/circuits")
    grid = page.get_by_role("grid", name="Devices")
    grid.get_by_role("row").nth(3).wait_for()
    grid.locator("[aria-rowindex='3']").get_by_role("gridcell").nth(1).click()
    page.keyboard.type("half a na")
    page.mouse.move(600, 500)
    page.mouse.wheel(0, 6000)
    expect(grid.locator("[aria-rowindex='3']")).not_to_be_in_viewport()
    page.keyboard.type("me")
    page.keyboard.press("Enter")
    page.keyboard.press("Control+Home")
    expect(grid.locator("[aria-rowindex='3']").get_by_role("gridcell").nth(1)).to_have_text("half a name")


def test_an_address_that_names_a_row_far_down_opens_it(page: Page, long_list):
    page.goto(f"{long_list}/circuits?at=L5n1")
    grid = page.get_by_role("grid", name="Devices")
    expect(grid.get_by_role("gridcell", name="L5n1", exact=True).first).to_be_in_viewport()


PAINTED = """grid => {
  grid.scrollLeft = grid.scrollWidth;
  const row = grid.querySelectorAll('[role=row]')[2];
  const cell = [...row.querySelectorAll('[role=gridcell]')].at(-1).getBoundingClientRect();
  const there = document.elementFromPoint(cell.left + cell.width / 2, cell.top + cell.height / 2);
  return grid.scrollWidth > grid.clientWidth + 40 && row.contains(there);
}"""
"""Whether a list is wider than its place, and its last cell can be touched once it is moved along."""


@pytest.mark.parametrize("wires", [0, 240], ids=["short", "long"])
def test_a_list_wider_than_the_screen_is_painted_to_its_last_column(page: Page, open_room, site, wires):
    page.set_viewport_size({"width": 1024, "height": 800})
    if wires:
        made = page.request.post(f"{site}/api/designs", data={"document": synthetic(wires)})
        page.goto(f"{site}/d/{made.json()['id']}/cut/ends")
    else:
        open_room("route/points")
    grid = page.get_by_role("grid").first
    grid.get_by_role("row").nth(2).wait_for()
    grid.scroll_into_view_if_needed()
    page.wait_for_load_state("networkidle")
    assert grid.evaluate(PAINTED)
