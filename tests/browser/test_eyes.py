"""Every view for every eye: WCAG 2.2 AA by axe in both themes, at twice the size, in the machine's own colours."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from inkthread.core.findings import Room
from tests.browser.conftest import WCAG
from tests.browser.test_jobs import cell, tally

ROOMS: tuple[str, ...] = Room.__args__  # type: ignore[attr-defined]
OFF_THE_SIDE = "document.documentElement.scrollWidth - document.documentElement.clientWidth"
OTHERS = ["/", "/bench/ampacity", "/drawers", "/drawers/suppliers", "/drawers/stock", "/find"]


def settled(page: Page) -> None:
    expect(page.get_by_role("heading", level=1)).to_be_visible()
    page.wait_for_load_state("networkidle", timeout=60_000)


def found_in(page: Page, axe) -> list[str]:
    """Faults of a view: by axe in both themes, and what runs off the side, at twice the size too."""
    faults = axe()
    page.evaluate("document.documentElement.dataset.theme = 'garage'")
    faults += axe("color-contrast")
    page.evaluate("document.documentElement.removeAttribute('data-theme')")
    if page.evaluate(OFF_THE_SIDE) > 0:
        faults.append("runs off the side at 1280")
    # What 1280 pixels are at 200 %.
    page.set_viewport_size({"width": 640, "height": 400})
    expect(page.get_by_role("heading", level=1)).to_be_visible()
    if page.evaluate(OFF_THE_SIDE) > 0:
        faults.append("runs off the side at 200 %")
    page.set_viewport_size({"width": 1280, "height": 800})
    return faults


@pytest.mark.parametrize("room", ROOMS)
def test_every_leaf_of_a_room_is_for_every_eye(page: Page, site, axe, room):
    page.goto(f"{site}/d/larkspur/{room}")
    settled(page)
    leaves = page.get_by_role("navigation", name=f"Leaves of {room}").get_by_role("link")
    addresses = [link.get_attribute("href") for link in leaves.all()]
    assert addresses
    faults = {}
    for address in addresses:
        page.goto(f"{site}{address}")
        settled(page)
        faults[address] = found_in(page, axe)
    assert {a: f for a, f in faults.items() if f} == {}


@pytest.mark.parametrize("view", [*OTHERS, "/d/dawdler-sketch/findings", "/d/larkspur/build/cards"])
def test_every_other_page_is_for_every_eye(page: Page, site, axe, view):
    page.goto(f"{site}{view}")
    settled(page)
    assert found_in(page, axe) == []


@pytest.mark.parametrize(
    ("press", "seen"),
    [
        ("?", "Keys and words"),
        ("Control+k", "Go to"),
        ("Shift+F10", "Take out"),
    ],
)
def test_what_opens_over_a_room_is_for_every_eye_too(page: Page, open_room, axe, press, seen):
    open_room("circuits")
    cell(page, "Devices", "lift pump", 1).click()
    page.keyboard.press(press)
    opened = (
        page.get_by_role("dialog")
        .or_(page.get_by_role("menu"))
        .or_(page.get_by_role("complementary", name="Why"))
    )
    expect(opened.first).to_be_visible()
    expect(page.get_by_text(seen).first).to_be_attached()
    # What floats over the page is in no landmark, which is no rule of WCAG.
    assert axe(*WCAG) == []
    page.evaluate("document.documentElement.dataset.theme = 'garage'")
    assert axe("color-contrast") == []


def test_the_why_card_is_for_every_eye_too(page: Page, open_room, axe):
    open_room("wire")
    cell(page, "Wires", "C2", 5).click()
    page.keyboard.press("w")
    expect(page.get_by_role("complementary", name="Why")).to_contain_text("AWG")
    assert axe() == []


def test_the_print_menu_and_the_columns_are_for_every_eye_too(page: Page, open_room, axe):
    open_room("wire")
    page.get_by_text("Print", exact=True).click()
    expect(page.get_by_role("button", name="The whole book")).to_be_visible()
    assert axe() == []
    page.get_by_text("Print", exact=True).click()
    page.get_by_role("button", name="columns").click()
    expect(page.get_by_role("menuitemcheckbox").first).to_be_visible()
    assert axe(*WCAG) == []


def test_in_the_machines_own_colours_what_is_chosen_and_what_is_wrong_can_still_be_told(page: Page, site):
    page.emulate_media(forced_colors="active", reduced_motion="reduce")
    page.goto(f"{site}/d/larkspur/ends/M1")
    settled(page)
    chosen = page.get_by_role("button", name=re.compile("^M1 "))
    ground = "e => getComputedStyle(e).backgroundColor"
    other = page.get_by_role("list", name="Connectors").get_by_role("button").first
    assert chosen.evaluate(ground) != other.evaluate(ground)
    moved = page.evaluate("document.getAnimations().filter(a => a.playState === 'running').length")
    assert moved == 0
    # A swatch keeps its colours, with its letters beside it.
    page.goto(f"{site}/d/larkspur/wire")
    settled(page)
    swatch = cell(page, "Wires", "C1", 1).first
    expect(swatch).to_have_text(re.compile("^[A-Z]{2}"))
    fill = swatch.locator(".jacket").evaluate("e => getComputedStyle(e).backgroundColor")
    assert re.fullmatch(r"rgb\(\d+, \d+, \d+\)", fill)


def test_a_face_says_its_colours_in_letters_and_is_gone_through_by_arrows(page: Page, site):
    page.goto(f"{site}/d/larkspur/ends/A1/faces")
    settled(page)
    face = page.get_by_role("radiogroup", name=re.compile("^Wire side"))
    first = face.get_by_role("radio").first
    expect(first).to_have_attribute("aria-label", re.compile(r"^\w+: (\S+ [A-Z]{2}|free|plugged)"))
    ways = face.get_by_role("radio", checked=True)
    before = ways.get_attribute("data-way")
    ways.focus()
    page.keyboard.press("ArrowRight")
    expect(face.get_by_role("radio", checked=True)).not_to_have_attribute("data-way", before or "")
    expect(face.get_by_role("radio", checked=True)).to_be_focused()
    expect(page.get_by_role("complementary", name=re.compile("^Cavity"))).to_be_visible()


def test_the_room_is_five_tabs_away_and_lists_are_one_stop_each(page: Page, open_room):
    for room, wanted in (("circuits", "add"), ("route", "add"), ("ends", "add")):
        open_room(room)
        page.keyboard.press("Tab")
        page.keyboard.press("Enter")
        expect(page.get_by_label(wanted, exact=True)).to_be_focused()
    open_room("ends")
    stops = page.evaluate(
        """() => ['[aria-label=Rooms] ol', '[aria-label=Tally]', '[aria-label="Leaves of ends"]', '[aria-label=Connectors]']
          .map(s => [...document.querySelectorAll(s + ' a, ' + s + ' button')].filter(e => e.tabIndex === 0).length)"""
    )
    assert stops == [1, 1, 1, 1]
    page.get_by_role("link", name=re.compile("^Ends")).focus()
    page.keyboard.press("ArrowDown")
    expect(page.get_by_role("link", name=re.compile("^Cut"))).to_be_focused()
    page.keyboard.press("End")
    expect(page.get_by_role("link", name=re.compile("^Prove"))).to_be_focused()
    page.keyboard.press("Home")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Brief")).to_be_visible()


def test_the_chosen_connector_is_seen_in_its_list(page: Page, site):
    page.set_viewport_size({"width": 1280, "height": 420})
    page.goto(f"{site}/d/larkspur/ends/T1")
    settled(page)
    chosen = page.get_by_role("list", name="Connectors").get_by_role("button", pressed=True)
    expect(chosen).to_be_in_viewport(ratio=0.9)
    assert page.evaluate("scrollY") == 0, "the list is scrolled, not the page"


@pytest.fixture
def shop_as_it_was(page: Page, site):
    """What a test has the shop agree to is not kept for the next one."""
    yield
    page.request.put(f"{site}/api/shop/conventions", data={"text": ""})


def test_figures_are_in_the_units_that_the_harness_asks_for(page: Page, open_room, shop_as_it_was):
    open_room("brief")
    page.get_by_label("Lengths", exact=True).select_option("both")
    page.get_by_label("Temperature", exact=True).select_option("F")
    page.get_by_label("Mass", exact=True).select_option("oz")
    page.get_by_label("Currency", exact=True).fill("£")
    page.get_by_label("Currency", exact=True).press("Enter")
    expect(tally(page)).to_contain_text("ounces")
    expect(tally(page)).to_contain_text("cost, £")
    expect(tally(page)).to_contain_text("°F")
    zones = page.get_by_role("grid", name="Zones")
    expect(zones.get_by_role("columnheader", name="Air to")).to_contain_text("(°F)")
    page.get_by_role("link", name=re.compile("^Route")).click()
    length = cell(page, "Branches", "R1", 3)
    expect(length).to_have_text("120 (4 3/4)")
    expect(page.get_by_role("columnheader", name="Length")).to_contain_text("(mm, in)")
    # As it is shown, so it may be typed.
    length.click()
    page.keyboard.press("F2")
    page.keyboard.press("Control+a")
    page.keyboard.type("130 mm (5 1/8 in)")
    page.keyboard.press("Enter")
    expect(length).to_have_text("130 (5 1/8)")
    page.get_by_role("link", name=re.compile("^Brief")).click()
    page.get_by_role("button", name="Begin every new harness so").click()
    expect(page.get_by_text("Every new harness begins so.").first).to_be_visible()
    page.goto(page.url.split("/d/")[0])
    page.get_by_label("New harness").fill("ours")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Circuits")).to_be_visible()
    page.get_by_role("link", name=re.compile("^Brief")).click()
    expect(page.get_by_label("Lengths", exact=True)).to_have_value("both")
    expect(page.get_by_label("Currency", exact=True)).to_have_value("£")
