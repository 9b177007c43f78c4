"""The catalogue at the shop's own prices: what a builder pays goes before what the data say."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import fields, is_dataclass, replace
from typing import Any

from inkthread.core.catalogue.coverings import Coverings, LabelSleeve, Tape
from inkthread.core.catalogue.types import Catalogue
from inkthread.core.catalogue.wires import WireFamily

_PRICED = ("connectors", "fuses", "breakers", "holders", "splices", "covers", "tools", "kits")


def with_prices(catalogue: Catalogue, prices: Mapping[str, float]) -> Catalogue:
    """The catalogue with prices by part code put in, by the piece or by the metre as the part is billed.

    Codes that there are not are passed over.
    """
    if not prices:
        return catalogue
    parts: dict[str, Any] = {name: _priced(getattr(catalogue, name), prices) for name in _PRICED}
    wires = {code: _wires(family, prices) for code, family in catalogue.wires.items()}
    return replace(catalogue, wires=wires, coverings=_coverings(catalogue.coverings, prices), **parts)


def prices_of(catalogue: Catalogue) -> dict[str, float]:
    """What every part costs, by the piece or by the metre as it is billed."""
    prices: dict[str, float] = {}
    coverings = catalogue.coverings
    for name in _PRICED:
        _collect(getattr(catalogue, name), prices)
    for things in (
        coverings.sleeves, coverings.tapes, coverings.tubes(), coverings.labels, coverings.ties,
        coverings.clamps, coverings.grommets, coverings.shapes, coverings.fillers,
        coverings.lacing, coverings.lubricants,
    ):  # fmt: skip
        _collect(things, prices)
    for family in catalogue.wires.values():
        for size in family.sizes:
            prices[family.sold_as(size.gauge)] = size.price_per_m * max(family.cores, 1)
    return prices


def _collect(thing: Any, prices: dict[str, float]) -> None:
    if isinstance(thing, dict):
        thing = tuple(thing.values())
    if isinstance(thing, tuple):
        for part in thing:
            _collect(part, prices)
    elif is_dataclass(thing) and not isinstance(thing, type):
        code = getattr(thing, "code", None)
        each = getattr(thing, "price_per_m", None) or getattr(thing, "price", None)
        if code is not None and each is not None:
            prices[code] = each / _billed_by(thing)
        for own in fields(thing):
            _collect(getattr(thing, own.name), prices)


def _billed_by(thing: Any) -> float:
    """Tape and label sleeve are billed by the metre and priced by the roll: so many m."""
    if isinstance(thing, Tape):
        return thing.roll_m
    return thing.cassette_m if isinstance(thing, LabelSleeve) else 1.0


def _wires(family: WireFamily, prices: Mapping[str, float]) -> WireFamily:
    sold = {size.gauge: family.sold_as(size.gauge) for size in family.sizes}
    if not any(code in prices for code in sold.values()):
        return family
    # A cable is paid as one: each of its cores bears its share.
    return replace(
        family,
        sizes=tuple(
            replace(size, price_per_m=prices[sold[size.gauge]] / max(family.cores, 1))
            if sold[size.gauge] in prices
            else size
            for size in family.sizes
        ),
    )


def _coverings(coverings: Coverings, prices: Mapping[str, float]) -> Coverings:
    tubes = {t.code: prices[t.code] for t in coverings.tubes() if t.code in prices}
    return replace(
        coverings,
        sleeves=_priced(coverings.sleeves, prices),
        tapes=_priced(coverings.tapes, prices),
        labels=_priced(coverings.labels, prices),
        ties=_priced(coverings.ties, prices),
        clamps=_priced(coverings.clamps, prices),
        grommets=_priced(coverings.grommets, prices),
        shapes=_priced(coverings.shapes, prices),
        fillers=_priced(coverings.fillers, prices),
        lacing=_priced(coverings.lacing, prices),
        lubricants=_priced(coverings.lubricants, prices),
        tube_prices={**coverings.tube_prices, **tubes},
    )


def _priced(thing: Any, prices: Mapping[str, float]) -> Any:
    """The same with prices put in, however deep; what no price is for stays the very same object."""
    if isinstance(thing, tuple) and not hasattr(thing, "_fields"):
        parts = tuple(_priced(part, prices) for part in thing)
        return parts if any(new is not old for new, old in zip(parts, thing, strict=True)) else thing
    if isinstance(thing, dict):
        changed = {key: _priced(value, prices) for key, value in thing.items()}
        return changed if any(changed[key] is not thing[key] for key in thing) else thing
    if not is_dataclass(thing) or isinstance(thing, type):
        return thing
    news: dict[str, Any] = {}
    for own in fields(thing):
        old = getattr(thing, own.name)
        new = _priced(old, prices) if isinstance(old, (tuple, dict)) or is_dataclass(old) else old
        if new is not old:
            news[own.name] = new
    price = prices.get(getattr(thing, "code", ""))
    if price is not None:
        if hasattr(thing, "price_per_m"):
            news["price_per_m"] = price
        elif hasattr(thing, "price"):
            news["price"] = price * _billed_by(thing)
    return replace(thing, **news) if news else thing
