"""Typed lines of the brief: ``supply 12 V, working 13.2 V``, ``rule drop_continuous_percent 3``."""

from __future__ import annotations

import re
from collections.abc import Callable

from inkthread.core.brief.ready_line import ready_made_into
from inkthread.core.catalogue import Catalogue, Rule
from inkthread.core.document.draft import Draft, LineError, next_order
from inkthread.core.document.starter import new_document, practices, usual_working_v
from inkthread.core.document.values import EngineBond, Job
from inkthread.core.quantity import (
    QuantityError,
    parse_length_mm,
    parse_mass_g,
    parse_number,
    parse_voltage_v,
)

KEYS = (
    "name",
    "machine",
    "practice",
    "job",
    "quantity",
    "supply",
    "altitude",
    "mass",
    "units",
    "money",
    "engine",
    "rule",
    "ready-made",
)
_JOBS: tuple[Job, ...] = ("new", "replacement", "extension", "adapter", "trial lead")
_SUPPLIES = {"": "nominal", "nominal": "nominal", "working": "working", "least": "least", "most": "most"}


def brief_into(draft: Draft, catalogue: Catalogue, text: str) -> None:
    """Put a line of the brief into a draft. Raises LineError naming the word that is not understood."""
    key, _, rest = text.strip().partition(" ")
    rest = rest.strip()
    put = _LINES.get(key.lower())
    if put is None:
        raise LineError(f"{key!r} is not understood here. A line of the brief begins with {', '.join(KEYS)}.")
    try:
        put(draft, catalogue, rest)
    except QuantityError as error:
        raise LineError(str(error)) from None


def _name(field: str) -> Callable[[Draft, Catalogue, str], None]:
    def put(draft: Draft, _: Catalogue, rest: str) -> None:
        draft.put(rest, "brief", field)

    return put


def _one_of(field: str, allowed: tuple[str, ...]) -> Callable[[Draft, Catalogue, str], None]:
    def put(draft: Draft, _: Catalogue, rest: str) -> None:
        if rest.lower() not in allowed:
            raise LineError(f"{rest!r} is not understood. It is one of {', '.join(allowed)}.")
        draft.put(rest.lower(), "brief", field)

    return put


def _practice(draft: Draft, catalogue: Catalogue, rest: str) -> None:
    """A practice brings its usual supply, until one is said."""
    _one_of("practice", practices())(draft, catalogue, rest)
    usual = new_document("", rest.lower())["brief"]  # type: ignore[arg-type]
    for field in ("supply_nominal_v", "supply_working_v"):
        draft.put(usual[field], "brief", field)


def _quantity(draft: Draft, _: Catalogue, rest: str) -> None:
    many = parse_number(rest)
    if many != int(many) or many < 1:
        raise LineError(f"{rest!r} is no number of harnesses. Write quantity 2.")
    draft.put(int(many), "brief", "quantity")


def _supply(draft: Draft, _: Catalogue, rest: str) -> None:
    told: dict[str, float] = {}
    for part in re.split(r"\s*[,;]\s*", rest):
        said = re.match(r"([a-z]*)\s*(.*)", part, re.IGNORECASE)
        word, volts = (said[1], said[2]) if said is not None else ("", part)
        if word.lower() not in _SUPPLIES:
            raise LineError(
                f"{word!r} is not understood. Write supply 12 V, working 13.2 V, least 11 V, most 14.4 V."
            )
        told[_SUPPLIES[word.lower()]] = parse_voltage_v(volts)
    if "nominal" in told and "working" not in told:
        told["working"] = usual_working_v(draft.plain["brief"]["practice"], told["nominal"])
    for which, value in told.items():
        draft.put(value, "brief", f"supply_{which}_v")


def _altitude(draft: Draft, _: Catalogue, rest: str) -> None:
    draft.put(
        parse_length_mm(rest if re.search("[a-z']", rest) else f"{rest} m") / 1000, "brief", "altitude_m"
    )


def _mass(draft: Draft, _: Catalogue, rest: str) -> None:
    draft.put(parse_mass_g(re.sub(r"^(?:budget|at most)\s*", "", rest)), "brief", "mass_budget_g")


def _rule(draft: Draft, catalogue: Catalogue, rest: str) -> None:
    said = re.fullmatch(r"(\S+)\s+(.+?)(?:\s+because\s+(.*))?", rest)
    if said is None:
        raise LineError("A rule is its name, its value and why: rule drop_continuous_percent 3 because ...")
    if said[1] not in catalogue.rules:
        known = ", ".join(sorted(catalogue.rules))
        raise LineError(f"There is no house rule {said[1]!r}. Known are {known}.")
    rules = draft.at("brief", "house_rules")
    draft.put(
        {
            "order": next_order(rules),
            "value": _rule_value(catalogue.rules[said[1]], said[2]),
            "reason": said[3] or "",
        },
        "brief",
        "house_rules",
        said[1],
    )


def _rule_value(rule: Rule, text: str) -> float:
    """A figure, or the view that is meant by its own words."""
    meant = next((c for c in rule.choices if c.label.lower() == text.lower()), None)
    if meant is not None:
        return meant.value
    if rule.choices and not re.fullmatch(r"[\d.,]+", text):
        views = ", ".join(f"{c.value:g} ({c.label})" for c in rule.choices)
        raise LineError(f"{text!r} is none of its choices: {views}.")
    return parse_number(text)


_UNITS: dict[str, tuple[str, str]] = {
    **dict.fromkeys(("metric", "mm", "millimetres"), ("units", "metric")),
    **dict.fromkeys(("inch", "inches", "in"), ("units", "inch")),
    "both": ("units", "both"),
    **dict.fromkeys(("g", "grams"), ("mass_unit", "g")),
    **dict.fromkeys(("oz", "ounces"), ("mass_unit", "oz")),
    "c": ("temperature_unit", "C"),
    "f": ("temperature_unit", "F"),
    "a4": ("paper", "A4"),
    "letter": ("paper", "Letter"),
}


def _units(draft: Draft, _: Catalogue, rest: str) -> None:
    for word in re.split(r"[\s,;]+", rest.strip()):
        meant = _UNITS.get(word.lower().lstrip("°"))
        if meant is None:
            raise LineError(
                f"{word!r} is no unit that figures are shown in. Write mm, inch or both; g or oz; C or F; "
                "and A4 or Letter for the paper."
            )
        draft.put(meant[1], "brief", meant[0])


def _money(draft: Draft, _: Catalogue, rest: str) -> None:
    """``£ before``, ``EUR``, ``none``."""
    said = re.fullmatch(r"(.*?)\s*(?:\b(before|after))?", rest.strip())
    word = (said[1] if said is not None else rest).strip()
    if len(word) > _LONGEST_CURRENCY:
        raise LineError(f"{word!r} is longer than a currency is written. Write money £ before, or money EUR.")
    draft.put("" if word.lower() == "none" else word, "brief", "currency")
    draft.put(said is not None and said[2] == "before", "brief", "currency_first")


_LONGEST_CURRENCY = 8
_BONDS: tuple[EngineBond, ...] = ("strap", "bolted bare", "not said")
_LINES: dict[str, Callable[[Draft, Catalogue, str], None]] = {
    "name": _name("name"),
    "machine": _name("machine"),
    "practice": _practice,
    "job": _one_of("job", _JOBS),
    "quantity": _quantity,
    "supply": _supply,
    "altitude": _altitude,
    "mass": _mass,
    "units": _units,
    "money": _money,
    "engine": _one_of("engine", _BONDS),
    "rule": _rule,
    "ready-made": lambda draft, _, rest: ready_made_into(draft, rest),
}
