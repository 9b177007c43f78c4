"""What the papers name is there."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[3]
PAPERS = [ROOT / "README.md", ROOT / "CONTRIBUTING.md", *sorted((ROOT / "docs").glob("*.md"))]
_NAMED = re.compile(r"`([\w-]+/[\w./-]*(?:/|\.(?:py|tsx?|json|css|md|txt|sh)))`")
"""A file or a folder in a folder of the source: what the program itself writes has no folder above it."""
_PARTS = ("src", "frontend/src", "tests", "tools", "docs")
THERE = [
    "/" + p.relative_to(ROOT).as_posix()
    for part in _PARTS
    for p in (ROOT / part, *(ROOT / part).rglob("*"))
    if "node_modules" not in p.parts
] + ["/" + p.name for p in ROOT.iterdir()]


@pytest.mark.parametrize("paper", PAPERS, ids=lambda p: p.name)
def test_files_that_a_paper_names_are_there(paper: Path) -> None:
    named = set(_NAMED.findall(paper.read_text(encoding="utf-8")))
    gone = [n for n in sorted(named) if not any(p.endswith("/" + n.rstrip("/")) for p in THERE)]
    assert gone == []


@pytest.mark.parametrize("paper", PAPERS, ids=lambda p: p.name)
def test_links_between_papers_and_pictures_lead_somewhere(paper: Path) -> None:
    for target in re.findall(r"\]\(([^)#]+)(?:#[^)]*)?\)", paper.read_text(encoding="utf-8")):
        if "://" not in target:
            assert (paper.parent / target).exists(), target
