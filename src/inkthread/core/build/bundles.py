"""Steps on whole bundles: what is led over them before connectors are filled, and what closes them after."""

from __future__ import annotations

from inkthread.core.build.operations import Maker, Rooms
from inkthread.core.build.pieces import LINED, PLAIN
from inkthread.core.catalogue import Catalogue
from inkthread.core.dress import BranchCover, ShrinkPiece

LED_THROUGH = ("boot", "backshell", "gland", "strain relief")
"""Accessories that wires are led through before their ends are put in."""
AFTER = 2
"""What the house rule on when boots and end tubes go on means."""


def thread_steps(m: Maker) -> None:
    """Lead covers, tube, labels and backshells over bundles while an end is open."""
    for cover in m.rooms.dress.covers:
        if cover.goes_on.startswith("before"):
            _lead_cover(m, cover)
    for piece in sorted(m.rooms.dress.shrinks, key=lambda s: s.threaded):
        if not piece.over_barrel and not piece.wound and not _goes_over_after(m, piece):
            _lead_tube(m, piece)
    for label in m.rooms.dress.labels.labels:
        if label.of in m.rooms.ends.connectors:
            step = m.put(
                "thread-connector-label", label.of, after=_bundle_at(m, label.of), place=label.of,
                parts=(label.code,), text=label.text, card=f"through {label.of}",
            )  # fmt: skip
            m.waits.setdefault(label.of, []).append(step)
    for connector_id, accessories in m.rooms.ends.accessories.items():
        for accessory in accessories:
            if accessory.kind in LED_THROUGH:
                step = m.put(
                    "thread-accessory", f"{accessory.code} {connector_id}", after=_bundle_at(m, connector_id),
                    place=connector_id, parts=(accessory.code,), card=f"through {connector_id}",
                )  # fmt: skip
                m.waits.setdefault(connector_id, []).append(step)


def _goes_over_after(m: Maker, piece: ShrinkPiece) -> bool:
    """By the house rule, tube over the end of a cover that passes the connector goes on after it."""
    if int(m.rooms.context.brief.value("boots_go_on")) != AFTER or piece.place not in m.rooms.ends.connectors:
        return False
    return passes_connector(m.rooms, piece.code, piece.place)


def passes_connector(rooms: Rooms, code: str, connector_id: str) -> bool:
    """Whether a piece of tube as supplied goes over a connector, put on last."""
    bore = bore_mm(rooms.context.catalogue, code)
    face = rooms.ends.faces.get(rooms.ends.connectors[connector_id].face)
    return bore is not None and face is not None and max(face.width_mm, face.height_mm) < bore


def bore_mm(catalogue: Catalogue, code: str) -> float | None:
    """Bore of a tube or a moulded piece as supplied, in mm; None for what is neither."""
    coverings = catalogue.coverings
    tube = next((t.supplied_mm for t in coverings.tubes() if t.code == code), None)
    return tube or next((s.body_supplied_mm for s in coverings.shapes if s.code == code), None)


def _bundle_at(m: Maker, connector_id: str) -> list[str]:
    """The steps after which all wires that end in a connector are there."""
    keys = dict.fromkeys(c.wire for c in m.rooms.ends.connectors[connector_id].cavities if c.wire is not None)
    return list(dict.fromkeys(step for key in keys for step in m.ready.get(key, ())))


def _said(cover: BranchCover) -> str:
    return cover.description[:1].lower() + cover.description[1:]


def _lead_cover(m: Maker, cover: BranchCover) -> None:
    name = "+".join(cover.branches)
    waiting = _open_for_cover(m, cover)
    step = m.put(
        "thread-cover", name, after=m.laid(cover.branches), place=name, parts=(cover.code,),
        cover=_said(cover), length=m.length(cover.cut_mm),
        side=f", from the side of {waiting[0]}" if waiting else "", card=f"thread {name}",
    )  # fmt: skip
    for connector_id in waiting:
        m.waits.setdefault(connector_id, []).append(step)


def _lead_tube(m: Maker, piece: ShrinkPiece) -> None:
    waiting, branch_id = _open_for_tube(m, piece)
    covered = next((c for c in m.rooms.dress.covers if branch_id in c.branches), None)
    over = f"thread-cover {'+'.join(covered.branches)}" if covered is not None else ""
    at_connector = piece.place in m.rooms.ends.connectors
    step = m.put(
        "thread-piece", f"{piece.what} at {piece.place}",
        after=(*([over] if over in m.made else []), *m.laid((branch_id,))), place=branch_id or piece.place,
        parts=(piece.code,), length=m.length(piece.cut_mm), what=f"{piece.what} at {piece.place}",
        card=f"through {piece.place}" if at_connector else f"thread {branch_id}",
    )  # fmt: skip
    for connector_id in waiting:
        m.waits.setdefault(connector_id, []).append(step)


def _open_for_cover(m: Maker, cover: BranchCover) -> list[str]:
    """The connectors at the end that a cover goes on from, or those beyond it."""
    connectors = m.document.ends.connectors
    beyond = cover.goes_on.removeprefix("before what lies beyond ")
    if beyond != cover.goes_on:
        return _beyond(m, beyond, cover.branches[-1])
    named = connectors.get(cover.goes_on.removeprefix("before "))
    return m.connectors_at.get(named.point or "", []) if named is not None else []


