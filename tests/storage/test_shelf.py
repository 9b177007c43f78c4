"""The shelf: edits with their inverse, undo and redo across restarts, stale patches."""

from __future__ import annotations

import copy
import threading
from contextlib import suppress

import pytest
from hypothesis import given
from hypothesis import strategies as st
from sqlalchemy import event, text
from sqlalchemy.exc import OperationalError

import inkthread.storage.shelf as shelf_module
from inkthread.core.document.starter import new_document
from inkthread.demo import demo_document, seed
from inkthread.storage import Conflict, Cuts, NothingToUndo, NotOnShelf, PatchError, Shelf, Shop
from inkthread.storage.database import open_database
from inkthread.storage.models import SCHEMA_HEAD, Base
from inkthread.storage.patches import apply_with_inverse, disjoint


def accept(_document, _before, _at):
    return None


def amps(value):
    return [{"op": "replace", "path": "/circuits/loads/M1/current_a", "value": value}]


@pytest.fixture
def path(tmp_path):
    return tmp_path / "shelf.db"


@pytest.fixture
def shelf(path):
    engine = open_database(path)
    yield Shelf(engine)
    engine.dispose()


def test_edit_undo_redo_across_a_restart(path):
    engine = open_database(path)
    shelf = Shelf(engine)
    shelf.create(demo_document("larkspur"), "l")
    shelf.patch("l", 1, amps(7.0), "pump 7 A", accept)
    shelf.patch("l", 2, amps(11.0), "pump 11 A", accept)
    engine.dispose()

    engine = open_database(path)
    shelf = Shelf(engine)
    assert shelf.get("l").undo_label == "pump 11 A"
    back = shelf.undo("l", shelf.get("l").version)
    assert (back.version, back.document["circuits"]["loads"]["M1"]["current_a"]) == (4, 7.0)
    assert shelf.undo("l", shelf.get("l").version).document == demo_document("larkspur")
    with pytest.raises(NothingToUndo):
        shelf.undo("l", shelf.get("l").version)
    engine.dispose()

    engine = open_database(path)
    shelf = Shelf(engine)
    assert shelf.redo("l", shelf.get("l").version).document["circuits"]["loads"]["M1"]["current_a"] == 7.0
    assert shelf.redo("l", shelf.get("l").version).document["circuits"]["loads"]["M1"]["current_a"] == 11.0
    with pytest.raises(NothingToUndo):
        shelf.redo("l", shelf.get("l").version)
    shelf.undo("l", shelf.get("l").version)
    after = shelf.patch("l", 8, amps(9.0), "pump 9 A", accept)
    assert after.redo_label is None, "a new edit closes the way forward"
    engine.dispose()


def test_a_stale_patch_is_rebased_where_it_touches_nothing_newer(shelf):
    shelf.create(demo_document("larkspur"), "l")
    shelf.patch("l", 1, amps(11.0), "pump", accept)
    other = [{"op": "replace", "path": "/brief/name", "value": "Larkspur II"}]
    merged = shelf.patch("l", 1, other, "name", accept)
    assert merged.version == 3
    assert merged.document["circuits"]["loads"]["M1"]["current_a"] == 11.0
    assert merged.document["brief"]["name"] == "Larkspur II"


@pytest.mark.parametrize(
    "stale",
    [
        amps(5.0),
        [{"op": "remove", "path": "/circuits/loads/M1"}],
        [{"op": "replace", "path": "/circuits/loads", "value": {}}],
        [{"op": "move", "from": "/circuits/loads/M1/current_a", "path": "/brief/x"}],
    ],
)
def test_a_stale_patch_in_the_same_place_is_refused_and_nothing_is_lost(shelf, stale):
    shelf.create(demo_document("larkspur"), "l")
    shelf.patch("l", 1, amps(11.0), "pump", accept)
    with pytest.raises(Conflict) as caught:
        shelf.patch("l", 1, stale, "stale", accept)
    assert caught.value.current.version == 2
    assert shelf.get("l").document["circuits"]["loads"]["M1"]["current_a"] == 11.0


def test_a_refused_edit_changes_nothing(shelf):
    shelf.create(demo_document("larkspur"), "l")

    def refuse(_document, _before, _at):
        raise ValueError("no")

    with pytest.raises(ValueError, match="no"):
        shelf.patch("l", 1, amps(11.0), "pump", refuse)
    with pytest.raises(PatchError) as caught:
        shelf.patch("l", 1, [{"op": "remove", "path": "/brief/nothing"}], "x", accept)
    assert caught.value.path == "/brief/nothing"
    assert shelf.get("l").version == 1


