"""What a harness lies on and passes: edges of openings, clamps and how far apart, parts that move."""

from __future__ import annotations

from inkthread.core.brief import BriefResult
from inkthread.core.document.pin_ref import device_of
from inkthread.core.document.problems import pointer
from inkthread.core.document.types import Document
from inkthread.core.findings import FindingBook, Place, phrase
from inkthread.core.measures import format_length
from inkthread.core.words import list_in_words


def find_at_edges(
    document: Document, brief: BriefResult, zones: dict[str, tuple[str, ...]], book: FindingBook
) -> None:
    """Openings of which nobody says how their edge is, spans over the rule, clamps at an edge, leads that
    move with nothing to spare. What passes a bare edge is judged where the bundle is known.
    """
    units = document.brief.measures
    points, branches = document.route.points, document.route.branches
    for point_id, point in points.items():
        if (point.kind == "opening" or point.opening_mm is not None) and point.edge == "not said":
            path = pointer(["route", "points", point_id, "edge"])
            book.add(
                "edge-not-said",
                Place("route", "point", point_id),
                mechanical=(phrase("grommet"), ({"op": "replace", "path": path, "value": "grommet"},)),
                point=point.name or point_id,
            )
    rule_mm = brief.value("support_mm")
    clear_mm = brief.value("clamp_clear_mm")
    for branch_id, b in branches.items():
        place = Place("route", "branch", branch_id)
        name = f"{b.from_point} to {b.to_point}"
        if b.support_mm is not None and b.support_mm > rule_mm:
            book.add(
                "span-unheld",
                place,
                branch=name,
                span=format_length(b.support_mm, units, rule_mm),
                limit=format_length(rule_mm, units),
            )
        ends = (points[b.from_point], points[b.to_point])
        edges = [p for p in ends if p.edge == "bare metal"]
        if edges and any(p.kind == "clamp" for p in ends) and b.length_mm < clear_mm:
            book.add(
                "clamp-at-edge",
                place,
                branch=name,
                length=format_length(b.length_mm, units, clear_mm),
                limit=format_length(clear_mm, units),
            )
    _moving(document, book)


def _moving(document: Document, book: FindingBook) -> None:
    """A device that moves on a branch that keeps no slack: its wire is what stretches."""
    at: dict[str, list[str]] = {}
    for ref, entry in document.ends.pinout.items():
        device_id = device_of(ref)
        point = document.ends.connectors[entry.connector].point
        if document.circuits.devices[device_id].moving and point is not None:
            devices_at = at.setdefault(point, [])
            if device_id not in devices_at:
                devices_at.append(device_id)
    for branch_id, b in document.route.branches.items():
        for point in (b.from_point, b.to_point):
            if point in at and b.slack_mm == 0 and not document.route.points[point].slack_mm:
                path = pointer(["route", "branches", branch_id, "slack_mm"])
                book.add(
                    "moves-without-slack",
                    Place("route", "branch", branch_id),
                    *(Place("circuits", "device", d) for d in at[point]),
                    mechanical=(
                        phrase("slack"),
                        ({"op": "replace", "path": path, "value": None},),
                    ),
                    devices=list_in_words(at[point]),
                    branch=f"{b.from_point} to {b.to_point}",
                )