def _open_for_tube(m: Maker, piece: ShrinkPiece) -> tuple[list[str], str]:
    """The connectors that wait for a piece of tube, and the branch that it is threaded on."""
    if piece.what != "breakout":
        branch_id = piece.what.removeprefix("end of ")
        connector = m.document.ends.connectors.get(piece.place)
        if connector is not None:
            return m.connectors_at.get(connector.point or "", []), branch_id
        branch = m.document.route.branches[branch_id]
        far = branch.to_point if branch.from_point == piece.place else branch.from_point
        return _beyond(m, far, branch_id), branch_id
    legs = [(_beyond(m, far, b), b) for b, far in m.rooms.route.tree.near.get(piece.place, [])]
    ending = [leg for leg in legs if leg[0]]
    return min(ending, key=lambda leg: len(leg[0]), default=([], legs[0][1] if legs else ""))


def _beyond(m: Maker, point: str, branch_id: str) -> list[str]:
    """The connectors at a point and behind it, seen along a branch."""
    passed, todo, beyond = {branch_id}, [point], []
    while todo:
        at = todo.pop()
        beyond += m.connectors_at.get(at, [])
        for other, far in m.rooms.route.tree.near.get(at, []):
            if other not in passed:
                passed.add(other)
                todo.append(far)
    return beyond


def dress_steps(m: Maker) -> None:
    """Covers pulled into place, tube and labels shrunk, clamps and ties set."""
    covered: dict[str, str] = {}
    for cover in m.rooms.dress.covers:
        if cover.code:
            covered |= dict.fromkeys(cover.branches, _sleeve(m, cover))
    shrunk: dict[str, list[str]] = {}
    for piece in sorted(m.rooms.dress.shrinks, key=lambda s: -s.threaded):
        if not piece.over_barrel:
            _shrink(m, piece, covered, shrunk)
    for hold in m.rooms.dress.holds:
        on_branch = hold.place in m.document.route.branches
        after = [covered[hold.place]] if hold.place in covered else m.laid((hold.place,)) if on_branch else ()
        m.put(
            "hold", f"{hold.kind} {hold.place}", after=after, place=hold.place, parts=(hold.code,),
            times=hold.count, timed="tie" if hold.kind == "tie" else "fit a clamp or grommet",
            count=str(hold.count), every=f", one every {m.length(hold.every_mm)}" if hold.every_mm else "",
            card=f"dress {hold.place}",
        )  # fmt: skip
    for label in m.rooms.dress.labels.labels:
        threaded = f"thread-connector-label {label.of}"
        if threaded in m.made:
            m.put(
                "shrink-label", label.of,
                after=(threaded, *([m.shut[label.of]] if label.of in m.shut else ())), place=label.of,
                parts=(label.code,), text=label.text, length=m.length(label.behind_mm),
                card=f"label {label.of}",
            )  # fmt: skip


def _sleeve(m: Maker, cover: BranchCover) -> str:
    """A cover in its place: what was threaded once its connector is shut, what is split when both are."""
    name, branches = "+".join(cover.branches), m.document.route.branches
    threaded = f"thread-cover {name}"
    if threaded in m.made:
        ends = _open_for_cover(m, cover)
        before = [threaded]
    else:
        points = {p for b in cover.branches for p in (branches[b].from_point, branches[b].to_point)}
        ends, before = [c for p in sorted(points) for c in m.connectors_at.get(p, [])], m.laid(cover.branches)
    shut = [m.shut[c] for c in ends if c in m.shut]
    return m.put(
        "sleeve", name, after=(*before, *shut), place=name, parts=(cover.code,), times=cover.covers_mm / 1000,
        cover=_said(cover), length=m.length(cover.cut_mm), card=f"dress {name}",
        bare=f"; bare {m.length(cover.bare_from_mm)} and {m.length(cover.bare_to_mm)} at its ends",
    )  # fmt: skip


def _shrink(m: Maker, piece: ShrinkPiece, covered: dict[str, str], shrunk: dict[str, list[str]]) -> None:
    """What was threaded first is shrunk last; tape is wound when all is together."""
    threaded = f"thread-piece {piece.what} at {piece.place}"
    branch_id = piece.what.removeprefix("end of ")
    near = [branch_id] if branch_id in m.document.route.branches else [
        b for b, _ in m.rooms.route.tree.near.get(piece.place, [])
    ]  # fmt: skip
    after = [*([threaded] if threaded in m.made else ()), *(covered[b] for b in near if b in covered)]
    after += shrunk.get(piece.place, [])
    if not after:
        after = m.laid(near)
    step = m.put(
        "shrink-piece", f"{piece.what} at {piece.place}", after=after, place=piece.place, parts=(piece.code,),
        what=piece.what, lining=LINED if piece.lined else PLAIN, card=f"dress {near[0]}" if near else "",
    )  # fmt: skip
    if piece.what != "breakout":
        return
    shrunk.setdefault(piece.place, []).append(step)
