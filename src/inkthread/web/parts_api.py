"""The API of parts and ends: the catalogue searched, the shop's own parts and tools, ends worked at."""

from __future__ import annotations

import json
from dataclasses import asdict
from typing import Any

from flask import Response

from inkthread.core.catalogue.own import (
    COLUMNS,
    OwnParts,
    PartsError,
    copy_family,
    parts_from_plain,
    parts_to_csv,
    parts_to_plain,
    read_parts,
)
from inkthread.core.catalogue.search import KINDS, PartKind, find_parts, need_in_words, read_need
from inkthread.core.document import Problem
from inkthread.core.document.complete import complete
from inkthread.core.document.problems import pointer
from inkthread.core.ends.adjacent import propose, standing
from inkthread.core.ends.detail import end_detail
from inkthread.core.ends.grouped import grouped_plugs
from inkthread.core.ends.mating import Half, fit_half, half_in_words, half_on_device, mating_half, taken_off
from inkthread.core.ends.pinout import PinoutError, clear, give_out, swap
from inkthread.core.ends.rank import rank_families
from inkthread.core.ends.tools import nest_refused
from inkthread.core.quantity import QuantityError
from inkthread.core.words import list_in_words
from inkthread.storage import StoredDesign
from inkthread.storage.patches import apply_with_inverse
from inkthread.web.api import operations_of, reply
from inkthread.web.parts_schemas import (
    ChoicesReply,
    CopyBody,
    EndReply,
    FoundPart,
    FoundReply,
    HalfReply,
    MateBody,
    NeedQuery,
    NestBody,
    NestItem,
    OfConnector,
    OfPart,
    OfPin,
    OfTool,
    OnDevice,
    OwnContact,
    OwnFamilyPath,
    OwnFamilyReply,
    OwnReply,
    OwnSeal,
    PartFileBody,
    PinoutBody,
    RejectedPart,
    StandingReply,
    ToolBody,
    ToolItem,
    ToolsReply,
    WeakestItem,
    WeakestReply,
)
from inkthread.web.problems import problem
from inkthread.web.schemas import DesignPath, EditReply, PatchBody
from inkthread.web.studies_api import now
from inkthread.web.typed import read_typed
from inkthread.web.views import json_reply, view, workshop


def refused(error: PartsError) -> Response:
    """A file of parts that is not taken, problem by problem."""
    items = [Problem(p.path, p.message, p.remedy) for p in error.problems]
    first = error.problems[0]
    detail = f"{first.path}: {first.message} {first.remedy} Nothing was taken.".lstrip(": ")
    return problem(422, "Parts not taken", detail, items)


@view("get", "/catalogue/parts", {200: FoundReply})
def get_parts(query: NeedQuery) -> Response:
    """Parts that answer a need as typed, and what does not, with the reason."""
    shop = workshop()
    if query.kind and query.kind not in KINDS:
        return problem(422, "No such kind", f"Kinds of part are {', '.join(KINDS)}.")
    kind: PartKind | None = next((k for k in KINDS if k == query.kind), None)
    try:
        need = read_need(shop.catalogue, query.need, kind)
    except QuantityError as error:
        return problem(422, "Not understood", str(error), [Problem("/need", str(error), "")])
    answers = find_parts(shop.catalogue, need, shop.equipment.tools, query.limit)
    own = {c for kind_of in ("connectors", "tools", "splices", "wires") for c in getattr(shop.own, kind_of)}
    rows = [
        FoundPart(
            kind=r.kind,
            code=r.code,
            description=r.description,
            family=r.family,
            ways=r.ways,
            protection=r.protection,
            temperature_c=r.temperature_c,
            mm2=r.mm2,
            od_mm=r.od_mm,
            current_a=r.current_a,
            tools=list(r.tools),
            price=r.price,
            own=r.family in own or r.code in own,
        )
        for r in answers.rows
    ]
    rejected = [
        RejectedPart(code=r.code, description=r.description, reason=why) for r, why in answers.rejected
    ]
    return json_reply(
        FoundReply,
        FoundReply(
            understood=list(need_in_words(need)),
            rows=rows,
            rejected=rejected,
            count=answers.count,
            rejected_count=answers.rejected_count,
        ),
    )


def _own() -> Response:
    shop = workshop()
    own: OwnParts = shop.own
    return json_reply(
        OwnReply,
        OwnReply(
            connectors=[f"{f.code} {f.name}" for f in own.connectors.values()],
            tools=[f"{t.code} {t.description}" for t in own.tools.values()],
            splices=[f"{s.code} {s.description}" for s in own.splices.values()],
            wires=[f"{w.code} {w.name}" for w in own.wires.values()],
            columns=list(COLUMNS),
        ),
    )


