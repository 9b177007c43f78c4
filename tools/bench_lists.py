"""What lists and the first sight of the screen promise: frames while one scrolls, a filter, the jump list."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import AbstractContextManager
from typing import Any

from tools.harnesses import synthetic

_FILTER = "input[placeholder^=filter]"
At = Callable[[dict[str, Any] | None], AbstractContextManager[tuple[Any, str]]]

_WHEEL_PX, _THROWN_PX = 120, 400
"""Pixels a frame: of a wheel turned as fast as a finger goes, and of a bar thrown from end to end."""

_SCROLLED = """by => new Promise(done => {
  const frames = [];
  let last = performance.now(), steps = 0;
  const step = now => {
    frames.push(now - last);
    last = now;
    window.scrollBy(0, steps < 90 ? by : -by);
    if (++steps < 180) requestAnimationFrame(step); else done(frames.slice(1));
  };
  requestAnimationFrame(step);
})"""


def _typed(page: Any, selector: str, text: str, wanted: str) -> float:
    """Milliseconds from the last letter of a text until the frame after the one in which what it asks for
    stands there. ``wanted`` is a condition in the page's own words.
    """
    field = page.locator(selector)
    field.fill(text[:-1])
    page.wait_for_timeout(600)
    page.evaluate(
        f"""selector => {{
          window.took = null;
          document.querySelector(selector).addEventListener('input', () => {{
            const start = performance.now();
            const shown = () => {{
              if (!({wanted})) return requestAnimationFrame(shown);
              requestAnimationFrame(() => {{ window.took = performance.now() - start; }});
            }};
            requestAnimationFrame(shown);
          }}, {{ once: true }});
        }}""",
        selector,
    )
    field.press(text[-1])
    page.wait_for_function("() => window.took !== null", polling=20)
    return float(page.evaluate("window.took"))


def scrolling(at: At, wires: int = 3000) -> bool:
    """The wire list under a fast wheel, there and back: no frame longer than 50 ms. And thrown."""
    with at(synthetic(wires)) as (page, address):
        page.set_default_timeout(120_000)
        page.goto(f"{address}/wire")
        rows = page.get_by_role("grid", name="Wires").get_by_role("row")
        rows.nth(2).wait_for()
        page.wait_for_load_state("networkidle")
        count = int(page.get_by_role("grid", name="Wires").get_attribute("aria-rowcount") or 0) - 1
        page.evaluate(_SCROLLED, _WHEEL_PX)
        frames, thrown = (
            min((sorted(page.evaluate(_SCROLLED, by)) for _ in range(3)), key=lambda f: f[-1])
            for by in (_WHEEL_PX, _THROWN_PX)
        )
    longest, usual = frames[-1], frames[len(frames) // 2]
    print(f"scrolling {count} rows: longest frame {longest:.0f} ms (at most 50), median {usual:.0f}")
    print(f"  thrown from end to end: longest {thrown[-1]:.0f} ms, median {thrown[len(thrown) // 2]:.0f}")
    return bool(longest <= 50)


def finding(at: At, wires: int = 1000) -> bool:
    """A filter of a long list, and the jump list over the same harness: from the letter to what is shown."""
    with at(synthetic(wires)) as (page, address):
        page.set_default_timeout(120_000)
        page.goto(f"{address}/wire")
        grid = page.get_by_role("grid", name="Wires")
        grid.get_by_role("row").nth(2).wait_for()
        page.wait_for_load_state("networkidle")
        rows = "Number(document.querySelector('[role=grid][aria-label=Wires]').ariaRowCount)"
        whole = page.evaluate(rows)
        took = [
            _typed(page, _FILTER, text, f"{rows} < {whole} && {rows} > 1")
            for text in ("C11", "C23", "C35", "C47", "C59")
        ]
        page.locator(_FILTER).fill("")
        page.keyboard.press("Control+k")
        page.locator("[cmdk-input]").wait_for()
        items = "[...document.querySelectorAll('[cmdk-item]')]"
        jumps = [
            _typed(
                page, "[cmdk-input]", text, f"{items}.length > 0 && {items}[0].textContent.includes('{text}')"
            )
            for text in ("C12", "C24", "C36", "C48", "C60")
        ]
    filtered, jumped = sorted(took)[len(took) // 2], sorted(jumps)[len(jumps) // 2]
    print(f"filter typed to shown, {whole} rows: {filtered:.0f} ms (at most 50), longest {max(took):.0f}")
    print(f"jump list typed to shown: {jumped:.0f} ms (at most 30), longest {max(jumps):.0f}")
    return bool(filtered <= 50 and jumped <= 30)


def first_paint(at: At) -> bool:
    """From the address until something of Larkspur stands on the screen, the best of three."""
    with at(None) as (page, address):
        painted = []
        for _ in range(3):
            page.goto(f"{address}/wire")
            page.get_by_role("grid", name="Wires").wait_for()
            painted.append(
                page.evaluate("performance.getEntriesByName('first-contentful-paint')[0].startTime / 1000")
            )
    print(f"first paint: {min(painted):.2f} s (at most 0.8)")
    return bool(min(painted) <= 0.8)
