"""Counting every part of one harness, line by line."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal, Protocol

from inkthread.core.catalogue import Catalogue, ConnectorFamily, FuseHolder, Part, WireFamily
from inkthread.core.catalogue.coverings import Clamp, Grommet, Tie
from inkthread.core.circuits import FuseFacts
from inkthread.core.context import Context
from inkthread.core.cut import CutResult
from inkthread.core.document.types import Document
from inkthread.core.dress import DressResult
from inkthread.core.ends import ConnectorEnds, Fittings
from inkthread.core.parts.groups import Group
from inkthread.core.wire import MadeWires
from inkthread.core.wire.cables import core_sizes
from inkthread.core.words import in_words

PLACES_SHOWN = 12
"""How many of the places a part is used at are told."""


class Countable(Protocol):
    """Anything that is bought by the piece."""

    @property
    def code(self) -> str: ...
    @property
    def description(self) -> str: ...
    @property
    def mass_g(self) -> float: ...
    @property
    def price(self) -> float: ...


@dataclass(slots=True)
class CountedLine:
    """One part of one colour, counted so far. Mass in g, by the piece or by the metre."""

    group: Group
    code: str
    description: str
    colour: str
    unit: Literal["m", "pcs"]
    mass_g: float
    price: float
    included: bool
    quantity: float
    places: list[str]


class PartCount:
    """The parts of one harness, as far as they are counted."""

    def __init__(self) -> None:
        self.lines: dict[tuple[Group, str, str], CountedLine] = {}

    def put(
        self,
        group: Group,
        part: Countable,
        place: str,
        *,
        many: float = 1,
        colour: str = "",
        included: bool | None = None,
    ) -> None:
        """Count a part that is bought by the piece. What comes with another part is ``included``."""
        if self.counted((group, part.code, colour), many, place):
            return
        comes_with = bool(getattr(part, "included", False)) if included is None else included
        self.add(
            CountedLine(
                group,
                part.code,
                part.description,
                colour,
                "pcs",
                part.mass_g,
                part.price,
                comes_with,
                many,
                [place],
            )
        )

    def add(self, line: CountedLine) -> None:
        """Count a line of one place."""
        key = (line.group, line.code, line.colour)
        if not self.counted(key, line.quantity, line.places[0]):
            self.lines[key] = line

    def counted(self, key: tuple[Group, str, str], many: float, place: str) -> bool:
        """Whether there is a line of this group, part and colour already: it counts so many more then."""
        known = self.lines.get(key)
        if known is None:
            return False
        known.quantity += many
        if len(known.places) <= PLACES_SHOWN and place not in known.places:
            known.places.append(place)
        return True


def count_cut(count: PartCount, catalogue: Catalogue, wire: MadeWires, cut: CutResult) -> None:
    """Wire and cable by what is cut of it, and what the shields of cables are ended with."""
    joints = {s.code: s for s in catalogue.splices}
    tubes = {t.code: t for t in catalogue.coverings.tubes()} if cut.cables else {}
    for cable in cut.cables:
        size = wire.size(cable.wires[0])
        family = wire.families[wire.wires[cable.wires[0]].family]
        sizes = core_sizes(family, size, cable.cores)
        count.add(
            CountedLine(
                "wire",
                cable.part,
                f"{family.name}, {_gauges(family, size.gauge)}{_cores(cable.cores)}",
                f"{cable.cores} cores",
                "m",
                sum(s.mass_g_per_m for s in sizes),
                sum(s.price_per_m for s in sizes),
                False,
                cable.cut_mm / 1000,
                [cable.id],
            )
        )
        for end in cable.ends:
            sleeve = joints.get(end.part)
            if sleeve is not None:
                count.put("splice", sleeve, end.at, included=False)
            elif end.part in tubes:
                tube = tubes[end.part]
                count.add(
                    CountedLine(
                        "shrink",
                        tube.code,
                        tube.description,
                        "",
                        "m",
                        tube.mass_g_per_m,
                        tube.price_per_m,
                        False,
                        end.piece_mm / 1000,
                        [end.at],
                    )
                )
    for piece in cut.cuts:
        if piece.cable or count.counted(("wire", piece.part, piece.colour), piece.cut_mm / 1000, piece.label):
            continue
        size = wire.size(piece.wire)
        family = wire.families[wire.wires[piece.wire].family]
        count.add(
            CountedLine(
                "wire",
                piece.part,
                f"{family.name}, {size.gauge}",
                piece.colour,
                "m",
                size.mass_g_per_m,
                size.price_per_m,
                False,
                piece.cut_mm / 1000,
                [piece.label],
            )
        )


def count_ends(count: PartCount, context: Context, ends: Fittings) -> None:
    """What is fitted on every connector, and in its cavities."""
    for connector in ends.connectors.values():
        family = context.catalogue.connectors[connector.family]
        housing = family.housing(connector.ways)
        assert housing is not None
        if connector.shell in housing.shells:
            keyed = _keyed(family, context.document.ends.connectors[connector.id].key)
            count.put("housing", housing.shells[connector.shell], connector.id, colour=keyed)
        if connector.shell in housing.locks:
            count.put("lock", housing.locks[connector.shell], connector.id)
        for accessory in ends.accessories.get(connector.id, ()):
            count.put("accessory", accessory, connector.id)
        _count_cavities(count, connector, family, ends)


def _count_cavities(
    count: PartCount, connector: ConnectorEnds, family: ConnectorFamily, ends: Fittings
) -> None:
    for cavity in connector.cavities:
        if cavity.cavity_plug is not None and family.cavity_plug is not None:
            count.put("cavity plug", family.cavity_plug, connector.id)
        if cavity.wire is None or cavity.pin is None or cavity.shared:
            continue
        contact = ends.contacts.get((cavity.pin, cavity.wire))
        if contact is not None:
            count.put("terminal" if family.loose else "contact", contact, connector.id, included=False)
        seal = ends.seals.get((cavity.pin, cavity.wire))
        if seal is not None:
            count.put("seal", seal, connector.id)


def count_splices(count: PartCount, catalogue: Catalogue, ends: Fittings) -> None:
    """Splices with their covers, and blocks of studs."""
    for splice_id, splice in ends.splices.items():
        joint = ends.joints[splice_id]
        count.put("splice", joint.part, splice.point, included=False)
        if joint.cover is not None:
            count.put("cover", joint.cover, splice.point, included=False)
    for block_id, studs in ends.blocks.items():
        count.put("block", catalogue.studs.block(studs), block_id)


def count_fuses(
    count: PartCount, document: Document, catalogue: Catalogue, fuses: Iterable[FuseFacts]
) -> None:
    """Fuses and breakers, each with what it sits in."""
    for fuse in fuses:
        if fuse.part is not None:
            count.put("fuse", fuse.part, fuse.device, included=False)
        else:
            name = f"Fuse {fuse.rating_a:g} A, not held here"
            count.put("fuse", Part(f"F-{fuse.rating_a:g}A", name, 0, 0), fuse.device)
        holder = _holder(document, catalogue, fuse)
        if holder is not None:
            count.put("fuse", holder, fuse.device, included=False)


def count_dress(count: PartCount, context: Context, dress: DressResult) -> None:
    """Covers, tape, shrink tube and labels by the metre; clamps, ties and grommets by the piece."""
    coverings = context.catalogue.coverings
    metres: dict[str, tuple[str, float, float]] = {
        s.code: (s.description, s.mass_g_per_m, s.price_per_m) for s in coverings.sleeves
    }
    metres |= {t.code: (t.description, t.mass_g_per_m, t.price / t.roll_m) for t in coverings.tapes}
    metres |= {t.code: (t.description, t.mass_g_per_m, t.price_per_m) for t in context.tubes()}
    metres |= {f.code: (f.description, f.mass_g_per_m, f.price_per_m) for f in coverings.fillers}
    metres |= {c.code: (c.description, c.mass_g_per_m, c.price_per_m) for c in coverings.lacing}
    metres |= {
        own.code: (own.description, own.mass_g_per_m, own.price / own.cassette_m) for own in coverings.labels
    }

    def by_metre(group: Group, code: str, length_mm: float, place: str) -> None:
        description, mass_g, price = metres[code]
        count.add(
            CountedLine(group, code, description, "", "m", mass_g, price, False, length_mm / 1000, [place])
        )

    for cover in dress.covers:
        if cover.code:
            group: Group = "shrink" if cover.kind == "shrink" else "sleeve"
            by_metre(group, cover.code, cover.cut_mm, cover.branches[0])
        if cover.taped_mm:
            by_metre("sleeve", _END_TAPE, cover.taped_mm, cover.branches[0])
    shapes = {own.code: own for own in coverings.shapes}
    for piece in dress.shrinks:
        if piece.code in shapes:
            count.put("shrink", shapes[piece.code], piece.place)
        else:
            by_metre("shrink", piece.code, piece.cut_mm * piece.count, piece.place)
    for filler in dress.fillers:
        by_metre("sleeve", filler.code, filler.length_mm, filler.branch)
    for label in dress.labels.labels:
        by_metre("label", label.code, label.length_mm + coverings.lettering.feed_mm, label.at)
    holders: dict[str, Clamp | Tie | Grommet] = {c.code: c for c in coverings.clamps}
    holders |= {t.code: t for t in coverings.ties} | {g.code: g for g in coverings.grommets}
    laces = {lace.code: lace for lace in coverings.lacing}
    for hold in dress.holds:
        if hold.code in laces:
            by_metre("hold", hold.code, hold.count * laces[hold.code].knotted_mm(hold.over_mm), hold.place)
        else:
            count.put("hold", holders[hold.code], hold.place, many=hold.count)


def count_consumables(count: PartCount, context: Context, ends: Fittings) -> None:
    """What the families on it ask for as they are fitted: one tube of each does for the whole quantity."""
    catalogue, each = context.catalogue, 1 / context.document.brief.quantity
    for part in catalogue.coverings.lubricants:
        asking = [
            c.id for c in ends.connectors.values() if catalogue.connectors[c.family].lubricant == part.code
        ]
        for connector in asking:
            count.put("consumable", part, connector, many=each / len(asking))


_END_TAPE = "VT-19"
"""Holds the ends of split covers."""


def _holder(document: Document, catalogue: Catalogue, fuse: FuseFacts) -> FuseHolder | None:
    """What a fuse sits in, where its wires do not end in a block for fuses; breakers need none."""
    paths = document.circuits.devices[fuse.device].paths.values()
    if fuse.kind != "fuse" or sum(path.kind == "fuse" for path in paths) > 1:
        return None  # several fuses are a block or a row, and that is the device itself
    for pin in document.circuits.devices[fuse.device].pins:
        entry = document.ends.pinout.get(f"{fuse.device}.{pin}")
        if entry is not None:
            family = catalogue.connectors[document.ends.connectors[entry.connector].family]
            if family.group == "fuse and relay":
                return None
    return next((h for h in catalogue.holders if fuse.rating_a <= h.up_to_a), None)


def _cores(count: int) -> str:
    return f"{in_words(count)} cores" if count > 1 else "one core"


def _gauges(family: WireFamily, gauge: str) -> str:
    """The gauge of all cores before their count; of unequal cores their name says it."""
    return "" if family.core_gauges else f"{gauge}, "


def _keyed(family: ConnectorFamily, key: str) -> str:
    """What is ordered besides a housing's code: its key, which some families have as their colour."""
    if not key or len(family.keyings) < 2:
        return "colour not said" if family.meets_its_like and len(family.keyings) > 1 else ""
    return key if family.meets_its_like else f"key {key}"
