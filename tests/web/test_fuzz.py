"""Random patches and lines: refused with a reason or applied whole, never a crash, always undone."""

from __future__ import annotations

import os
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from inkthread.core.acts import ACTS
from inkthread.core.document.problems import pointer
from inkthread.demo import demo_document
from inkthread.web import create_app
from tests.program import client_of, turn


def paths(node: Any, at: tuple[str, ...] = ()) -> list[tuple[str, ...]]:
    found = [at]
    if isinstance(node, dict):
        for key, value in node.items():
            found += paths(value, (*at, key))
    return found


PATHS = sorted(pointer(p) for p in paths(demo_document("larkspur")))
NEW_KEYS = st.sampled_from(["new", "M1", "B1.+", "C1", "", "~", "a/b", "x" * 50, "é", "order"])
PLACES = st.one_of(
    st.sampled_from(PATHS),
    st.tuples(st.sampled_from(PATHS), NEW_KEYS).map(lambda x: x[0] + pointer([x[1]])),
    st.text(max_size=20),
)
LEAVES = st.one_of(
    st.none(),
    st.booleans(),
    st.integers(-(10**9), 10**9),
    st.floats(allow_nan=False, allow_infinity=False),
    st.sampled_from(
        [
            "11 A",
            "9 1/4 in",
            "-3",
            "elephant",
            "",
            "M1",
            "B1.+",
            "AS22759/16",
            "socket",
            "tape",
            "85 C",
            "=1+1",
        ]
    ),
    st.text(max_size=30),
)
VALUES = st.recursive(
    LEAVES,
    lambda v: st.dictionaries(st.sampled_from(["order", "name", "pins", "role", "x"]), v, max_size=4),
    max_leaves=6,
)
OPERATIONS = st.one_of(
    st.fixed_dictionaries({"op": st.sampled_from(["add", "replace"]), "path": PLACES, "value": VALUES}),
    st.fixed_dictionaries({"op": st.just("remove"), "path": PLACES}),
    st.fixed_dictionaries({"op": st.sampled_from(["move", "copy"]), "path": PLACES, "from": PLACES}),
    st.fixed_dictionaries({"op": st.just("test"), "path": PLACES, "value": VALUES}),
)
LARKSPUR = demo_document("larkspur")
CIRCUITS = st.sampled_from(sorted(LARKSPUR["circuits"]["circuits"]))
BRANCHES = st.sampled_from(sorted(LARKSPUR["route"]["branches"]))
PINS = st.sampled_from(sorted(LARKSPUR["ends"]["pinout"]))
NUMBERS = st.floats(0.01, 2000)


def one_of(*values: Any) -> st.SearchStrategy[Any]:
    return st.sampled_from(values)


def edit(kind: str, *parts: Any, value: st.SearchStrategy[Any] | None = None) -> st.SearchStrategy[Any]:
    """An edit that a builder might make; parts are names or strategies of names."""
    at = st.tuples(*(p if isinstance(p, st.SearchStrategy) else st.just(p) for p in parts)).map(pointer)
    fields = {"op": st.just(kind), "path": at}
    return st.fixed_dictionaries({**fields, "value": value} if value is not None else fields)


PLAUSIBLE = st.one_of(
    edit("remove", "circuits", "circuits", CIRCUITS),
    edit("remove", "circuits", "loads", one_of("M1", "A1", "A2")),
    edit("remove", "route", "branches", BRANCHES),
    edit("remove", "ends", "pinout", PINS),
    edit("replace", "route", "branches", BRANCHES, "length_mm", value=NUMBERS),
    edit("replace", "route", "branches", BRANCHES, "zone", value=one_of(None, "tub", "bay")),
    edit("replace", "circuits", "loads", "M1", "current_a", value=NUMBERS.map(lambda a: f"{a:.2f} A")),
    edit(
        "replace", "circuits", "devices", "F1", "paths", "1", "rating_a", value=one_of(None, 2, 30.0, "7.5 A")
    ),
    edit(
        "replace",
        "circuits",
        "devices",
        "M1",
        "pins",
        "+",
        "role",
        value=one_of("ground", "supply_out", "output_low", "data"),
    ),
    edit(
        "replace",
        "ends",
        "connectors",
        one_of("A1", "M1", "T1"),
        "point",
        value=one_of(None, "mid", "bay", "M1"),
    ),
    edit("replace", "ends", "pinout", PINS, "cavity", value=one_of("1", "2", "3")),
    edit("replace", "brief", "practice", value=one_of("aviation", "marine", "model", "vehicle")),
    edit("replace", "brief", "zones", "bay", "ambient_c", value=st.floats(-60, 300)),
    edit("replace", "wire", "family", value=one_of(None, "J1128-TXL", "PVC-GENERAL", "ISO6722-THIN")),
    edit(
        "add",
        "wire",
        "fixed",
        CIRCUITS,
        value=st.fixed_dictionaries(
            {"order": st.just(1), "reason": st.just("x"), "gauge": one_of(None, "22 AWG", "12 AWG", "7 AWG")}
        ),
    ),
    edit(
        "add",
        "brief",
        "house_rules",
        "slack_per_branch_mm",
        value=st.fixed_dictionaries({"order": st.just(1), "value": st.floats(0, 2000)}),
    ),
)
LINES = st.lists(
    st.sampled_from(
        [
            ">",
            " > ",
            "B1",
            "M1",
            "tail",
            "300",
            "9 1/4 in",
            "4 ft 2",
            "-5",
            "pump",
            "5 A",
            "A1.I1",
            ".",
            "\x00",
            "é",
            "'",
            '"',
            "1/0",
        ]
    ),
    max_size=12,
).map(" ".join)


