"""Connector faces: the same geometry seen from the wire side and from the mating side.

The catalogue gives a face as a plug's wires enter it. Seen from its mating side a plug is the
mirror of that. A receptacle faces the plug, so its mating side shows what the plug's wire side
shows, and its wire side the mirror: way n always meets way n.
"""

from __future__ import annotations

from typing import Literal

from inkthread.core.catalogue import Face
from inkthread.core.document.values import Shell
from inkthread.core.record import record

Side = Literal["wire", "mating"]


@record
class FaceView:
    """One face as it is looked at. Coordinates in mm from the centre, x right, y up."""

    side: Side
    caption: str
    cavities: dict[str, tuple[float, float]]


@record
class MarkView:
    """A feature that tells which way round, as it is looked at. In mm from the centre."""

    kind: str
    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float


def _sign(shell: Shell, side: Side) -> float:
    return -1.0 if (side == "mating") != (shell == "receptacle") else 1.0


def face_view(face: Face, shell: Shell, side: Side) -> FaceView:
    """Cavity positions as seen from one side of one half, with words for the viewer."""
    sign = _sign(shell, side)
    caption = (
        f"the wires come towards you, {face.latch} up"
        if side == "wire"
        else f"what the other half sees, {face.latch} up"
    )
    return FaceView(side, caption, {k: (sign * x + 0.0, y) for k, (x, y) in face.cavities.items()})


def marks_view(face: Face, shell: Shell, side: Side) -> tuple[MarkView, ...]:
    """The latch, key, lever, triangle as seen from one side of one half."""
    sign = _sign(shell, side)
    return tuple(MarkView(m.kind, sign * m.x_mm + 0.0, m.y_mm, m.width_mm, m.height_mm) for m in face.marks)
