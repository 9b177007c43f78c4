"""House rules in force: the practice's preset, and what the builder set against it."""

from __future__ import annotations

from inkthread.core.brief.airs import Air, Stretch, branch_airs, point_airs
from inkthread.core.catalogue import Catalogue
from inkthread.core.document.types import Document, Load
from inkthread.core.document.values import Served
from inkthread.core.findings import FindingBook, Place
from inkthread.core.measures import MM_PER_INCH
from inkthread.core.record import record
from inkthread.core.words import list_in_words


@record
class RuleInForce:
    """One rule as it applies to this harness, and where it comes from."""

    label: str
    unit: str
    value: float | None
    """None where a published table decides instead."""
    origin: str
    """``practice``, ``house`` or ``trial lead``."""
    preset_value: float | None
    why: str
    """Of the practice's value its effect; of the builder's own the reason given, empty where none is."""
    source: str


@record
class BriefResult:
    """Rules in force, the wire family in force, cautions that apply."""

    rules: dict[str, RuleInForce]
    family: str
    family_origin: str
    cautions: tuple[str, ...]
    airs: dict[str, tuple[Stretch, ...]]
    """Branch to its stretches, each in one air."""
    point_airs: dict[str, Air]
    """Point to the air there: of the zone it names, else the hottest that meets there."""

    def hottest(self, branch: str) -> Air:
        """The air of a branch's hottest stretch."""
        return max((s.air for s in self.airs[branch]), key=lambda air: air.severity)

    def value(self, rule: str) -> float:
        """The rule's number. Raises KeyError for a rule that a table decides."""
        value = self.rules[rule].value
        if value is None:
            raise KeyError(rule)
        return value


def brief_room(document: Document, catalogue: Catalogue) -> BriefResult:
    """Rules, family and cautions in force. Unknown house rules are refused before this."""
    brief = document.brief
    rules: dict[str, RuleInForce] = {}
    for rule_id, rule in catalogue.rules.items():
        preset = rule.values[brief.practice]
        if rule_id == "cut_step_mm" and brief.units == "inch":
            preset = MM_PER_INCH / 4
        own = brief.house_rules.get(rule_id)
        if own is None and brief.job == "trial lead" and rule.trial is not None:
            rules[rule_id] = RuleInForce(
                rule.label, rule.unit, rule.trial, "trial lead", preset, "It is taken off again.", rule.source
            )
        elif own is None:
            rules[rule_id] = RuleInForce(
                rule.label, rule.unit, preset, "practice", preset, rule.why, rule.source
            )
        else:
            rules[rule_id] = RuleInForce(
                rule.label, rule.unit, own.value, "house", preset, own.reason, "house rule"
            )
    chosen = document.wire.family
    family = chosen or catalogue.preset_families[brief.practice]
    default_ambient_c = rules["default_ambient_c"].value or 0.0
    airs = branch_airs(document, default_ambient_c)
    return BriefResult(
        rules,
        family,
        "practice" if chosen is None else "chosen",
        (*catalogue.cautions["all"], *catalogue.cautions[brief.practice]),
        airs,
        point_airs(document, airs, default_ambient_c),
    )


def served_as(document: Document, catalogue: Catalogue, load: Load | None) -> Served:
    """What the drop of a load is judged by; the input of a converter is a continuous load.

    Where the practice goes by what a load is (ABYC E-11, from memory: main feeders, bilge blowers,
    navigation lights, electronics), one of these kinds or words is critical unless the builder says not.
    """
    if load is None:
        return "continuous"
    if load.critical is None and document.brief.practice in catalogue.critical.practices:
        device = document.circuits.devices[load.device]
        words = device.name.lower()
        if device.kind in catalogue.critical.kinds or any(w in words for w in catalogue.critical.words):
            return "critical"
    return "critical" if load.critical else load.service


def drop_limit_v(
    brief: BriefResult, document: Document, catalogue: Catalogue, service: Served, supply_v: float
) -> tuple[float, str]:
    """Allowed drop in V around the loop of one load, and the source of the limit.

    A percentage is of the voltage that feeds it. Under aviation, unless a house rule says otherwise,
    it is FAA AC 43.13-1B table 11-6 by nominal voltage.
    """
    rule = brief.rules[f"drop_limit_{service}_percent"]
    if rule.value is not None:
        return supply_v * rule.value / 100, f"{rule.value:g} %, {rule.source}"
    nominal = document.brief.supply_nominal_v
    return table_drop_v(min(nominal, supply_v) if supply_v < nominal / 2 else nominal, service, catalogue)


def table_drop_v(nominal_v: float, service: Served, catalogue: Catalogue) -> tuple[float, str]:
    """Allowed drop in V by AC 43.13-1B table 11-6 for a nominal system voltage, and its source."""
    rows = catalogue.drop_table_v
    row = next((r for r in rows if nominal_v <= r[0]), rows[-1])
    limit = row[3] if service == "intermittent" else row[2]
    return limit, f"{limit:g} V on the {row[1]:g} V row, {catalogue.sources['drop_table_v']}"


def find_in_rules(document: Document, brief: BriefResult, book: FindingBook) -> None:
    """House rules of the builder's own that stand without a reason."""
    bare = [r for r, own in document.brief.house_rules.items() if not own.reason.strip() and r in brief.rules]
    if bare:
        book.add(
            "rule-without-reason",
            *(Place("brief", "rule", r) for r in bare[:8]),
            rules=list_in_words([brief.rules[r].label for r in bare[:6]]),
        )
