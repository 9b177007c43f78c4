"""Several windows on one harness: each learns of the other's edits, and nothing that is typed is lost."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from tests.browser.test_jobs import cell


@pytest.fixture
def two(page: Page, context, site):
    """Opens a room in two windows; ``deaf``: the first one does not hear of edits by itself."""

    def opened(room: str, *, deaf: bool = False) -> tuple[Page, Page]:
        if deaf:
            page.route("**/version", lambda _route: None)
        page.goto(f"{site}/d/larkspur/{room}")
        other = context.new_page()
        other.goto(f"{site}/d/larkspur/{room}")
        return page, other

    yield opened
    for window in context.pages[1:]:
        window.close()


def change(window: Page, label: str, text: str) -> None:
    box = window.get_by_label(label, exact=True)
    box.fill(text)
    with window.expect_response(lambda r: r.request.method == "PATCH"):
        box.press("Enter")


def test_another_window_learns_of_an_edit_within_a_second_or_so(two):
    ours, theirs = two("circuits")
    draws = cell(ours, "Devices", "lift pump", 3)
    expect(draws).to_have_text("4 A")
    box = cell(theirs, "Devices", "lift pump", 3)
    box.click()
    theirs.keyboard.type("6")
    with theirs.expect_response(lambda r: r.request.method == "PATCH"):
        theirs.keyboard.press("Enter")
    expect(draws).to_have_text("6 A")


def test_edits_that_do_not_touch_go_in_from_a_window_that_heard_nothing(two):
    ours, theirs = two("circuits", deaf=True)
    for window, device, amps in ((theirs, "lift pump", "6"), (ours, "controller", "1.2")):
        cell(window, "Devices", device, 3).click()
        window.keyboard.type(amps)
        with window.expect_response(lambda r: r.request.method == "PATCH" and r.status == 200):
            window.keyboard.press("Enter")
    expect(cell(ours, "Devices", "controller", 3)).to_have_text("1.2 A")
    expect(cell(ours, "Devices", "lift pump", 3)).to_have_text("6 A"), "the other window's edit came along"


@pytest.mark.parametrize("deaf", [True, False], ids=["put in too late", "still being typed"])
def test_a_field_keeps_what_is_typed_says_who_won_and_offers_it_again(two, deaf):
    ours, theirs = two("brief", deaf=deaf)
    box = ours.get_by_label("Machine", exact=True)
    box.fill("mine")
    change(theirs, "Machine", "theirs")
    if deaf:
        box.press("Enter")
    said = ours.get_by_role("alert")
    expect(said).to_contain_text("Another window put theirs here meanwhile. You typed mine.")
    expect(box).to_have_value("mine")
    box.blur()
    expect(theirs.get_by_label("Machine", exact=True)).to_have_value("theirs"), "leaving it overwrites nobody"
    ours.get_by_role("button", name="put mine in").click()
    expect(said).to_have_count(0)
    expect(box).to_have_value("mine")
    expect(theirs.get_by_label("Machine", exact=True)).to_have_value("mine")


def test_leaving_it_shows_what_the_other_window_put(two):
    ours, theirs = two("brief")
    box = ours.get_by_label("Machine", exact=True)
    box.fill("mine")
    change(theirs, "Machine", "theirs")
    ours.get_by_role("button", name="leave it").click()
    expect(box).to_have_value("theirs")
    box.fill("mine again")
    change(theirs, "Machine", "theirs again")
    expect(ours.get_by_role("alert")).to_be_visible()
    box.press("Escape")
    expect(box).to_have_value("theirs again")
    expect(ours.get_by_role("alert")).to_have_count(0)


def test_a_choice_is_kept_like_a_typed_field(two):
    ours, theirs = two("brief", deaf=True)
    for window, choice in ((theirs, "aviation"), (ours, "marine")):
        with window.expect_response(lambda r: r.request.method == "PATCH"):
            window.get_by_label("Practice", exact=True).select_option(choice)
    expect(ours.get_by_role("alert")).to_contain_text("Another window put aviation")
    expect(ours.get_by_label("Practice", exact=True)).to_have_value("marine")
    ours.get_by_role("button", name="put mine in").click()
    expect(ours.get_by_role("alert")).to_have_count(0)
    expect(theirs.get_by_label("Practice", exact=True)).to_have_value("marine")


@pytest.mark.parametrize("deaf", [True, False], ids=["put in too late", "still being typed"])
def test_a_cell_keeps_what_is_typed_and_the_keyboard_puts_it_in_again(two, deaf):
    ours, theirs = two("circuits", deaf=deaf)
    draws = cell(ours, "Devices", "lift pump", 3)
    draws.click()
    ours.keyboard.type("11")
    box = cell(theirs, "Devices", "lift pump", 3)
    box.click()
    theirs.keyboard.type("6")
    with theirs.expect_response(lambda r: r.request.method == "PATCH"):
        theirs.keyboard.press("Enter")
    if not deaf:
        expect(ours.get_by_role("grid", name="Circuits")).to_contain_text("F1 7.5 A")  # it has heard of it
    expect(draws.get_by_role("textbox")).to_have_value("11")
    ours.keyboard.press("Enter")
    expect(ours.get_by_role("alert")).to_contain_text("Another window put 6 A here meanwhile. You typed 11.")
    expect(draws).to_have_text("11")
    expect(box).to_have_text("6 A")
    ours.keyboard.press("ArrowUp")
    ours.keyboard.press("Enter")
    ours.keyboard.press("Enter")
    expect(draws).to_have_text("11 A")
    expect(box).to_have_text("11 A")
    expect(ours.get_by_role("alert")).to_have_count(0)


def test_a_row_taken_out_while_it_is_typed_in_keeps_the_words_and_rows_below_stay_apart(two):
    ours, theirs = two("circuits")
    draws = cell(ours, "Devices", "lift pump", 3)
    draws.click()
    ours.keyboard.type("11")
    before = cell(theirs, "Devices", "lift pump", 0)
    before.click()
    with theirs.expect_response(lambda r: r.request.method in ("PATCH", "POST")):
        theirs.keyboard.press("Control+Delete")
    said = ours.get_by_role("alert")
    expect(said).to_contain_text("taken out in another window. You typed 11.")
    ours.keyboard.press("Enter")
    expect(theirs.get_by_role("grid", name="Devices")).not_to_contain_text("11 A"), "no other row took it"
    ours.get_by_role("button", name="let it go").click()
    expect(said).to_have_count(0)


def test_undo_in_a_window_that_has_not_seen_the_edit_is_refused_in_words(two):
    ours, theirs = two("brief", deaf=True)
    change(theirs, "Machine", "theirs")
    ours.get_by_role("heading", name="Brief").click()
    ours.keyboard.press("Control+z")
    expect(ours.get_by_text("changed in another window").first).to_be_visible()
    expect(theirs.get_by_label("Machine", exact=True)).to_have_value("theirs")
    expect(ours.get_by_label("Machine", exact=True)).to_have_value("theirs"), "it sees it now"


@pytest.mark.unanswered
def test_a_program_that_does_not_answer_takes_nothing_off_the_screen(page: Page, site):
    page.goto(f"{site}/d/larkspur/brief")
    box = page.get_by_label("Machine", exact=True)
    box.fill("half typ")
    expect(box).to_have_value("half typ")
    page.route("**/api/**", lambda route: route.abort())
    said = page.get_by_role("alert")
    expect(said.first).to_contain_text("does not answer")
    expect(box).to_have_value("half typ")
    box.fill("typed whole")
    box.press("Enter")
    expect(said.first).to_contain_text("does not answer")
    expect(box).to_have_value("typed whole")
    page.unroute("**/api/**")
    box.press("Enter")
    expect(said).to_have_count(0)
    page.reload()
    expect(box).to_have_value("typed whole")


@pytest.mark.unanswered
def test_a_study_that_was_not_answered_comes_when_the_program_answers_again(page: Page, site):
    page.goto(f"{site}/d/larkspur/wire")
    leaf = page.get_by_role("link", name="Headroom")
    expect(leaf).to_be_visible()
    page.route("**/api/**", lambda route: route.abort())
    leaf.click()
    expect(page.get_by_text("does not answer").first).to_be_visible()
    page.unroute("**/api/**")
    # It has a process of its own to start first, on a machine that may be busy.
    expect(page.get_by_role("table", name="Behind each fuse")).to_be_visible(timeout=60_000)
    expect(page.get_by_text("does not answer")).to_have_count(0)


def test_going_to_another_room_with_a_field_or_cell_open_puts_it_in(page: Page, site):
    page.goto(f"{site}/d/larkspur/brief")
    page.get_by_label("Machine", exact=True).fill("typed on the way out")
    page.keyboard.press("Alt+ArrowDown")
    draws = cell(page, "Devices", "lift pump", 3)
    draws.click()
    page.keyboard.type("7")
    with page.expect_response(lambda r: r.request.method == "PATCH"):
        page.keyboard.press("Alt+ArrowUp")
    expect(page.get_by_label("Machine", exact=True)).to_have_value("typed on the way out")
    page.keyboard.press("Alt+ArrowDown")
    expect(draws).to_have_text("7 A")
