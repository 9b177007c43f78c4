"""Help at the vice: every question leads to an end, pictures suit the contact, taking apart goes by its parts."""

from __future__ import annotations

import networkx as nx
import pytest

from inkthread.catalogue import shipped_catalogue
from inkthread.core.build import help_at, steps_of
from inkthread.demo import DEMOS, demo_document
from tests.conftest import HarnessBuilder
from tests.core.build.test_checks import clamped, seals

RESCUE = shipped_catalogue().rescue


@pytest.mark.parametrize("name", RESCUE.paths)
def test_every_question_is_reached_and_every_answer_comes_to_an_end(name):
    path = RESCUE.paths[name]
    graph = nx.DiGraph()
    graph.add_nodes_from(path.steps)
    for step, own in path.steps.items():
        assert bool(own.ask) != bool(own.end), step
        if own.ask:
            assert own.yes != own.no
            graph.add_edges_from(((step, own.yes), (step, own.no)))
    assert set(graph) == set(path.steps)
    assert nx.is_directed_acyclic_graph(graph)
    assert nx.descendants(graph, path.begin) | {path.begin} == set(path.steps)
    assert {own.record for own in path.steps.values()} <= {"", "spoiled", "taken out", "noted"}


def test_causes_of_a_contact_that_will_not_go_in_are_all_asked_for():
    """Trade guide: bent, turned, wings wide, flash, lock shut, wrong side, wrong contact."""
    ends = {name for name, own in RESCUE.paths["in"].steps.items() if own.end}
    assert {"bent", "turned", "wide", "flashed", "shut", "wrongside", "other"} <= ends


@pytest.mark.parametrize("drawn", ["barrel", "ring", "machined"])
def test_every_way_in_which_a_crimp_goes_wrong_has_its_picture(drawn):
    ids = [picture.id for picture in RESCUE.pictures[drawn]]
    assert ids == ["right", "over", "loose", "caught", "out", "short", "beside"]
    assert all(picture.do for picture in RESCUE.pictures[drawn] if picture.id != "right")


@pytest.mark.parametrize("name", DEMOS)
def test_every_step_has_help_whose_words_are_filled(name):
    w = HarnessBuilder(plain=demo_document(name)).workings()
    drawn: set[str] = set()
    for own in steps_of(w.rooms).values():
        told = help_at(w.rooms, own)
        drawn.add(told.drawn)
        words = [s.ask + s.end for path in told.paths for s in path.steps.values()] + list(told.apart)
        assert not any("{" in text or "}" in text for text in words)
        if own.work in ("crimp", "insert"):
            assert told.pictures
        if own.kind in ("cut", "label", "sleeve"):
            assert not told.pictures
    assert drawn >= {"", "ring"} or name == "dawdler-sketch"


def step(w, work: str, place: str):
    return next(o for o in steps_of(w.rooms).values() if o.work == work and o.place == place)


def test_a_sealed_way_is_taken_apart_with_its_seal_and_its_lock():
    w = seals().workings()
    told = help_at(w.rooms, step(w, "insert", "M1"))
    text = " ".join(told.apart)
    assert "Open the second lock" in told.apart[1]
    assert told.apart[-1].startswith("Shut the second lock")
    assert "hold its seal" in text
    assert any("lock" in s.end for s in told.paths[0].steps.values())


def test_a_loose_ring_is_in_no_way_and_a_screw_has_pictures_of_its_own():
    w = seals().workings()
    ring = next(
        o
        for o in steps_of(w.rooms).values()
        if o.work == "crimp" and w.catalogue.connectors[w.document.ends.connectors[o.place].family].studs
    )
    told = help_at(w.rooms, ring)
    assert (told.drawn, told.paths, told.apart) == ("ring", (), ())
    c = clamped().workings()
    assert help_at(c.rooms, step(c, "clamp", "M1")).drawn == "clamp"


def test_solder_has_its_own_pictures_whatever_the_contact():
    builder = seals()
    builder.plain["ends"]["pinout"]["M1.+"]["joint"] = "soldered"
    w = builder.workings()
    assert help_at(w.rooms, step(w, "solder", "M1")).drawn == "solder"
