"""Who has never seen the program: from an empty shelf to a harness, by hand, by keyboard and by thumb."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from inkthread.storage import Shelf
from inkthread.storage.database import open_database
from tests.browser.test_jobs import cell, tally

FEEDS = (
    "B1 battery > F1 fuse block > S1 thermostat > M1 fan 0.8 A > B1",
    "S1 > M2 fan 0.8 A > B1",
    "F1 > E1 light strip 1.5 A > B1",
    "F1 > X1 socket 8 A > B1",
)
RUNS = ("B1 150 > F1 300 > S1 250 > M1", "S1 400 > M2", "F1 600 > E1", "F1 400 > X1")
WIRES = 13


@pytest.fixture
def bare(server, site):
    """The program's address, its shelf empty."""
    engine = open_database(server[1])
    shelf = Shelf(engine)
    for entry in shelf.entries():
        shelf.remove(entry.id)
    engine.dispose()
    return site


class Acts:
    """Things done by a hand, counted; none may be refused."""

    def __init__(self, page: Page) -> None:
        self.page = page
        self.count = 0

    def __call__(self, done: object = None) -> None:
        self.count += 1
        expect(self.page.get_by_role("main").get_by_role("alert")).to_have_count(0)


def test_a_cooler_trolley_is_made_in_twenty_acts(page: Page, bare):
    act = Acts(page)
    page.goto(bare)
    page.get_by_role("button", name="not now").click()
    act()
    act(page.get_by_label("New harness").fill("cooler trolley"))
    act(page.get_by_label("built to").select_option("vehicle"))
    page.get_by_role("button", name="Begin").click()
    expect(page.get_by_role("heading", name="Circuits")).to_be_visible()
    act()
    line = page.get_by_label("add", exact=True)
    for n, feed in enumerate(FEEDS, 1):
        line.fill(feed)
        line.press("Enter")
        expect(
            page.get_by_role("grid", name="Devices").get_by_text(("M1", "M2", "E1", "X1")[n - 1])
        ).to_be_visible()
        expect(line).to_have_value("")
        act()
    next_line = page.get_by_test_id("next")
    act(page.get_by_role("link", name=re.compile("^Route")).click())
    # The room before it stands there, with a line of its own, until it has come.
    expect(page.get_by_role("heading", name="Route", level=1)).to_be_visible()
    line = page.get_by_label("add", exact=True)
    for run in RUNS:
        line.fill(run)
        line.press("Enter")
        expect(line).to_have_value("")
        act()
    expect(tally(page)).to_contain_text(f"{WIRES}wires")
    expect(tally(page)).not_to_contain_text("stop")
    # What is left to think of is one line away.
    act(page.get_by_role("link", name=re.compile("^Circuits")).click())
    expect(next_line).to_contain_text("Next here")
    act(page.get_by_role("link", name=re.compile("^Cut")).click())
    expect(page.get_by_role("grid", name="Cut list").get_by_role("row")).to_have_count(WIRES + 1)
    act(page.get_by_role("link", name=re.compile("^Parts")).click())
    act(page.get_by_role("link", name="The bill").click())
    expect(page.get_by_role("grid", name="Bill of materials")).to_contain_text("BF-")
    assert act.count <= 20


def test_the_same_by_thumb_on_a_telephone(browser, bare):
    context = browser.new_context(viewport={"width": 390, "height": 780}, has_touch=True, is_mobile=True)
    page = context.new_page()
    page.set_default_timeout(30_000)
    act = Acts(page)
    page.goto(bare)
    page.get_by_role("button", name="not now").tap()
    act()
    page.get_by_label("New harness").tap()
    act(page.get_by_label("New harness").fill("cooler trolley"))
    act(page.get_by_label("built to").select_option("vehicle"))
    page.get_by_role("button", name="Begin").tap()
    expect(page.get_by_role("heading", name="Circuits")).to_be_visible()
    act()
    for room, lines in (("Circuits", FEEDS), ("Route", RUNS)):
        if room == "Route":
            act(page.get_by_role("link", name=re.compile("^Route")).tap())
        expect(page.get_by_role("heading", name=room, level=1)).to_be_visible()
        line = page.get_by_label("add", exact=True)
        for text in lines:
            line.tap()
            # What a keyboard on the glass types; the row is put in by the thumb.
            line.fill(text)
            page.get_by_role("button", name="Put it in").tap()
            expect(line).to_have_value("")
            act()
    act(page.get_by_role("link", name=re.compile("^Cut")).tap())
    ticks = page.get_by_role("grid", name="Cut list").get_by_role("checkbox")
    expect(ticks).to_have_count(WIRES)
    act(ticks.first.tap())
    expect(ticks.first).to_be_checked()
    act(page.get_by_role("link", name=re.compile("^Build")).tap())
    act(page.get_by_role("link", name="To the bench").tap())
    expect(page.get_by_role("heading", level=1)).to_contain_text("cooler trolley")
    over = page.evaluate("document.documentElement.scrollWidth - innerWidth")
    assert over <= 0, "the card is as wide as the telephone"
    assert act.count <= 20
    context.close()


