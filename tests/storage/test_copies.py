"""Copies of the data file and what is put back of them, the drawer of removed harnesses, old edits."""

from __future__ import annotations

import sqlite3
from datetime import date, datetime, timedelta

import pytest
from sqlalchemy.orm import Session

from inkthread.demo import demo_document
from inkthread.storage import NothingToUndo, NotOnShelf, Shelf, Shop, versions
from inkthread.storage.copies import DAYS_KEPT, Copies, bring_in, checked_copy, look, opened_copy, restore
from inkthread.storage.copies import put_back as put_back_from
from inkthread.storage.database import open_database
from inkthread.storage.models import RevisionRow
from tests.storage.test_shelf import accept

NOW = datetime(2026, 5, 4, 10, 30)
TODAY = date(2026, 5, 4)


@pytest.fixture
def data(tmp_path):
    return tmp_path / "place" / "inkthread.db"


@pytest.fixture
def shelf(data):
    engine = open_database(data)
    found = Shelf(engine)
    found.create(demo_document("dawdler-sketch"), "boat")
    yield found
    engine.dispose()


def named(shelf: Shelf, design_id: str, name: str) -> None:
    version = shelf.get(design_id).version
    edit = [{"op": "replace", "path": "/brief/name", "value": name}]
    shelf.patch(design_id, version, edit, name, accept)


def damage(path) -> None:
    size = path.stat().st_size
    with path.open("r+b") as raw:
        raw.seek(4096)
        raw.write(b"\xff" * (size - 4096))


def test_a_copy_made_while_the_file_is_in_use_holds_what_was_answered(shelf, data, tmp_path):
    named(shelf, "boat", "after")
    checked_copy(data, tmp_path / "copy.db")
    assert [p.name for p in tmp_path.glob("copy.db*")] == ["copy.db"], "one file, to be carried off"
    with opened_copy(tmp_path / "copy.db") as engine:
        assert Shelf(engine).get("boat").document["brief"]["name"] == "after"


def test_seven_days_of_copies_are_kept_whatever_lies_between(shelf, data):
    copies = Copies(data)
    days = [TODAY + timedelta(days=3 * n) for n in range(DAYS_KEPT + 2)]
    for day in days:
        assert copies.daily(day)
        assert not copies.daily(day), "one a day"
    asked = copies.make(NOW)
    (copies.folder / "mine.db").write_text("of the builder's own")
    assert sorted(p.name for p in copies.folder.iterdir()) == sorted(
        [f"day-{d.isoformat()}.db" for d in days[2:]] + [asked.name, "mine.db"]
    )
    assert "mine.db" not in {c.name for c in copies.all()}


def test_a_file_that_is_damaged_takes_no_copy_with_it(shelf, data):
    copies = Copies(data)
    for n in range(DAYS_KEPT):
        copies.daily(TODAY + timedelta(days=n))
    shelf.engine.dispose()
    with sqlite3.connect(data) as file:
        file.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    file.close()
    damage(data)
    before = {c.name for c in copies.all()}
    assert not copies.daily(TODAY + timedelta(days=DAYS_KEPT))
    assert "could not be made" in copies.trouble
    assert {c.name for c in copies.all()} == before
    assert not list(copies.folder.glob("*.part"))


def test_a_harness_is_put_back_as_an_edit_that_can_be_undone(shelf, data):
    copy = Copies(data).make(NOW)
    named(shelf, "boat", "spoilt")
    with opened_copy(copy) as theirs:
        assert [i.here for i in look(theirs, shelf.engine)] == ["changed"]
        back = put_back_from(shelf, theirs, "boat", "put back")
    assert back.document == demo_document("dawdler-sketch")
    assert back.version == 3, "a version never names two documents"
    assert shelf.undo("boat", 3).document["brief"]["name"] == "spoilt"


def test_a_harness_that_is_gone_altogether_comes_back_with_its_history(shelf, data):
    named(shelf, "boat", "second")
    copy = Copies(data).make(NOW)
    shelf.remove("boat")
    with opened_copy(copy) as theirs:
        assert [i.here for i in look(theirs, shelf.engine)] == ["removed"]
        assert shelf.empty_drawer(datetime(2999, 1, 1)) == 1
        assert [i.here for i in look(theirs, shelf.engine)] == ["missing"]
        put_back_from(shelf, theirs, "boat", "put back")
        assert [i.here for i in look(theirs, shelf.engine)] == ["same"]
        with pytest.raises(NotOnShelf):
            put_back_from(shelf, theirs, "nothing", "put back")
    assert shelf.undo("boat", 2).document == demo_document("dawdler-sketch")


def test_what_was_removed_stays_thirty_days_to_the_second(shelf):
    shelf.remove("boat")
    (entry,) = shelf.removed()
    assert (entry.id, shelf.entries()) == ("boat", [])
    last = entry.removed_at + timedelta(days=30)
    assert shelf.empty_drawer(last) == 0
    assert shelf.removed()
    shelf.restore("boat")
    assert shelf.empty_drawer(last + timedelta(seconds=1)) == 0, "what was put back is not let go"
    shelf.remove("boat")
    assert shelf.empty_drawer(shelf.removed()[0].removed_at + timedelta(days=30, seconds=1)) == 1
    assert shelf.removed() == []
    with Session(shelf.engine) as session:
        assert session.query(RevisionRow).count() == 0, "its history goes with it"


