"""Cavities and faces at a connector."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.browser.test_jobs import cell, tally


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
    wire_side = page.get_by_role("radiogroup", name="Wire side: the wires come towards you, latch up")
    mating = page.get_by_role("radiogroup", name="Mating side: what the other half sees, latch up")

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
    page.get_by_label("Connector series").select_option("SS15")
    expect(page.get_by_role("complementary", name="Cavity 1")).to_contain_text("S15-S-B")
    expect(page.get_by_text("Meets: SS15, receptacle shell with pins.")).to_be_visible()
    page.get_by_label("Contacts").select_option("pin")
    expect(page.get_by_role("complementary", name="Cavity 1")).to_contain_text("S15-P-B")
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    expect(page.get_by_role("complementary", name="Cavity 1")).to_contain_text("R16T-S-A")
