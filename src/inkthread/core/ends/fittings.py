"""What is fitted on every connector and splice, whatever the wires carry."""

from __future__ import annotations

from inkthread.core.catalogue import Accessory, Contact, Seal, SpliceSize
from inkthread.core.ends.fit import Crimp, WireEnd
from inkthread.core.ends.fitted import ConnectorEnds
from inkthread.core.ends.joints import Joint
from inkthread.core.ends.splices import SpliceEnd
from inkthread.core.record import record


@record
class Fittings:
    """Connectors and splices as fitted; contacts, seals and tools by wire end. The same object where an edit
    changed none of it.
    """

    connectors: dict[str, ConnectorEnds]
    contacts: dict[WireEnd, Contact]
    seals: dict[WireEnd, Seal]
    crimps: dict[WireEnd, Crimp]
    """The tool for each contact; absent where no tool is on record."""
    accessories: dict[str, tuple[Accessory, ...]]
    """What each connector needs or is wanted on it, beside its housing and lock."""
    splices: dict[str, SpliceEnd]
    """By id."""
    joints: dict[str, Joint]
    """The parts chosen for each splice."""
    blocks: dict[str, int]
    """Block to the studs it needs."""

    @property
    def splice_sizes(self) -> dict[str, SpliceSize]:
        """The barrel of each splice."""
        return {k: joint.part for k, joint in self.joints.items()}
