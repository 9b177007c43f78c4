"""What is wrong with what is bought: too few, left out, of doubtful grade, too heavy."""

from __future__ import annotations

from inkthread.core.catalogue import Contact
from inkthread.core.context import Context
from inkthread.core.document.problems import pointer
from inkthread.core.ends import EndsResult
from inkthread.core.ends.fit import WireEnd
from inkthread.core.findings import FindingBook, Place, phrase
from inkthread.core.measures import format_current, format_mass
from inkthread.core.parts.groups import Group
from inkthread.core.parts.kits import kit_rows
from inkthread.core.parts.room import BillLine, PartsResult
from inkthread.core.tolerances import over
from inkthread.core.wire import WireResult
from inkthread.core.words import list_in_words, some_in_words

_HEAVIEST = 3
"""How many of the heaviest lines are told."""
_SHOWN = 6
_CONSUMABLES: tuple[Group, ...] = ("sleeve", "shrink", "label", "hold", "consumable")


def find_in_bill(
    context: Context, wire: WireResult, ends: EndsResult, parts: PartsResult, book: FindingBook
) -> None:
    """Every check of the room."""
    _too_heavy(context, parts, book)
    if context.document.parts.lines:
        _bought(context, ends, parts, book)
    if context.document.parts.kits:
        _kits(context, parts, book)
    _grades(context, wire, ends, book)


def _amount(line: BillLine, count: float) -> str:
    return f"{count:.2f} m" if line.unit == "m" else f"{count:g}"


def _bought(context: Context, ends: EndsResult, parts: PartsResult, book: FindingBook) -> None:
    """Lines of which the builder buys fewer than are used, with spares; and lines that are left out."""
    required = {a.code: a.required for many in ends.accessories.values() for a in many}
    for line in parts.lines:
        choice = context.document.parts.lines.get(line.key)
        if choice is None or line.included:
            continue
        place = Place("parts", "line", line.key)
        at = ["parts", "lines", line.key]
        if choice.left_out:
            if line.group == "lock" or required.get(line.code, False):
                put = {"op": "replace", "path": pointer([*at, "left_out"]), "value": False}
                book.add(
                    "accessory-left-out",
                    place,
                    mechanical=(phrase("back"), (put,)),
                    part=line.code,
                    description=line.description,
                    places=line.used_at,
                    family=phrase("lock" if line.group == "lock" else "needed"),
                )
            continue
        if choice.quantity is None or not over(line.quantity + line.spares, choice.quantity):
            continue
        put = {"op": "replace", "path": pointer([*at, "quantity"]), "value": None}
        consumable = line.group in _CONSUMABLES
        need = line.quantity if not consumable else line.quantity + line.spares
        words = {
            "quantity": _amount(line, choice.quantity),
            "part": line.key,
            "need": _amount(line, need),
            "all": _amount(line, line.quantity + line.spares),
        }
        if consumable:
            book.add("consumable-short", place, mechanical=(phrase("all"), (put,)), **words)
        else:
            spares = phrase("spares", spares=f"{line.spares:g}") if line.spares else ""
            book.add("parts-short", place, mechanical=(phrase("all"), (put,)), spares=spares, **words)


def _kits(context: Context, parts: PartsResult, book: FindingBook) -> None:
    """Kits that are gone, and kits with more ways than contacts of a gender."""
    needed = {line.code: line.quantity + line.spares for line in parts.lines if not line.included}
    for code, own in context.document.parts.kits.items():
        place = Place("parts", "line", code)
        take_out = ({"op": "remove", "path": pointer(["parts", "kits", code])},)
        kit = context.catalogue.kits.get(code)
        if kit is None:
            book.add("kit-gone", place, mechanical=(phrase("singles"), take_out), kit=code)
            continue
        has = {part: float(own.count * many) for part, many in kit.contents.items()}
        for row in kit_rows(context.catalogue, has, needed):
            # A kit without any contacts is not bought for them.
            if row.short > 0 and row.contacts > 0:
                book.add(
                    "kit-cannot-fill",
                    place,
                    mechanical=(phrase("singles"), take_out),
                    kit=code,
                    ways=str(row.ways),
                    gender=row.gender,
                    families=row.families,
                    contacts=f"{row.contacts:g}",
                    short=f"{row.short:g}",
                )


def _grades(context: Context, wire: WireResult, ends: EndsResult, book: FindingBook) -> None:
    """Terminals of which nobody knows what they hold, on circuits that carry much: one finding a terminal."""
    least = context.brief.value("power_net_a")
    doubtful: dict[str, tuple[float, list[str]]] = {}
    for ref, key, contact in context.memo.get(_ungraded, ends.contacts):
        carries = wire.wires[key].carries_a
        if carries < least:
            continue
        most, refs = doubtful.get(contact.code, (0.0, []))
        doubtful[contact.code] = (max(most, carries), [*refs, ref])
    for code, (most, refs) in doubtful.items():
        book.add(
            "grade-doubtful",
            Place("ends", "pin", refs[0]),
            contact=code,
            current=format_current(most),
            places=some_in_words(refs, _SHOWN),
        )


def _ungraded(contacts: dict[WireEnd, Contact]) -> list[tuple[str, str, Contact]]:
    """Wire ends with contacts of which nobody says what pull they hold."""
    return [(ref, key, c) for (ref, key), c in contacts.items() if not c.pull and not c.factory]


def _too_heavy(context: Context, parts: PartsResult, book: FindingBook) -> None:
    """A harness heavier than it may be."""
    budget = context.document.brief.mass_budget_g
    if budget is None or parts.mass_each_g <= budget:
        return
    units = context.document.brief.measures
    heaviest = sorted(parts.lines, key=lambda line: -line.mass_g)[:_HEAVIEST]
    each = context.document.brief.quantity
    book.add(
        "over-mass-budget",
        Place("parts", "harness", "harness"),
        mass=format_mass(parts.mass_each_g, units, beside_g=budget),
        budget=format_mass(budget, units),
        over=format_mass(parts.mass_each_g - budget, units),
        heaviest=list_in_words(
            [
                f"{line.code} {line.colour} {format_mass(line.mass_g / each, units)}".replace("  ", " ")
                for line in heaviest
            ]
        ),
    )
