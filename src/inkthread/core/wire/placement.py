"""Where the wires lie: which stretches of which branches, in which air, beside which others.

A bundle is a stretch of a branch in one air, or a point at which wires stay. Every (wire, bundle) pair
is a row.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from inkthread.core.brief import Air, BriefResult
from inkthread.core.brief.airs import Stretch
from inkthread.core.catalogue.coverings import Insulates
from inkthread.core.document.types import Document
from inkthread.core.physics.conductor import BoolArray, FloatArray, IntArray
from inkthread.core.physics.heat import cover_k_m_per_w
from inkthread.core.record import record
from inkthread.core.route import Section
from inkthread.core.tolerances import HAIR_MM, NOUGHT

_AT_A_POINT_MM = 1.0
"""A wire that stays at a point counts as this long there, where it has no slack."""

Surroundings = tuple[float, float]
"""Ambient in deg C, and heat that falls on what lies there in W/m2."""


@record
class WirePlacement:
    """Rows are (wire, bundle) pairs, bundle by bundle."""

    wire: IntArray
    bundle: IntArray
    length_mm: FloatArray
    """Of the wire in the bundle."""
    airs: tuple[Surroundings, ...]
    """Every air that a wire meets, cooler first."""
    branch: tuple[str | None, ...]
    """By bundle: the branch it is a stretch of, or None at a point."""
    point: tuple[str | None, ...]
    zone: tuple[str | None, ...]
    """By bundle."""
    air: IntArray
    """By bundle: place of its air in ``airs``."""
    hottest: IntArray
    """By wire: place of the hottest air on its way."""
    air_share: FloatArray
    """(n, airs): share of each wire's length in each air."""
    engine_space: BoolArray
    """By wire: whether any of its way is an engine space."""
    altitude_m: float
    covers: tuple[Insulates, ...] = ()
    """By bundle: how what covers it keeps the heat in; empty where nothing is known of that."""

    def cover_k_m_per_w(self, diameter_mm: FloatArray) -> FloatArray:
        """By bundle, for outlines of these diameters."""
        if not self.covers:
            return np.zeros(len(diameter_mm))
        gap, gap_k, wall, wall_k = np.array(
            [(c.gap_mm, c.gap_w_per_m_k, c.wall_mm, c.wall_w_per_m_k) for c in self.covers]
        ).T
        return cover_k_m_per_w(np.maximum(diameter_mm, HAIR_MM), gap, gap_k, wall, wall_k)

    def only(self, bundles: IntArray) -> WirePlacement:
        """The same with some of its bundles, counted anew, and the rows that lie in them."""
        place = np.full(len(self.branch), -1, dtype=np.intp)
        place[bundles] = np.arange(len(bundles))
        rows = place[self.bundle] >= 0
        return replace(
            self,
            wire=self.wire[rows],
            bundle=place[self.bundle[rows]],
            length_mm=self.length_mm[rows],
            branch=tuple(self.branch[b] for b in bundles),
            point=tuple(self.point[b] for b in bundles),
            zone=tuple(self.zone[b] for b in bundles),
            air=self.air[bundles],
            covers=tuple(self.covers[b] for b in bundles) if self.covers else (),
        )

    @property
    def ambient_c(self) -> FloatArray:
        """By bundle."""
        return np.array([a for a, _ in self.airs])[self.air] if self.airs else np.zeros(0)

    @property
    def radiant_w_per_m2(self) -> FloatArray:
        """By bundle."""
        return np.array([r for _, r in self.airs])[self.air] if self.airs else np.zeros(0)

    @property
    def hottest_c(self) -> FloatArray:
        """By wire: the hottest ambient on its way."""
        return np.array([a for a, _ in self.airs])[self.hottest] if self.airs else np.zeros(0)

    def mean_along(self, by_row: FloatArray) -> FloatArray:
        """Mean of a figure of every row along each wire, by length. (n,)."""
        count = len(self.hottest)
        weight = np.maximum(self.length_mm, HAIR_MM)
        total = np.bincount(self.wire, weight, minlength=count)
        return np.asarray(
            np.bincount(self.wire, weight * by_row, minlength=count) / np.maximum(total, NOUGHT)
        )

    def most_along(self, by_row: FloatArray) -> FloatArray:
        """The most of a figure of every row along each wire. (n,)."""
        most = np.full(len(self.hottest), -np.inf)
        np.maximum.at(most, self.wire, by_row)
        return most

    def wires_beside(self) -> IntArray:
        """The most wires that each wire lies in one bundle with, itself counted."""
        counts = np.bincount(self.bundle, minlength=max(len(self.branch), 1))
        most = np.ones(len(self.hottest), dtype=np.intp)
        np.maximum.at(most, self.wire, counts[self.bundle])
        return most

    def name(self, document: Document, bundle: int) -> str:
        """A bundle in words: ``tail to M1``, or ``at F1``."""
        points = document.route.points
        branch, point = self.branch[bundle], self.point[bundle]
        if branch is None:
            return f"at {points[point].name or point}" if point in points else "at one point"
        ends = document.route.branches[branch]
        return f"{ends.from_point} to {ends.to_point}"


