"""What meets what: the half that mates, and way by way whether both halves agree.

Shell gender and contact gender are two things. A family says which contacts its shells carry; where
it leaves that open, pins meet sockets, whatever the shell.
"""

from __future__ import annotations

import itertools
from collections.abc import Mapping
from typing import Any

from inkthread.core.catalogue import Catalogue, ConnectorFamily, Housing
from inkthread.core.circuits.pin_roles import bus_line
from inkthread.core.document.choices import Connector
from inkthread.core.document.pin_ref import read_ref
from inkthread.core.document.problems import pointer
from inkthread.core.document.types import Document
from inkthread.core.document.values import Gender, Shell
from inkthread.core.ends.misplaced import OUT_OF_ORDER, how_misplaced
from inkthread.core.ends.refit import OnWay, refit_ways
from inkthread.core.findings import FindingBook, Phrase, Place, phrase
from inkthread.core.record import record

_OTHER_SHELL: dict[Shell, Shell] = {"plug": "receptacle", "receptacle": "plug", "none": "none"}
_OTHER_GENDER: dict[Gender, Gender] = {"pin": "socket", "socket": "pin"}


@record
class Half:
    """One half of a pair: family, ways, shell, contacts, keying."""

    family: str
    ways: int
    shell: Shell
    contact_gender: Gender
    key: str


def mating_half(catalogue: Catalogue, there: Half) -> Half:
    """The half that meets one that is fitted on a device: other shell, other contacts, same keying.

    A genderless family meets its like. Raises KeyError for a family that is not held.
    """
    family = catalogue.connectors[there.family]
    other = family.mates[0] if family.mates and family.code not in family.mates else family.code
    meets = catalogue.connectors[other]
    if family.genderless:
        return Half(other, there.ways, there.shell, there.contact_gender, there.key)
    shell = "none" if meets.loose else _OTHER_SHELL[there.shell]
    gender = _OTHER_GENDER[there.contact_gender]
    rule = meets.gender_for(shell)
    if rule is not None:
        gender = "pin" if rule == "pin" else "socket"
    return Half(other, there.ways, shell, gender, there.key)


def half_on_device(document: Document, catalogue: Catalogue, connector_id: str, family: str = "") -> Half:
    """What the device most likely has that a connector meets; of another ``family`` the nearest half.

    Raises KeyError for a connector or a family that there is not.
    """
    connector = document.ends.connectors[connector_id]
    own = Half(connector.family, connector.ways, connector.shell, connector.contact_gender, connector.key)
    there = mating_half(catalogue, own)
    return in_family(catalogue, there, family) if family and family != there.family else there


def in_family(catalogue: Catalogue, half: Half, code: str) -> Half:
    """The half of another family that is nearest: the fewest ways that are enough, else the most; its key
    is not known. Raises KeyError for a family that is not held.
    """
    family = catalogue.connectors[code]
    counts = sorted(h.ways for h in family.housings)
    ways = next((w for w in counts if w >= half.ways), counts[-1] if counts else 1)
    shell: Shell = "none" if family.loose else "receptacle" if half.shell == "none" else half.shell
    rule = family.gender_for(shell)
    gender: Gender = "pin" if rule == "pin" else "socket" if rule == "socket" else half.contact_gender
    return Half(code, ways, shell, gender, "")


