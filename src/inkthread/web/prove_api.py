"""The API of what is proved: the plan of tests, pieces, readings, what explains them, the record."""

from __future__ import annotations

import hashlib
import json
import math
import re
import time
from collections.abc import Mapping
from datetime import UTC

from flask import Response, request

from inkthread.core.document import Problem, dump_document
from inkthread.core.findings import FindingBook
from inkthread.core.prove import (
    BadReading,
    Judged,
    PieceRecord,
    ProofPlan,
    ProvedBy,
    Reading,
    expected_volts,
    find_in_record,
    find_in_signing,
    judge,
    plan_tests,
    read_table,
    reading_of,
    rows_by_id,
)
from inkthread.core.quantity import QuantityError, parse_resistance_ohm, parse_temperature_c
from inkthread.core.workings import Workings
from inkthread.exchange.tester import LineToTester, TroubleAtTester, read_rows
from inkthread.storage import Piece, TakenReading
from inkthread.web.problems import problem
from inkthread.web.prove_schemas import (
    BatchItem,
    BeginBody,
    CheckItem,
    LookBody,
    LookItem,
    MeasureBody,
    OfPlan,
    PhotoItem,
    PieceItem,
    PiecePath,
    PiecesReply,
    PieceState,
    ProofReply,
    ReadingItem,
    ReadingsBody,
    RefusedItem,
    SignBody,
    TableBody,
    TesterBody,
    VoltsReply,
)
from inkthread.web.schemas import DesignPath, ProblemDetails
from inkthread.web.studies_api import now
from inkthread.web.views import json_reply, view, workshop

_TURN_S = 1.2
"""How long the tester reads before what it has read is shown."""
_LEADS_AT_MOST_OHM = 10.0


def _plan(w: Workings, bench_c: float, by: ProvedBy) -> ProofPlan:
    kept = workshop().proof_plans
    key = (id(w), bench_c, by)
    known = kept.get(key)
    if known is not None and known[0] is w:
        plan: ProofPlan = known[1]
        return plan
    plan = plan_tests(w.rooms, bench_c, by)
    kept.keep(key, (w, plan))
    return plan


@view("get", "/designs/<design_id>/prove/plan", {200: ProofReply})
def get_proof_plan(path: DesignPath, query: OfPlan) -> Response:
    """Every test: what is measured between which places, and what it should read."""
    stored, w = now(path)
    plan = _plan(w, query.bench_c, query.by)
    reply = ProofReply.model_construct(
        version=stored.version, rows=list(plan.rows), uncaught=list(plan.uncaught),
        source=w.catalogue.sources["proofs"],
    )  # fmt: skip
    return json_reply(ProofReply, reply)


@view("get", "/designs/<design_id>/prove/volts", {200: VoltsReply})
def get_volts(path: DesignPath) -> Response:
    """What a meter shows at every place against the battery's minus, in every mode."""
    stored, w = now(path)
    sheet = expected_volts(w.rooms, w.circuits)
    reply = VoltsReply.model_construct(version=stored.version, modes=list(sheet.modes), rows=list(sheet.rows))
    return json_reply(VoltsReply, reply)


@view("get", "/designs/<design_id>/prove/pieces", {200: PiecesReply})
def get_pieces(path: DesignPath) -> Response:
    """The pieces that were made of a design."""
    stored, w = now(path)
    pieces = workshop().pieces.of(stored.id)
    taken = {piece.serial for piece in workshop().pieces.every()}
    count = len(pieces) + 1
    called = re.sub(r"[^a-z0-9]+", "-", w.document.brief.name.lower())[:20].strip("-") or stored.id[:20]
    while (serial := f"{called}-{count:03d}") in taken:
        count += 1
    reply = PiecesReply(
        pieces=[_item(p) for p in pieces], next_serial=serial, quantity=w.document.brief.quantity
    )
    return json_reply(PiecesReply, reply)