def test_a_first_harness_is_built_with_the_guide_and_never_comes_back_unasked(page: Page, bare):
    page.goto(bare)
    offer = page.get_by_role("region", name="First harness")
    expect(offer).to_contain_text("three minutes")
    offer.get_by_role("button", name="Show me").click()
    guide = page.get_by_role("region", name="First harness")
    expect(guide).to_contain_text("1 of 6")
    line = page.get_by_label("add", exact=True)
    line.fill(guide.locator("code").inner_text())
    line.press("Enter")
    expect(guide).to_contain_text("2 of 6")
    guide.get_by_role("link", name="Go to Route").click()
    guide.get_by_role("button", name="put it in for me").click()
    for room in ("Wire", "Ends", "Cut", "Build"):
        guide.get_by_role("link", name=f"Go to {room}").click()
        expect(page.get_by_role("heading", name=room, level=1)).to_be_visible()
        guide.get_by_role("button", name="Seen; go on").click()
    expect(guide).to_contain_text("That is a harness")
    expect(tally(page)).to_contain_text("3wires")
    guide.get_by_role("button", name="Done").click()
    expect(guide).to_have_count(0)
    page.reload()
    expect(page.get_by_role("heading", level=1)).to_be_visible()
    expect(guide).to_have_count(0)
    page.goto(bare)
    expect(page.get_by_role("heading", level=1)).to_be_visible()
    expect(page.get_by_role("region", name="First harness")).to_have_count(0)


def test_the_guide_is_left_at_any_time_and_asked_for_again(page: Page, bare):
    page.goto(bare)
    page.get_by_role("button", name="Show me").click()
    page.get_by_role("button", name="leave the guide").click()
    expect(page.get_by_role("region", name="First harness")).to_have_count(0)
    page.get_by_label("add", exact=True).fill("B1 battery > F1 fuse > M1 pump 4 A > B1")
    page.get_by_label("add", exact=True).press("Enter")
    expect(cell(page, "Devices", "pump", 0)).to_be_visible()
    page.goto(bare)
    expect(page.get_by_role("region", name="First harness")).to_have_count(0)


def test_a_word_is_explained_where_it_stands_and_in_the_list_of_words(page: Page, open_room):
    open_room("wire")
    page.get_by_role("columnheader", name="Gauge").get_by_text("Gauge").hover()
    expect(page.get_by_role("tooltip")).to_contain_text("In AWG a smaller number is thicker")
    page.keyboard.press("Escape")
    cell(page, "Wires", "C2", 8).click()
    page.keyboard.press("?")
    sheet = page.get_by_role("dialog")
    expect(sheet).to_contain_text("voltage drop: What is lost along the wires")
    sheet.get_by_placeholder("a word").fill("nest")
    expect(sheet).to_contain_text("The shaped jaws of a crimp tool")
    sheet.get_by_placeholder("a word").fill("gibberish")
    expect(sheet).to_contain_text("Not among the")
    page.keyboard.press("Escape")
    expect(sheet).to_have_count(0)
    # By touch, where no key is.
    page.get_by_role("button", name="Keys and words").click()
    expect(sheet).to_contain_text("ampacity")


def test_every_practice_says_what_it_changes(page: Page, site):
    page.goto(site)
    built_to = page.get_by_label("built to")
    expect(built_to.locator("option")).to_have_count(6)
    said = set()
    for practice in built_to.locator("option").evaluate_all("all => all.map(o => o.value)"):
        built_to.select_option(practice)
        words = page.locator("form p").first
        expect(words).to_contain_text("wire of")
        said.add(words.inner_text())
    assert len(said) == 6


def test_a_room_says_what_to_do_next(page: Page, bare):
    page.goto(bare)
    page.get_by_label("New harness").fill("empty")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Circuits")).to_be_visible()
    page.get_by_role("link", name=re.compile("^Wire")).click()
    expect(page.get_by_test_id("next")).to_have_text("Next: Circuits.")
    page.get_by_test_id("next").get_by_role("link").click()
    expect(page.get_by_role("heading", name="Circuits")).to_be_visible()
    line = page.get_by_label("add", exact=True)
    line.fill("B1 battery > M1 pump 4 A > B1")
    line.press("Enter")
    expect(page.get_by_test_id("next")).to_contain_text("No protection")
    page.get_by_test_id("next").get_by_role("link").first.click()
    expect(page.get_by_role("complementary", name=re.compile("^Device"))).to_be_visible()
