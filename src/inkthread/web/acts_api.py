"""Typed lines, one-step acts and pasted lists: looked at, and put in."""

from __future__ import annotations

import re
from typing import Any

from flask import Response

from inkthread.core.acts import act_label, act_operations
from inkthread.core.circuits.paste import MEANINGS, read_list
from inkthread.core.circuits.patterns import pattern_into
from inkthread.core.document import DocumentError, Problem, dump_document, parse_document
from inkthread.core.document.complete import whole
from inkthread.core.document.draft import LineError
from inkthread.core.document.starter import new_document
from inkthread.core.look import look_at
from inkthread.core.text import read_text, write_text
from inkthread.web.api import reply
from inkthread.web.schemas import (
    ActBody,
    DesignPath,
    DesignReply,
    EditReply,
    LookReply,
    PasteBody,
    PasteReply,
    PatternBody,
    PatternItem,
    PatternPath,
    PatternsReply,
    TextBody,
    TextLookReply,
    TextReply,
)
from inkthread.web.views import json_reply, view, workshop

ROOMS = ("brief", "circuits", "route", "wire", "ends")
"""Rooms that a design document has."""


@view("post", "/designs/<design_id>/acts", {200: EditReply})
def post_act(path: DesignPath, body: ActBody) -> Response:
    """A typed line or one-step act, as one edit of the newest version."""
    shop = workshop()

    def make(document: dict[str, Any]) -> list[dict[str, Any]]:
        return act_operations(document, shop.catalogue, body.act, body.text, body.about)

    return reply(
        shop.shelf.edit(
            path.design_id,
            make,
            lambda operations: act_label(body.act, body.text, body.about, operations),
            shop.validate,
        )
    )


@view("post", "/designs/<design_id>/acts/look", {200: LookReply})
def post_act_look(path: DesignPath, body: ActBody) -> Response:
    """What a typed line would make, before it is put in. Nothing is changed, and no line is refused."""
    shop = workshop()
    stored = shop.shelf.get(path.design_id)
    look = look_at(stored.document, shop.catalogue, body.act, body.text, body.about)
    return json_reply(
        LookReply,
        LookReply.model_construct(
            says=list(look.says),
            problem=look.problem,
            guesses=list(look.guesses),
            following=list(look.following),
        ),
    )


@view("get", "/designs/<design_id>/text", {200: TextReply})
def get_text(path: DesignPath) -> Response:
    """A harness as typed lines under headings."""
    shop = workshop()
    stored = shop.shelf.get(path.design_id)
    return json_reply(TextReply, TextReply(text=write_text(stored.document, shop.catalogue)))


@view("post", "/designs/<design_id>/text/look", {200: TextLookReply})
def post_text_look(path: DesignPath, body: TextBody) -> Response:
    """What typed lines under headings would make a harness of. Nothing is changed."""
    shop = workshop()
    shop.shelf.version(path.design_id)
    read = read_text(body.text, shop.catalogue)
    return json_reply(
        TextLookReply, TextLookReply.model_construct(made=list(read.made), problems=list(read.problems))
    )


@view("put", "/designs/<design_id>/text", {200: DesignReply})
def put_text(path: DesignPath, body: TextBody) -> Response:
    """Make a harness what typed lines under headings say, as one edit. A refused line changes nothing."""
    shop = workshop()
    read = read_text(body.text, shop.catalogue, says=False)
    if read.document is None:
        raise DocumentError([Problem(f"line {p.number}", p.says, p.text) for p in read.problems])
    document = dump_document(parse_document(read.document))
    operations = [{"op": "add", "path": f"/{room}", "value": document[room]} for room in ROOMS]
    return reply(shop.shelf.edit(path.design_id, lambda _: operations, "the harness as text", shop.validate))


@view("post", "/designs/<design_id>/paste/look", {200: PasteReply})
def post_paste_look(path: DesignPath, body: PasteBody) -> Response:
    """What a pasted list would do, line by line. Nothing is changed."""
    shop = workshop()
    stored = shop.shelf.get(path.design_id)
    plan = read_list(stored.document, shop.catalogue, body.text, body.meanings, body.headed)
    return json_reply(
        PasteReply,
        PasteReply.model_construct(
            meanings=list(MEANINGS),
            headed=plan.headed,
            columns=list(plan.columns),
            lines=list(plan.lines),
            taken=plan.taken,
        ),
    )


@view("post", "/designs/<design_id>/paste", {200: DesignReply})
def post_paste(path: DesignPath, body: PasteBody) -> Response:
    """Put in every line of a list that is understood, as one edit."""
    shop = workshop()

    def make(document: dict[str, Any]) -> list[dict[str, Any]]:
        plan = read_list(document, shop.catalogue, body.text, body.meanings, body.headed)
        if not plan.taken:
            raise LineError("No line of this list is understood. Match its columns first.")
        return plan.operations

    return reply(shop.shelf.edit(path.design_id, make, "a pasted list", shop.validate))


def _patterns() -> Response:
    shop = workshop()
    own = shop.shop.patterns()
    items = [
        PatternItem(id=i, label=p.label, why=p.why, lines=list(p.lines), own=False)
        for i, p in shop.catalogue.patterns.items()
    ]
    kept = [PatternItem(**PatternBody(**data).model_dump(), id=i, own=True) for i, data in own.items()]
    return json_reply(PatternsReply, PatternsReply(patterns=[*kept, *items]))


@view("get", "/shop/patterns", {200: PatternsReply})
def get_patterns() -> Response:
    """Circuits to begin from: the shop's own first, then those that ship."""
    return _patterns()


@view("post", "/shop/patterns", {200: PatternsReply})
def post_pattern(body: PatternBody) -> Response:
    """Keep a pattern of the shop's own, in place of one of the same name. Its lines must be understood."""
    shop = workshop()
    label = " ".join(body.label.split())
    if not re.search(r"[A-Za-z]{2}", label):
        raise LineError("Name the pattern in a word or two, like fan with thermostat.")
    lines = [line.strip() for line in body.lines if line.strip()]
    pattern_into(whole(new_document("", "vehicle")), shop.catalogue, "\n".join(lines))
    pattern_id = "own-" + re.sub(r"[^a-z0-9]+", "-", label.lower()).strip("-")[:36]
    shop.shop.keep_pattern(pattern_id, {"label": label, "why": body.why.strip(), "lines": lines})
    return _patterns()


@view("delete", "/shop/patterns/<pattern_id>", {200: PatternsReply})
def delete_pattern(path: PatternPath) -> Response:
    """Take a pattern of the shop's own out."""
    workshop().shop.remove_pattern(path.pattern_id)
    return _patterns()


@view("post", "/shop/patterns/<pattern_id>/restore", {200: PatternsReply})
def post_pattern_restore(path: PatternPath) -> Response:
    """Put a pattern back that was taken out."""
    workshop().shop.restore_pattern(path.pattern_id)
    return _patterns()
