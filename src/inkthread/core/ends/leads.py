"""Leads with terminals at both ends: bought made, or with two elbows."""

from __future__ import annotations

from collections.abc import Mapping

from inkthread.core.catalogue import Contact
from inkthread.core.document.types import Document
from inkthread.core.ends.fit import WireEnd
from inkthread.core.findings import FindingBook, Place
from inkthread.core.measures import Measures, format_length
from inkthread.core.route import Section


def find_made_leads(
    sections: dict[str, Section],
    contacts: Mapping[tuple[str, str], Contact],
    units: Measures,
    book: FindingBook,
) -> None:
    """Leads that come with both ends made on: their length is as it is bought."""
    if not any(contact.factory for contact in contacts.values()):
        return
    for key, section in sections.items():
        terminals = [contacts.get((end.id, key)) for end in (section.a, section.b)]
        if all(c is not None and c.factory for c in terminals):
            book.add(
                "both-ends-made",
                Place("wire", "wire", key),
                wire=section.label,
                length=format_length(section.length_mm + section.slack_mm, units),
            )


def find_unclocked(
    document: Document, contacts: dict[WireEnd, Contact], sections: dict[str, Section], book: FindingBook
) -> None:
    """Leads with an elbow at both ends: the turn between them is part of the lead."""
    if not any(contact.angle_deg for contact in contacts.values()):
        return
    for section in sections.values():
        ends = [e for e in (section.a, section.b) if e.kind == "pin"]
        if len(ends) < 2 or not all(
            (c := contacts.get((e.id, section.key))) is not None and c.angle_deg for e in ends
        ):
            continue
        if all(document.ends.pinout[e.id].clock_deg is None for e in ends):
            book.add(
                "elbows-not-clocked",
                Place("ends", "pin", ends[0].id),
                Place("ends", "pin", ends[1].id),
                Place("wire", "wire", section.key),
                one=f"{ends[0].connector}-{ends[0].cavity}",
                other=f"{ends[1].connector}-{ends[1].cavity}",
            )
