"""Steps on the ends of wires: what goes on first, strip, contact, look and tug, into its cavity, locks."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any, NamedTuple

from inkthread.core.build.bundles import LED_THROUGH
from inkthread.core.build.operations import Maker
from inkthread.core.build.pieces import LINED, PLAIN
from inkthread.core.catalogue import Contact
from inkthread.core.dress import Labelled, ShrinkPiece
from inkthread.core.ends import ConnectorEnds
from inkthread.core.ends.methods import joined_as
from inkthread.core.ends.pairs import ANY_WAY
from inkthread.core.ends.tools import strippers_for

_NOT_CRIMPED = {"soldered": "solder", "solder sleeve": "solder-sleeve", "welded": "weld"}
"""Ways to join that have a step of their own."""
OPENED_FIRST = ("wedge", "position assurance", "lever")
_FITTED = (*LED_THROUGH, "jack screws", "clip", "cap", "handle", "separator", "frame")


class _Behind(NamedTuple):
    """What goes on wires before their ends are made, over the whole harness."""

    labels: Mapping[tuple[str, str], Sequence[Labelled]]
    """By wire and connector."""
    barrels: Mapping[str, Sequence[ShrinkPiece]]
    """By connector."""
    strippers: dict[tuple[str, str], tuple[str, str]]
    """By family and gauge: stripper and notch."""


def end_steps(m: Maker) -> None:
    """Every end of every wire, connector by connector."""
    labels: dict[tuple[str, str], list[Labelled]] = {}
    for label in m.rooms.dress.labels.labels:
        labels.setdefault((label.of, label.at), []).append(label)
    barrels: dict[str, list[ShrinkPiece]] = {}
    for piece in m.rooms.dress.shrinks:
        if piece.over_barrel:
            barrels.setdefault(piece.place, []).append(piece)
    behind = _Behind(labels, barrels, {})
    for connector in m.rooms.ends.connectors.values():
        _connector(m, connector, behind)


def _connector(m: Maker, connector: ConnectorEnds, behind: _Behind) -> None:
    connector_id, family = connector.id, m.catalogue.connectors[connector.family]
    by_cavity: dict[str, list[tuple[str, str]]] = {}
    for cavity in connector.cavities:
        if cavity.wire is not None and cavity.pin is not None and cavity.wire in m.ready:
            by_cavity.setdefault(cavity.cavity, []).append((cavity.pin, cavity.wire))
    if not by_cavity:
        return
    lock = next((k for k in family.locks if k in OPENED_FIRST), "") if not family.loose else ""
    opened = (
        [m.put("open-lock", connector_id, place=connector_id, lock=lock, card=f"open {connector_id}")]
        if lock
        else []
    )
    done: list[str] = []
    for cavity_name, ends in by_cavity.items():
        # A loose end is as wide as its terminal: what goes over the bundle is on before it is made.
        first = m.waits.get(connector_id, ()) if family.loose else ()
        done_ends = [
            step
            for end in ends
            if (step := _end(m, connector_id, cavity_name, end, behind, first)) is not None
        ]
        contact = m.rooms.ends.contacts.get(ends[0])
        if family.loose or contact is None or contact.joint == "clamp" or contact.kind == "end":
            done += done_ends
        else:
            done.append(
                _insert(
                    m, connector_id, cavity_name, ends, [*done_ends, *opened, *m.waits.get(connector_id, ())]
                )
            )
    done += m.waits.get(connector_id, ())
    plugs: dict[str, list[str]] = {}
    for cavity in connector.cavities:
        if cavity.cavity_plug is not None:
            plugs.setdefault(cavity.cavity_plug, []).append(cavity.cavity)
    for code, cavities in plugs.items():
        done.append(
            m.put(
                "plug", f"{code} {connector_id}", place=connector_id, parts=(code,), times=len(cavities),
                count=str(len(cavities)), cavities=", ".join(cavities), card=f"close {connector_id}",
            )
        )  # fmt: skip
    _close(m, connector, lock, done)


def _close(m: Maker, connector: ConnectorEnds, lock: str, done: list[str]) -> None:
    connector_id = connector.id
    if lock:
        parts = (connector.lock,) if connector.lock else ()
        done = [
            m.put(
                "close-lock",
                connector_id,
                after=done,
                place=connector_id,
                lock=lock,
                parts=parts,
                card=f"close {connector_id}",
            )
        ]
    for accessory in m.rooms.ends.accessories.get(connector_id, ()):
        if accessory.kind in _FITTED:
            done = [
                m.put(
                    "fit-accessory", f"{accessory.code} {connector_id}", after=done, place=connector_id,
                    parts=(accessory.code,), card=f"close {connector_id}",
                )
            ]  # fmt: skip
    m.shut[connector_id] = m.put(
        "inspect-connector", connector_id, after=done, place=connector_id, card=f"close {connector_id}"
    )


def _end(
    m: Maker, connector_id: str, cavity: str, end: tuple[str, str], behind: _Behind, first: Sequence[str]
) -> str | None:
    """One end of a wire up to its contact; the last step of it, None where nothing is made there."""
    pin, key = end
    contact, wire = m.rooms.ends.contacts.get(end), m.rooms.wire.wires[key]
    ready, of = m.ready[key], f"{key} at {pin}"
    shared: dict[str, Any] = {
        "place": connector_id,
        "wires": (key,),
        "end": pin,
        "cavity": cavity,
        "card": f"end {of}",
    }
    before = [*ready, *first]
    for label in behind.labels.get((key, connector_id), ()):
        before.append(m.put("thread-label", of, after=ready, parts=(label.code,), text=label.text, **shared))
    if contact is None or contact.factory or not contact.strip_mm:
        return before[-1]
    barrel = _barrel(behind.barrels.get(connector_id, ()), contact, wire.od_mm)
    if barrel is not None:
        before.append(m.put("thread-barrel", of, after=ready, parts=(barrel.code,), **shared))
    seal = m.rooms.ends.seals.get(end)
    if seal is not None:
        before.append(m.put("thread-seal", of, after=ready, parts=(seal.code,), **shared))
    stripper, notch = _stripper(m, key, behind)
    bare_mm, off_mm = contact.strip_mm, contact.strip_tolerance_mm
    before.append(
        m.put(
            "strip", of, after=ready, tool=stripper, setting=" ".join((m.length(bare_mm), notch)).strip(),
            length=m.length(bare_mm), least=m.length(bare_mm - off_mm), most=m.length(bare_mm + off_mm),
            notch=f"; {notch}" if notch else "", **shared,
        )
    )  # fmt: skip
    done = _joined(m, of, contact, end, before, shared)
    if barrel is not None:
        lining = LINED if barrel.lined else PLAIN
        done = m.put("shrink-barrel", of, after=(done,), parts=(barrel.code,), lining=lining, **shared)
    return done


def _joined(
    m: Maker, of: str, contact: Contact, end: tuple[str, str], before: Sequence[str], shared: dict[str, Any]
) -> str:
    """The contact on its wire, looked at and tugged."""
    if contact.joint == "clamp":
        opened = m.put("open-clamp", of, **shared)
        torque = f"{contact.torque_nm:g} N m" if contact.torque_nm else "as its part says"
        shut = m.put("clamp", of, after=(*before, opened), parts=(contact.code,), torque=torque, **shared)
        return m.put("strands", of, after=(shut,), **shared)
    tool, setting = "", ""
    as_joined = joined_as(m.document, contact, end[0])
    if as_joined in _NOT_CRIMPED:
        done = m.put(_NOT_CRIMPED[as_joined], of, after=before, parts=(contact.code,), **shared)
    else:
        crimp = m.rooms.ends.crimps.get(end)
        nest = f"nest {crimp.nest}" if crimp is not None and crimp.nest not in ("", "-") else ""
        connector_id = m.document.ends.pinout[end[0]].connector
        turn = m.catalogue.connectors[m.document.ends.connectors[connector_id].family].turn
        lying = turn not in ("", ANY_WAY) and contact.kind in ("stamped", "machined")
        tool = crimp.tool if crimp is not None else ""
        proved = ", proved here" if crimp is not None and crimp.proven else ""
        setting = ", ".join(part for part in (nest, crimp.depth if crimp is not None else "") if part)
        done = m.put(
            "crimp", of, after=before, parts=(contact.code,), tool=tool, setting=setting, proved=proved,
            turn=f"; lying {turn}" if lying else "", **shared,
        )  # fmt: skip
    copper = "no copper beside the wings"
    if contact.copper_most_mm:
        copper = f"copper shows {contact.copper_least_mm:g} to {contact.copper_most_mm:g} mm past the barrel"
    tug = " Tug." if m.tugged else ""
    return m.put("tug", of, after=(done,), tool=tool, setting=setting, copper=copper, tug=tug, **shared)


def _insert(
    m: Maker, connector_id: str, cavity: str, ends: Sequence[tuple[str, str]], after: Sequence[str]
) -> str:
    """A contact into its cavity, and tugged there."""
    pin, key = ends[0]
    family = m.catalogue.connectors[m.document.ends.connectors[connector_id].family]
    of = f"{key} at {pin}"
    shared: dict[str, Any] = {
        "place": connector_id, "wires": tuple(k for _, k in ends), "end": pin, "cavity": cavity,
        "card": f"end {of}",
    }  # fmt: skip
    filled = m.put(
        "insert", of, after=after, lubricant=f" {family.lubricant} on the seal." if family.lubricant else "",
        turn=f"The contact lies {family.turn}." if family.turn not in ("", ANY_WAY) else "", **shared,
    )  # fmt: skip
    return m.put("home", of, after=(filled,), **shared) if m.tugged else filled


def _barrel(pieces: Sequence[ShrinkPiece], contact: Contact, od_mm: float) -> ShrinkPiece | None:
    """The tube for this barrel, of those at the connector."""
    wide = [piece for piece in pieces if piece.over_mm >= round(contact.insulation_max_mm, 2)]
    return min(wide, key=lambda piece: (abs(piece.onto_mm - od_mm), piece.over_mm), default=None)


def _stripper(m: Maker, key: str, behind: _Behind) -> tuple[str, str]:
    """Stripper and notch for a wire, those owned first; the same for all of a part."""
    wire = m.rooms.wire
    part = (wire.wires[key].family, wire.wires[key].gauge)
    if part not in behind.strippers:
        suitable = strippers_for(m.catalogue, wire.families[part[0]], wire.size(key), m.rooms.context.shop)
        behind.strippers[part] = (suitable[0][0].code, suitable[0][1]) if suitable else ("", "")
    return behind.strippers[part]
