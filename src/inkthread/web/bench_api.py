"""The bench over HTTP: its calculators, their answers, and putting one into a harness."""

from __future__ import annotations

from typing import Any

from flask import Response

from inkthread.core.bench import CALCULATORS, BenchError, calculate, choices_of, put_into
from inkthread.core.quantity import QuantityError
from inkthread.web.api import reply
from inkthread.web.bench_schemas import (
    BenchAnswerReply,
    BenchBody,
    BenchFieldItem,
    BenchLineItem,
    BenchPath,
    BenchPutPath,
    BenchReply,
    CalculatorItem,
)
from inkthread.web.problems import problem
from inkthread.web.schemas import (
    DesignReply,
)
from inkthread.web.views import json_reply, view, workshop


@view("get", "/bench", {200: BenchReply})
def get_bench() -> Response:
    """The quick calculators and what each asks for."""
    catalogue = workshop().catalogue
    calculators = [
        CalculatorItem(
            name=c.name,
            label=c.label,
            asks=c.asks,
            puts=c.puts,
            fields=[
                BenchFieldItem(
                    name=f.name,
                    label=f.label,
                    kind=f.kind,
                    example=f.example,
                    required=f.required,
                    choices=list(choices_of(catalogue, f)),
                    default=f.default,
                    help=f.help,
                )
                for f in c.fields
            ],
        )
        for c in CALCULATORS.values()
    ]
    return json_reply(BenchReply, BenchReply(calculators=calculators))


@view("post", "/bench/<calculator>", {200: BenchAnswerReply})
def post_bench(path: BenchPath, body: BenchBody) -> Response:
    """An answer of one calculator. Nothing is kept."""
    if path.calculator not in CALCULATORS:
        known = ", ".join(CALCULATORS)
        return problem(404, "No such calculator", f"The bench has {known}.")
    try:
        answer = calculate(workshop().catalogue, path.calculator, body.fields)
    except QuantityError as error:
        raise BenchError(getattr(error, "field", ""), str(error)) from None
    return json_reply(
        BenchAnswerReply,
        BenchAnswerReply(
            sentence=answer.sentence,
            holds=answer.holds,
            lines=[
                BenchLineItem(label=line.label, value=line.value, note=line.note) for line in answer.lines
            ],
            sources=list(answer.sources),
        ),
    )


@view("post", "/designs/<design_id>/bench/<calculator>", {200: DesignReply})
def post_bench_put(path: BenchPutPath, body: BenchBody) -> Response:
    """Put what a calculator was asked into a harness, as one edit."""
    shop = workshop()
    if path.calculator not in CALCULATORS:
        return problem(404, "No such calculator", f"The bench has {', '.join(CALCULATORS)}.")

    def make(document: dict[str, Any]) -> list[dict[str, Any]]:
        return put_into(document, shop.catalogue, path.calculator, body.fields)

    return reply(shop.shelf.edit(path.design_id, make, f"{path.calculator} from the bench", shop.validate))
