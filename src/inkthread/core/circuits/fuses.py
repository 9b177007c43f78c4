"""Ratings of fuses and breakers: derived from what they feed, unless the builder fixes them."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import NamedTuple

from inkthread.core.brief import BriefResult
from inkthread.core.catalogue import Catalogue, FuseRating
from inkthread.core.circuits.curve import holds_at_least_s
from inkthread.core.circuits.facts import FuseFacts, Loop, called_by
from inkthread.core.document.types import Document
from inkthread.core.document.values import PROTECTIVE, PathKind
from inkthread.core.findings import FindingBook, Place
from inkthread.core.measures import format_current
from inkthread.core.record import record
from inkthread.core.tolerances import ROUNDING


def made_as(kind: PathKind, catalogue: Catalogue) -> tuple[FuseRating, ...]:
    """The fuses, or the breakers, that are made; smallest first."""
    return catalogue.breakers if kind == "breaker" else catalogue.fuses


def smallest_fuse(
    load_a: float, share: float, catalogue: Catalogue, kind: PathKind = "fuse"
) -> FuseRating | None:
    """The smallest made that carries ``load_a`` within ``share`` of its rating, or None."""
    return next((f for f in made_as(kind, catalogue) if f.rating_a * share >= load_a - ROUNDING), None)


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


@record
class FusePath:
    """A path inside a device that protects, as it is stated, and where it is."""

    key: str
    device: str
    path: str
    name: str
    way: str
    """The pin that it feeds, where its device has several paths."""
    kind: PathKind
    rating_a: float | None
    """As the builder fixed it."""
    ambient_c: float | None
    left: float
    """Part of a rating that is left there."""

    @property
    def called(self) -> str:
        """By its device, and in a block by the way that it feeds."""
        return called_by(self.device, self.name, self.way)


def fuse_paths(document: Document, brief: BriefResult) -> tuple[FusePath, ...]:
    """Every fuse and breaker, whatever it carries. Of the document, its devices and ends are read."""
    paths: list[FusePath] = []
    for device_id, device in document.circuits.devices.items():
        for path_id, inner in device.paths.items():
            if inner.kind not in PROTECTIVE:
                continue
            ambient_c = ambient_at(document, brief, device_id) if inner.kind == "fuse" else None
            paths.append(
                FusePath(
                    f"{device_id}.{path_id}",
                    device_id,
                    path_id,
                    device.name,
                    inner.to_pin if len(device.paths) > 1 else "",
                    inner.kind,
                    inner.rating_a,
                    ambient_c,
                    derating(brief, ambient_c) if ambient_c is not None else 1.0,
                )
            )
    return tuple(paths)


def rate_fuses(
    paths: tuple[FusePath, ...],
    catalogue: Catalogue,
    brief: BriefResult,
    load_a: dict[str, float],
    fed_from: dict[str, str],
    book: FindingBook,
) -> dict[str, FuseFacts]:
    """Every fuse and breaker with its load and rating, by ``device.path``."""
    share = brief.value("fuse_load_share_percent") / 100
    result: dict[str, FuseFacts] = {}
    for path in paths:
        load = load_a.get(path.key, 0.0)
        ratings = made_as(path.kind, catalogue)
        part: FuseRating | None
        if path.rating_a is not None:
            rating = path.rating_a
            part = next((f for f in ratings if f.rating_a == rating), None)
        else:
            part = smallest_fuse(load, share * path.left, catalogue, path.kind)
            if part is None:
                part = ratings[-1]
                book.add(
                    "fuse-none-large-enough",
                    Place("circuits", "device", path.device),
                    fuse=path.called,
                    need=format_current(load / share / path.left),
                    rating=format_current(part.rating_a),
                )
            rating = part.rating_a
        result[path.key] = FuseFacts(
            path.key,
            path.device,
            path.path,
            path.name,
            load,
            rating,
            path.rating_a is not None,
            part,
            path.kind,
            fed_from.get(path.key),
            path.left,
            path.ambient_c,
            way=path.way,
        )
    return result


class Moment(NamedTuple):
    """A load at its inrush or its peak, with what else hangs behind a fuse."""

    load: str
    device: str
    total_a: float
    seconds: float
    """With its repeats."""
    words: str


def loops_behind(loops: Iterable[Loop]) -> dict[str, list[Loop]]:
    """Fuse to the loops that it feeds at once."""
    by_fuse: dict[str, list[Loop]] = {}
    for loop in loops:
        for key in loop.fuses:
            behind = by_fuse.setdefault(key, [])
            if not behind or behind[0].alternative == loop.alternative:
                behind.append(loop)
    return by_fuse


def moments(document: Document, behind: list[Loop]) -> list[Moment]:
    """What a fuse must sit out: each load at its inrush and its peak, on top of what the others carry."""
    steady = sum(loop.current_a for loop in behind)
    asked = []
    for loop in behind:
        load = document.circuits.loads.get(loop.load)
        if load is None:
            continue
        for moment_a, seconds, words in (
            (load.inrush_a, load.inrush_s, "inrush"),
            (load.peak_a, load.peak_s, "peak"),
        ):
            if moment_a is None or seconds is None or moment_a <= load.current_a:
                continue
            long = seconds * (load.peak_repeats if words == "peak" else 1)
            asked.append(Moment(loop.load, loop.device, steady - loop.current_a + moment_a, long, words))
    return asked


def sits_out(catalogue: Catalogue, part: FuseRating, moment: Moment) -> bool:
    """Whether a fuse's fast edge stays closed for a moment."""
    return holds_at_least_s(catalogue.curves[part.curve], moment.total_a, part.rating_a) >= moment.seconds


