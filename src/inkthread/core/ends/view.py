"""What is shown of the ends, and how they open."""

from __future__ import annotations

from inkthread.core.document.types import Document
from inkthread.core.ends.fitted import ConnectorEnds, FacePair
from inkthread.core.ends.splices import SpliceEnd
from inkthread.core.opening import Opening, many
from inkthread.core.record import record


@record
class EndsView:
    """Connectors and splices as fitted."""

    connectors: dict[str, ConnectorEnds]
    splices: dict[str, SpliceEnd]
    faces: dict[str, FacePair]


def ends_opening(words: dict[str, str], document: Document) -> Opening:
    """How many device pins have their cavity."""
    connectors, pinout = document.ends.connectors, document.ends.pinout
    if not connectors:
        return Opening("empty", 0, words["none"])
    pins = [ref for c in document.circuits.circuits.values() for ref in c.ends]
    placed = sum(ref in pinout for ref in pins)
    sentence = words["fitted"].format(
        connectors=many(len(connectors), "connector"), placed=placed, wanted=len(pins)
    )
    return Opening("full" if placed == len(pins) else "begun", len(connectors), sentence)