def test_removed_designs_come_back_and_unknown_ones_are_named(shelf):
    made = shelf.create(new_document("lamp", "vehicle"))
    shelf.remove(made.id)
    assert shelf.entries() == []
    with pytest.raises(NotOnShelf):
        shelf.get(made.id)
    assert shelf.restore(made.id).document["brief"]["name"] == "lamp"
    with pytest.raises(NotOnShelf):
        shelf.restore("nope")


def test_seeding_again_keeps_what_the_user_did_and_reset_restores(shelf):
    cuts, shop = Cuts(shelf.engine), Shop(shelf.engine)
    seed(shelf, cuts, shop, reset=False)
    assert cuts.spools(), "the demo's shop has wire"
    assert shop.stock(), "and parts"
    for entry in shop.stock():
        shop.remove_stock(entry)
    for spool in cuts.spools():
        cuts.remove_spool(int(spool["id"]))
    shelf.patch("larkspur", 1, amps(11.0), "pump", accept)
    shelf.remove("dawdler-sketch")
    seed(shelf, cuts, shop, reset=False)
    assert shop.stock() == {}
    assert cuts.spools() == [], "what was taken out stays out"
    assert shelf.get("larkspur").document["circuits"]["loads"]["M1"]["current_a"] == 11.0
    assert [e.id for e in shelf.entries()] == ["larkspur", "mushroom", "glider", "dawdler"]
    seed(shelf, cuts, shop, reset=True)
    assert shelf.get("larkspur").document == demo_document("larkspur")
    assert shelf.get("larkspur").version == 3, "a version never names two documents"
    assert len(shelf.entries()) == 5
    assert (
        shelf.undo("larkspur", shelf.get("larkspur").version).document["circuits"]["loads"]["M1"]["current_a"]
        == 11.0
    )


def test_migrations_make_the_tables_that_the_models_name(path):
    from alembic.autogenerate import compare_metadata
    from alembic.migration import MigrationContext

    engine = open_database(path)
    with engine.connect() as connection:
        assert connection.execute(text("SELECT version_num FROM alembic_version")).scalar() == SCHEMA_HEAD
        assert compare_metadata(MigrationContext.configure(connection), Base.metadata) == []
        assert connection.execute(text("PRAGMA foreign_keys")).scalar() == 1
        assert connection.execute(text("PRAGMA journal_mode")).scalar() == "wal"
    engine.dispose()


KEYS = st.sampled_from(["a", "b", "c"])


@given(st.data())
def test_the_inverse_takes_any_patch_back(data):
    document = {k: {"x": 1, "y": {}} for k in data.draw(st.sets(KEYS))}
    before = copy.deepcopy(document)
    operations = []
    changed = copy.deepcopy(document)
    for _ in range(data.draw(st.integers(1, 6))):
        key = data.draw(KEYS)
        kinds = ["add"] + (["remove", "replace", "move", "copy"] if key in changed else [])
        kind = data.draw(st.sampled_from(kinds))
        op = {"op": kind, "path": f"/{key}"}
        if kind in ("add", "replace"):
            op["value"] = data.draw(st.integers())
        if kind in ("move", "copy"):
            op = {
                "op": kind,
                "from": f"/{key}",
                "path": f"/{data.draw(KEYS.filter(lambda k, key=key: k != key))}",
            }
        operations.append(op)
        changed, _ = apply_with_inverse(changed, [op])
    whole, inverse = apply_with_inverse(document, operations)
    assert whole == changed
    assert document == before, "the document given is not touched"
    assert apply_with_inverse(whole, inverse)[0] == before


def test_what_another_program_wrote_is_seen_though_the_last_document_is_kept(path):
    """Two programs on one file: each reads what the other put in, and edits on top of it."""
    engines = [open_database(path) for _ in range(2)]
    one, other = (Shelf(e) for e in engines)
    one.create(demo_document("larkspur"), "l")
    assert other.get("l").document["circuits"]["loads"]["M1"]["current_a"] != 7.0
    one.patch("l", 1, amps(7.0), "7 A", accept)
    assert other.get("l").document["circuits"]["loads"]["M1"]["current_a"] == 7.0
    other.patch("l", 2, amps(8.0), "8 A", accept)
    seen = one.get("l")
    assert (seen.version, seen.document["circuits"]["loads"]["M1"]["current_a"]) == (3, 8.0)
    assert one.undo("l", one.get("l").version).document["circuits"]["loads"]["M1"]["current_a"] == 7.0
    assert other.redo("l", other.get("l").version).document["circuits"]["loads"]["M1"]["current_a"] == 8.0
    for engine in engines:
        engine.dispose()


