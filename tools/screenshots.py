"""Take one picture of every main view, from the demo data, at 1280x800."""

from __future__ import annotations

import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, Route, sync_playwright

from tools.browser import CHROMIUM_FLAGS, chromium, served

SHOTS = Path(__file__).parent.parent / "docs" / "screenshots"


def _why(page: Page) -> None:
    page.get_by_role("grid", name="Wires").focus()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("w")
    page.get_by_role("complementary", name="Why").get_by_text("strength").first.wait_for()


def _device(page: Page) -> None:
    page.get_by_role("gridcell", name="F1", exact=True).click()


def _branch(page: Page) -> None:
    page.get_by_role("gridcell", name="R3", exact=True).click()
    page.get_by_role("img", name="R3 cut across").wait_for()


def _table(name: str) -> Callable[[Page], None]:
    return lambda page: page.get_by_role("table", name=name).wait_for()


def _cut(page: Page) -> None:
    page.get_by_role("grid", name="Cut list").focus()
    page.keyboard.press("w")
    page.get_by_role("complementary", name="Why").get_by_text("rounded up to").first.wait_for()


def _priced(page: Page) -> None:
    page.get_by_role("button", name="Ask for prices").click()
    page.get_by_role("table", name="From North counter").wait_for()


def _layers(page: Page) -> None:
    page.get_by_role("img", name="R8 cut across").wait_for()


def _bench(page: Page) -> None:
    page.get_by_label("Gauge").fill("12 AWG")
    page.get_by_label("Wires in the bundle").fill("12")
    page.keyboard.press("Enter")
    page.get_by_role("region", name="Answer").get_by_text("may carry").wait_for()


def _heading(name: str) -> Callable[[Page], None]:
    """Wait for a heading that comes with what was fetched."""
    return lambda page: page.get_by_role("heading", name=name).wait_for()


def _order(page: Page) -> None:
    page.get_by_label("Steps shown").select_option("T4")
    page.get_by_role("grid", name="Order of work").get_by_text("Open the wedge of T4").wait_for()


def _card(page: Page) -> None:
    while not page.get_by_text("the end that goes to T4").count():
        page.keyboard.press("ArrowRight")
    page.keyboard.press("Space")
    page.get_by_text("strip, at true size").wait_for()


def _proved(page: Page) -> None:
    page.get_by_role("button", name="Let the tester read").click()
    page.get_by_role("heading", name="Contacts of J2b are exchanged").wait_for()
    page.get_by_text("289 of 289 rows read").wait_for()
    page.get_by_label("Rows").select_option("fails")
    page.get_by_role("grid", name="Test sheet").get_by_text("fails").first.wait_for()


FAULTS = ("swap:J2b-2/J2b-3", "high:C9/0.4")
"""Of the harness that is plugged into the tester as the picture is taken."""


def _at_home(route: Route, folder: str) -> None:
    reply = route.fetch()
    home = "/home/builder/.local/share/inkthread"
    text = reply.text().replace(f"{folder}/shots.db", f"{home}/inkthread.db").replace(folder, home)
    route.fulfill(response=reply, body=text)


VIEWS: dict[str, tuple[str, Callable[[Page], None] | None]] = {
    "shelf": ("/", None),
    "bench": ("/bench/ampacity", _bench),
    "brief": ("/d/larkspur/brief", None),
    "circuits": ("/d/larkspur/circuits", _device),
    "schematic": ("/d/larkspur/circuits/schematic", None),
    "route": ("/d/larkspur/route", _branch),
    "wire": ("/d/larkspur/wire", _why),
    "headroom": ("/d/larkspur/wire/headroom", _table("Behind each fuse")),
    "ends": ("/d/larkspur/ends/A1", None),
    "faces": ("/d/larkspur/ends/J1a/faces", None),
    "drawers": ("/drawers", _heading("Would not do")),
    "cut": ("/d/larkspur/cut", _cut),
    "spools": ("/d/larkspur/cut/spools", _table("Spools and what comes off them")),
    "dress": ("/d/larkspur/dress?branch=R8", _layers),
    "parts": ("/d/larkspur/parts", _priced),
    "build": ("/d/larkspur/build", _order),
    "cards": ("/d/larkspur/build/cards", _card),
    "prove": ("/d/larkspur/prove", _proved),
    "findings": ("/d/dawdler-sketch/findings", None),
}


def main() -> int:
    """Write the pictures named on the command line, or all."""
    wanted = sys.argv[1:] or list(VIEWS)
    SHOTS.mkdir(parents=True, exist_ok=True)
    with (
        tempfile.TemporaryDirectory() as folder,
        served(Path(folder) / "shots.db", faults=FAULTS) as base,
        sync_playwright() as playwright,
    ):
        browser = playwright.chromium.launch(executable_path=chromium(), args=CHROMIUM_FLAGS)
        for name in wanted:
            path, prepare = VIEWS[name]
            page = browser.new_page(
                viewport={"width": 1280, "height": 800}, locale="en-GB", reduced_motion="reduce"
            )
            # Pictures show where a builder's harnesses are, not where these were made.
            page.route("**/api/data", lambda route: _at_home(route, folder))
            page.goto(base + path)
            page.get_by_role("heading", level=1).wait_for()
            page.wait_for_load_state("networkidle")
            if prepare is not None:
                prepare(page)
            page.evaluate("window.scrollTo(0, 0)")
            page.screenshot(path=SHOTS / f"{name}.png")
            page.close()
        browser.close()
    return 0


if __name__ == "__main__":
    sys.exit(main())