@pytest.fixture(scope="module")
def client(tmp_path_factory):
    app = create_app(tmp_path_factory.mktemp("fuzz") / "fuzz.db")
    app.testing = False
    app.config["PROPAGATE_EXCEPTIONS"] = False
    _AS_IT_WAS.clear()
    yield client_of(app)
    app.extensions["workshop"].shelf.engine.dispose()


_AS_IT_WAS: dict[str, dict[str, Any]] = {}
"""The harness that the last try left as it was, by its address; none after one that did not."""


def fresh(client) -> tuple[str, dict[str, Any]]:
    """A harness as first made. What a try has left exactly as it was serves the next one too."""
    if not _AS_IT_WAS:
        made = client.post("/api/designs", json={"document": demo_document("larkspur")})
        return f"/api/designs/{made.json['id']}", made.json
    url, as_it_was = _AS_IT_WAS.popitem()
    return url, as_it_was


def holds(client, url: str, before: dict[str, Any], reply) -> None:
    """Refused: named, and nothing changed. Applied: and taken back whole."""
    if reply.status_code != 200:
        assert reply.status_code in (400, 422), reply.get_data(as_text=True)[:400]
        assert reply.json["detail"]
        after = client.get(url).json
        assert after["document"] == before["document"]
        _AS_IT_WAS[url] = {**before, "version": after["version"]}
        return
    if reply.json["version"] > before["version"]:
        back = turn(client, url)
        assert back.status_code == 200
        assert back.json["document"] == before["document"]
        assert back.json["evaluation"] == before["evaluation"]
        before = {**before, "version": back.json["version"]}
    _AS_IT_WAS[url] = before


TRIED_FOR_S = int(os.environ.get("FUZZ_SECONDS", "0"))
"""How long to go on trying, all tests of this file together; for a usual run a few tries of each."""
FEW = settings(
    max_examples=TRIED_FOR_S * 4 or 120,
    deadline=None,
    suppress_health_check=[HealthCheck.too_slow, HealthCheck.function_scoped_fixture],
)


@pytest.mark.parametrize("part", range(4))
@given(data=st.data())
@settings(FEW, max_examples=TRIED_FOR_S or 30)
def test_a_plausible_edit_is_refused_or_applied_and_taken_back(client, part, data):
    """In four parts, so that two workers share them."""
    operations = data.draw(st.lists(PLAUSIBLE, min_size=1, max_size=5))
    url, before = fresh(client)
    reply = client.patch(url, json=operations, headers={"If-Match": f'"{before["version"]}"'})
    holds(client, url, before, reply)


@given(st.lists(OPERATIONS, min_size=1, max_size=3))
@FEW
def test_any_patch_is_refused_or_applied_and_taken_back(client, operations):
    url, before = fresh(client)
    reply = client.patch(url, json=operations, headers={"If-Match": f'"{before["version"]}"'})
    holds(client, url, before, reply)


@given(st.sampled_from(ACTS), LINES, st.sampled_from(["", "M1", "A1", "zz"]))
@FEW
def test_any_line_is_refused_or_applied_and_taken_back(client, act, text, about):
    url, before = fresh(client)
    reply = client.post(f"{url}/acts", json={"act": act, "text": text, "about": about})
    holds(client, url, before, reply)


@given(
    st.recursive(
        LEAVES,
        lambda v: st.lists(v, max_size=3) | st.dictionaries(st.text(max_size=8), v, max_size=3),
        max_leaves=8,
    )
)
@FEW
def test_any_body_is_refused_or_taken_as_a_harness(client, body):
    reply = client.post("/api/designs", json=body)
    assert reply.status_code in (201, 400, 422), reply.get_data(as_text=True)[:400]
    reply = client.post("/api/designs", json={"document": body})
    assert reply.status_code in (201, 400, 422), reply.get_data(as_text=True)[:400]