def fit_half(document: Document, catalogue: Catalogue, connector_id: str, half: Half) -> list[dict[str, Any]]:
    """Operations that make a connector of the harness this half; its pins keep their order of ways.

    The shell carries what its family says it must. Pins go where ``refit_ways`` says; those without a place
    are taken off.
    Raises KeyError for a connector, family or number of ways that there is not.
    """
    before = document.ends.connectors[connector_id]
    rule = catalogue.connectors[half.family].gender_for(half.shell)
    gender: Gender = "pin" if rule == "pin" else "socket" if rule == "socket" else half.contact_gender
    housing = catalogue.connectors[half.family].housing(half.ways)
    if housing is None:
        raise KeyError(half.ways)
    old_housing = catalogue.connectors[before.family].housing(before.ways)
    old = list(old_housing.face.cavities) if old_housing is not None else []
    base = ["ends", "connectors", connector_id]
    values: dict[str, Any] = {
        "family": half.family,
        "ways": half.ways,
        "shell": half.shell,
        "contact_gender": gender,
        "key": half.key,
        "stud": catalogue.connectors[half.family].usual_stud,
    }
    operations: list[dict[str, Any]] = [
        {"op": "replace", "path": pointer([*base, k]), "value": v} for k, v in values.items()
    ]
    mine = {r: e for r, e in document.ends.pinout.items() if e.connector == connector_id}
    pins = [OnWay(r, _role(document, r), e.cavity) for r, e in mine.items()]
    given, left = refit_ways(pins, old, housing)
    for ref, entry in mine.items():
        at = ["ends", "pinout", ref]
        if ref in left:
            operations.append({"op": "remove", "path": pointer(at)})
            continue
        if given[ref] != entry.cavity:
            operations.append({"op": "replace", "path": pointer([*at, "cavity"]), "value": given[ref]})
        if entry.contact is not None and before.family != half.family:
            operations.append({"op": "replace", "path": pointer([*at, "contact"]), "value": None})
    gone = [c for c in before.spares if c not in housing.face.cavities]
    operations += [{"op": "remove", "path": pointer([*base, "spares", c])} for c in gone]
    return operations


def _role(document: Document, ref: str) -> str:
    device, pin = read_ref(ref)
    return document.circuits.devices[device].pins[pin].role


def taken_off(operations: list[dict[str, Any]]) -> list[str]:
    """Device pins that operations take off their connector."""
    gone = (str(operation["path"]).split("/") for operation in operations if operation["op"] == "remove")
    return [p[3].replace("~1", "/").replace("~0", "~") for p in gone if p[1:3] == ["ends", "pinout"]]


def half_in_words(half: Half, family: ConnectorFamily) -> str:
    """``receptacle shell with pins``; both said, always."""
    if family.loose:
        return f"loose {family.name.lower()}"
    if family.genderless:
        return "genderless housing"
    return f"{half.shell} shell with {half.contact_gender}s"


def why_apart(catalogue: Catalogue, a: Connector, b: Connector) -> Phrase | None:
    """Why two connectors do not mate, or None where they do."""
    one, two = catalogue.connectors[a.family], catalogue.connectors[b.family]
    if two.code not in (one.mates or (one.code,)):
        return phrase("family", a=one.code, b=two.code)
    if a.ways != b.ways:
        return phrase("ways", a=str(a.ways), b=str(b.ways))
    if a.key and b.key and a.key != b.key:
        return phrase("key", a=a.key, b=b.key)
    if one.genderless:
        return None
    if not one.loose and a.shell == b.shell:
        return phrase("shell", a=a.shell)
    if a.contact_gender == b.contact_gender:
        return phrase("contacts", a=a.contact_gender)
    return None


def find_in_pairs(document: Document, catalogue: Catalogue, book: FindingBook) -> None:
    """Connectors that are said to meet: whether they can, and whether way n meets way n."""
    connectors = document.ends.connectors
    at = {ref: (e.connector, e.cavity) for ref, e in document.ends.pinout.items()}
    seen: set[frozenset[str]] = set()
    for connector_id, connector in connectors.items():
        if connector.same_as is not None and connector.same_as in connectors:
            _extension(document, catalogue, connector_id, connector.same_as, book)
        other_id = connector.meets
        if other_id is None or other_id not in connectors or frozenset((connector_id, other_id)) in seen:
            continue
        seen.add(frozenset((connector_id, other_id)))
        other = connectors[other_id]
        apart = why_apart(catalogue, connector, other)
        places = (Place("ends", "connector", connector_id), Place("ends", "connector", other_id))
        if apart is not None:
            book.add("halves-do-not-mate", *places, one=connector_id, other=other_id, reason=apart)
            continue
        landed: dict[str, str] = {}
        for device_id, device in document.circuits.devices.items():
            for inner in device.paths.values():
                if inner.kind != "link":
                    continue
                a = at.get(f"{device_id}.{inner.from_pin}")
                b = at.get(f"{device_id}.{inner.to_pin}")
                for p, q in ((a, b), (b, a)):
                    if p is not None and q is not None and p[0] == connector_id and q[0] == other_id:
                        landed[p[1]] = q[1]
        housing = catalogue.connectors[connector.family].housing(connector.ways)
        if housing is None or not landed:
            continue
        how = how_misplaced(housing.face, landed)
        if how is not None:
            wrong = [phrase("meets", a=a, b=b) for a, b in landed.items() if a != b]
            theirs = {e.cavity: r for r, e in document.ends.pinout.items() if e.connector == other_id}
            meant = {theirs[b]: a for a, b in landed.items()}
            moves = _moved(theirs, meant) if set(meant) == set(theirs.values()) else ()
            book.add(
                "pair-differs",
                *places,
                mechanical=(phrase("give"), moves) if moves else None,
                one=connector_id,
                other=other_id,
                how=how,
                ways=wrong[:6],
            )


