"""What ships of others comes with its licence."""

from __future__ import annotations

from pathlib import Path

import pytest
from tools.licences import TARGET, fonts_text, list_text, python_packages, screen_packages


def test_the_files_are_of_the_packages_that_are_used():
    assert (TARGET / "fonts.txt").read_text(encoding="utf-8") == fonts_text(), "run make licences"
    # A package's text may differ from machine to machine; the list may not.
    kept, made = (TARGET / "third-party.txt").read_text(encoding="utf-8"), list_text()
    assert kept.split("=" * 72)[0] == made.split("=" * 72)[0], "run make licences"


def test_every_package_has_a_licence_and_its_text():
    packages = {**python_packages(), **screen_packages()}
    assert {"flask", "numpy", "sqlalchemy", "react", "radix-ui", "react-router"} <= packages.keys()
    assert all(licence for _, licence, _ in packages.values())
    without = [name for name, (_, _, text) in packages.items() if not text]
    assert len(without) < len(packages) / 10, without


def test_every_font_comes_with_the_open_font_licence():
    text = fonts_text()
    fonts = {p.name for p in Path(TARGET.parent.parent, "node_modules/@fontsource-variable").iterdir()}
    assert fonts
    assert all(f in text for f in fonts)
    assert text.count("SIL OPEN FONT LICENSE Version 1.1") >= len(fonts)


@pytest.mark.parametrize("name", ["fonts.txt", "third-party.txt"])
def test_they_are_served_with_the_program(client, name):
    reply = client.get(f"/licences/{name}")
    assert reply.status_code == 200
    assert reply.mimetype == "text/plain"
    assert reply.get_data(as_text=True) == (TARGET / name).read_text(encoding="utf-8")
    reply.close()