@view("post", "/designs/<design_id>/prove/pieces", {200: PieceState, 409: ProblemDetails})
def post_piece(path: DesignPath, body: BeginBody) -> Response:
    """Give a harness its serial number."""
    stored, w = now(path)
    quantity = w.document.brief.quantity
    if body.number > quantity:
        message = f"Harness {body.number} of {quantity} is none."
        item = Problem("/number", message, "Raise the quantity in Brief.")
        return problem(422, "No such harness", message, [item])
    piece = workshop().pieces.begin(stored.id, body.serial, body.number)
    return _state(stored.version, w, piece)


@view("get", "/designs/<design_id>/prove/pieces/<serial>", {200: PieceState})
def get_piece(path: PiecePath) -> Response:
    """One piece with its readings and what they come to."""
    stored, w = now(path)
    piece = workshop().pieces.get(stored.id, path.serial)
    return _state(stored.version, w, piece)


@view("delete", "/designs/<design_id>/prove/pieces/<serial>", {200: PiecesReply, 409: ProblemDetails})
def delete_piece(path: PiecePath) -> Response:
    """A piece was never one; one that is signed stays."""
    piece = workshop().pieces.get(path.design_id, path.serial)
    workshop().pieces.discard(piece)
    return get_pieces(path)


@view("post", "/designs/<design_id>/prove/pieces/<serial>/measure", {200: PieceState, 409: ProblemDetails})
def post_measure(path: PiecePath, body: MeasureBody) -> Response:
    """How warm it is at the bench, and what is taken off every reading."""
    stored, _ = now(path)
    try:
        bench_c, leads_ohm = parse_temperature_c(body.bench), parse_resistance_ohm(body.leads)
    except QuantityError as error:
        return problem(422, "Not understood", str(error), [Problem("/bench", str(error), "")])
    if not -40 <= bench_c <= 120 or leads_ohm > _LEADS_AT_MOST_OHM:
        message = "Conductors are from -40 to 120 °C warm, and leads read no more than 10 ohm."
        return problem(422, "Out of range", message, [Problem("/bench", message, "Type what it is.")])
    workshop().pieces.measure_at(stored.id, path.serial, bench_c, leads_ohm)
    return get_piece(path)


@view("post", "/designs/<design_id>/prove/pieces/<serial>/readings", {200: PieceState, 409: ProblemDetails})
def post_readings(path: PiecePath, body: ReadingsBody) -> Response:
    """Keep readings that were typed. What is none is named; the others are kept."""
    stored, w = now(path)
    piece = workshop().pieces.get(stored.id, path.serial)
    plan = _plan(w, piece.bench_c, "hand")
    rows, places = rows_by_id(plan), plan.harness.places
    taken: list[Reading] = []
    struck: list[Reading] = []
    refused: list[BadReading] = []
    for n, typed in enumerate(body.readings, start=1):
        text = typed.text.strip()
        line = {"row": typed.row, "from": typed.a, "to": typed.b, "moved": "yes" if typed.moved else ""}
        try:
            reading = reading_of({**line, "ohm": text or "OL"}, rows, places)
        except QuantityError as error:
            refused.append(BadReading(n, typed.text, str(error)))
            continue
        (taken if text else struck).append(reading)
    if struck:
        workshop().pieces.strike(piece, struck)
    workshop().pieces.take(piece, taken, "hand", body.who)
    return _state(stored.version, w, piece, refused)


