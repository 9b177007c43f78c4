"""The bill on screen: found, sorted, closed by kind; what is bought otherwise, and what that breaks."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from tests.browser.hands import under


@pytest.fixture
def bill(page: Page, site):
    page.goto(f"{site}/d/larkspur/parts/bill")
    expect(page.get_by_role("heading", level=1)).to_have_text("Parts")
    page.wait_for_load_state("networkidle")
    return page.get_by_role("grid", name="Bill of materials")


def test_lines_are_found_sorted_and_closed_by_kind(page: Page, bill):
    whole = bill.get_by_role("row").count()
    page.get_by_label("Filter Bill of materials").fill("wedge lock")
    expect(bill.get_by_text("SR16-WP", exact=False).first).to_be_visible()
    expect(page.get_by_role("status").filter(has_text=" of ")).to_be_visible()
    expect(bill.get_by_role("row")).not_to_have_count(whole)
    page.get_by_label("Filter Bill of materials").fill("")
    expect(bill.get_by_role("row")).to_have_count(whole)
    page.get_by_role("button", name="wire", exact=False).first.click()
    assert bill.get_by_text("J1128", exact=False).count() < whole
    expect(page.get_by_role("button", name="wire", exact=False).first).to_have_attribute(
        "aria-pressed", "false"
    )
    by_cost = bill.get_by_role("columnheader", name="Cost").get_by_role("button")
    by_cost.click()
    by_cost.click()
    expect(bill.get_by_role("columnheader", name="Cost")).to_have_attribute("aria-sort", "descending")
    costs = [
        float(text)
        for row in bill.get_by_role("row").all()[1:]
        if (text := row.get_by_role("gridcell").nth(-2).inner_text()).replace(".", "").isdigit()
    ]
    assert len(costs) > 3
    assert costs == sorted(costs, reverse=True)


def test_fewer_than_are_used_is_a_finding_and_undone(page: Page, bill):
    page.get_by_label("Filter Bill of materials").fill("contact M1")
    order = under(page, "Bill of materials", "Order")
    was = order.inner_text()
    order.click()
    page.keyboard.type("1")
    page.keyboard.press("Enter")
    expect(order).to_have_text("1")
    page.goto(page.url.replace("/parts/bill", "/findings"))
    expect(page.get_by_text("Fewer than are needed")).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.get_by_text("Fewer than are needed")).to_have_count(0)
    page.goto(page.url.replace("/findings", "/parts/bill"))
    page.get_by_label("Filter Bill of materials").fill("contact M1")
    expect(order).to_have_text(was)


def test_a_number_that_is_none_stays_in_its_cell(page: Page, bill):
    page.get_by_label("Filter Bill of materials").fill("contact M1")
    order = under(page, "Bill of materials", "Order")
    order.click()
    page.keyboard.type("lots")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert").first).to_contain_text("lots")
    expect(order).to_have_text("lots")