def test_an_edit_that_is_refused_leaves_no_trace_in_what_is_kept(shelf):
    shelf.create(demo_document("larkspur"), "l")
    before = copy.deepcopy(shelf.get("l").document)

    def refuse(_document, _before, _at):
        raise ValueError("not like this")

    with pytest.raises(ValueError, match="not like this"):
        shelf.patch("l", 1, amps(99.0), "99 A", refuse)
    with pytest.raises(PatchError):
        shelf.patch("l", 1, [*amps(98.0), {"op": "remove", "path": "/circuits/loads/NONE"}], "98 A", accept)
    assert shelf.get("l").document == before
    assert shelf.get("l").version == 1


def test_an_edit_is_judged_with_what_stood_before_and_where(shelf):
    shelf.create(demo_document("larkspur"), "l")
    told = []
    shelf.patch("l", 1, amps(7.0), "7 A", lambda document, before, at: told.append((document, before, at)))
    ((document, before, at),) = told
    assert at == ("l", 1)
    assert before["circuits"]["loads"]["M1"]["current_a"] != 7.0
    assert document["circuits"]["loads"]["M1"]["current_a"] == 7.0
    assert document["route"] is before["route"], "what the edit left alone is shared, not copied"


def test_many_designs_are_each_themselves_however_few_are_kept(shelf):
    """More designs than are kept in memory, read in turn."""
    for n in range(20):
        shelf.create(new_document(f"harness {n}", "vehicle"), f"d{n}")
    for _ in range(2):
        for n in range(20):
            assert shelf.get(f"d{n}").document["brief"]["name"] == f"harness {n}"


def test_texts_of_all_languages_are_stored_as_they_are(shelf):
    document = new_document("Große Ölpumpe, 0.75 mm², 85 °C, Ω, 水", "vehicle")
    shelf.create(document, "u")
    assert shelf.get("u").document["brief"]["name"] == "Große Ölpumpe, 0.75 mm², 85 °C, Ω, 水"
    edit = [{"op": "replace", "path": "/brief/machine", "value": 'a\u2028b "quoted" \\ back'}]
    shelf.patch("u", 1, edit, "machine", accept)
    assert Shelf(shelf.engine).get("u").document["brief"]["machine"] == 'a\u2028b "quoted" \\ back'


@given(
    st.dictionaries(
        st.text(min_size=1, max_size=5),
        st.recursive(
            st.none()
            | st.booleans()
            | st.integers(-(2**53), 2**53)
            | st.floats(allow_nan=False, allow_infinity=False)
            | st.text(max_size=8),
            lambda inner: (
                st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=4), inner, max_size=3)
            ),
            max_leaves=8,
        ),
        max_size=4,
    )
)
def test_any_plain_document_comes_back_from_the_database_as_it_went_in(plain):
    from pydantic_core import from_json, to_json

    text = to_json(plain).decode()
    assert from_json(text) == plain
    assert [type(v) for v in from_json(text).values()] == [type(v) for v in plain.values()]


def test_a_slow_edit_holds_nobody_up_and_is_made_anew_where_it_was_outrun(shelf):
    shelf.create(demo_document("larkspur"), "one")
    seen = []

    def make(document):
        seen.append(document["brief"]["name"])
        if len(seen) == 1:
            # Somebody else edits, and is answered, while this one is still being made.
            quick = [{"op": "replace", "path": "/brief/name", "value": "quick"}]
            assert shelf.patch("one", 1, quick, "quick", accept).version == 2
        return [{"op": "replace", "path": "/brief/machine", "value": f"{document['brief']['name']} machine"}]

    stored = shelf.edit("one", make, "slow", accept)
    assert seen == [demo_document("larkspur")["brief"]["name"], "quick"]
    assert stored.version == 3
    assert (stored.document["brief"]["name"], stored.document["brief"]["machine"]) == (
        "quick",
        "quick machine",
    )


def renamed(name):
    return [{"op": "replace", "path": "/brief/name", "value": name}]


def test_an_edit_is_put_in_on_the_version_of_another_program_that_was_quicker(shelf, path):
    shelf.create(demo_document("larkspur"), "one")
    other = Shelf(open_database(path))
    seen = []

    def quicker(_document, before, at):
        seen.append((before["brief"]["name"], at[1]))
        if len(seen) == 1:
            other.patch("one", 1, renamed("theirs"), "theirs", accept)

    stored = shelf.patch("one", 1, amps(7.0), "ours", quicker)
    assert seen == [(demo_document("larkspur")["brief"]["name"], 1), ("theirs", 2)]
    assert (stored.version, stored.document["brief"]["name"]) == (3, "theirs")
    assert shelf.undo("one", 3).document["brief"]["name"] == "theirs"
    assert other.get("one").undo_label == "theirs"
    other.engine.dispose()


