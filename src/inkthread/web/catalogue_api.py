"""The catalogue over HTTP, and kinds of device of the shop's own."""

from __future__ import annotations

from flask import Response

from inkthread.catalogue import shipped_glossary
from inkthread.core.brief.practice_words import practice_in_words
from inkthread.core.circuits.kinds import kind_from_device
from inkthread.core.document.starter import practices, usual_supplies_v
from inkthread.web.catalogue_schemas import (
    AccessoryItem,
    CatalogueReply,
    ConnectorItem,
    FamilyItem,
    GlossaryReply,
    KindItem,
    KindPath,
    NewKind,
    RuleItem,
    ViewItem,
    WordItem,
)
from inkthread.web.views import json_reply, view, workshop


@view("get", "/glossary", {200: GlossaryReply})
def get_glossary() -> Response:
    """The words of the trade for who is new to it, and every practice in a sentence."""
    catalogue = workshop().catalogue
    reply = GlossaryReply(
        words=[
            WordItem(word=w.word, also=list(w.also), room=w.room, means=w.means) for w in shipped_glossary()
        ],
        practices={p: practice_in_words(catalogue, p) for p in practices()},
    )
    return json_reply(GlossaryReply, reply)


@view("get", "/catalogue", {200: CatalogueReply})
def get_catalogue() -> Response:
    """What can be chosen: families, kinds, practices, colours."""
    shop = workshop()
    c, own = shop.catalogue, shop.shop.kinds()
    choices = list(
        dict.fromkeys(code for s in c.colour_schemes.values() for codes in s.roles.values() for code in codes)
    )
    return json_reply(
        CatalogueReply,
        CatalogueReply(
            version=c.version,
            wires=[
                FamilyItem(
                    code=w.code,
                    name=w.name,
                    temperature_c=w.temperature_c,
                    construction=w.construction,
                    cores=w.cores,
                    burn_rated=w.burn_rated,
                    gauges=[s.gauge for s in w.sizes],
                )
                for w in c.wires.values()
            ],
            connectors=[
                ConnectorItem(
                    code=f.code,
                    name=f.name,
                    sealed=f.sealed,
                    loose=f.loose,
                    ways=[h.ways for h in f.housings],
                    studs=list(f.studs),
                    temperature_c=f.temperature_c,
                    group=f.group,
                    genderless=f.genderless,
                    meets_its_like=f.meets_its_like,
                    keyings=list(f.keyings),
                    protection=f.protection,
                    accessories=[
                        AccessoryItem(
                            code=a.code,
                            kind=a.kind,
                            description=a.description,
                            required=a.required,
                            included=a.included,
                            ways=list(a.ways),
                            fan_out_mm=a.fan_out_mm,
                        )
                        for a in f.accessories
                    ],
                )
                for f in c.connectors.values()
            ],
            kinds=[
                KindItem(
                    id=k,
                    label=v.label,
                    group=v.group,
                    prefix=v.prefix,
                    words=list(v.words),
                    pins=[f"{p.id} {p.role}" for p in v.pins],
                    connector=v.connector,
                    own=k in own,
                )
                for k, v in c.kinds.items()
            ],
            practices=list(practices()),
            usual_supplies_v=usual_supplies_v(),
            buses=list(c.buses),
            schemes=list(c.colour_schemes),
            colours=c.colours,
            colour_names=c.colour_names,
            colour_choices=choices,
            fuse_ratings=[f.rating_a for f in c.fuses],
            rules={
                k: RuleItem(
                    label=r.label,
                    unit=r.unit,
                    why=r.why,
                    source=r.source,
                    choices=[
                        ViewItem(value=choice.value, label=choice.label, why=choice.why)
                        for choice in r.choices
                    ],
                )
                for k, r in c.rules.items()
            },
        ),
    )


@view("post", "/shop/kinds", {200: CatalogueReply})
def post_kind(body: NewKind) -> Response:
    """Keep a device as a kind of the shop's own: typed lines then know it by its words."""
    shop = workshop()
    plain = shop.shelf.get(body.design_id).document
    kind_id, data = kind_from_device(plain, shop.catalogue, body.device, body.label, body.words)
    shop.shop.keep_kind(kind_id, data)
    shop.stock_up()
    return get_catalogue()


@view("delete", "/shop/kinds/<kind_id>", {200: CatalogueReply})
def delete_kind(path: KindPath) -> Response:
    """Take a kind of the shop's own out of the library. Devices made of it stay as they are."""
    shop = workshop()
    shop.shop.remove_kind(path.kind_id)
    shop.stock_up()
    return get_catalogue()


@view("post", "/shop/kinds/<kind_id>/restore", {200: CatalogueReply})
def post_kind_restore(path: KindPath) -> Response:
    """Put a kind back into the library that was taken out."""
    shop = workshop()
    shop.shop.restore_kind(path.kind_id)
    shop.stock_up()
    return get_catalogue()