def _extension(document: Document, catalogue: Catalogue, one: str, other: str, book: FindingBook) -> None:
    """Both ends of an extension carry the same circuit on the same way."""
    circuit_of = {r: k for k, c in document.circuits.circuits.items() for r in c.ends}

    def ways(connector_id: str) -> dict[str, str]:
        return {
            e.cavity: circuit_of[ref]
            for ref, e in document.ends.pinout.items()
            if e.connector == connector_id and ref in circuit_of
        }

    one_ways, there = ways(one), ways(other)
    back = {c: w for w, c in there.items()}
    landed = {w: back[c] for w, c in one_ways.items() if c in back}
    wrong = {a: b for a, b in landed.items() if a != b}
    housing = catalogue.connectors[document.ends.connectors[one].family].housing(
        document.ends.connectors[one].ways
    )
    if not wrong or housing is None:
        return
    how = how_misplaced(housing.face, landed) if set(landed.values()) <= set(housing.face.cavities) else None
    theirs = {e.cavity: r for r, e in document.ends.pinout.items() if e.connector == other}
    meant = {theirs[b]: a for a, b in landed.items()}
    moves = _moved(theirs, meant) if set(meant) == set(theirs.values()) else ()
    book.add(
        "extension-differs",
        Place("ends", "connector", one),
        Place("ends", "connector", other),
        mechanical=(phrase("give"), moves) if moves else None,
        one=one,
        other=other,
        how=how or OUT_OF_ORDER,
        ways=[phrase("is", a=a, b=b) for a, b in list(wrong.items())[:6]],
    )


def find_turned_over(document: Document, catalogue: Catalogue, book: FindingBook) -> None:
    """Genderless halves that meet, or stand at both ends of a wire, with their contacts unlike ways up."""
    connectors = document.ends.connectors
    alike = {k: c for k, c in connectors.items() if catalogue.connectors[c.family].meets_its_like}
    joined = [(k, c.meets) for k, c in alike.items() if c.meets in alike]
    pinout = document.ends.pinout
    for circuit in document.circuits.circuits.values():
        at = dict.fromkeys(pinout[ref].connector for ref in circuit.ends if ref in pinout)
        joined += list(itertools.combinations([k for k in at if k in alike], 2))
    told: set[frozenset[str]] = set()
    for one, other in joined:
        pair = frozenset((one, other))
        if other is None or pair in told or alike[one].turned_over == alike[other].turned_over:
            continue
        if alike[one].family != alike[other].family:
            continue
        told.add(pair)
        over = one if alike[one].turned_over else other
        book.add(
            "contacts-turned-over",
            Place("ends", "connector", over),
            Place("ends", "connector", other if over == one else one),
            mechanical=(
                phrase("lay"),
                (
                    {
                        "op": "replace",
                        "path": pointer(["ends", "connectors", over, "turned_over"]),
                        "value": False,
                    },
                ),
            ),
            over=over,
            other=other if over == one else one,
            family=alike[one].family,
        )


_TWINS = {"supply_in": "supply", "supply_out": "supply", "output_high": "supply"}
_MIXED: dict[str, str] = {"signal": "signal", "output_low": "signal", "data": "signal", "ground": "ground"}


