"""The whole harness made otherwise, side by side: other wire, connectors, covers, tools, or bought."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import Any

from inkthread.core.build import standard_times, steps_of
from inkthread.core.document import dump_document, parse_document
from inkthread.core.document.draft import Draft, LineError, next_order
from inkthread.core.ends.lines import refit
from inkthread.core.ends.rank import FamilyChoice, rank_families
from inkthread.core.evaluate import otherwise
from inkthread.core.record import record
from inkthread.core.words import list_in_words, some_in_words
from inkthread.core.workings import Workings

Tell = Callable[[float], None]
AT_ONCE = 4
"""So many wholes stand side by side; the harness as it is is one of them."""
_OTHERS = 3
"""Families offered in the place of one that is used."""
_SHOWN = 6
_OWNED = "owned"
_NOW = "now"
_BOUGHT = "bought"


@record
class WholeName:
    """A way of making the harness that can be worked out, and what it is in words."""

    id: str
    """``wire J1128-TXL``, ``ends SS15 > SR16``, ``cover 3``, ``owned``, ``bought L1``."""
    name: str
    kind: str
    """``wire``, ``connectors``, ``covers``, ``tools`` or ``ready made``."""


@record
class Whole:
    """The harness made one way. Money for the whole quantity where not said otherwise."""

    id: str
    name: str
    parts_cost: float
    tooling: float
    """For tools that are not owned, once."""
    cost_each: float
    """Parts and tools to buy, shared out over the harnesses made."""
    cost_more: float
    """Parts of one more, its tools there already."""
    mass_g: float | None
    """Of one; None where it is not known."""
    bundle_mm: float | None
    """Its thickest, as hands lay it."""
    minutes: float
    """Of hand work for one, by standard times."""
    stops: int
    fixes: int
    considers: int
    words: tuple[str, ...]
    """What is so with it besides."""
    operations: tuple[dict[str, Any], ...]
    """What makes it so; none where it is so now, or is no edit."""


def wholes_offered(now: Workings) -> tuple[WholeName, ...]:
    """Every way that can be put beside the harness as it is."""
    return (*_wires(now), *_families(now), *_covers(now), *_owned(now), *_ready_made(now))


def _wires(now: Workings) -> Iterator[WholeName]:
    for code, family in now.catalogue.wires.items():
        if family.construction == "single" and code != now.brief.family:
            yield WholeName(f"wire {code}", f"{family.name} throughout", "wire")


def _families(now: Workings) -> Iterator[WholeName]:
    connectors = now.stated.ends.connectors
    for code in dict.fromkeys(c.family for c in connectors.values()):
        first = next(k for k, c in connectors.items() if c.family == code)
        if code not in now.catalogue.connectors or now.catalogue.connectors[code].loose:
            continue
        ranked = [
            c for c in rank_families(now.context, now.route, now.wire, first).choices if c.family != code
        ]
        for choice in ranked[:_OTHERS]:
            yield WholeName(f"ends {code} > {choice.family}", f"{choice.family} for {code}", "connectors")


def _covers(now: Workings) -> Iterator[WholeName]:
    rule = now.catalogue.rules["cover"]
    for choice in rule.choices:
        if choice.value != now.brief.value("cover"):
            yield WholeName(f"cover {choice.value:g}", choice.label, "covers")


def _owned(now: Workings) -> Iterator[WholeName]:
    if any(not t.owned for t in now.parts.tools):
        yield WholeName(_OWNED, "only with tools that are owned", "tools")


def _ready_made(now: Workings) -> Iterator[WholeName]:
    for offer in now.evaluation.brief.make_or_buy.offers:
        yield WholeName(f"{_BOUGHT} {offer.id}", f"{offer.name or offer.id}, bought ready made", "ready made")


def trade_study(now: Workings, ids: Sequence[str], tell: Tell = lambda _share: None) -> tuple[Whole, ...]:
    """The harness as it is and up to three other ways. Ids that are not offered are passed over."""
    offered = {w.id: w for w in wholes_offered(now)}
    wanted = [offered[i] for i in dict.fromkeys(ids) if i in offered][: AT_ONCE - 1]
    wholes = [_judged(now, WholeName(_NOW, "as it is", ""), (), ())]
    for n, name in enumerate(wanted):
        tell((n + 1) / (len(wanted) + 1))
        if name.id.startswith(f"{_BOUGHT} "):
            wholes.append(_bought(now, name))
            continue
        draft, words = _made(now, name.id)
        other = otherwise(now, parse_document(draft.plain))
        wholes.append(_judged(other, name, words(other), tuple(draft.operations)))
    return tuple(wholes)


Words = Callable[[Workings], tuple[str, ...]]


def _no_words(_other: Workings) -> tuple[str, ...]:
    return ()


def _made(now: Workings, whole: str) -> tuple[Draft, Words]:
    """The edit that makes a whole, and what is said of it when it is worked out."""
    kind, _, rest = whole.partition(" ")
    draft = Draft(dump_document(now.stated))
    if kind == "wire":
        draft.put(rest, "wire", "family")
        draft.put({}, "wire", "also")
        return draft, _no_words
    if kind == "cover":
        rule = {"order": next_order(draft.at("brief", "house_rules")), "value": float(rest), "reason": ""}
        draft.put(rule, "brief", "house_rules", "cover")
        return draft, _no_words
    if kind == "ends":
        old, _, new = rest.partition(" > ")
        mine = [k for k, c in now.stated.ends.connectors.items() if c.family == old]
        return draft, _said(_refitted(now, draft, dict.fromkeys(mine, new)))
    return draft, _owned_only(now, draft)


def _said(words: tuple[str, ...]) -> Words:
    return lambda _other: words


def _refitted(now: Workings, draft: Draft, families: dict[str, str]) -> tuple[str, ...]:
    """Give connectors other families; what cannot be is left as it was, and said."""
    left: list[str] = []
    unplaced: list[str] = []
    for connector_id, code in families.items():
        try:
            unplaced += refit(draft, now.catalogue, connector_id, code, None)
        except LineError:
            left.append(connector_id)
    words = []
    if left:
        words.append(f"{some_in_words(left, _SHOWN)} stay as they are: it is not made with so many ways")
    if unplaced:
        words.append(f"{some_in_words(unplaced, _SHOWN)} find no way")
    return tuple(words)


def _owned_only(now: Workings, draft: Draft) -> Words:
    """Every connector whose crimps want a tool that is not owned, in the best family whose tools are."""
    owned = now.context.shop.tools
    lacking: dict[str, set[str]] = {}
    for end, crimp in now.ends.crimps.items():
        entry = now.stated.ends.pinout.get(end[0])
        if entry is not None and crimp.tool and crimp.tool not in owned:
            lacking.setdefault(entry.connector, set()).add(crimp.tool)
    families: dict[str, str] = {}
    stuck: list[str] = []
    for connector_id in lacking:
        able = _able(now, connector_id)
        if able is None:
            stuck.append(connector_id)
        elif able.family != now.stated.ends.connectors[connector_id].family:
            families[connector_id] = able.family
    words = _refitted(now, draft, families)
    if families:
        words = (f"{some_in_words([f'{k} in {f}' for k, f in families.items()], _SHOWN)}", *words)
    if stuck:
        words = (*words, f"nothing fits {some_in_words(stuck, _SHOWN)} that owned tools make")

    def with_tools(other: Workings) -> tuple[str, ...]:
        still = [t.code for t in other.parts.tools if not t.owned]
        return (*words, f"still to buy or borrow: {list_in_words(still[:_SHOWN])}") if still else words

    return with_tools


def _able(now: Workings, connector_id: str) -> FamilyChoice | None:
    """The best family for a connector that owned tools make."""
    ranked = rank_families(now.context, now.route, now.wire, connector_id).choices
    return next((choice for choice in ranked if choice.tooling_cost == 0), None)


def _judged(
    w: Workings, name: WholeName, words: tuple[str, ...], operations: tuple[dict[str, Any], ...]
) -> Whole:
    parts, quantity = w.evaluation.parts, w.document.brief.quantity
    times = standard_times(steps_of(w.rooms).values())
    tally = w.evaluation.tally
    return Whole(
        name.id,
        name.name,
        parts.cost_total,
        parts.tooling_total,
        round((parts.cost_total + parts.tooling_total) / quantity, 2),
        round(parts.cost_total / quantity, 2),
        round(parts.mass_each_g, 1),
        max((b.loose_mm for b in w.dress.bundles.values()), default=0.0),
        round(sum(t.minutes for t in times), 1),
        tally.stops,
        tally.fixes,
        tally.considers,
        words,
        operations,
    )


def _bought(now: Workings, name: WholeName) -> Whole:
    """A lead bought ready made in the place of the harness: nothing to make, if its length will do."""
    offer_id = name.id.partition(" ")[2]
    offer = next(o for o in now.evaluation.brief.make_or_buy.offers if o.id == offer_id)
    quantity = now.document.brief.quantity
    return Whole(
        name.id, name.name, round(offer.price * quantity, 2), 0.0, offer.price, offer.price, None, None, 0.0,
        0 if offer.fits else 1, 0, 0, (offer.why,), (),
    )  # fmt: skip