@view("get", "/shop/parts", {200: OwnReply})
def get_own() -> Response:
    """Parts of the shop's own."""
    return _own()


@view("post", "/shop/parts", {200: OwnReply})
def post_parts(body: PartFileBody) -> Response:
    """Take a file of parts, JSON or CSV: every part of it, or none."""
    shop = workshop()
    try:
        own = read_parts(shop.catalogue, body.text, shop.own)
    except PartsError as error:
        return refused(error)
    _keep(own)
    return _own()


def _keep(own: OwnParts) -> None:
    shop = workshop()
    plain = parts_to_plain(own)
    shop.shop.keep_parts({k: v for k, v in plain.items() if isinstance(v, list)})
    shop.stock_up()


@view("post", "/shop/parts/copy", {200: OwnReply})
def post_copy(body: CopyBody) -> Response:
    """Copy a connector family under a code of the shop's own, to be changed."""
    shop = workshop()
    if body.code not in shop.catalogue.connectors:
        return problem(404, "No such family", f"There is no connector family {body.code!r}.")
    if body.new_code in shop.catalogue.connectors:
        return problem(422, "Code taken", f"There is a family {body.new_code!r} already: give another code.")
    family = copy_family(shop.catalogue, body.code, body.new_code, body.name)
    plain = parts_to_plain(OwnParts(connectors={family.code: family}))
    try:
        own = parts_from_plain(shop.catalogue, plain, shop.own)
    except PartsError as error:
        return refused(error)
    _keep(own)
    return _own()


def _family(code: str) -> Response:
    shop = workshop()
    family = shop.own.connectors.get(code)
    if family is None:
        return problem(404, "No such family", f"You have no connector family {code!r} of your own.")
    contacts = [
        OwnContact(
            **{k: getattr(c, k) for k in OwnContact.model_fields if k not in ("tool", "nest")},
            tool=c.tools[0].tool if c.tools else "",
            nest=c.tools[0].nest if c.tools else "",
        )
        for c in family.contacts
    ]
    seals = [OwnSeal(**{k: getattr(s, k) for k in OwnSeal.model_fields}) for s in family.seals]
    return json_reply(
        OwnFamilyReply,
        OwnFamilyReply(
            code=family.code,
            name=family.name,
            temperature_c=family.temperature_c,
            voltage_v=family.voltage_v,
            turn=family.turn,
            contacts=contacts,
            seals=seals,
        ),
    )


@view("get", "/shop/families/<code>", {200: OwnFamilyReply})
def get_own_family(path: OwnFamilyPath) -> Response:
    """A connector family of the shop's own, for changing it."""
    return _family(path.code)


@view("patch", "/shop/families/<code>", {200: OwnFamilyReply})
def patch_own_family(path: OwnFamilyPath, body: PatchBody) -> Response:
    """Change a connector family of the shop's own by a JSON Patch; figures may be typed with units."""
    shop = workshop()
    family = shop.own.connectors.get(path.code)
    if family is None:
        return _family(path.code)
    (before,) = parts_to_plain(OwnParts(connectors={family.code: family}))["connectors"]
    operations = read_typed(operations_of(body))
    changed, _ = apply_with_inverse(before, operations)
    if changed.get("code") != family.code:
        item = Problem("/code", "A family keeps its code.", "Copy it under the other code.")
        return problem(422, "Code kept", f"{item.message} {item.remedy}", [item])
    plain = parts_to_plain(OwnParts())
    try:
        own = parts_from_plain(shop.catalogue, {**plain, "connectors": [changed]}, shop.own)
    except PartsError as error:
        # Seen from the family itself: /connectors/0/contacts/1/price is /contacts/1/price.
        items = [Problem(p.path.removeprefix("/connectors/0"), p.message, p.remedy) for p in error.problems]
        return problem(422, "Not changed", f"{items[0].message} {items[0].remedy}".strip(), items)
    _keep(own)
    return _family(path.code)


@view("delete", "/shop/parts", {200: OwnReply})
def delete_part(query: OfPart) -> Response:
    """Take out a part of the shop's own. It can be put back."""
    shop = workshop()
    shop.shop.remove_part(query.kind, query.code)
    shop.stock_up()
    return _own()


@view("post", "/shop/parts/restore", {200: OwnReply})
def post_part_back(query: OfPart) -> Response:
    """Put a part back that was taken out."""
    shop = workshop()
    shop.shop.restore_part(query.kind, query.code)
    shop.stock_up()
    return _own()


@view("get", "/shop/parts.json", {200: {"content": {"application/json": {}}}})
def get_parts_json() -> Response:
    """The shop's own parts as a file."""
    text = json.dumps(parts_to_plain(workshop().own), ensure_ascii=False, indent=1) + "\n"
    return _file(text, "application/json", "inkthread-parts.json")


