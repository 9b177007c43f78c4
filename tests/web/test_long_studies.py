"""Studies beside the server: progress, kept answers, given up in time, never more processes than said."""

from __future__ import annotations

import json
import multiprocessing
import os
import pickle
import signal

import pytest

import inkthread.web.studies as studies_module
from inkthread.catalogue import shipped_catalogue
from inkthread.core.compare import compare_families
from inkthread.core.document import parse_document
from inkthread.core.evaluate import work_out
from inkthread.core.headroom import headroom
from inkthread.core.shop import EMPTY_SHOP, OwnedTool, Shop
from inkthread.demo import demo_document
from inkthread.web.studies import Busy, Studies
from inkthread.web.study_work import Material, Task

LARKSPUR = parse_document(demo_document("larkspur"))


def material() -> Material:
    stock = pickle.dumps((shipped_catalogue(), EMPTY_SHOP))
    return Material(json.dumps(demo_document("larkspur")).encode(), stock)


def task(name: str = "headroom", of: str = "", design: str = "d", version: int = 1) -> Task:
    return Task(name, of, (design, version, "s"))


@pytest.fixture
def studies():
    found = Studies()
    yield found
    found.close()


def answered(studies: Studies, asked: Task, made=material):
    heard = []
    while not (answer := studies.ask(asked, made)).done:
        heard.append(answer.share)
    return answer, heard


def test_a_study_is_what_the_core_makes_of_it_and_says_how_far_it_is(studies):
    answer, heard = answered(studies, task())
    assert answer.value == headroom(work_out(LARKSPUR, shipped_catalogue()))
    assert heard == sorted(heard)
    assert any(0 < share < 1 for share in heard)


def test_it_is_answered_from_what_is_kept_for_the_same_version(studies):
    first, _ = answered(studies, task("future"))
    asked = []
    again = studies.ask(task("future"), lambda: asked.append(1))
    assert again is first
    assert asked == []
    second, _ = answered(studies, task("future", version=2))
    assert second is not first


def test_it_is_given_up_when_nobody_asks_any_more(studies, monkeypatch):
    monkeypatch.setattr(studies_module, "GIVEN_UP_S", 0.3)
    assert not studies.ask(task(), material).done
    (run,) = studies._runs.values()
    assert run.over.wait(10)
    assert run.answer is None
    assert studies.under_way() == 0
    monkeypatch.setattr(studies_module, "GIVEN_UP_S", 30)
    assert answered(studies, task("future"))[0].value, "asked for again, a study is worked out"


def test_it_is_given_up_when_the_harness_has_gone_on(studies):
    assert not studies.ask(task(version=1), material).done
    (old,) = studies._runs.values()
    studies.ask(task(version=2), material)
    assert old.over.wait(10)
    assert old.answer is None
    other = task(design="other", version=1)
    studies.ask(other, material)
    studies.ask(task(version=3), material)
    assert not studies._runs[other].outdated, "another harness's studies go on"


def test_there_are_never_more_processes_or_waiting_than_said(monkeypatch):
    monkeypatch.setattr(studies_module, "MOST_WAITING", 3)
    before = set(multiprocessing.active_children())
    studies = Studies(at_once=1)
    try:
        for version in (1, 2, 3):
            studies.ask(task(design=f"d{version}"), material)
        with pytest.raises(Busy):
            studies.ask(task(design="d4"), material)
        assert len(set(multiprocessing.active_children()) - before) <= 1
    finally:
        studies.close()


def test_a_study_that_fails_or_whose_process_dies_says_so_and_the_next_one_works(studies):
    before = set(multiprocessing.active_children())
    failed, _ = answered(studies, task("threading", "C999"))
    assert "KeyError" in failed.failed
    studies.ask(task(), material)
    (worker,) = set(multiprocessing.active_children()) - before
    os.kill(worker.pid, signal.SIGKILL)
    assert answered(studies, task())[0].failed
    assert answered(studies, task("future"))[0].value


def test_a_harness_that_cannot_be_read_says_so(studies):
    answer, _ = answered(studies, task(), lambda: Material(b'{"format": "none"}', material().stock))
    assert answer.unreadable
    assert answered(studies, task("future", version=2))[0].value


def test_comparisons_are_made_with_the_same_shop():
    """A tool that fails its gauge is found in every row, or the rows could not be compared."""
    catalogue = shipped_catalogue()
    shop = Shop({t: OwnedTool(t, result="failed") for t in catalogue.tools})
    now = work_out(LARKSPUR, catalogue, shop)
    bare = work_out(LARKSPUR, catalogue)
    found = now.evaluation.tally.fixes + now.evaluation.tally.stops
    assert found > bare.evaluation.tally.fixes + bare.evaluation.tally.stops, "the tools are found"
    rows = compare_families(now, [f.code for f in now.wire.families.values() if f.construction == "single"])
    own = next(r for r in rows if r.chosen)
    alone = compare_families(bare, [r.family for r in rows])
    for row, without in zip(rows, alone, strict=True):
        assert row.stops + row.fixes > without.stops + without.fixes, row.family
    assert own.stops + own.fixes == found
