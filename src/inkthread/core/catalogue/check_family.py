"""Whether a family of connectors of one's own holds together: what is wrong, where, and what to do."""

from __future__ import annotations

import math
from itertools import combinations

from inkthread.core.catalogue.ends import ConnectorFamily, Contact, Housing, Seal
from inkthread.core.catalogue.types import Catalogue
from inkthread.core.record import record


@record
class PartProblem:
    """What is wrong in a file of parts: where, what, and what to do."""

    path: str
    message: str
    remedy: str


def check_window(base: str, low: str, least: float, high: str, most: float) -> list[PartProblem]:
    """What is wrong with a window from ``low`` to ``high`` at ``base``."""
    if 0 <= least <= most:
        return []
    message = f"From {least:g} to {most:g} is no window: {low} must be 0 or more and at most {high}."
    return [PartProblem(f"{base}/{low}", message, "Exchange or correct them.")]


def check_family(catalogue: Catalogue, family: ConnectorFamily, base: str = "") -> list[PartProblem]:
    """What is wrong with a connector family: ways, geometry, windows, prices, what it can take."""
    problems: list[PartProblem] = []

    def bad(path: str, message: str, remedy: str) -> None:
        problems.append(PartProblem(f"{base}{path}", message, remedy))

    if not family.housings:
        bad("/housings", "There is no housing.", "Give at least one, with its ways and face.")
    if not family.contacts:
        bad("/contacts", "There is no contact.", "Give at least one.")
    ways = [h.ways for h in family.housings]
    for n, h in enumerate(family.housings):
        if ways.count(h.ways) > 1:
            bad(f"/housings/{n}/ways", f"{h.ways} ways are there twice.", "Give each number of ways once.")
        problems += _check_housing(h, f"{base}/housings/{n}")
    for n, c in enumerate(family.contacts):
        _check_contact(catalogue, c, f"/contacts/{n}", base, problems)
    problems += _check_seals(family.seals, base)
    if family.sealed and family.seals and family.cavity_plug is None and max(ways, default=1) > 1:
        bad("/cavity_plug", "Sealed, but nothing plugs an unused way.", "Give the plug.")
    if family.temperature_c <= family.full_to_c:
        bad("/full_to_c", "Full current is promised above its temperature.", "Lower full_to_c.")
    return problems


_ONE_PLACE_MM = 0.2
"""Ways nearer than this to each other, each way, are at one place."""


def _check_housing(housing: Housing, at: str) -> list[PartProblem]:
    problems: list[PartProblem] = []
    face = housing.face
    if len(face.cavities) != housing.ways:
        message = f"{housing.ways} ways, but {len(face.cavities)} places on the face."
        problems.append(PartProblem(f"{at}/face/cavities", message, "Give one place for each way."))
    for (a, p), (b, q) in combinations(face.cavities.items(), 2):
        if abs(p[0] - q[0]) < _ONE_PLACE_MM and abs(p[1] - q[1]) < _ONE_PLACE_MM:
            message = f"Ways {a} and {b} are at one place."
            problems.append(PartProblem(f"{at}/face/cavities/{b}", message, "Move one of them."))
    for a, p in face.cavities.items():
        if abs(p[0]) > face.width_mm / 2 or abs(p[1]) > face.height_mm / 2:
            message = f"Way {a} lies outside the face."
            problems.append(PartProblem(f"{at}/face/cavities/{a}", message, "Correct face or place."))
    for way in set(housing.roles) - set(face.cavities):
        problems.append(
            PartProblem(f"{at}/roles/{way}", f"There is no way {way}.", "Name a way of the face.")
        )
    for shell, part in (*housing.shells.items(), *housing.locks.items()):
        if part.price < 0 or part.mass_g < 0:
            problems.append(
                PartProblem(f"{at}/{shell}/price", f"{part.code}: below zero.", "Give 0 or more.")
            )
    return problems


