"""What hands do on the page, that several tests need."""

from __future__ import annotations

import re

from playwright.sync_api import Page


def paste(page: Page, text: str) -> None:
    """Paste a text where the caret is."""
    page.evaluate(
        """text => {
          const data = new DataTransfer();
          data.setData('text/plain', text);
          const pasted = new ClipboardEvent('paste', {clipboardData: data, bubbles: true});
          document.activeElement.dispatchEvent(pasted);
        }""",
        text,
    )


def under(page: Page, grid: str, head: str, row: int = 1):
    """The cell of a row of a grid that stands under a heading."""
    table = page.get_by_role("grid", name=grid)
    heads = table.get_by_role("columnheader").all_inner_texts()
    heads = [re.sub(r"\s*\(.*\)$", "", text, flags=re.DOTALL) for text in heads]
    return table.get_by_role("row").nth(row).get_by_role("gridcell").nth(heads.index(head))
