"""Steps on single pieces: wires and cables cut, marked, twisted, prepared; splices made."""

from __future__ import annotations

from inkthread.core.build.operations import Maker
from inkthread.core.cut import Cut
from inkthread.core.ends import SpliceEnd
from inkthread.core.ends.joints import Joint
from inkthread.core.wire import twisted_by_hand

ONCE = 2
"""What the house rule on passes over an open-barrel splice means."""
LINED, PLAIN = "Adhesive shows all round both ends.", "Tight all along, not scorched."


def cut_steps(m: Maker) -> None:
    """Cut every wire and cable, mark along it, prepare the ends of cables, twist what is twisted by hand."""
    cut = m.rooms.cut
    alone: dict[str, Cut] = {piece.wire: piece for piece in cut.cuts if not piece.cable}
    for key, piece in alone.items():
        m.ready[key] = [
            m.put(
                "cut-wire", key, wires=(key,), parts=(piece.part,), length=m.length(piece.cut_mm),
                colour=piece.colour, card=f"cut {piece.part} {piece.colour}",
            )
        ]  # fmt: skip
    _cables(m)
    for key, count in m.rooms.dress.labels.marks.items():
        if key in alone and count:
            m.ready[key] = [
                m.put("mark-wire", key, after=m.ready[key], wires=(key,), count=str(count), card="mark")
            ]
    wound = twisted_by_hand(m.document)
    twists: dict[str, list[str]] = {}
    for key, section in m.rooms.route.sections.items():
        if section.circuit in wound and key in alone:
            twists.setdefault(f"{wound[section.circuit]} {' '.join(section.branches)}", []).append(key)
    for name, keys in twists.items():
        if len(keys) > 1:
            before = [step for key in keys for step in m.ready[key]]
            twisted = m.put("twist", name, after=before, wires=keys, card="twist")
            m.ready |= {key: [twisted] for key in keys}


def _cables(m: Maker) -> None:
    for cable in m.rooms.cut.cables:
        inside = (*cable.wires, *((cable.shield,) if cable.shield else ()))
        cut = m.put(
            "cut-cable", cable.id, wires=inside, parts=(cable.part,), wire=cable.id,
            length=m.length(cable.cut_mm), card=f"cut {cable.part}",
        )  # fmt: skip
        prepared = [
            m.put(
                "prepare-cable", f"{cable.id} {n}", after=(cut,), place=end.at, wires=inside, wire=cable.id,
                parts=(end.part,) if end.part else (), length=m.length(end.jacket_mm),
                shield=f"; shield: {end.shield}" if end.shield else "", card=f"prepare {cable.id} {n}",
            )
            for n, end in enumerate(cable.ends, start=1)
        ]  # fmt: skip
        m.ready |= {key: [cut, *prepared] for key in inside}


def splice_steps(m: Maker) -> None:
    """Make every splice: its tube first, then strip, crimp, once more, tug, shrink."""
    keys = {label: key for key, label in m.labels.items()}
    for splice_id, splice in m.rooms.ends.splices.items():
        joint = m.rooms.ends.joints.get(splice_id)
        wires = tuple(keys[label] for label in splice.wires if keys.get(label) in m.ready)
        if joint is not None and wires:
            done = _splice(m, splice, joint, wires)
            m.ready |= {key: [done] for key in wires}


def _splice(m: Maker, splice: SpliceEnd, joint: Joint, wires: tuple[str, ...]) -> str:
    part, cover, of = joint.part, joint.cover, splice.id
    card = f"splice {of}"
    ready = [step for key in wires for step in m.ready[key]]
    before = list(ready)
    if cover is not None:
        before.append(m.put("thread-splice", of, after=ready, place=of, parts=(cover.code,), card=card))
    before.append(
        m.put(
            "strip-splice", of, after=ready, place=of, wires=wires, length=m.length(part.strip_mm),
            setting=m.length(part.strip_mm), times=len(wires), card=card,
        )
    )  # fmt: skip
    nest = f"nest {part.nest}" if part.nest else ""
    done = m.put(
        "crimp-splice", of, after=before, place=of, wires=wires, parts=(part.code,), tool=part.tool,
        setting=nest, card=card,
    )  # fmt: skip
    if part.form == "open barrel" and int(m.rooms.context.brief.value("splice_passes")) != ONCE:
        done = m.put(
            "second-pass", of, after=(done,), place=of, wires=wires, tool=part.tool, setting=nest, card=card
        )
    if m.tugged:
        done = m.put("tug-splice", of, after=(done,), place=of, wires=wires, times=len(wires), card=card)
    if cover is not None:
        done = m.put(
            "shrink-splice", of, after=(done,), place=of, parts=(cover.code,), card=card,
            lining=LINED if cover.lined else PLAIN,
        )  # fmt: skip
    return done
