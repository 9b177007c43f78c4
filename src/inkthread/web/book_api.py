"""The API of the book: its sections, how far it is, and the pages to print."""

from __future__ import annotations

from datetime import UTC, datetime

from flask import Response
from pydantic import Field

from inkthread.core.document import Problem
from inkthread.exchange.book import SECTIONS, Book, book_pdf
from inkthread.exchange.pages import PAPERS_PT, NoPaper
from inkthread.web.problems import problem
from inkthread.web.schemas import REPLY, DesignPath, ProblemDetails
from inkthread.web.sent import Sent
from inkthread.web.studies_api import now
from inkthread.web.views import json_reply, view, workshop


class OfBook(Sent):
    """Which sections, commas between, all where none is named; on which paper, the harness's own if none."""

    sections: str = Field("", max_length=200)
    paper: str = Field("", max_length=20)


class SectionItem(Sent):
    """A part of the book that can be printed by itself, and the room that it belongs to."""

    model_config = REPLY
    id: str
    title: str
    room: str


class MakingItem(Sent):
    """How far a book is that is being made."""

    model_config = REPLY
    section: str
    done: int
    of: int


class BookReply(Sent):
    """What the book of a harness has, the papers there are, and what is being made of it."""

    model_config = REPLY
    sections: list[SectionItem]
    papers: list[str]
    making: MakingItem | None


@view("get", "/designs/<design_id>/book", {200: BookReply})
def get_book(path: DesignPath) -> Response:
    """The sections of the book, and how far one is that is being made."""
    stored = workshop().shelf.get(path.design_id)
    making = workshop().books_made.get(stored.id)
    reply = BookReply(
        sections=[SectionItem(id=k, title=s.title, room=s.room) for k, s in SECTIONS.items()],
        papers=list(PAPERS_PT),
        making=MakingItem(section=making[0], done=making[1], of=making[2]) if making else None,
    )
    return json_reply(BookReply, reply)


@view("get", "/designs/<design_id>/book.pdf",
      {200: {"content": {"application/pdf": {}}}, 422: ProblemDetails})  # fmt: skip
def get_book_pdf(path: DesignPath, query: OfBook) -> Response:
    """The whole book, or some sections of it, to print in black and white."""
    stored, w = now(path)
    names = [name.strip() for name in query.sections.split(",") if name.strip()]
    books = workshop().books_made

    def told(section: str, done: int, of: int) -> None:
        books[stored.id] = (section, done, of)

    try:
        pdf = book_pdf(
            Book(w, f"revision {stored.version}", datetime.now(UTC).date()), names, query.paper, told
        )
    except NoPaper as error:
        field = "paper" if query.paper and query.paper not in PAPERS_PT else "sections"
        return problem(422, "No such pages", str(error), [Problem(field, str(error), "Take one of these.")])
    finally:
        books.pop(stored.id, None)
    reply = Response(pdf, mimetype="application/pdf")
    name = f"{stored.id}-{'-'.join(names) or 'book'}.pdf"
    reply.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return reply