def raise_for_inrush(
    document: Document, catalogue: Catalogue, fuses: Mapping[str, FuseFacts], loops: Iterable[Loop]
) -> dict[str, FuseFacts]:
    """Fuses; ratings of the program's own are the smallest that also sit out what loads ask for a moment.

    Never more than the contacts behind it are made for: there the builder chooses what to change.
    """
    behind = loops_behind(loops)
    raised = dict(fuses)
    for key, fuse in fuses.items():
        if fuse.fixed or fuse.part is None:
            continue
        asked = [
            m
            for m in moments(document, behind.get(key, []))
            if m.total_a > fuse.rating_a and not sits_out(catalogue, fuse.part, m)
        ]
        if not asked:
            continue
        most_a = _contacts_carry_a(document, catalogue, fuse, behind.get(key, []))
        able = (
            f
            for f in made_as(fuse.kind, catalogue)
            if fuse.rating_a < f.rating_a <= most_a and all(sits_out(catalogue, f, m) for m in asked)
        )
        larger = next(able, None)
        if larger is not None:
            worst = max(asked, key=lambda m: m.total_a)
            words = f"{worst.device} {worst.words}: {format_current(worst.total_a)} for {worst.seconds:.3g} s"
            raised[key] = replace(fuse, part=larger, rating_a=larger.rating_a, sits_out=words)
    return raised


def _contacts_carry_a(document: Document, catalogue: Catalogue, fuse: FuseFacts, behind: list[Loop]) -> float:
    """What the least of the connector families behind a fuse is made for, on its largest wire, in A."""
    most_a = math.inf
    for loop in behind:
        own = next((n for n, c in enumerate(loop.feed) if c.from_pin.startswith(f"{fuse.device}.")), 0)
        pins = [p for c in (*loop.feed[own:], *loop.back) for p in (c.from_pin, c.to_pin)]
        for pin in pins:
            entry = document.ends.pinout.get(pin)
            if entry is None:
                continue
            family = catalogue.connectors[document.ends.connectors[entry.connector].family]
            most_a = min(most_a, max((c.current_by_area[-1][1] for c in family.contacts), default=math.inf))
    return most_a
