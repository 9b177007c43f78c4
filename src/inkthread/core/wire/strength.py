"""Least copper for strength: more where a wire shakes or bends, less in a cable."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from inkthread.core.brief import BriefResult
from inkthread.core.catalogue import WireFamily
from inkthread.core.document.pin_ref import device_of
from inkthread.core.document.types import Document
from inkthread.core.physics.conductor import BoolArray, FloatArray, IntArray
from inkthread.core.route import Section
from inkthread.core.wire.families import CandidateTable, strength_areas_mm2

CORE_SHARE = 0.6
"""A core held in a cable may have this share of the least copper (24 AWG where 22 is the least)."""


def bending_wires(
    document: Document, zones_of: dict[str, tuple[str, ...]], sections: Iterable[Section]
) -> list[str]:
    """Wires that bend as the machine works: in a flex zone, or at a device that moves on it."""
    zones, devices = document.brief.zones, document.circuits.devices
    flexing = {b for b, zone_ids in zones_of.items() if any(zones[z].flex for z in zone_ids)}
    return [
        s.key
        for s in sections
        if flexing.intersection(s.branches)
        or any(e.kind == "pin" and devices[device_of(e.id)].moving for e in (s.a, s.b))
    ]


def moving_wires(
    document: Document, zones_of: dict[str, tuple[str, ...]], sections: Iterable[Section]
) -> set[str]:
    """Wires that shake or bend on their way, or end at a device that moves on the machine."""
    zones, devices = document.brief.zones, document.circuits.devices
    shaking = {
        b for b, zone_ids in zones_of.items() if any(zones[z].vibration or zones[z].flex for z in zone_ids)
    }
    return {
        s.key
        for s in sections
        if shaking.intersection(s.branches)
        or any(e.kind == "pin" and devices[device_of(e.id)].moving for e in (s.a, s.b))
    }


def strength_areas_mm2_of(
    brief: BriefResult,
    moved: BoolArray,
    table: CandidateTable,
    index: IntArray,
) -> FloatArray:
    """What every candidate counts as against the least size of its wire, in mm2. (n, k). ``moved`` (n,) says
    which wires shake or bend."""
    still = strength_areas_mm2(table, brief.value("least_area_mm2"))
    moving = strength_areas_mm2(table, brief.value("least_area_moving_mm2"))
    if brief.value("least_area_moving_mm2") < brief.value("least_area_mm2"):
        moving = still
    return np.where(moved[:, None], moving[index], still[index])


def least_areas(
    brief: BriefResult,
    moved: BoolArray,
    families: dict[str, WireFamily],
    codes: list[tuple[str, ...]],
) -> FloatArray:
    """Least copper of every wire by practice, more where it shakes or flexes, less inside a cable. ``moved``
    (n,) says which shake or bend."""
    still, moving = brief.value("least_area_mm2"), brief.value("least_area_moving_mm2")
    cores = {code for code, family in families.items() if family.cores > 1}
    is_core = np.array([of_wire[0] in cores for of_wire in codes], dtype=bool)
    least_mm2 = np.where(moved, max(still, moving), still)
    return np.asarray(np.where(is_core, least_mm2 * CORE_SHARE, least_mm2), dtype=float)
