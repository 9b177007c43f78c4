"""Random harnesses: what must hold of any of them, against a graph library where it has an answer."""

from __future__ import annotations

import copy
import json

import networkx as nx
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import TypeAdapter
from tools.harnesses import synthetic

from inkthread.catalogue import shipped_catalogue
from inkthread.core.document import parse_document
from inkthread.core.document.draft import LineError
from inkthread.core.evaluate import evaluate, work_out
from inkthread.core.reckoning import reckon
from inkthread.core.route import lay_out, shape_of
from tests.conftest import HarnessBuilder

HARNESSES = [(60, 1), (60, 2), (150, 3), (150, 4), (400, 5)]


@pytest.fixture(scope="module", params=HARNESSES, ids=lambda p: f"{p[0]} wires, seed {p[1]}")
def worked(request):
    """Each circuit a cascade, as its builder has it: not another way where a splice finds no room."""
    plain = synthetic(*request.param)
    for circuit in plain["circuits"]["circuits"].values():
        circuit["threading"] = "cascade"
    return work_out(parse_document(plain), shipped_catalogue())


def graph_of(document) -> nx.Graph:
    graph = nx.Graph()
    graph.add_nodes_from(document.route.points)
    for branch_id, b in document.route.branches.items():
        graph.add_edge(b.from_point, b.to_point, weight=b.length_mm, id=branch_id)
    return graph


def point_of(document, ref: str) -> str:
    return document.ends.connectors[document.ends.pinout[ref].connector].point


@pytest.mark.slow
def test_every_circuit_uses_the_shortest_tree_that_joins_its_ends(worked):
    """Against networkx: on a tree, the union of shortest paths is the least tree."""
    graph = graph_of(worked.document)
    for circuit_id, circuit in worked.document.circuits.circuits.items():
        points = [point_of(worked.document, r) for r in circuit.ends]
        edges = {
            frozenset(e)
            for p in points[1:]
            for e in nx.utils.pairwise(nx.shortest_path(graph, points[0], p, weight="weight"))
        }
        least = sum(graph.edges[tuple(e)]["weight"] for e in edges)
        sections = [s for s in worked.route.sections.values() if s.circuit == circuit_id]
        used = {b for s in sections for b in s.branches}
        assert {graph.edges[tuple(e)]["id"] for e in edges} <= used or not edges
        splices = [x for x in worked.route.splices.values() if x.circuit == circuit_id]
        # A splice kept clear of a connector adds its offset once for every end there, less once onward.
        extra = sum(
            x.offset_mm
            * (
                sum(point_of(worked.document, r) == x.point for r in circuit.ends)
                + len([e for e in edges if x.point in e])
                - (2 if x.branch in {graph.edges[tuple(e)]["id"] for e in edges if x.point in e} else 0)
            )
            for x in splices
        )
        assert sum(s.length_mm for s in sections) == pytest.approx(least + extra, abs=1e-6)


def test_wires_and_splices_make_each_circuit_one_tree(worked):
    for circuit_id, circuit in worked.document.circuits.circuits.items():
        sections = [s for s in worked.route.sections.values() if s.circuit == circuit_id]
        tree = nx.Graph([(s.a.id, s.b.id) for s in sections])
        assert nx.is_tree(tree)
        ends = {n for n in tree if tree.degree(n) == 1}
        assert ends == set(circuit.ends)
        assert all(tree.degree(n) >= 3 for n in set(tree) - ends), "a splice joins three or more"


def test_current_is_conserved_at_every_splice(worked):
    for splice in worked.route.splices.values():
        currents = sorted((worked.route.sections[k].current_a for k in splice.sections), reverse=True)
        signs = [1.0] + [-1.0] * (len(currents) - 1)
        balance = sum(s * a for s, a in zip(signs, currents, strict=True))
        assert balance == pytest.approx(0.0, abs=1e-6), "one way in, the others out"


def test_the_bill_counts_what_the_wires_use(worked):
    e = worked.evaluation
    metres = sum(x.quantity for x in e.parts.lines if x.group == "wire")
    assert metres == pytest.approx(e.cut.total_m, abs=1e-3)
    pin_ends = sum(end.kind == "pin" for s in worked.route.sections.values() for end in (s.a, s.b))
    contacts = sum(x.quantity for x in e.parts.lines if x.group in ("contact", "terminal"))
    assert contacts == pin_ends
    assert sum(x.quantity for x in e.parts.lines if x.group == "splice") == len(worked.route.splices)
    sealed_spare = sum(c.cavity_plug is not None for k in e.ends.connectors.values() for c in k.cavities)
    assert sum(x.quantity for x in e.parts.lines if x.group == "cavity plug") == sealed_spare
    assert e.parts.mass_each_g == pytest.approx(sum(x.mass_g for x in e.parts.lines), rel=1e-4)