def test_an_earlier_place_is_brought_in_and_nothing_here_is_written_over(shelf, tmp_path):
    engine = open_database(tmp_path / "old.db")
    old = Shelf(engine)
    old.create(demo_document("dawdler-sketch"), "boat")
    old.create(demo_document("glider"), "tray")
    named(old, "tray", "my tray")
    Shop(engine).own_tool("TL-1", {"certified": True, "gauged_on": "", "result": "", "note": "old"})
    Shop(engine).keep_pattern("own-fan", {"label": "fan", "why": "", "lines": []})
    Shop(engine).keep_stock({"SS15-P2": {"code": "SS15-P2", "quantity": 4.0}})
    assert bring_in(shelf, engine, shelf.engine) == 1, "the same boat is here already"
    assert {e.name for e in shelf.entries()} == {"my tray", shelf.get("boat").document["brief"]["name"]}
    assert shelf.undo("tray", 2).document == demo_document("glider"), "with its history"
    named(old, "boat", "old boat")
    assert bring_in(shelf, engine, shelf.engine) == 2, "each otherwise here is put beside"
    assert shelf.get("boat").version == 1
    assert sum(e.name == "old boat" for e in shelf.entries()) == 1
    here = Shop(shelf.engine)
    assert [t["note"] for t in here.tools()] == ["old"]
    assert (list(here.patterns()), list(here.stock())) == (["own-fan"], ["SS15-P2"])
    engine.dispose()


def test_a_copy_takes_the_place_of_the_file_and_that_is_kept(shelf, data, tmp_path):
    copy = tmp_path / "copy.db"
    checked_copy(data, copy)
    named(shelf, "boat", "later")
    shelf.engine.dispose()
    kept = restore(copy, data, NOW)
    with opened_copy(data) as ours:
        assert Shelf(ours).get("boat").document == demo_document("dawdler-sketch")
    with opened_copy(kept) as former:
        assert Shelf(former).get("boat").document["brief"]["name"] == "later"
    assert sorted(p.name for p in data.parent.iterdir() if p.is_file()) == ["inkthread.db"]


def test_a_damaged_file_is_set_aside_as_it_is(shelf, data, tmp_path):
    copy = tmp_path / "copy.db"
    checked_copy(data, copy)
    shelf.engine.dispose()
    damage(data)
    spoilt = data.read_bytes()
    kept = restore(copy, data, NOW)
    assert kept.read_bytes() == spoilt
    with opened_copy(data) as ours:
        assert Shelf(ours).get("boat").document == demo_document("dawdler-sketch")


@pytest.mark.parametrize("spoil", [None, b"", b"not a data file" * 400, "damaged"])
def test_a_copy_that_does_not_hold_changes_nothing(shelf, data, tmp_path, spoil):
    copy = tmp_path / "copy.db"
    if spoil == "damaged":
        checked_copy(data, copy)
        damage(copy)
    elif spoil is not None:
        copy.write_bytes(spoil)
    before = Shelf(shelf.engine).get("boat").document
    with pytest.raises(OSError, match=r"damaged|no data file|No such file"):
        restore(copy, data, NOW)
    assert Shelf(shelf.engine).get("boat").document == before
    assert not list(data.parent.glob("*.restoring*"))


def test_whole_documents_in_the_history_are_packed(shelf, data):
    document = demo_document("larkspur")
    for n in range(10):
        shelf.overwrite("boat", {**document, "brief": {**document["brief"], "name": str(n)}}, "again")
    with sqlite3.connect(data) as file:
        (taken,) = file.execute("SELECT sum(length(operations) + length(inverse)) FROM revisions").fetchone()
    file.close()
    raw = len(str(document))
    assert taken < 20 * raw / 5, "a fifth of what they are"
    for n in reversed(range(10)):
        seen = shelf.undo("boat", shelf.get("boat").version).document
        assert seen["brief"]["name"] == (
            str(n - 1) if n else demo_document("dawdler-sketch")["brief"]["name"]
        )


def test_the_history_goes_so_far_back_and_no_edit_that_can_come_again_is_let_go(shelf, monkeypatch):
    monkeypatch.setattr(versions, "EDITS_KEPT", 60)
    for n in range(100):
        named(shelf, "boat", str(n))
    assert count(shelf) == 60 + 1, "version 100 was the 99th edit: trimmed, then one more"
    for n in reversed(range(60, 99)):
        assert shelf.undo("boat", shelf.get("boat").version).document["brief"]["name"] == str(n)
    for n in range(60, 100):
        if n > 60:
            shelf.redo("boat", shelf.get("boat").version)
        assert shelf.get("boat").document["brief"]["name"] == str(n)
    while True:
        try:
            oldest = shelf.undo("boat", shelf.get("boat").version)
        except NothingToUndo:
            break
    assert int(oldest.document["brief"]["name"]) > 20
    assert oldest.redo_label is not None


def test_the_history_takes_so_much_of_the_file(shelf, monkeypatch):
    monkeypatch.setattr(versions, "HISTORY_BYTES", 20_000)
    monkeypatch.setattr(versions, "EDITS_ALWAYS", 10)
    for n in range(99):
        named(shelf, "boat", f"{n:0100d}")
    assert 10 < count(shelf) < 99
    monkeypatch.setattr(versions, "HISTORY_BYTES", 0)
    for n in range(50):
        named(shelf, "boat", f"{n:0100d}")
    assert count(shelf) == 10, "the newest are kept whatever they take"


def count(shelf: Shelf) -> int:
    with Session(shelf.engine) as session:
        return session.query(RevisionRow).count()