@view("post", "/designs/<design_id>/prove/pieces/<serial>/table", {200: PieceState, 409: ProblemDetails})
def post_readings_file(path: PiecePath, body: TableBody) -> Response:
    """Keep the readings of a file. Lines that cannot be taken are named; the others are kept."""
    stored, w = now(path)
    piece = workshop().pieces.get(stored.id, path.serial)
    plan = _plan(w, piece.bench_c, "hand")
    try:
        readings, bad = read_table(body.text, rows_by_id(plan), plan.harness.places)
    except QuantityError as error:
        return problem(422, "Not a table of readings", str(error), [Problem("/text", str(error), "")])
    count = workshop().pieces.take(piece, readings, "file", body.who)
    taken = f"{count} reading is taken" if count == 1 else f"{count} readings are taken"
    left = "" if not bad else ", 1 line is not" if len(bad) == 1 else f", {len(bad)} lines are not"
    says = f"{taken}{left}."
    return _state(stored.version, w, piece, bad, says)


@view("post", "/designs/<design_id>/prove/pieces/<serial>/tester", {200: PieceState, 409: ProblemDetails})
def post_tester(path: PiecePath, body: TesterBody) -> Response:
    """Let the tester read, for a second or so; what is left is read when it is asked again."""
    stored, w = now(path)
    shop = workshop()
    piece = shop.pieces.get(stored.id, path.serial)
    plan = _plan(w, piece.bench_c, "tester")
    before = [t.reading for t in shop.pieces.readings(piece)]
    known = set() if body.anew else {(r.a, r.b, r.moved) for r in before}
    rows = [row for row in plan.rows if row.by_ohm and (row.a, row.b, row.moved) not in known]
    taken: list[Reading] = []
    begun = time.monotonic()
    says = ""
    try:
        with LineToTester(shop.tester_port) as tester:
            tester.plug(plan.harness)
            for reading in read_rows(tester, rows):
                taken.append(reading)
                if time.monotonic() - begun > _TURN_S:
                    break
    except TroubleAtTester as error:
        says = str(error)
    if body.anew and taken:  # which places were linked before is not known of the harness as it is now
        shop.pieces.strike(piece, [r for r in before if not r.row])
    shop.pieces.take(piece, taken, "tester", body.who)
    return _state(stored.version, w, piece, says=says or f"{len(taken)} readings.", by="tester")


@view("post", "/designs/<design_id>/prove/pieces/<serial>/looks", {200: PieceState, 409: ProblemDetails})
def post_look(path: PiecePath, body: LookBody) -> Response:
    """Note how a connector looks."""
    stored, w = now(path)
    piece = workshop().pieces.get(stored.id, path.serial)
    if body.place not in w.document.ends.connectors:
        message = f"There is no connector {body.place!r}."
        return problem(422, "No such connector", message, [Problem("/place", message, "Look at the list.")])
    workshop().pieces.look(piece, body.place, body.fine, body.who)
    return _state(stored.version, w, piece)


@view("post", "/designs/<design_id>/prove/pieces/<serial>/sign", {200: PieceState, 409: ProblemDetails})
def post_sign(path: PiecePath, body: SignBody) -> Response:
    """Close the record of a piece that is proved, with the fingerprint of the design it was built to."""
    stored, w = now(path)
    shop = workshop()
    piece = shop.pieces.get(stored.id, path.serial)
    judged, taken = _judged(w, piece)
    why = find_in_signing(judged, _failed(piece))
    if why:
        return problem(
            409, "Not proved yet", why, [Problem("", why, "Measure what is left, mend what fails.")]
        )
    plain = json.dumps(dump_document(w.stated), sort_keys=True, separators=(",", ":"))
    sha256 = hashlib.sha256(plain.encode()).hexdigest()
    shop.pieces.sign(piece, body.who.strip(), sha256, _record(stored.version, w, piece, taken))
    signed = shop.pieces.get(stored.id, path.serial)
    return _state(stored.version, w, signed)


@view("get", "/designs/<design_id>/prove/pieces/<serial>/record.pdf",
      {200: {"content": {"application/pdf": {}}}, 409: ProblemDetails})  # fmt: skip