def test_limits_that_are_not_reported_hold(worked):
    """Every wire over a limit has a finding about it, or about its loop or its ends."""
    about = {p.id for f in worked.evaluation.findings for p in f.places}
    loops_of = {}
    for load, loop in worked.evaluation.wire.loops.items():
        for key in loop.wires:
            loops_of.setdefault(key, set()).add(load)
    for key, made in worked.evaluation.wire.wires.items():
        current, drop, fuse, strength, ends = made.limits
        if max(current, fuse, strength) > 1 + 1e-9 or ends > 1 + 1e-9:
            assert key in about
        if drop > 1 + 1e-9:
            assert loops_of[key] & about


def test_cut_lengths_hold_route_slack_and_both_allowances(worked):
    for c in worked.evaluation.cut.cuts:
        assert c.finished_mm == pytest.approx(c.route_mm + c.slack_mm)
        assert 0 <= c.cut_mm - (c.finished_mm + c.a.takes_mm + c.b.takes_mm) < 5
        assert c.cut_mm % 5 == pytest.approx(0)


def test_evaluation_is_a_function_of_the_document_alone(worked):
    again = evaluate(parse_document(synthetic(60, 1)), shipped_catalogue())
    once = evaluate(parse_document(synthetic(60, 1)), shipped_catalogue())
    assert again == once


def test_the_drawing_is_to_scale(worked):
    laid = lay_out(shape_of(worked.document.route))
    for b in worked.document.route.branches.values():
        a, c = laid[b.from_point], laid[b.to_point]
        drawn = ((a.x_mm - c.x_mm) ** 2 + (a.y_mm - c.y_mm) ** 2) ** 0.5
        assert drawn == pytest.approx(b.length_mm, rel=1e-9)


WORDS = st.lists(
    st.sampled_from(
        [
            "B1",
            "F1",
            "M1",
            "E1",
            "A1",
            "B1.+",
            "F1.out",
            "A1.O1",
            "A1.I1",
            "battery",
            "fuse",
            "pump",
            "lamp",
            "controller",
            "5 A",
            "x",
            ">",
            ">",
            ">",
        ]
    ),
    max_size=14,
)


@given(st.lists(WORDS, max_size=5))
@settings(max_examples=80, deadline=None)
def test_whatever_is_typed_is_refused_with_a_reason_or_leaves_a_valid_harness(lines):
    builder = HarnessBuilder("vehicle")
    for words in lines:
        before = copy.deepcopy(builder.plain)
        refusal = None
        try:
            builder.feed(" ".join(words))
        except LineError as error:
            refusal = str(error)
        if refusal is not None:
            assert len(refusal) > 10
            assert builder.plain == before
    builder.evaluate()


EXTREME = {
    "brief/zones/z/ambient_c": [-100.0, 0.0, 149.9, 150.0, 400.0],
    "brief/supply_working_v": [0.5, 13.2, 1000.0],
    "brief/quantity": [1, 10_000],
    "circuits/loads/M1/current_a": [0.0, 1e-6, 12.0, 2000.0],
    "circuits/devices/F1/paths/1/rating_a": [None, 0.001, 2000.0],
    "route/branches/R2/length_mm": [0.0, 0.01, 200_000.0],
    "route/branches/R2/slack_mm": [None, 0.0, 200_000.0],
    "wire/family": [None, "J1128-TXL", "AS22759/16", "AS22759/32", "ISO6722-THIN", "PVC-GENERAL"],
    "ends/connectors/M1/contact_gender": ["pin", "socket"],
    "ends/connectors/M1/point": ["M1", "B1", None],
    "brief/practice": ["motorsport", "aviation", "marine", "model", "vehicle", "equipment"],
}
RULES = ["bundle_share", "fuse_load_share_percent", "least_area_mm2", "cut_step_mm", "slack_per_branch_mm"]


@pytest.mark.slow
@given(st.fixed_dictionaries({k: st.sampled_from(v) for k, v in EXTREME.items()}), st.data())
@settings(max_examples=120, deadline=None)
def test_extremes_are_evaluated_and_every_figure_stays_a_number(values, data):
    catalogue = shipped_catalogue()
    builder = HarnessBuilder("vehicle").feed(
        "B1 battery > F1 fuse > M1 pump 5 A > B1", "F1.out > E1 lamp 2 A > B1"
    )
    builder.run("B1 200 > F1 900 > mid 400 > M1", "mid 250 > E1")
    builder.set("brief/zones", {"z": {"order": 1, "name": "Zone", "ambient_c": 40.0}})
    builder.plain["route"]["branches"]["R2"]["zone"] = "z"
    for path, value in values.items():
        builder.set(path, value)
    rule = data.draw(st.sampled_from(RULES))
    known = catalogue.rules[rule]
    bound = data.draw(st.sampled_from([known.least, known.most]))
    builder.set("brief/house_rules", {rule: {"order": 1, "value": bound, "reason": ""}})
    w = builder.workings()
    json.dumps(TypeAdapter(type(w.evaluation)).dump_python(w.evaluation, mode="json"), allow_nan=False)
    for key in w.wire.tables.keys:
        for kind in ("gauge", "ampacity", "cut"):
            assert reckon(w, kind, key).steps
    for load in w.wire.loops:
        assert reckon(w, "drop", load).steps
    for fuse in w.circuits.fuses:
        assert reckon(w, "fuse", fuse).steps