def _passed(
    airs: dict[str, tuple[Stretch, ...]], section: Section, keys: dict[tuple[str, object], int]
) -> list[tuple[int, float]]:
    """The bundles along the way of a wire, each with how much of it lies there in mm."""
    passed_bundles: list[tuple[int, float]] = []
    for branch, low, high in section.spans:
        stretches = airs[branch]
        if len(stretches) == 1 and high > low:  # all of it lies in one air
            passed_bundles.append((keys[branch, stretches[0].from_mm], high - low))
            continue
        for s in stretches:
            passed = min(high, s.to_mm) - max(low, s.from_mm)
            if passed > 0 or (low == high and s.from_mm <= low <= s.to_mm):
                passed_bundles.append((keys[branch, s.from_mm], max(passed, 0.0)))
    return passed_bundles


def place_wires(
    document: Document, brief: BriefResult, sections: list[Section], points_bundle: bool
) -> WirePlacement:
    """Rows of every wire. Wires that stay at a point are one bundle there where ``points_bundle``,
    else each lies by itself."""
    zones = document.brief.zones
    keys: dict[tuple[str, object], int] = {}
    where: list[tuple[str | None, str | None, Air]] = []
    at_bundle: list[int] = []
    of_wire: list[int] = []
    length_mm: list[float] = []

    def bundle(key: tuple[str, object], branch: str | None, point: str | None, air: Air) -> int:
        if key not in keys:
            keys[key] = len(where)
            where.append((branch, point, air))
        return keys[key]

    for branch, stretches in brief.airs.items():
        for s in stretches:
            bundle((branch, s.from_mm), branch, None, s.air)
    for i, section in enumerate(sections):
        passed_bundles = _passed(brief.airs, section, keys)
        if not passed_bundles:
            point = section.a.point
            own = point if points_bundle else (point, i)
            at = bundle(("@", own), None, point, brief.point_airs[point])
            passed_bundles.append((at, max(section.slack_mm, _AT_A_POINT_MM)))
        for at, length in passed_bundles:
            at_bundle.append(at)
            of_wire.append(i)
            length_mm.append(length)
    airs = sorted({air.severity for _, _, air in where})
    at_air = {air: n for n, air in enumerate(airs)}
    order = np.lexsort((length_mm, of_wire, at_bundle))
    bundles = np.array(at_bundle, dtype=np.intp)[order]
    wire = np.array(of_wire, dtype=np.intp)[order]
    long = np.array(length_mm, dtype=float)[order]
    hot_space = np.array([a.zone is not None and zones[a.zone].engine_space for _, _, a in where], dtype=bool)
    engine = np.zeros(len(sections), dtype=bool)
    np.logical_or.at(engine, wire, hot_space[bundles])
    air_of = np.array([at_air[a.severity] for _, _, a in where], dtype=np.intp)
    hottest = np.zeros(len(sections), dtype=np.intp)
    share = np.zeros((len(sections), len(airs)))
    if len(wire):
        np.maximum.at(hottest, wire, air_of[bundles])
        np.add.at(share, (wire, air_of[bundles]), np.maximum(long, HAIR_MM))
        share /= share.sum(axis=1, keepdims=True)
    return WirePlacement(
        wire,
        bundles,
        long,
        tuple(airs),
        tuple(b for b, _, _ in where),
        tuple(p for _, p, _ in where),
        tuple(a.zone for _, _, a in where),
        air_of,
        hottest,
        share,
        engine,
        document.brief.altitude_m,
    )
