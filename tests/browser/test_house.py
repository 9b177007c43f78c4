"""The whole screen: undo, keys, themes, the bench, findings."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.browser.test_jobs import cell, tally


def test_what_was_done_can_be_taken_back_after_a_restart_of_the_screen(page: Page, open_room):
    open_room("circuits")
    draws = cell(page, "Devices", "lift pump", 3)
    draws.click()
    page.keyboard.type("7")
    page.keyboard.press("Enter")
    expect(draws).to_have_text("7 A")
    page.reload()
    expect(draws).to_have_text("7 A")
    page.keyboard.press("Control+z")
    expect(draws).to_have_text("4 A")


def test_escape_and_arrows_leave_things_as_they_were(page: Page, open_room):
    open_room("circuits")
    draws = cell(page, "Devices", "lift pump", 3)
    draws.click()
    page.keyboard.type("99")
    page.keyboard.press("Escape")
    expect(draws).to_have_text("4 A")
    for key in ("ArrowUp", "ArrowRight", "End", "Home", "PageDown", "ArrowDown"):
        page.keyboard.press(key)
    expect(tally(page)).to_contain_text("nothing found")
    version = page.evaluate("fetch('/api/designs/larkspur').then(r => r.json()).then(d => d.version)")
    page.keyboard.press("Enter")
    page.keyboard.press("Escape")
    assert version == page.evaluate("fetch('/api/designs/larkspur').then(r => r.json()).then(d => d.version)")


def test_the_garage_theme_is_remembered(page: Page, site):
    page.goto(site)
    page.get_by_role("button", name="theme: light or dark").click()
    page.reload()
    expect(page.locator("html")).to_have_attribute("data-theme", "garage")
    page.get_by_role("button", name="theme: light or dark").click()
    expect(page.locator("html")).not_to_have_attribute("data-theme", "garage")


def test_an_empty_harness_says_in_every_room_how_to_begin(page: Page, site):
    page.goto(site)
    page.get_by_label("New harness").fill("empty")
    page.get_by_role("button", name="Begin").click()
    expect(page.get_by_text("Type a feed as the current runs")).to_be_visible()
    for room, says in (
        ("Route", "A point, how far, the next point"),
        ("Wire", "both its ends have a cavity"),
        ("Ends", "brings a connector"),
        ("Cut", "the way between them is measured in Route"),
        ("Dress", "Branches are measured in Route"),
        ("Parts", "What the rooms above hold is counted here"),
        ("Build", "Nothing to make yet"),
        ("Prove", "Nothing to prove yet"),
    ):
        page.get_by_role("link", name=re.compile(f"^{room}")).click()
        expect(page.get_by_role("heading", level=1, name=room)).to_be_visible()
        expect(page.get_by_text(says).first).to_be_visible()
    page.goto(f"{site}/d/nothing/wire")
    expect(page.get_by_text("There is no such harness")).to_be_visible()


def test_an_edit_on_its_way_outlives_the_page(page: Page, open_room, site):
    open_room("circuits")
    cell(page, "Devices", "lift pump", 3).click()
    page.keyboard.type("8")
    page.keyboard.press("Enter")
    page.goto(site)
    page.wait_for_function(
        """() => fetch('/api/designs/larkspur').then(r => r.json())
             .then(d => d.document.circuits.loads.M1.current_a === 8)"""
    )


def test_the_bench_reckons_by_keyboard_and_keeps_what_is_wrong(page: Page, site):
    page.goto(site)
    page.get_by_role("link", name=re.compile("the bench")).click()
    page.get_by_role("link", name="Ampacity").click()
    page.get_by_label("Gauge").fill("12 AWG")
    page.get_by_label("Wires in the bundle").fill("12")
    page.keyboard.press("Enter")
    answer = page.get_by_role("region", name="Answer")
    expect(answer).to_contain_text("12 AWG AS22759/32 may carry")
    expect(answer).to_contain_text("aircraft")
    expect(answer).to_contain_text("marine")
    page.get_by_label("Gauge").fill("a thick one")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("Gauge")
    expect(page.get_by_label("Gauge")).to_have_value("a thick one")


def test_an_overload_is_one_finding_with_the_rest_inside_it(page: Page, open_room):
    open_room("circuits")
    draws = cell(page, "Devices", "lift pump", 3)
    draws.click()
    page.keyboard.type("110")
    page.keyboard.press("Enter")
    expect(tally(page)).to_contain_text("1 stop")
    page.get_by_role("link", name=re.compile("^Findings")).click()
    page.get_by_text("What follows from it").first.click()
    expect(page.get_by_role("list").get_by_text("The contact in", exact=False).first).to_be_visible()
    page.keyboard.press("Control+z")
    expect(tally(page)).to_contain_text("nothing found")
