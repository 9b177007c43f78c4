"""How a wire is joined to its contact: which ways suit it, what each asks for, what speaks against it."""

from __future__ import annotations

from inkthread.core.catalogue import Catalogue, Contact
from inkthread.core.document.types import Document
from inkthread.core.document.values import JointAs
from inkthread.core.ends.surroundings import zones_at
from inkthread.core.record import record

HOT_C = 125.0
"""Above this soft solder creeps (common practice)."""
_SOLDER = ("soldered", "solder sleeve")


@record
class JointMethod:
    """One way, judged."""

    name: JointAs
    suits: bool
    """Whether the contact is made for it."""
    chosen: bool
    prepare: str
    against: tuple[str, ...]
    """What speaks against it where the end lies."""


def joined_as(document: Document, contact: Contact, ref: str) -> str:
    """The way in which an end is joined: the builder's, else the contact's own."""
    said = document.ends.pinout[ref].joint
    if said != "as its part":
        return said
    return {"crimp": "crimped", "solder": "soldered", "clamp": "clamped"}[contact.joint]


def is_soldered(document: Document, contact: Contact, ref: str) -> bool:
    """Whether solder joins it."""
    return joined_as(document, contact, ref) in _SOLDER


def suits(catalogue: Catalogue, contact: Contact, method: str) -> bool:
    """Whether a contact is made for a way of joining; its own always suits."""
    own = {"crimp": "crimped", "solder": "soldered", "clamp": "clamped"}[contact.joint]
    return method == own or contact.kind in catalogue.rescue.methods[method].joins


def joint_methods(
    document: Document, catalogue: Catalogue, contact: Contact, ref: str, ambient_c: float | None
) -> tuple[JointMethod, ...]:
    """Every way, those that suit first. Common practice, no source."""
    connector = document.ends.connectors[document.ends.pinout[ref].connector]
    zones = zones_at(document, connector.point)
    so = {
        "vibration": any(z.vibration for z in zones),
        "flex": any(z.flex for z in zones),
        "wet": any(z.has_water for z in zones),
        "hot": ambient_c is not None and ambient_c > HOT_C,
    }
    now = joined_as(document, contact, ref)
    names: tuple[JointAs, ...] = ("crimped", "soldered", "solder sleeve", "clamped", "welded")
    methods = [
        JointMethod(
            name,
            suits(catalogue, contact, name),
            name == now,
            catalogue.rescue.methods[name].prepare,
            tuple(words for what, words in catalogue.rescue.methods[name].against.items() if so[what]),
        )
        for name in names
    ]
    return tuple(sorted(methods, key=lambda m: (not m.suits, len(m.against))))
