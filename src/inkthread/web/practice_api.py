"""The API of practice: questions on faces, and a fault hidden in the harness to be found with a meter."""

from __future__ import annotations

import math
import random
from collections.abc import Callable

from flask import Response
from pydantic import Field

from inkthread.core.document import Problem
from inkthread.core.prove import Question, drill_of, exercise_of, probe
from inkthread.core.prove.words import format_ohm
from inkthread.web.problems import problem
from inkthread.web.prove_api import plan_of_tests
from inkthread.web.schemas import REPLY, DesignPath, ProblemDetails
from inkthread.web.sent import Sent
from inkthread.web.studies_api import now
from inkthread.web.views import json_reply, view

_SEEDS = 2**31


class BySeed(Sent):
    """Which exercise: the same number gives the same again."""

    seed: int = Field(1, ge=0, lt=_SEEDS)


class ProbeQuery(BySeed):
    """Both places that are touched."""

    a: str = Field(max_length=80)
    b: str = Field(max_length=80)


class AnswerQuery(BySeed):
    """Which suspect it is said to be, and after how many probes."""

    suspect: int = Field(ge=0, le=100)
    probes: int = Field(0, ge=0, le=10_000)


class DrillReply(Sent):
    """Questions on the faces of the harness's connectors."""

    model_config = REPLY
    questions: list[Question]


class ExerciseReply(Sent):
    """What is told of a harness with a fault in it, where one may measure, what it may be."""

    model_config = REPLY
    circuits: str
    places: list[str]
    suspects: list[str]


class ShownReply(Sent):
    """What the meter shows."""

    model_config = REPLY
    shows: str


class AnswerReply(Sent):
    """Whether it was that, what it was, the probes used and the fewest that suffice."""

    model_config = REPLY
    right: bool
    words: str
    probes: int
    least: int


@view("get", "/designs/<design_id>/practice/drill", {200: DrillReply})
def get_drill(path: DesignPath, query: BySeed) -> Response:
    """Ten questions: which way is this, seen from that side?"""
    _, w = now(path)
    return json_reply(DrillReply, DrillReply(questions=list(drill_of(w.rooms, _chance(query.seed)))))


@view("get", "/designs/<design_id>/practice/fault", {200: ExerciseReply, 409: ProblemDetails})
def get_exercise(path: DesignPath, query: BySeed) -> Response:
    """A fault is hidden in the harness: what is told of it."""
    _, w = now(path)
    plan = plan_of_tests(w)
    exercise = exercise_of(plan.network, w.catalogue.proofs, plan.meter, _chance(query.seed))
    if exercise is None:
        return _nothing()
    reply = ExerciseReply(
        circuits=exercise.told, places=list(exercise.places), suspects=list(exercise.suspects)
    )
    return json_reply(ExerciseReply, reply)


def _chance(seed: int) -> Callable[[int], int]:
    return random.Random(seed).randrange


def _nothing() -> Response:
    message = "There is nothing to hide a fault in yet."
    return problem(409, "No exercise", message, [Problem("", message, "Give the wires their ends first.")])


@view("get", "/designs/<design_id>/practice/probe", {200: ShownReply})
def get_probe(path: DesignPath, query: ProbeQuery) -> Response:
    """What the simulated meter shows between two places."""
    _, w = now(path)
    plan = plan_of_tests(w)
    ohm = probe(plan.network, plan.meter, _chance(query.seed), query.a, query.b)
    if ohm is None:
        message = f"{query.a} and {query.b} are not both places of this exercise."
        return problem(422, "No such place", message, [Problem("a", message, "Take two of the list.")])
    return json_reply(ShownReply, ShownReply(shows="open" if math.isinf(ohm) else format_ohm(ohm)))


@view("get", "/designs/<design_id>/practice/answer", {200: AnswerReply, 409: ProblemDetails})
def get_answer(path: DesignPath, query: AnswerQuery) -> Response:
    """Whether the fault was the one that is said, and how few probes would have shown it."""
    _, w = now(path)
    plan = plan_of_tests(w)
    exercise = exercise_of(plan.network, w.catalogue.proofs, plan.meter, _chance(query.seed))
    if exercise is None:
        return _nothing()
    reply = AnswerReply(
        right=query.suspect == exercise.hidden,
        words=exercise.suspects[exercise.hidden],
        probes=query.probes,
        least=exercise.least,
    )
    return json_reply(AnswerReply, reply)
