"""Every mistake of rooms one to five set off by a small harness, and its right twin quiet.

A file of ``lines/`` holds both, as a builder types them: ``#= mistake`` and the codes that it sets off, then
``#= twin`` and the same without the mistake, with no stop, no fix and none of those codes. ``#= owns`` names
a tool of the shop, its gauging and the day. A mistake that cannot be made says ``refused`` and a word of
the answer.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import cache
from pathlib import Path

import pytest

from inkthread.catalogue import shipped_catalogue
from inkthread.core.document import DocumentError, parse_document
from inkthread.core.document.against_catalogue import require_known_parts
from inkthread.core.evaluate import evaluate
from inkthread.core.evaluation import Evaluation
from inkthread.core.shop import OwnedTool, Shop
from inkthread.core.text import read_text

CATALOGUE = shipped_catalogue()
TODAY = "2026-11-28"
LINES = sorted((Path(__file__).parent / "lines").glob("C*.txt"))
RIGHT = sorted((Path(__file__).parent / "lines").glob("right-*.txt"))
TABLE = Path(__file__).parent.parent.parent / "docs/catches.md"
ROW = re.compile(r"\| (C\d+) \| ([^|]+) \| ([^|]+) \| ([^|]+) \| ([^|]+) \| ([^|]+) \|")
ROOMS_BUILT = 66
OWN_TESTS = ("C55", "C60", "C72", "C73", "C74", "C75", "C76", "C77", "C78", "C79", "C80", "C81",
             "C82", "C83", "C84", "C85", "C86", "C87", "C88")  # fmt: skip
"""Set off by a part that is gone, by wire at hand, by a part of one's own: no lines say so."""
ALL = 88


@dataclass(frozen=True)
class Catch:
    """A mistake and its twin, as lines."""

    name: str
    codes: tuple[str, ...]
    says: str
    wrong: str
    right: str


def read_catch(path: Path) -> Catch:
    head, _, rest = path.read_text(encoding="utf-8").partition("\n")
    told = head.removeprefix("#= mistake ").split()
    wrong, _, right = rest.partition("#= twin\n")
    refused = told[0] == "refused"
    return Catch(path.stem, () if refused else tuple(told), told[-1] if refused else "", wrong, right)


@pytest.fixture(params=LINES, ids=lambda p: p.stem)
def catch(request) -> Catch:
    return read_catch(request.param)


@cache
def worked(text: str) -> Evaluation:
    read = read_text(text, CATALOGUE)
    assert read.problems == ()
    document = parse_document(read.document)
    require_known_parts(document, CATALOGUE)
    owned = {
        code: OwnedTool(code, gauged_on=day, result=result)
        for code, result, day in re.findall(r"^#= owns (\S+) (passed|failed) ?(\S*)$", text, re.MULTILINE)
    }
    return evaluate(document, CATALOGUE, Shop(owned, today=TODAY))


def test_the_mistake_is_caught_or_cannot_be_made(catch):
    if catch.says:
        read = read_text(catch.wrong, CATALOGUE)
        told = " ".join(p.says for p in read.problems)
        if not told:
            with pytest.raises(DocumentError) as refused:
                parse_document(read.document)
            told = str(refused.value)
        assert catch.says in told
        return
    found = [f.code for f in worked(catch.wrong).findings]
    assert set(catch.codes) <= set(found)
    for finding in worked(catch.wrong).findings:
        if finding.code in catch.codes:
            assert finding.places
            assert finding.remedies


def test_its_right_twin_is_quiet(catch):
    found = worked(catch.right).findings
    assert [f.what for f in found if f.severity != "consider"] == []
    assert not {f.code for f in found} & set(catch.codes)


@pytest.mark.parametrize("path", RIGHT, ids=lambda p: p.stem)
def test_what_is_right_is_not_blamed(path):
    found = worked(path.read_text(encoding="utf-8"))
    assert found.wire.wires
    assert [f.what for f in found.findings if f.severity != "consider"] == []
    assert not {"colour-repeats", "signal-beside-ignition", "pin-page-missing"} & {
        f.code for f in found.findings
    }


def rows() -> list[tuple[str, ...]]:
    found = [tuple(x.strip() for x in m.groups()) for m in ROW.finditer(TABLE.read_text(encoding="utf-8"))]
    assert [n for n, *_ in found] == [f"C{n}" for n in range(1, ALL + 1)]
    return found


def test_the_table_has_every_mistake_once_with_its_state_and_its_tests():
    caught = {path.stem: read_catch(path) for path in LINES}
    for number, _, codes, severity, wrong, right in rows():
        n = int(number[1:])
        name = f"C{n:02d}"
        if n > ROOMS_BUILT and (wrong, right) == ("with its room", "with its room"):
            continue
        if number in OWN_TESTS:
            named = [code.strip("` ") for code in codes.split(",")]
            assert severity.split(", ") == [CATALOGUE.checks[code].severity for code in named], number
            assert (Path(__file__).parent.parent.parent / wrong / "test_checks.py").exists()
            continue
        catch = caught[name]
        assert (wrong, right) == (f"{name} mistake", f"{name} twin"), number
        if catch.says:
            assert codes == severity == "cannot be made", number
            continue
        assert tuple(c.strip("` ") for c in codes.split(",")) == catch.codes, number
        assert severity.split(", ") == [CATALOGUE.checks[c].severity for c in catch.codes], number
