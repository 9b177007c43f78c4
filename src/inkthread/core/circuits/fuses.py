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
            made = made_as(inner.kind, catalogue)
            part: FuseRating | None
            if inner.rating_a is not None:
                rating = inner.rating_a
                part = next((f for f in made if f.rating_a == rating), None)
            else:
                part = smallest_fuse(load, share, catalogue, inner.kind)
                if part is None:
                    part = made[-1]
                    book.add(
                        "fuse-none-large-enough",
                        Place("circuits", "device", device_id),
                        fuse=f"{device_id} {device.name}".strip(),
                        need=format_current(load / share),
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
            )
    return result