def get_record(path: PiecePath) -> Response:
    """The record of a signed piece on one page, with a square code that finds it on this machine."""
    from inkthread.exchange.record import record_pdf

    piece = workshop().pieces.get(path.design_id, path.serial)
    if piece.signed_at is None:
        message = f"{piece.serial} is not signed yet."
        return problem(409, "Not signed", message, [Problem("", message, "Sign it once it is proved.")])
    address = f"{request.host_url}d/{path.design_id}/prove?piece={piece.serial}"
    brief = now(path)[1].document.brief
    pdf = record_pdf(
        json.loads(piece.record), piece.sha256, piece.signed_by, piece.signed_at, address, brief.paper,
        brief.measures,
    )  # fmt: skip
    reply = Response(pdf, mimetype="application/pdf")
    reply.headers["Content-Disposition"] = f'attachment; filename="{piece.serial}.pdf"'
    return reply


def _record(version: int, w: Workings, piece: Piece, taken: list[TakenReading]) -> str:
    """All that is known of a piece, as JSON."""
    shop = workshop()
    tools = dict.fromkeys(
        (contact.code, crimp.tool, crimp.nest, crimp.depth)
        for end, contact in w.ends.contacts.items()
        if (crimp := w.ends.crimps.get(end)) is not None
    )
    return json.dumps(
        {
            "serial": piece.serial,
            "design": w.document.brief.name,
            "machine": w.document.brief.machine,
            "version": version,
            "number": piece.number,
            "bench_c": piece.bench_c,
            "leads_ohm": piece.leads_ohm,
            "readings": [
                {
                    "row": t.reading.row, "a": "&".join(t.reading.a), "b": "&".join(t.reading.b),
                    "moved": t.reading.moved, "ohm": None if math.isinf(t.reading.ohm) else t.reading.ohm,
                    "how": t.how, "who": t.who,
                }
                for t in taken
            ],
            "looks": [{"place": k.place, "fine": k.fine, "who": k.who} for k in shop.pieces.looks(piece)],
            "as_built": [
                {"step": h.step, "kind": h.kind, "note": h.note, "who": h.who, "photograph": h.photo}
                for h in reversed(shop.work.happened(piece.design_id, piece.number))
            ],
            "tools": [dict(zip(("contact", "tool", "nest", "depth"), t, strict=True)) for t in sorted(tools)],
            "wires": sorted({f"{wire.family} {wire.gauge}" for wire in w.wire.wires.values()}),
            "checks": [
                {"test": c.test, "value": c.value, "fine": c.fine, "who": c.who}
                for c in shop.records.checks(piece)
            ],
            "batches": [
                {"part": b.part, "batch": b.batch, "who": b.who} for b in shop.records.batches(piece)
            ],
            "gauges": {
                code: {"on": own.gauged_on, "result": own.result}
                for code in sorted({tool for _, tool, _, _ in tools})
                if (own := shop.equipment.tools.get(code)) is not None
            },
            "spools": sorted(
                {
                    c["spool"]
                    for c in shop.cuts.cut_of(piece.design_id)
                    if c["number"] == piece.number and c["spool"] is not None
                }
            ),
            "parts": sorted({line.code for line in w.parts.lines}),
            "made_by": sorted({d.who for d in shop.work.done(piece.design_id, piece.number) if d.who}),
        }
    )  # fmt: skip


def plan_of_tests(w: Workings) -> ProofPlan:
    """The plan by hand at the usual warmth."""
    return _plan(w, 20.0, "hand")


def plan_by_hand(w: Workings, piece: Piece) -> ProofPlan:
    """The plan of a piece's tests by hand: those without ohms are in every plan."""
    return _plan(w, piece.bench_c, "hand")


def _failed(piece: Piece) -> list[str]:
    """Tests without ohms that failed."""
    return [c.test for c in workshop().records.checks(piece) if not c.fine]


def _plan_of(w: Workings, piece: Piece, taken: list[TakenReading]) -> ProofPlan:
    """The tester's plan where the tester has read, else the one by hand."""
    by: ProvedBy = "tester" if any(t.how == "tester" for t in taken) else "hand"
    return _plan(w, piece.bench_c, by)


