"""Ends: the contact, seal, plug and lock of every cavity; splices; faces from both sides."""

from inkthread.core.ends.faces import FaceView, face_view
from inkthread.core.ends.fit import choose_contact, choose_seal
from inkthread.core.ends.fitted import CavityEnd, ConnectorEnds, FacePair
from inkthread.core.ends.fittings import Fittings
from inkthread.core.ends.room import EndsResult, ends_room
from inkthread.core.ends.splices import SpliceEnd
from inkthread.core.ends.tools import ToolNeed, tools_needed

__all__ = [
    "CavityEnd",
    "ConnectorEnds",
    "EndsResult",
    "FacePair",
    "FaceView",
    "Fittings",
    "SpliceEnd",
    "ToolNeed",
    "choose_contact",
    "choose_seal",
    "ends_room",
    "face_view",
    "tools_needed",
]