def find_swapped_roles(document: Document, catalogue: Catalogue, book: FindingBook) -> None:
    """Ways that a standard or custom gives a role: what lands on them has that role.

    Two-wire dry contacts may go either way round; a transistor sensor may not.
    """
    on_bus = {
        r
        for bus in document.circuits.buses.values()
        if catalogue.buses[bus.standard].can
        for c in bus.circuits
        for r in document.circuits.circuits[c].ends
    }
    of_connector: dict[str, dict[str, str]] = {}
    for ref, entry in document.ends.pinout.items():
        of_connector.setdefault(entry.connector, {})[entry.cavity] = ref
    for connector_id, refs in of_connector.items():
        connector = document.ends.connectors[connector_id]
        housing = catalogue.connectors[connector.family].housing(connector.ways)
        if housing is None:
            continue
        if housing.bus_roles and any(_role(document, r) == "data" for r in refs.values()):
            data = {r for r in refs.values() if _role(document, r) == "data"}
            if on_bus & data:
                _off_the_bus(document, connector_id, connector.family, housing, refs, book)
            continue
        wrong: list[tuple[str, str, str]] = []
        for cavity, expected in housing.roles.items():
            if cavity not in refs:
                continue
            device_id, pin = read_ref(refs[cavity])
            pins = document.circuits.devices[device_id].pins
            role = pins[pin].role
            # A standard's ways are for what it powers: a thermometer or a contact may use them freely.
            if role == "dry_contact" or not any(pin.role.startswith("supply") for pin in pins.values()):
                continue
            want, have = _plain(expected), _plain(role)
            if want and have and want != have:
                wrong.append((cavity, want, have))
        if not wrong:
            continue
        landed = {c: h for c, _, h in wrong}
        landed_on = [OnWay(ref, _role(document, ref), c) for c, ref in refs.items()]
        given, left = refit_ways(landed_on, list(housing.face.cavities), housing)
        moved = _moved(refs, given)
        mirrored = _as_mirror({c: _plain(r) for c, r in housing.roles.items()}, landed)
        book.add(
            "polarity-swapped",
            Place("ends", "connector", connector_id),
            *(Place("ends", "pin", refs[c]) for c, _, _ in wrong),
            mechanical=(phrase("give"), moved) if moved and not left else None,
            connector=connector_id,
            family=connector.family,
            ways=[phrase("holds", way=c, role=w, other=h) for c, w, h in wrong],
            how=phrase("mirrored") if mirrored else "",
        )


def _off_the_bus(
    document: Document,
    connector_id: str,
    family: str,
    housing: Housing,
    refs: Mapping[str, str],
    book: FindingBook,
) -> None:
    """Ways of a CAN connector that hold something else than custom puts there."""
    wrong: list[tuple[str, str, str]] = []
    for cavity, want in housing.bus_roles.items():
        if cavity not in refs:
            continue
        ref = refs[cavity]
        line = bus_line(document.circuits.devices, ref)
        have = line or {"drain": "drain"}.get(_role(document, ref)) or _plain(_role(document, ref))
        if have and have != want:
            wrong.append((cavity, want, have))
    if wrong:
        book.add(
            "polarity-swapped",
            Place("ends", "connector", connector_id),
            *(Place("ends", "pin", refs[c]) for c, _, _ in wrong),
            connector=connector_id,
            family=family,
            ways=[phrase("holds", way=c, role=w, other=h) for c, w, h in wrong],
            how="",
        )


def _moved(landed: Mapping[str, str], given: Mapping[str, str]) -> tuple[dict[str, Any], ...]:
    """Operations that bring pins (way to pin, as they are) to the ways they are given."""
    return tuple(
        {"op": "replace", "path": pointer(["ends", "pinout", ref, "cavity"]), "value": given[ref]}
        for way, ref in landed.items()
        if given.get(ref, way) != way
    )


def _plain(role: str) -> str:
    return _TWINS.get(role) or _MIXED.get(role, "")


def _as_mirror(expected: Mapping[str, str], landed: Mapping[str, str]) -> bool:
    """Whether what landed is the expected order from the other end."""
    names = list(expected)
    turned = {n: expected[names[len(names) - 1 - i]] for i, n in enumerate(names)}
    return len(landed) > 1 and all(turned[c] == role for c, role in landed.items())
