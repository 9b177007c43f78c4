"""Kits against what a job needs: what one covers, what is short, what is left; and the cheapest mix."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from inkthread.core.catalogue import Catalogue, ConnectorFamily, Contact, Kit
from inkthread.core.record import record


@record
class KitRange:
    """Contacts of one wire range in a kit or in the drawers, against what the job needs of them."""

    code: str
    takes: str
    at_hand: float
    needed: float


@record
class KitRow:
    """Contacts of one gender that go into the housings at hand of one or more families."""

    families: str
    gender: str
    ways: int
    """Ways of the housings at hand that take this gender."""
    contacts: float
    short: float
    """Ways that no contact at hand would fill."""
    ranges: tuple[KitRange, ...]


@record
class KitCover:
    """A kit, so many times, against a need."""

    code: str
    description: str
    count: int
    price: float
    """Of all of them."""
    covers: dict[str, float]
    short: dict[str, float]
    """Of what is in it, too few."""
    left: dict[str, float]


@record
class KitMix:
    """How many of every kit, and how many singles, cover a need for the least money."""

    kits: dict[str, int]
    singles: dict[str, float]
    cost: float
    singles_only: float
    """What it costs without any kit."""
    proved: bool


def kit_cover(kit: Kit, count: int, need: Mapping[str, float]) -> KitCover:
    """What so many of a kit do for a need by part code."""
    has = {code: float(count * many) for code, many in kit.contents.items()}
    return KitCover(
        kit.code,
        kit.description,
        count,
        round(count * kit.price, 2),
        {c: min(n, need[c]) for c, n in has.items() if need.get(c, 0) > 0},
        {c: need[c] - n for c, n in has.items() if need.get(c, 0) > n},
        {c: n - need.get(c, 0) for c, n in has.items() if n > need.get(c, 0)},
    )


def cheapest_mix(kits: Iterable[Kit], need: Mapping[str, float], each: Mapping[str, float]) -> KitMix:
    """The mix of kits and single parts that covers a need for the least money, by a mixed-integer programme
    solved to the end. ``each`` has the price of one of every part that is needed.

    Only what is needed is bought singly. Raises KeyError for a part without a price.
    """
    wanted = {code: many for code, many in need.items() if many > 0}
    alone = sum(each[code] * many for code, many in wanted.items())
    useful = [k for k in kits if any(code in wanted for code in k.contents)]
    if not useful:
        return KitMix({}, dict(wanted), round(alone, 2), round(alone, 2), True)
    import numpy as np
    from scipy.optimize import Bounds, LinearConstraint, milp

    codes = list(wanted)
    matrix = np.hstack(
        [np.array([[k.contents.get(c, 0) for k in useful] for c in codes], float), np.eye(len(codes))]
    )
    cost = np.array([*(k.price for k in useful), *(each[c] for c in codes)])
    solved = milp(
        cost,
        constraints=LinearConstraint(matrix, [wanted[c] for c in codes], np.inf),
        integrality=np.array([*(1 for _ in useful), *(0 for _ in codes)]),
        bounds=Bounds(0, np.inf),
        options={"time_limit": 5.0, "mip_rel_gap": 0.0},
    )
    if solved.x is None:
        return KitMix({}, dict(wanted), round(alone, 2), round(alone, 2), False)
    counts = {k.code: round(n) for k, n in zip(useful, solved.x, strict=False) if round(n)}
    singles = {
        c: round(max(wanted[c] - sum(k.contents.get(c, 0) * counts.get(k.code, 0) for k in useful), 0.0), 4)
        for c in codes
    }
    total = sum(k.price * counts.get(k.code, 0) for k in useful)
    total += sum(each[c] * many for c, many in singles.items())
    bound = solved.mip_dual_bound if solved.mip_dual_bound is not None else solved.fun
    return KitMix(
        counts,
        {c: many for c, many in singles.items() if many},
        round(total, 2),
        round(alone, 2),
        bool(total <= bound + 0.005),
    )


def kit_rows(
    catalogue: Catalogue, have: Mapping[str, float], needed: Mapping[str, float]
) -> tuple[KitRow, ...]:
    """Families of which housings or contacts are there; those that take the same contacts as one."""
    by_contacts: dict[tuple[str, ...], list[ConnectorFamily]] = {}
    for family in catalogue.connectors.values():
        if not family.loose and family.contacts:
            by_contacts.setdefault(tuple(sorted(c.code for c in family.contacts)), []).append(family)
    rows: list[KitRow] = []
    for families in by_contacts.values():
        contacts = families[0].contacts
        for gender in dict.fromkeys(c.gender for c in contacts):
            mine = [c for c in contacts if c.gender == gender]
            ways = sum(_ways(family, gender, have) for family in families)
            count = sum(have.get(c.code, 0.0) for c in mine)
            if not ways and not count:
                continue
            rows.append(
                KitRow(
                    " and ".join(f.code for f in families), gender, ways, count, max(ways - count, 0.0),
                    tuple(_range(c, have, needed) for c in mine),
                )
            )  # fmt: skip
    return tuple(rows)


def _range(contact: Contact, have: Mapping[str, float], needed: Mapping[str, float]) -> KitRange:
    takes = f"{contact.conductor_min_mm2:g} to {contact.conductor_max_mm2:g} mm²"
    return KitRange(contact.code, takes, have.get(contact.code, 0.0), needed.get(contact.code, 0.0))


def _ways(family: ConnectorFamily, gender: str, have: Mapping[str, float]) -> int:
    """Ways of the housings there whose shell takes contacts of this gender, or takes either."""
    total = 0
    for housing in family.housings:
        codes = {
            part.code
            for shell, part in housing.shells.items()
            if gender == "none" or family.gender_for(shell) in (None, gender)
        }
        total += housing.ways * int(sum(have.get(code, 0.0) for code in codes))
    return total
