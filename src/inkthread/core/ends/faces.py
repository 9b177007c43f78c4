"""Connector faces: the same geometry seen from the wire side and from the mating side.

The catalogue gives a face as a plug's wires enter it. Seen from its mating side a plug is the
mirror of that. A receptacle faces the plug, so its mating side shows what the plug's wire side
shows, and its wire side the mirror: way n always meets way n.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from inkthread.core.catalogue import Face
from inkthread.core.document.types import Shell

Side = Literal["wire", "mating"]


@dataclass(frozen=True, slots=True)
class FaceView:
    """One face as it is looked at. Coordinates in mm from the centre, x right, y up."""

    side: Side
    caption: str
    cavities: dict[str, tuple[float, float]]


def face_view(face: Face, shell: Shell, side: Side) -> FaceView:
    """Cavity positions as seen from one side of one half, with words for the viewer."""
    mirrored = (side == "mating") != (shell == "receptacle")
    sign = -1.0 if mirrored else 1.0
    caption = (
        f"the wires come towards you, {face.latch} up"
        if side == "wire"
        else f"what the other half sees, {face.latch} up"
    )
    return FaceView(side, caption, {k: (sign * x + 0.0, y) for k, (x, y) in face.cavities.items()})
