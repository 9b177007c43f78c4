"""The data file over the API: where it is, its copies, the drawer of removed harnesses."""

from __future__ import annotations

import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime, timedelta
from pathlib import Path

from flask import Response, send_file
from pydantic import ConfigDict, Field
from sqlalchemy import Engine

from inkthread.core.document import Problem
from inkthread.storage.copies import bring_in, checked_copy, look, opened_copy, put_back
from inkthread.storage.models import utc_now
from inkthread.storage.place import old_place
from inkthread.storage.shelf import REMOVED_DAYS
from inkthread.web.problems import problem
from inkthread.web.schemas import ProblemDetails
from inkthread.web.sent import Sent
from inkthread.web.views import json_reply, view, workshop


class CopyItem(Sent):
    """A copy of the data file."""

    name: str
    made_at: str
    size_bytes: int
    daily: bool


class RemovedItem(Sent):
    """A harness in the drawer of removed ones."""

    id: str
    name: str
    removed_at: str
    kept_until: str


class DataReply(Sent):
    """Where harnesses are kept, and what copies there are."""

    file: str
    copies_folder: str
    copies: list[CopyItem]
    trouble: str = Field(description="why the day's copy could not be made; empty where it was")
    earlier_file: str = Field(description="a data file of an earlier place; empty where there is none")
    earlier_count: int = Field(description="harnesses in it that are not here as they stand there")
    removed: list[RemovedItem]


class CopyPath(Sent):
    """A copy by its name."""

    name: str = Field(max_length=60)


class InCopyItem(Sent):
    """A harness as it stands in a copy."""

    id: str
    name: str
    version: int
    changed_at: str
    here: str = Field(description="same, changed, removed or missing")


class CopyReply(Sent):
    """What a copy holds."""

    name: str
    designs: list[InCopyItem]


class PutBack(Sent):
    """Harnesses to put back as they stand in a copy."""

    model_config = ConfigDict(extra="forbid")
    designs: list[str] = Field(min_length=1, max_length=10_000)


def _utc(at: datetime) -> str:
    return at.replace(tzinfo=UTC).isoformat().replace("+00:00", "Z")


def _data() -> DataReply:
    shop = workshop()
    earlier = old_place(shop.copies.data)
    count = 0
    if earlier is not None:
        try:
            with opened_copy(earlier) as theirs:
                count = sum(item.here in ("changed", "missing") for item in look(theirs, shop.shelf.engine))
        except OSError:
            earlier = None  # no data file of this program's, whatever its name
    kept = timedelta(days=REMOVED_DAYS)
    return DataReply(
        file=str(shop.copies.data),
        copies_folder=str(shop.copies.folder),
        copies=[
            CopyItem(
                name=c.name,
                made_at=c.made_at.astimezone(UTC).isoformat().replace("+00:00", "Z"),
                size_bytes=c.size_bytes,
                daily=c.name.startswith("day-"),
            )
            for c in shop.copies.all()
        ],
        trouble=shop.copies.trouble,
        earlier_file=str(earlier) if earlier is not None and count else "",
        earlier_count=count,
        removed=[
            RemovedItem(
                id=r.id,
                name=r.name,
                removed_at=_utc(r.removed_at),
                kept_until=_utc(r.removed_at + kept),
            )
            for r in shop.shelf.removed()
        ],
    )


@view("get", "/data", {200: DataReply})
def get_data() -> Response:
    """Where harnesses are kept, what copies there are, and what was removed in the last thirty days."""
    return json_reply(DataReply, _data())


@view("get", "/data/file", {200: {"content": {"application/vnd.sqlite3": {}}}, 503: ProblemDetails})
def get_data_file() -> Response:
    """A checked copy of the whole data file, made now, to carry off."""
    with tempfile.TemporaryDirectory(prefix="inkthread-") as folder:
        target = Path(folder) / "copy.db"
        try:
            checked_copy(workshop().copies.data, target)
        except OSError as error:
            return _refused(error)
        file = target.open("rb")  # readable when its folder has gone
    response = send_file(
        file,
        mimetype="application/vnd.sqlite3",
        as_attachment=True,
        download_name=f"inkthread-{datetime.now():%Y-%m-%d}.db",
    )
    response.call_on_close(file.close)
    return response


def _refused(error: OSError) -> Response:
    return problem(503, "No copy was made", f"{error.strerror or error} Nothing was changed.")


@view("post", "/data/copies", {201: DataReply, 503: ProblemDetails})
def post_data_copy() -> Response:
    """Make a copy now, beside the daily ones."""
    try:
        workshop().copies.make(utc_now())
    except OSError as error:
        return _refused(error)
    return json_reply(DataReply, _data(), 201)


@contextmanager
def _copy(name: str) -> Iterator[Engine]:
    with opened_copy(workshop().copies.path(name)) as engine:
        yield engine


def _no_copy(error: OSError) -> Response:
    return problem(404, "No such copy", f"{error.strerror or error} The list of copies says which there are.")


@view("get", "/data/copies/<name>", {200: CopyReply})
def get_data_copy(path: CopyPath) -> Response:
    """A look into a copy: its harnesses, and how each stands here."""
    try:
        with _copy(path.name) as theirs:
            items = look(theirs, workshop().shelf.engine)
    except OSError as error:
        return _no_copy(error)
    return json_reply(
        CopyReply,
        CopyReply(
            name=path.name,
            designs=[
                InCopyItem(
                    id=i.id, name=i.name, version=i.version, changed_at=_utc(i.changed_at), here=i.here
                )
                for i in items
            ],
        ),
    )


@view("post", "/data/copies/<name>/put-back", {200: CopyReply})
def post_put_back(path: CopyPath, body: PutBack) -> Response:
    """Put harnesses back as they stand in a copy. Of one that is here it is an edit, which can be undone."""
    shop = workshop()
    try:
        with _copy(path.name) as theirs:
            ids = {item.id for item in look(theirs, None)}
            for n, design_id in enumerate(body.designs):
                if design_id not in ids:
                    item = Problem(f"/designs/{n}", f"The copy has no {design_id!r}.", "Look into it first.")
                    return problem(422, "Not in the copy", item.message, [item])
            for design_id in body.designs:
                put_back(shop.shelf, theirs, design_id, f"put back from {path.name}")
    except OSError as error:
        return _no_copy(error)
    return get_data_copy(path)


@view("post", "/data/earlier", {200: DataReply, 409: ProblemDetails})
def post_earlier() -> Response:
    """Bring in the harnesses of an earlier place beside the current folder."""
    shop = workshop()
    earlier = old_place(shop.copies.data)
    try:
        if earlier is None:
            return problem(409, "Nothing to bring in", "There is no data file of an earlier place.")
        with opened_copy(earlier) as theirs:
            bring_in(shop.shelf, theirs, shop.shelf.engine)
    except OSError as error:
        return problem(409, "Nothing to bring in", f"{error.filename}: {error.strerror}")
    shop.stock_up()
    return json_reply(DataReply, _data())
