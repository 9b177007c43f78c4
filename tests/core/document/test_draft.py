"""What a draft remembers of its collections is what looking through them again finds."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from inkthread.core.document.draft import Draft, free_id, next_order
from inkthread.storage.patches import apply_with_inverse

IDS = [f"C{n}" for n in range(1, 6)]
CHANGES = st.lists(
    st.tuples(
        st.sampled_from(["entry", "order", "ends", "end", "drop", "all"]),
        st.sampled_from(IDS),
        st.integers(1, 9),
    ),
    max_size=12,
)


@given(CHANGES)
def test_orders_numbers_and_indices_follow_every_change(changes):
    start = {"circuits": {"circuits": {"C2": {"order": 4.0, "ends": {"A.1": {}}}}}}
    draft = Draft(start)
    path = ("circuits", "circuits")
    for what, entry_id, n in changes:
        here = draft.at(*path)
        if what == "entry":
            draft.put({"order": float(n), "ends": {f"A.{n}": {}}}, *path, entry_id)
        elif what == "all":
            draft.put({entry_id: {"order": float(n), "ends": {}}}, *path)
        elif entry_id in here:
            if what == "order":
                draft.put(float(n), *path, entry_id, "order")
            elif what == "ends":
                draft.put({f"B.{n}": {}}, *path, entry_id, "ends")
            elif what == "end":
                draft.put({}, *path, entry_id, "ends", f"A.{n}")
            else:
                draft.drop(*path, entry_id)
        here = draft.at(*path)
        assert draft.next_order(*path) == next_order(here)
        assert draft.free_id("C", *path) == free_id("C", here)
        for ref in ("A.1", "A.2", "B.3"):
            found = draft.having("ends", lambda e: e["ends"], ref, *path)
            assert set(found) == {i for i, e in here.items() if ref in e["ends"]}
    assert apply_with_inverse(start, draft.operations)[0] == draft.plain
