"""Ratings of fuses and breakers: derived from what they feed, unless the builder fixes them."""

from __future__ import annotations

from inkthread.core.brief import BriefResult
from inkthread.core.catalogue import Catalogue, FuseRating
from inkthread.core.circuits.facts import FuseFacts
from inkthread.core.document.types import Document
from inkthread.core.document.values import PROTECTIVE, PathKind
from inkthread.core.findings import FindingBook, Place
from inkthread.core.quantity import format_current


def made_as(kind: PathKind, catalogue: Catalogue) -> tuple[FuseRating, ...]:
    """The fuses, or the breakers, that are made; smallest first."""
    return catalogue.breakers if kind == "breaker" else catalogue.fuses


def smallest_fuse(
    load_a: float, share: float, catalogue: Catalogue, kind: PathKind = "fuse"
) -> FuseRating | None:
    """The smallest made that carries ``load_a`` within ``share`` of its rating, or None."""
    return next((f for f in made_as(kind, catalogue) if f.rating_a * share >= load_a - 1e-9), None)


ALLOWED_FOR_C = 40.0
"""The share of its rating that a fuse is loaded to allows for air this warm; above it more is taken off."""


def derating(brief: BriefResult, ambient_c: float) -> float:
    """Part of a fuse's rating that is left in a hot place; breakers are taken as compensated."""
    lost = brief.value("fuse_derating_percent_per_k") / 100 * max(ambient_c - ALLOWED_FOR_C, 0.0)
    return max(1 - lost, 0.05)


def ambient_at(document: Document, brief: BriefResult, device_id: str) -> float | None:
    """Hottest air at the connectors that meet a device, in deg C; None where none is placed."""
    airs = [
        brief.point_airs[point].ambient_c
        for pin in document.circuits.devices[device_id].pins
        if (entry := document.ends.pinout.get(f"{device_id}.{pin}")) is not None
        and (point := document.ends.connectors[entry.connector].point) in brief.point_airs
    ]
    return max(airs, default=None)


def rate_fuses(
    document: Document,
    catalogue: Catalogue,
    brief: BriefResult,
    load_a: dict[str, float],
    fed_from: dict[str, str],
    book: FindingBook,
) -> dict[str, FuseFacts]:
    """Every fuse and breaker with its load and rating, by ``device.path``."""
    share = brief.value("fuse_load_share_percent") / 100
    result: dict[str, FuseFacts] = {}
    for device_id, device in document.circuits.devices.items():
        for path_id, inner in device.paths.items():
            if inner.kind not in PROTECTIVE:
                continue
            key = f"{device_id}.{path_id}"
            load = load_a.get(key, 0.0)
            ambient = ambient_at(document, brief, device_id) if inner.kind == "fuse" else None
            left = derating(brief, ambient) if ambient is not None else 1.0
            made = made_as(inner.kind, catalogue)
            part: FuseRating | None
            if inner.rating_a is not None:
                rating = inner.rating_a
                part = next((f for f in made if f.rating_a == rating), None)
            else:
                part = smallest_fuse(load, share * left, catalogue, inner.kind)
                if part is None:
                    part = made[-1]
                    book.add(
                        "fuse-none-large-enough",
                        Place("circuits", "device", device_id),
                        fuse=f"{device_id} {device.name}".strip(),
                        need=format_current(load / share / left),
                        rating=format_current(part.rating_a),
                    )
                rating = part.rating_a
            result[key] = FuseFacts(
                key,
                device_id,
                path_id,
                device.name,
                load,
                rating,
                inner.rating_a is not None,
                part,
                inner.kind,
                fed_from.get(key),
                left,
                ambient,
            )
    return result
