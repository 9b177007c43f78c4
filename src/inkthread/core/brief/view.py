"""What is shown of the brief, and how it opens."""

from __future__ import annotations

from functools import partial

from inkthread.core.brief.airs import HOT_C
from inkthread.core.brief.ready_made import MakeOrBuy
from inkthread.core.brief.rules import BriefResult
from inkthread.core.document.types import Document
from inkthread.core.opening import Opening, many
from inkthread.core.record import record
from inkthread.core.typed.made import conditions_in_words


@record
class RuleView:
    """A rule as it applies: its value, whose it is, the practice's own, and the reason given for another.

    What it is called, and what may be chosen, is the catalogue's.
    """

    value: float | None
    """None where a published table decides instead."""
    origin: str
    """``practice``, ``house`` or ``trial lead``."""
    preset_value: float | None
    """The practice's, where another value is in force; None where it is the practice's own."""
    reason: str


@record
class BriefView:
    """Rules in force, the family in force and where it comes from, cautions, and whether to make or buy."""

    rules: dict[str, RuleView]
    family: str
    family_origin: str
    cautions: tuple[str, ...]
    make_or_buy: MakeOrBuy
    hot_zones: tuple[str, ...]
    conditions: dict[str, str]
    """What is so in each zone, in words: ``wet, vibration, fuel``."""


def brief_view(document: Document, brief: BriefResult, offered: MakeOrBuy) -> BriefView:
    """The brief as it is sent."""
    rules = {
        k: RuleView(
            r.value,
            r.origin,
            r.preset_value if r.origin != "practice" else None,
            r.why if r.origin == "house" else "",
        )
        for k, r in brief.rules.items()
    }
    hot = tuple(k for k, zone in document.brief.zones.items() if zone.ambient_c >= HOT_C)
    conditions = {
        k: ", ".join(
            condition
            for condition in (*conditions_in_words(partial(getattr, zone)), zone.fluids)
            if condition
        )
        for k, zone in document.brief.zones.items()
    }
    return BriefView(rules, brief.family, brief.family_origin, brief.cautions, offered, hot, conditions)


def brief_opening(words: dict[str, str], document: Document, brief: BriefResult) -> Opening:
    """By which practice and rules it is built."""
    stated = document.brief
    own = sum(r.origin == "house" for r in brief.rules.values())
    rules = words["own"].format(own=many(own, "house rule")) if own else words["preset"]
    sentence = words["built"].format(
        practice=stated.practice, volts=f"{stated.supply_working_v:g}", family=brief.family, rules=rules
    )
    return Opening("full" if stated.name else "begun", len(stated.zones), sentence)