def _check_seals(seals: tuple[Seal, ...], base: str) -> list[PartProblem]:
    problems: list[PartProblem] = []
    for n, s in enumerate(seals):
        at = f"{base}/seals/{n}"
        problems += check_window(at, "od_min_mm", s.od_min_mm, "od_max_mm", s.od_max_mm)
        for m, other in enumerate(seals):
            if m != n and other.od_min_mm <= s.od_min_mm and s.od_max_mm <= other.od_max_mm:
                message = f"The windows overlap: {s.code} lies inside {other.code} and is never used."
                problems.append(PartProblem(f"{at}/od_min_mm", message, "Part the windows, or take one out."))
        if s.price < 0:
            problems.append(PartProblem(f"{at}/price", f"A price of {s.price:g}.", "Give 0 or more."))
    return problems


def _check_contact(
    catalogue: Catalogue, c: Contact, path: str, base: str, problems: list[PartProblem]
) -> None:
    at = f"{base}{path}"
    problems += check_window(
        at, "conductor_min_mm2", c.conductor_min_mm2, "conductor_max_mm2", c.conductor_max_mm2
    )
    problems += check_window(
        at, "insulation_min_mm", c.insulation_min_mm, "insulation_max_mm", c.insulation_max_mm
    )
    problems += check_window(at, "copper_least_mm", c.copper_least_mm, "copper_most_mm", c.copper_most_mm)
    # Copper is thinner than what insulates it: where it is not, gauges were put down for areas.
    across = 2 * math.sqrt(max(c.conductor_min_mm2, 0.0) / math.pi)
    if across > c.insulation_max_mm > 0:
        message = (
            f"{c.conductor_min_mm2:g} mm² of copper is {across:.1f} mm thick, and does not go into "
            f"insulation of {c.insulation_max_mm:g} mm."
        )
        remedy = "If these are gauges (AWG), give their areas: 20 AWG is 0.52 mm²."
        problems.append(PartProblem(f"{at}/conductor_min_mm2", message, remedy))
    if c.price < 0 or c.mass_g < 0:
        problems.append(PartProblem(f"{at}/price", f"{c.code}: below zero.", "Give 0 or more."))
    if not c.current_by_area or [a for a, _ in c.current_by_area] != sorted(a for a, _ in c.current_by_area):
        problems.append(PartProblem(f"{at}/current_by_area", "Areas must rise.", "Order the rows by area."))
    taken = any(
        c.conductor_min_mm2 <= s.area_mm2 <= c.conductor_max_mm2
        and c.insulation_min_mm <= s.od_mm <= c.insulation_max_mm
        for w in catalogue.wires.values()
        for s in w.sizes
    )
    if not taken:
        window = f"{c.conductor_min_mm2:g} to {c.conductor_max_mm2:g} mm²"
        message = f"{c.code} takes no wire that is held here ({window}, {c.insulation_min_mm:g} to "
        message += f"{c.insulation_max_mm:g} mm over insulation)."
        problems.append(
            PartProblem(f"{at}/conductor_min_mm2", message, "Correct the ranges; areas are in mm².")
        )
    if c.pull and c.pull not in catalogue.pull:
        known = ", ".join(catalogue.pull)
        problems.append(PartProblem(f"{at}/pull", f"No table {c.pull!r} is held.", f"Known: {known}."))
    for n, row in enumerate(c.tools):
        problems += check_window(
            f"{at}/tools/{n}", "area_min_mm2", row.area_min_mm2, "area_max_mm2", row.area_max_mm2
        )
        for m, other in enumerate(c.tools[:n]):
            same = (row.tool, row.depth) == (other.tool, other.depth)
            if same and row.area_min_mm2 < other.area_max_mm2 and other.area_min_mm2 < row.area_max_mm2:
                message = (
                    f"Nests {other.nest} and {row.nest} of {row.tool} overlap in area (rows {m} and {n})."
                )
                problems.append(PartProblem(f"{at}/tools/{n}/area_min_mm2", message, "Part the windows."))
