"""What is asked of every finding: that it is set off, names its place and a remedy, and speaks plainly."""

from __future__ import annotations

from inkthread.catalogue import shipped_catalogue
from tests.conftest import HarnessBuilder


def says_plainly(builder: HarnessBuilder, code: str) -> None:
    """The check is set off by this harness, and its wording is whole."""
    found = [f for f in builder.evaluate().findings if f.code == code]
    assert found, f"{code} was not set off"
    check = shipped_catalogue().checks[code]
    for f in found:
        assert f.severity == check.severity
        assert f.places
        assert f.remedies
        for text in (f.title, f.what, f.why, *(r.text for r in f.remedies)):
            assert text
            assert "{" not in text
            assert "  " not in text
            assert not text.endswith(" .")
