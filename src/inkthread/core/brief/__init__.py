"""The brief: what is made, under which practice, and which rules are in force."""

from inkthread.core.brief.rules import BriefResult, RuleInForce, brief_room, drop_limit_v

__all__ = ["BriefResult", "RuleInForce", "brief_room", "drop_limit_v"]
