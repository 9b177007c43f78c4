"""Typed lines in a real browser: looked at before they go in, with the keyboard alone."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect


def line(page: Page):
    return page.get_by_label("add", exact=True)


def test_a_line_says_what_it_will_make_and_names_the_word_it_does_not_understand(page: Page, site):
    page.goto(f"{site}/d/larkspur/circuits")
    line(page).click()
    page.keyboard.type("F1 > M6 fuel cell pump 5 A red > B1")
    form = page.locator("form", has=line(page))
    expect(form).to_contain_text("M6 fuel cell pump: motor or pump, 5 A")
    expect(form).to_contain_text("not understood: red")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("'red' is not understood")
    # The word is chosen: typing takes its place.
    page.keyboard.press("Delete")
    expect(line(page)).to_have_value("F1 > M6 fuel cell pump 5 A  > B1")
    page.keyboard.press("Enter")
    expect(page.get_by_role("grid", name="Devices").get_by_text("fuel cell pump")).to_be_visible()
    expect(line(page)).to_have_value("")


def test_a_guess_is_changed_before_it_goes_in_with_the_keyboard_alone(page: Page, site):
    page.goto(f"{site}/d/larkspur/circuits")
    line(page).click()
    page.keyboard.type("M7 froth maker 2 A")
    kind = page.get_by_label("M7 is", exact=True)
    expect(kind).to_have_value("other device")
    page.keyboard.press("Tab")
    expect(kind).to_be_focused()
    page.keyboard.press("m")
    expect(line(page)).to_have_value("M7 froth maker 2 A (motor or pump)")
    page.keyboard.press("Tab")
    page.keyboard.type("SN")
    expect(line(page)).to_have_value("M7 froth maker 2 A (motor or pump, SN06)")
    page.keyboard.press("Enter")
    row = page.get_by_role("grid", name="Devices").get_by_role("row").filter(has_text="froth maker")
    expect(row).to_contain_text("motor or pump")


def test_a_word_that_is_begun_is_finished_and_a_switch_goes_into_the_feed_that_is_there(page: Page, site):
    page.goto(f"{site}/d/larkspur/circuits")
    line(page).click()
    page.keyboard.type("B9 battery > F9 fuse > M9 pum")
    expect(page.get_by_role("button", name="pump", exact=True)).to_be_visible()
    page.keyboard.press("ArrowRight")
    expect(line(page)).to_have_value("B9 battery > F9 fuse > M9 pump")
    page.keyboard.type(" 2 A > B9")
    page.keyboard.press("Enter")
    expect(page.get_by_role("grid", name="Devices").get_by_text("M9", exact=True)).to_be_visible()
    page.keyboard.type("F9 > S9 switch > M9")
    expect(page.locator("form", has=line(page))).to_contain_text("M9 is fed from there already")
    page.keyboard.press("Tab")
    expect(page.get_by_role("button", name="put S9 into that feed")).to_be_focused()
    page.keyboard.press("Enter")
    expect(line(page)).to_have_value("F9 > S9 switch (between) > M9")
    expect(page.locator("form", has=line(page))).to_contain_text("S9.2 to M9.+")
    line(page).press("Enter")
    expect(page.get_by_role("grid", name="Circuits").get_by_text("S9.2", exact=False).first).to_be_visible()


def test_a_whole_harness_is_made_of_text_and_taken_back(page: Page, site):
    page.goto(f"{site}/d/larkspur/brief/text")
    box = page.get_by_label("The harness as text")
    expect(box).to_have_value(re.compile(r"^\[brief\]\nname "))
    was = box.input_value()
    box.fill("[circuits]\nB1 battery > F1 fuse > E1 lamp 2 A wobbly > B1")
    refused = page.get_by_role("list", name="Lines that are not understood")
    expect(refused).to_contain_text("'wobbly' is not understood")
    expect(page.get_by_role("button", name="Put it in")).to_be_disabled()
    refused.get_by_role("button").click()
    page.keyboard.press("Delete")
    expect(page.get_by_text("lines understood")).to_be_visible()
    page.get_by_role("button", name="Put it in").click()
    expect(page.get_by_role("region", name="Tally")).to_contain_text("3")
    page.get_by_role("heading", name="Brief", level=1).click()
    page.keyboard.press("Control+z")
    expect(box).to_have_value(was)


def test_a_pattern_is_changed_before_it_goes_in_and_stays_open_where_it_is_refused(page: Page, site):
    page.goto(f"{site}/d/larkspur/circuits/patterns")
    page.get_by_role("button", name="change it first: Horn on a relay with a button").click()
    lines = page.get_by_label("Lines of: Horn on a relay with a button")
    lines.fill("F1 > H7 hill horn 5 A wobbly > G1")
    page.get_by_role("button", name="Put it in: Horn on a relay with a button").click()
    expect(page.get_by_role("alert")).to_contain_text("'wobbly' is not understood")
    lines.fill("F1 > H7 hill horn 5 A intermittent > G1")
    page.get_by_role("button", name="Put it in: Horn on a relay with a button").click()
    expect(lines).to_have_count(0)
    page.goto(f"{site}/d/larkspur/circuits")
    expect(page.get_by_role("grid", name="Devices").get_by_text("hill horn")).to_be_visible()


def test_an_id_is_renamed_in_its_cell_and_a_double_click_stays_on_its_row(page: Page, site):
    page.goto(f"{site}/d/larkspur/circuits")
    grid = page.get_by_role("grid", name="Devices")
    # Chosen with the mouse low on the page: the page must not move under the second click.
    row = grid.get_by_role("row").filter(has_text="lift pump")
    page.set_viewport_size({"width": 1280, "height": 420})
    page.evaluate("scrollTo(0, 0)")
    cell = row.get_by_text("M1", exact=True)
    page.mouse.wheel(0, cell.bounding_box()["y"] - 380)
    page.wait_for_timeout(300)
    before = cell.bounding_box()
    cell.dblclick()
    assert row.bounding_box()["y"] == pytest.approx(before["y"], abs=12)
    page.keyboard.press("Control+a")
    page.keyboard.type("M33")
    page.keyboard.press("Enter")
    expect(row).to_contain_text("M33")
    expect(page.get_by_role("grid", name="Circuits").get_by_text("M33.").first).to_be_visible()
    page.keyboard.press("Control+z")
    expect(row).not_to_contain_text("M33")


def test_a_connector_that_is_put_in_is_looked_at_next(page: Page, site):
    page.goto(f"{site}/d/larkspur/ends")
    line(page).click()
    page.keyboard.type("J77 SR16 6 way")
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile("/ends/J77$"))
    expect(page.get_by_text("J77 has six ways")).to_be_visible()
    # A refused one leaves what is looked at alone, and what was typed.
    line(page).click()
    page.keyboard.type("J78 SR16 99 way")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("SR16 is not made with 99 ways")
    expect(page).to_have_url(re.compile("/ends/J77$"))
    expect(line(page)).to_have_value("J78 SR16 99 way")


@pytest.fixture
def held(page: Page):
    """Lines that are put in wait on their way to the program until they are let go."""
    waiting = []
    page.route("**/acts", lambda route: waiting.append(route))

    def let_go():
        with page.expect_response("**/acts"):
            waiting.pop().continue_()

    return let_go


def test_what_is_typed_while_a_line_goes_in_stays(page: Page, site, held):
    page.goto(f"{site}/d/larkspur/circuits")
    line(page).fill("M8 siphon 2 A")
    page.keyboard.press("Enter")
    page.keyboard.press("Control+a")
    page.keyboard.type("M9 churn 3 A")
    held()
    expect(page.get_by_role("grid", name="Devices").get_by_text("siphon")).to_be_visible()
    expect(line(page)).to_have_value("M9 churn 3 A")


def test_a_line_that_went_in_after_its_room_was_left_does_not_stand_there_again(page: Page, site, held):
    page.goto(f"{site}/d/larkspur/circuits")
    line(page).fill("M8 siphon 2 A")
    page.keyboard.press("Enter")
    page.keyboard.press("Alt+ArrowDown")
    expect(page.get_by_role("heading", name="Route", level=1)).to_be_visible()
    held()
    page.keyboard.press("Alt+ArrowUp")
    expect(page.get_by_role("grid", name="Devices").get_by_text("siphon")).to_be_visible()
    expect(line(page)).to_have_value("")


def test_who_goes_on_to_another_field_while_a_line_goes_in_is_left_there(page: Page, site, held):
    page.goto(f"{site}/d/larkspur/circuits")
    line(page).fill("M8 siphon 2 A")
    page.keyboard.press("Enter")
    elsewhere = page.get_by_role("link", name=re.compile("^Wire"))
    elsewhere.focus()
    held()
    expect(page.get_by_role("grid", name="Devices").get_by_text("siphon")).to_be_visible()
    expect(elsewhere).to_be_focused()


def test_a_half_typed_line_is_there_again_when_its_room_is_come_back_to(page: Page, site):
    page.goto(f"{site}/d/larkspur/circuits")
    line(page).fill("M8 siph")
    page.get_by_role("link", name=re.compile("^Route")).click()
    expect(page.get_by_role("heading", name="Route", level=1)).to_be_visible()
    expect(line(page)).to_have_value("")
    page.get_by_role("link", name=re.compile("^Circuits")).click()
    expect(line(page)).to_have_value("M8 siph")