@view("get", "/shop/parts.csv", {200: {"content": {"text/csv": {}}}})
def get_parts_csv() -> Response:
    """The shop's own contacts, seals and tools as a table."""
    own = workshop().own
    return _file(
        parts_to_csv(own.connectors.values(), own.tools.values()), "text/csv; charset=utf-8", "parts.csv"
    )


def _file(text: str, mimetype: str, name: str) -> Response:
    response = Response(text, 200, content_type=mimetype)
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    response.headers["Cache-Control"] = "no-cache"
    return response


def _tools() -> Response:
    shop = workshop()
    tools = []
    for tool in shop.catalogue.tools.values():
        owned = shop.equipment.tools.get(tool.code)
        tools.append(
            ToolItem(
                code=tool.code,
                description=tool.description,
                kind=tool.kind,
                price=tool.price,
                nests=list(tool.nests),
                owned=owned is not None,
                status=owned.status if owned else "",
                certified=owned.certified if owned else False,
                borrowed=owned.borrowed if owned else False,
                gauged_on=owned.gauged_on if owned else "",
                result=owned.result if owned else "not gauged",
                note=owned.note if owned else "",
            )
        )
    proven = [NestItem(**asdict(n)) for n in shop.equipment.proven.values()]
    return json_reply(ToolsReply, ToolsReply(tools=tools, proven=proven))


@view("get", "/shop/tools", {200: ToolsReply})
def get_tools() -> Response:
    """Every tool, whether it is owned and how it is; nests proven here."""
    return _tools()


@view("put", "/shop/tools", {200: ToolsReply})
def put_tool(query: OfTool, body: ToolBody) -> Response:
    """Note that a tool is owned, and how it is."""
    shop = workshop()
    if query.code not in shop.catalogue.tools:
        return problem(404, "No such tool", f"There is no tool {query.code!r}.")
    shop.shop.own_tool(query.code, body.model_dump())
    shop.stock_up()
    return _tools()


@view("delete", "/shop/tools", {200: ToolsReply})
def delete_tool(query: OfTool) -> Response:
    """Note that a tool is not owned."""
    shop = workshop()
    shop.shop.own_tool(query.code, None)
    shop.stock_up()
    return _tools()


@view("put", "/shop/nests", {200: ToolsReply})
def put_nest(body: NestBody) -> Response:
    """Note the nest proven here for a contact on a wire; an empty nest forgets it."""
    shop = workshop()
    refused = (
        nest_refused(shop.catalogue, body.contact, body.wire, body.tool, body.nest) if body.nest else None
    )
    if refused is not None:
        field, message, remedy = refused
        return problem(422, "Not a nest", f"{message} {remedy}", [Problem(f"/{field}", message, remedy)])
    fields = body.model_dump(include={"tool", "nest", "depth", "note"})
    shop.shop.prove_nest(body.contact, body.wire, fields if body.nest else None)
    shop.stock_up()
    return _tools()


def _no_connector(name: str) -> Response:
    return problem(404, "No such connector", f"There is no connector {name!r} in this harness.")


@view("get", "/designs/<design_id>/ends/choices", {200: ChoicesReply})
def get_choices(path: DesignPath, query: OfConnector) -> Response:
    """Families for a connector, ranked, and those that would not do."""
    stored, w = now(path)
    if query.id not in w.document.ends.connectors:
        return _no_connector(query.id)
    ranking = rank_families(w.context, w.route, w.wire, query.id)
    plugs = grouped_plugs(w.context, w.route, w.wire, query.id)
    choices = ChoicesReply.model_construct(version=stored.version, ranking=ranking, grouped=plugs)
    return json_reply(ChoicesReply, choices)


@view("get", "/designs/<design_id>/ends/mate", {200: HalfReply})
def get_mate(path: DesignPath, query: OnDevice) -> Response:
    """What the device has that a connector meets, by its own family or the nearest of another one."""
    stored, w = now(path)
    if query.id not in w.document.ends.connectors:
        return _no_connector(query.id)
    if query.family and query.family not in w.catalogue.connectors:
        return problem(404, "No such family", f"There is no connector family {query.family!r}.")
    half = half_on_device(w.document, w.catalogue, query.id, query.family)
    return json_reply(HalfReply, HalfReply.model_construct(version=stored.version, half=half))


@view("get", "/designs/<design_id>/ends/neighbours", {200: StandingReply})
def get_neighbours(path: DesignPath, query: OfConnector) -> Response:
    """What bridges between neighbouring ways would do, and an order that does better."""
    stored, w = now(path)
    if query.id not in w.document.ends.connectors:
        return _no_connector(query.id)
    return json_reply(
        StandingReply,
        StandingReply.model_construct(
            version=stored.version,
            standing=standing(w.document, w.catalogue, w.circuits, query.id),
            proposal=propose(w.document, w.catalogue, w.circuits, query.id),
        ),
    )


