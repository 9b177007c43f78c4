"""What a practice changes, in one sentence of its own figures."""

from __future__ import annotations

from inkthread.core.catalogue import Catalogue
from inkthread.core.measures import METRIC, Measures, format_area, format_length
from inkthread.core.words import list_in_words


def practice_in_words(catalogue: Catalogue, practice: str, units: Measures = METRIC) -> str:
    """Wire type, least copper, drop, slack, clamps and tests of a practice, as its rules have them."""

    def preset(rule: str) -> float:
        return catalogue.rules[rule].values[practice] or 0.0

    usual, brief = preset("drop_limit_continuous_percent"), preset("drop_limit_intermittent_percent")
    drop = f"at most {usual:g} % drop" if usual else "drop by the aircraft table"
    if usual and brief != usual:
        drop += f", {brief:g} % for what runs briefly"
    said = [
        f"{catalogue.preset_families[practice]} wire of {format_area(preset('least_area_mm2'))} or more",
        drop,
        f"{format_length(preset('slack_per_branch_mm'), units)} of slack a branch",
        f"a clamp every {format_length(preset('support_mm'), units)}",
    ]
    again = int(preset("reterminations"))
    times = {1: "once", 2: "twice"}.get(again, f"{again} times")
    if again:
        said.append(f"ends that can be made again {times}")
    if preset("test_insulation_v"):
        said.append(f"insulation tested at {preset('test_insulation_v'):g} V")
    return list_in_words(said) + "."
