"""The brief: what is made, under which practice, and which rules are in force."""

from inkthread.core.brief.airs import Air, Stretch, hottest_on
from inkthread.core.brief.ready_made import MakeOrBuy, Offer, find_in_offers, make_or_buy
from inkthread.core.brief.rules import (
    BriefResult,
    RuleInForce,
    brief_room,
    drop_limit_v,
    find_in_rules,
    served_as,
)

__all__ = [
    "Air",
    "BriefResult",
    "MakeOrBuy",
    "Offer",
    "RuleInForce",
    "Stretch",
    "brief_room",
    "drop_limit_v",
    "find_in_offers",
    "find_in_rules",
    "hottest_on",
    "make_or_buy",
    "served_as",
]
