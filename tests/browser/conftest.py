"""A served demo, Debian's Chromium, and watchers: no console error, no request off this machine."""

from __future__ import annotations

from pathlib import Path

import pytest
from playwright.sync_api import Page, expect
from sqlalchemy import delete
from sqlalchemy.orm import Session
from tools.browser import CHROMIUM_FLAGS, chromium, served

from inkthread.storage import Shelf
from inkthread.storage.database import open_database
from inkthread.storage.models import HappeningRow, PieceRow, StepRow, TakenRow
from tests.conftest import shelve_small

# A machine that is shared may take its time: what is waited for still has to come.
expect.set_options(timeout=30_000)
WCAG = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]
AXE = Path(__file__).parent.parent.parent / "frontend/node_modules/axe-core/axe.min.js"


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args):
    return {**browser_type_launch_args, "executable_path": chromium(), "args": CHROMIUM_FLAGS}


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args):
    return {
        **browser_context_args,
        "viewport": {"width": 1280, "height": 800},
        "locale": "en-GB",
        "timezone_id": "UTC",
        "reduced_motion": "reduce",
    }


@pytest.fixture(scope="session")
def server(tmp_path_factory):
    database = tmp_path_factory.mktemp("browser") / "browser.db"
    with served(database, demo=False) as url:
        yield url, database


@pytest.fixture
def site(server):
    """The program's address, with two small harnesses as they were and no other on the shelf."""
    url, database = server
    engine = open_database(database)
    shelf = Shelf(engine)
    for entry in shelf.entries():
        shelf.remove(entry.id)
    shelve_small(shelf)
    with Session(engine) as session:
        for kept in (StepRow, TakenRow, HappeningRow, PieceRow):
            session.execute(delete(kept))
        session.commit()
    engine.dispose()
    return url


@pytest.fixture(autouse=True)
def watched(page, site, request):
    """Fail on a console error or a request that leaves this machine."""
    errors: list[str] = []
    strays: list[str] = []
    page.set_default_timeout(30_000)
    page.on(
        "console",
        lambda m: errors.append(m.text) if m.type == "error" and "status of 4" not in m.text else None,
    )
    page.on("pageerror", lambda e: errors.append(str(e)))
    page.on("request", lambda r: strays.append(r.url) if not r.url.startswith((site, "data:")) else None)
    yield
    if request.node.get_closest_marker("unanswered"):
        errors = [e for e in errors if "net::ERR_FAILED" not in e]
    assert errors == []
    assert strays == []


@pytest.fixture
def axe(page):
    """Run axe on the page as it stands: by WCAG 2.2 AA and its own good practice, or by the rules named."""

    def check(*rules: str) -> list[str]:
        page.evaluate(AXE.read_text(encoding="utf-8"))
        only = list(rules) or [*WCAG, "best-practice"]
        found = page.evaluate("o => axe.run(document, {runOnly: o, resultTypes: ['violations']})", only)
        return [f"{v['id']}: {v['nodes'][0]['html'][:160]}" for v in found["violations"]]

    return check


@pytest.fixture
def open_room(page: Page, site):
    def go(room: str):
        page.goto(f"{site}/d/larkspur/{room}")
        expect(page.get_by_role("heading", level=1)).to_be_visible()

    return go


@pytest.fixture
def open_leaf(page: Page, site):
    def go(leaf: str):
        page.goto(f"{site}/d/larkspur/{leaf}")
        expect(page.get_by_role("heading", level=1)).to_be_visible()
        page.wait_for_load_state("networkidle", timeout=60_000)

    return go