def _judged(w: Workings, piece: Piece) -> tuple[Judged, list[TakenReading]]:
    taken = workshop().pieces.readings(piece)
    places = _plan_of(w, piece, taken).harness.places
    readings = [
        Reading(r.a, r.b, max(r.ohm - piece.leads_ohm, 0.0), r.moved, r.row)
        for r in (t.reading for t in taken)
        if places.issuperset((*r.a, *r.b))
    ]
    return judge(_plan_of(w, piece, taken), readings, w.catalogue.proofs), taken


def _state(
    version: int, w: Workings, piece: Piece, refused: list[BadReading] | None = None, says: str = "",
    by: ProvedBy | None = None,
) -> Response:  # fmt: skip
    shop = workshop()
    fresh = shop.pieces.get(piece.design_id, piece.serial)
    judged, taken = _judged(w, fresh)
    plan = _plan_of(w, fresh, taken)
    looks = shop.pieces.looks(fresh)
    happened = tuple((h.kind, h.step, h.note) for h in shop.work.happened(fresh.design_id, fresh.number))
    book = FindingBook(w.catalogue.checks)
    find_in_record(plan, PieceRecord(judged, tuple(k.place for k in looks if k.fine), happened), book)
    row_of = {(row.a, row.b, row.moved): row.id for row in plan.rows if row.by_ohm}
    verdicts = {r.row: r.verdict for r in judged.rows}
    reply = PieceState(
        piece=_item(fresh),
        version=version,
        bench_c=fresh.bench_c,
        leads_ohm=fresh.leads_ohm,
        verdict=judged.verdict,
        readings=[_reading(t.reading, row_of, verdicts, t.how, t.who) for t in taken],
        not_read=sum(r.verdict == "not read" for r in judged.rows),
        rows=len(judged.rows),
        explanations=list(judged.explanations),
        left_over=[_reading(r, row_of, verdicts) for r in judged.left_over],
        looks=[LookItem(place=k.place, fine=k.fine, who=k.who) for k in looks],
        checks=[
            CheckItem(test=c.test, value=c.value, fine=c.fine, who=c.who) for c in shop.records.checks(fresh)
        ],
        batches=[BatchItem(part=b.part, batch=b.batch, who=b.who) for b in shop.records.batches(fresh)],
        photos=[
            PhotoItem(id=h.id, step=h.step, note=h.note)
            for h in shop.work.happened(fresh.design_id, fresh.number)
            if h.photo
        ],
        findings=list(book.in_order()),
        not_signed="" if fresh.signed_at is not None else find_in_signing(judged, _failed(fresh)),
        refused=[RefusedItem(line=b.line, text=b.text, why=b.why) for b in refused or ()],
        says=says,
    )
    return json_reply(PieceState, reply)


def _reading(
    reading: Reading,
    row_of: dict[tuple[tuple[str, ...], tuple[str, ...], bool], str],
    verdicts: Mapping[str, str],
    how: str = "",
    who: str = "",
) -> ReadingItem:
    row = row_of.get((reading.a, reading.b, reading.moved), "")
    verdict = verdicts.get(row, "beside")
    return ReadingItem(
        row=row,
        a=list(reading.a),
        b=list(reading.b),
        moved=reading.moved,
        ohm=None if math.isinf(reading.ohm) else reading.ohm,
        verdict="holds" if verdict == "holds" else "fails" if verdict == "fails" else "beside",
        how=how,
        who=who,
    )


def _item(piece: Piece) -> PieceItem:
    return PieceItem(
        serial=piece.serial,
        number=piece.number,
        begun_at=piece.begun_at.replace(tzinfo=UTC),
        signed_by=piece.signed_by,
        signed_at=piece.signed_at.replace(tzinfo=UTC) if piece.signed_at is not None else None,
        sha256=piece.sha256,
    )