def test_an_edit_of_what_another_program_took_off_the_shelf_is_refused(shelf, path):
    shelf.create(demo_document("larkspur"), "one")
    other = Shelf(open_database(path))
    with pytest.raises(NotOnShelf):
        shelf.patch("one", 1, amps(7.0), "ours", lambda *_: other.knows("one") and taken_off(other))
    assert shelf.restore("one").document == demo_document("larkspur")
    other.engine.dispose()


def taken_off(shelf):
    with suppress(NotOnShelf):
        shelf.remove("one")


def test_an_edit_that_the_disk_refused_is_not_taken_for_the_one_that_came_instead(shelf, path):
    shelf.create(demo_document("larkspur"), "one")

    def refuses(_connection):
        raise OperationalError("COMMIT", {}, Exception("disk full"))

    event.listen(shelf.engine, "commit", refuses)
    for lost in (
        lambda: shelf.patch("one", 1, renamed("lost"), "lost", accept),
        lambda: shelf.overwrite("one", {"brief": {"name": "lost"}}, "lost"),
    ):
        with pytest.raises(OperationalError):
            lost()
    event.remove(shelf.engine, "commit", refuses)
    other = Shelf(open_database(path))
    assert other.patch("one", 1, renamed("kept"), "kept", accept).version == 2
    other.engine.dispose()
    assert shelf.get("one").document["brief"]["name"] == "kept"


@pytest.mark.parametrize("long", [159, 160, 161])
def test_what_an_edit_is_called_is_cut_alike_in_the_answer_and_on_the_shelf(shelf, long):
    shelf.create(demo_document("larkspur"), "one")
    stored = shelf.patch("one", 1, renamed("a"), "x" * long, accept)
    assert stored == shelf.get("one")
    assert stored.undo_label == "x" * min(long, 160)
    undone = shelf.undo("one", 2)
    assert undone == shelf.get("one")
    assert undone.redo_label == stored.undo_label
    again = shelf.patch("one", 3, renamed("b"), "b", accept)
    assert (again.undo_label, again.redo_label) == ("b", None)
    assert again == shelf.get("one")


def test_an_edit_that_is_outrun_again_and_again_has_its_turn(shelf):
    shelf.create(demo_document("larkspur"), "one")
    tries, waiting = [], []

    def make(document):
        tries.append(document)
        other = threading.Thread(target=rename, args=(shelf, f"other {len(tries)}"))
        waiting.append(other)
        other.start()
        other.join(timeout=2)
        return [{"op": "replace", "path": "/brief/machine", "value": "mine"}]

    assert shelf.edit("one", make, "slow", accept).document["brief"]["machine"] == "mine"
    assert len(tries) == 4, "three times with nothing held, once with the others waiting"
    for other in waiting:
        other.join(timeout=60)
    assert shelf.get("one").document["brief"]["name"] == "other 4", "who waited was not lost"


def rename(shelf, name):
    def make(_document):
        return [{"op": "replace", "path": "/brief/name", "value": name}]

    return shelf.edit("one", make, name, accept)


@given(st.data())
def test_what_touches_is_found_as_by_comparing_every_pair(data):
    part = st.sampled_from(["a", "b", "ab", ""])
    path = st.lists(part, max_size=3).map(lambda parts: "".join(f"/{p}" for p in parts))
    ours, theirs = (data.draw(st.sets(path, max_size=4)) for _ in range(2))
    apart = all(not (a == b or a.startswith(b + "/") or b.startswith(a + "/")) for a in ours for b in theirs)
    assert disjoint(ours, theirs) == apart


@pytest.mark.parametrize("act", ["undo", "redo"])
def test_undo_and_redo_hold_nobody_up_and_give_way_to_who_was_first(shelf, monkeypatch, act):
    shelf.create(demo_document("larkspur"), "one")
    rename(shelf, "first")
    if act == "redo":
        shelf.undo("one", 2)
    version = shelf.get("one").version
    applied = shelf_module.apply_with_inverse
    between = []

    def slowly(document, operations):
        if not between:
            between.append(1)
            rename(shelf, "quick")  # answered while the other is being worked out
        return applied(document, operations)

    monkeypatch.setattr(shelf_module, "apply_with_inverse", slowly)
    with pytest.raises(Conflict) as refused:
        getattr(shelf, act)("one", version)
    assert refused.value.current.document["brief"]["name"] == "quick"
    assert shelf.get("one").version == version + 1
