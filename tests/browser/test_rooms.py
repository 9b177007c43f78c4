"""Room by room: what a builder does there, wrong things typed included."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.test_jobs import cell, tally


@pytest.fixture
def open_room(page: Page, site):
    def go(room: str):
        page.goto(f"{site}/d/larkspur/{room}")
        expect(page.get_by_role("heading", level=1)).to_be_visible()

    return go


def paste(page: Page, text: str):
    page.evaluate(
        """text => {
          const data = new DataTransfer();
          data.setData('text/plain', text);
          const pasted = new ClipboardEvent('paste', {clipboardData: data, bubbles: true});
          document.activeElement.dispatchEvent(pasted);
        }""",
        text,
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
    page.keyboard.press("Delete")
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
    page.keyboard.press("Delete")
    expect(page.get_by_text("There is no pin").first).to_be_visible()
    expect(pins.get_by_role("row")).to_have_count(4)


def test_a_zone_is_made_and_given_to_a_branch_by_keyboard(page: Page, open_room):
    open_room("brief")
    zones = page.get_by_role("grid", name="Zones")
    page.get_by_label("add a zone").click()
    page.keyboard.type("Exhaust 130 C")
    page.keyboard.press("Enter")
    expect(zones.get_by_role("row").filter(has_text="Exhaust")).to_contain_text("130 °C")
    open_room("route")
    cell(page, "Branches", "R7", 5).click()
    page.keyboard.type("exh")
    page.keyboard.press("Enter")
    expect(cell(page, "Branches", "R7", 5)).to_have_text("Exhaust")
    expect(tally(page)).to_contain_text("1 stop")
    page.get_by_role("link", name=re.compile("^Findings")).click()
    expect(page.get_by_text("M1 (SR16) is rated 125 °C; Exhaust reaches 130 °C.")).to_be_visible()


def test_a_house_rule_is_set_reasoned_and_given_back(page: Page, open_room):
    open_room("brief")
    value = cell(page, "House rules", "continuous loads", 1)
    expect(value).to_have_text("3 %")
    value.click()
    page.keyboard.type("2 %")
    page.keyboard.press("Enter")
    expect(value).to_have_text("2 %")
    reason = cell(page, "House rules", "continuous loads", 3)
    reason.click()
    page.keyboard.type("long pump lead")
    page.keyboard.press("Enter")
    expect(reason).to_have_text("long pump lead")
    expect(page.get_by_test_id("sentence")).to_contain_text("1 house rule of your own")
    value.click()
    page.keyboard.press("F2")
    page.keyboard.press("Control+a")
    page.keyboard.press("Delete")
    page.keyboard.press("Enter")
    expect(value).to_have_text("3 %")


def test_lengths_in_inches_are_shown_and_read_as_inches(page: Page, open_room):
    open_room("brief")
    page.get_by_label("Lengths in").select_option("inch")
    page.get_by_role("link", name=re.compile("^Route")).click()
    length = cell(page, "Branches", "R1", 3)
    expect(length).to_have_text("4 3/4 in")
    expect(length).to_have_attribute("title", "120 mm")
    length.click()
    page.keyboard.type("10")
    page.keyboard.press("Enter")
    expect(length).to_have_text("10 in")
    page.get_by_role("link", name=re.compile("^Cut")).click()
    expect(page.get_by_test_id("sentence")).to_contain_text(" in.")


def test_lengths_are_pasted_from_a_spreadsheet(page: Page, open_room):
    open_room("route")
    cell(page, "Branches", "R1", 3).click()
    paste(page, "200 mm\r\n9 1/4 in\r\n0.4 m\r\n")
    expect(cell(page, "Branches", "R3", 3)).to_have_text("400 mm")
    expect(cell(page, "Branches", "R1", 3)).to_have_text("200 mm")
    expect(cell(page, "Branches", "R2", 3)).to_have_text("235 mm")


def test_a_branch_is_picked_on_the_drawing_taken_out_and_brought_back(page: Page, open_room):
    open_room("route")
    drawing = page.get_by_role("img", name="The route, drawn to scale")
    expect(drawing).to_contain_text("340")
    drawing.locator("g.cursor-pointer").nth(6).locator("line").last.click(force=True)
    expect(page.get_by_role("complementary", name="Branch R7")).to_contain_text(
        "engine breakout to lift pump"
    )
    cell(page, "Branches", "R7", 0).click()
    page.keyboard.press("Delete")
    expect(tally(page)).to_contain_text("fix")
    page.keyboard.press("Control+z")
    expect(tally(page)).to_contain_text("nothing found")
    expect(cell(page, "Branches", "R7", 3)).to_have_text("340 mm")


def test_a_cavity_is_freed_and_filled_by_keyboard(page: Page, open_room):
    open_room("ends/A2")
    feed = cell(page, "Ways of A2", "feed", 1)
    feed.click()
    page.keyboard.press("Delete")
    expect(tally(page)).to_contain_text("1 fix")
    spare = (
        page.get_by_role("grid", name="Ways of A2").get_by_role("row").nth(12).get_by_role("gridcell").nth(1)
    )
    expect(spare).to_have_text("spare, plugged")
    spare.click()
    page.keyboard.press("Enter")
    page.keyboard.type("A2.B")
    page.keyboard.press("Enter")
    expect(spare).to_have_text("feed")
    expect(tally(page)).to_contain_text("nothing found")


def test_faces_are_mirror_images_and_say_which_side(page: Page, open_room):
    open_room("ends/A1/faces")
    wire_side = page.get_by_role("img", name="Wire side: the wires come towards you, latch up")
    mating = page.get_by_role("img", name="Mating side: what the other half sees, latch up")

    def places(face):
        return face.evaluate(
            """svg => Object.fromEntries([...svg.querySelectorAll('g[transform^=translate]')].map(g => [
              g.querySelector('title').textContent.split(':')[0],
              g.getAttribute('transform').match(/-?[\\d.]+/g).map(Number)]))"""
        )

    ours, theirs = places(wire_side), places(mating)
    assert len(ours) == 12
    assert {way: [-x + 0.0, y] for way, (x, y) in ours.items()} == theirs


def test_a_connector_of_another_family_brings_its_own_parts(page: Page, open_room):
    open_room("ends/M1")
    page.get_by_label("Family").select_option("SS15")
    expect(page.get_by_role("complementary", name="Cavity 1")).to_contain_text("S15-S-B")
    expect(page.get_by_text("Meets: SS15, receptacle shell with pins.")).to_be_visible()
    page.get_by_label("Contacts").select_option("pin")
    expect(page.get_by_role("complementary", name="Cavity 1")).to_contain_text("S15-P-B")
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    expect(page.get_by_role("complementary", name="Cavity 1")).to_contain_text("R16T-S-A")


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
    page.get_by_role("button", name="light or garage").click()
    page.reload()
    expect(page.locator("html")).to_have_attribute("data-theme", "garage")
    page.get_by_role("button", name="light or garage").click()
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
        ("Cut", "Nothing to cut yet."),
        ("Parts", "Nothing to buy yet."),
        ("Dress", "not built yet"),
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


def test_what_builders_differ_on_is_chosen_with_a_reason_and_goes_back(page: Page, open_room):
    open_room("brief")
    splices = page.get_by_label("Splices are made as")
    expect(splices).to_have_value("1")
    expect(page.get_by_text("the grip can be seen").first).to_be_visible()
    splices.select_option("3")
    why = page.get_by_label("because")
    expect(why).to_have_attribute("placeholder", "why? type your reason")
    expect(tally(page)).to_contain_text("1 more")
    why.fill("no crimper here")
    why.press("Enter")
    expect(tally(page)).to_contain_text("nothing found")
    splices.select_option("1")
    expect(why).to_have_count(0)


def test_a_lead_that_can_be_bought_is_held_against_the_length_wanted(page: Page, open_room):
    open_room("brief")
    grid = page.get_by_role("grid", name="Ready-made leads")
    grid.get_by_role("row").last.get_by_role("gridcell").first.click()
    page.keyboard.type('"stock lead" 600 mm at 12')
    page.keyboard.press("Enter")
    expect(grid).to_contain_text("too short")
    expect(page.get_by_text("None of the lengths on offer will do.")).to_be_visible()
    page.keyboard.press("Control+z")
    expect(grid).not_to_contain_text("too short")


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
