"""The brief: what is made, under which practice, and which rules are in force."""

from inkthread.core.brief.airs import Air, Stretch, airs_on
from inkthread.core.brief.rules import BriefResult, RuleInForce, brief_room, drop_limit_v

__all__ = ["Air", "BriefResult", "RuleInForce", "Stretch", "airs_on", "brief_room", "drop_limit_v"]