@view("get", "/designs/<design_id>/ends/end", {200: EndReply})
def get_end(path: DesignPath, query: OfPin) -> Response:
    """All there is to know of the end at a device pin."""
    stored, w = now(path)
    detail = end_detail(w.document, w.catalogue, w.wire, w.ends, query.ref, query.wire)
    if detail is None:
        return problem(404, "No such end", f"No wire ends at {query.ref!r}.")
    return json_reply(EndReply, EndReply.model_construct(version=stored.version, end=detail))


@view("get", "/designs/<design_id>/weakest", {200: WeakestReply})
def get_weakest(path: DesignPath) -> Response:
    """The weakest link of every circuit."""
    stored, w = now(path)
    items = [
        WeakestItem(
            circuit=k,
            name=w.document.circuits.circuits[k].name or k,
            carries_a=round(link.carries_a, 4),
            holds_a=round(link.holds_a, 3),
            link=link.name,
            kind=link.kind,
        )
        for k, link in w.ends.weakest.by_circuit().items()
    ]
    items.sort(key=lambda i: (-i.carries_a / max(i.holds_a, 1e-9), i.circuit))
    return json_reply(WeakestReply, WeakestReply(version=stored.version, links=items))


def put_as_seen(stored: StoredDesign, operations: list[dict[str, Any]], label: str) -> Response:
    """Apply operations worked out from one version of a design, unless it was changed meanwhile."""
    shop = workshop()

    def make(document: dict[str, Any]) -> list[dict[str, Any]]:
        if document != stored.document:
            raise PinoutError("The harness was changed meanwhile. Look at it as it is now, then repeat.")
        return complete(document, operations)

    try:
        return reply(shop.shelf.edit(stored.id, make, label, shop.validate))
    except PinoutError as error:
        return problem(409, "Changed meanwhile", str(error))


@view("post", "/designs/<design_id>/ends/pinout", {200: EditReply})
def post_pinout(path: DesignPath, body: PinoutBody) -> Response:
    """Give ways out anew, exchange two, clear, or take the proposed order: one edit."""
    shop = workshop()
    stored = shop.shelf.get(path.design_id)
    w = shop.workings(stored.id, stored.version, stored.document)
    connector = body.connector
    if connector not in w.document.ends.connectors:
        return _no_connector(connector)
    try:
        if body.act == "swap":
            operations = swap(w.document, w.catalogue, connector, body.a, body.b)
            label = f"{connector}: {body.a} and {body.b} exchanged"
        elif body.act == "clear":
            operations, label = clear(w.document, connector), f"{connector} cleared"
        elif body.act == "propose":
            proposal = propose(w.document, w.catalogue, w.circuits, connector)
            operations = [
                {"op": "replace", "path": pointer(["ends", "pinout", ref, "cavity"]), "value": cavity}
                for ref, cavity in (proposal.cavities.items() if proposal else ())
                if w.document.ends.pinout[ref].cavity != cavity
            ]
            label = f"{connector} in the proposed order"
        else:
            operations = give_out(w.document, w.catalogue, w.circuits, connector, body.rule)
            label = f"{connector}: ways {body.rule}"
    except PinoutError as error:
        return problem(422, "Not done", str(error), [Problem("/connector", str(error), "")])
    return put_as_seen(stored, operations, label)


@view("post", "/designs/<design_id>/ends/mate", {200: EditReply})
def post_mate(path: DesignPath, body: MateBody) -> Response:
    """Say what is fitted on the device; the harness gets the half that meets it."""
    shop = workshop()
    if body.family not in shop.catalogue.connectors:
        return problem(422, "No such family", f"There is no connector family {body.family!r}.")
    there = Half(body.family, body.ways, body.shell, body.contact_gender, body.key)
    meets = there if body.itself else mating_half(shop.catalogue, there)
    family = shop.catalogue.connectors[meets.family]
    if family.housing(meets.ways) is None:
        counts = ", ".join(str(h.ways) for h in family.housings)
        item = Problem(
            "/ways", f"{family.code} is not made with {meets.ways} ways.", f"It is made with {counts}."
        )
        return problem(422, "No such housing", f"{item.message} {item.remedy}", [item])
    stored = shop.shelf.get(path.design_id)
    w = shop.workings(stored.id, stored.version, stored.document)
    if body.connector not in w.document.ends.connectors:
        return _no_connector(body.connector)
    operations = fit_half(w.document, shop.catalogue, body.connector, meets)

    does = "is" if body.itself else "meets"
    label = f"{body.connector} {does} {body.family}: {half_in_words(meets, family)}"
    left = taken_off(operations)
    if left:
        label += f"; {list_in_words(left)} found no way"
    return put_as_seen(stored, operations, label)
