"""What hands do on the page, that several tests need."""

from __future__ import annotations

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
