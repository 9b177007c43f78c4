"""Every check of the room: a harness that sets it off, one beside it that does not, and plain words."""

from __future__ import annotations

from collections.abc import Callable

import pytest

from tests.conftest import HarnessBuilder
from tests.core.checks import says_plainly
from tests.core.scenarios import pump


def cover(builder: HarnessBuilder, branch: str = "", **said: object) -> HarnessBuilder:
    branch = branch or list(builder.plain["route"]["branches"])[-1]
    return builder.set(f"dress/covers/{branch}", {"order": 1, **said})


def shrink(builder: HarnessBuilder, at: str, **said: object) -> HarnessBuilder:
    return builder.set(f"dress/shrinks/{at}", {"order": 1, **said})


def label(builder: HarnessBuilder, at: str = "M1", **said: object) -> HarnessBuilder:
    return builder.set(f"dress/labels/{at}", {"order": 1, **said})


def trimmed(builder: HarnessBuilder) -> HarnessBuilder:
    return builder.set("cut/ends/M1", {"order": 1, "state": "trimmed at fitting"})


def in_zone(builder: HarnessBuilder, **zone: object) -> HarnessBuilder:
    builder.set("brief/zones", {"z": {"order": 1, "name": "Tail", "ambient_c": 40.0, **zone}})
    for branch in builder.plain["route"]["branches"].values():
        branch["zone"] = "z"
    return builder


def fat(opening_mm: float) -> HarnessBuilder:
    """A pump with a grommet on its way."""
    builder = pump()
    point = builder.plain["route"]["points"]["F1"]
    point["opening_mm"], point["edge"] = opening_mm, "grommet"
    return builder


def hair() -> HarnessBuilder:
    """A wire thinner than any label sleeve recovers to."""
    builder = (
        HarnessBuilder("model").feed("B1 battery > F1 fuse > M1 lamp 0.01 A > B1").run("B1 50 > F1 50 > M1")
    )
    builder.plain["wire"]["own_families"] = {
        "HAIR": {
            "order": 1, "name": "Hair wire", "insulation": "ETFE", "temperature_c": 150.0, "source": "caliper",
            "sizes": {"s": {"order": 1, "gauge": "34 AWG", "area_mm2": 0.02, "od_mm": 0.6, "conductor_mm": 0.18,
                            "resistance_mohm_per_m": 870.0}},
        }
    }  # fmt: skip
    return builder.set("wire/family", "HAIR").set(
        "brief/house_rules/labels", {"order": 1, "value": 2, "reason": "all"}
    )


def wordy(more_mm: float) -> HarnessBuilder:
    """Everything is labelled at both ends, and the shortest wire is so much longer than its labels take."""
    builder = pump().set("brief/house_rules/labels", {"order": 1, "value": 2, "reason": "all"})
    builder.set("brief/house_rules/cover", {"order": 2, "value": 1, "reason": "none"})
    branches = builder.plain["route"]["branches"]
    for branch in branches.values():
        branch["length_mm"] = 5000.0
    for _ in range(2):  # how long its text is does not hang on it, but where its label sits may
        w = builder.workings()
        key, section = min(w.route.sections.items(), key=lambda kv: kv[1].length_mm)
        takes = sum(x.length_mm + x.behind_mm for x in w.dress.labels.labels if x.of == key)
        (only,) = section.branches
        branches[only]["length_mm"] += takes + more_mm - section.slack_mm - section.length_mm
    return builder


SET_OFF: dict[str, list[Callable[[], HarnessBuilder]]] = {
    "shrink-cannot": [lambda: shrink(pump(), "M1", part="HS2-4"), lambda: shrink(pump(), "M1", part="HL3-3")],
    "adhesive-near-face": [
        lambda: shrink(cover(pump("model"), kind="braid", bare_to_mm=0.0), "M1", lined=True).set(
            "ends/connectors/M1/family", "BUL"
        ).set("ends/connectors/M1/shell", "none").set("brief/house_rules/face_clear_mm", {"order": 1, "value": 20, "reason": "long"})
    ],
    "tube-too-hot": [lambda: in_zone(shrink(pump(), "M1", part="HS2-3/8"), ambient_c=135.1)],
    "barrel-open-in-wet": [
        lambda: shrink(in_zone(pump(), wet=True), "F1", lined=False),
        lambda: shrink(in_zone(pump(), salt=True), "B1", left_out=True),
        lambda: in_zone(pump(), immersed=True).set("brief/house_rules/barrel_tube", {"order": 1, "value": 1, "reason": "dry"}),
    ],
    "cover-does-not-suit": [
        lambda: cover(pump(), kind="braid", part="BR-50"),
        lambda: cover(pump(), kind="conduit", part="SC-37"),
    ],
    "cover-over-lock": [lambda: cover(pump(), bare_to_mm=17.4)],
    "cover-holds-water": [lambda: in_zone(cover(pump(), kind="tape"), wet=True)],
    "loom-not-anchored": [lambda: cover(pump(), kind="conduit", ends_taped=False)],
    "cover-too-hot": [lambda: in_zone(cover(pump(), kind="spiral"), ambient_c=85.1)],
    "label-misplaced": [
        lambda: label(pump(), behind_mm=12.9),
        lambda: label(pump(), behind_mm=19.1),
        lambda: label(trimmed(pump()), behind_mm=59.0),
    ],
    "label-shrunk-early": [lambda: label(trimmed(pump()), when="before final sizing")],
    "label-too-small": [lambda: pump().set("dress/height_mm", 1.9)],
    "label-too-long": [lambda: wordy(-1.0)],
    "label-does-not-close": [hair],
    "hold-does-not-fit": [lambda: fat(7.0)],
}  # fmt: skip

QUIET: dict[str, list[Callable[[], HarnessBuilder]]] = {
    "shrink-cannot": [pump, lambda: shrink(pump(), "M1", left_out=True)],
    "adhesive-near-face": [pump, lambda: pump("motorsport")],
    "tube-too-hot": [lambda: in_zone(shrink(pump(), "M1", part="HS2-3/8"), ambient_c=135.0)],
    "barrel-open-in-wet": [
        lambda: in_zone(pump(), wet=True),
        lambda: shrink(pump(), "F1", lined=False),
        lambda: pump().set("brief/house_rules/barrel_tube", {"order": 1, "value": 1, "reason": "dry"}),
    ],
    "cover-does-not-suit": [pump, lambda: cover(pump(), kind="none")],
    "cover-over-lock": [lambda: cover(pump(), bare_to_mm=17.5)],
    "cover-holds-water": [
        lambda: in_zone(cover(pump(), kind="braid"), wet=True),
        lambda: in_zone(cover(pump(), kind="tape")),
        lambda: in_zone(pump(), wet=True).set("brief/house_rules/cover", {"order": 1, "value": 4, "reason": "car"}),
    ],
    "loom-not-anchored": [lambda: cover(pump(), kind="conduit"), lambda: cover(pump(), kind="braid", ends_taped=False)],
    "cover-too-hot": [lambda: in_zone(cover(pump(), kind="spiral"), ambient_c=85.0)],
    "label-misplaced": [
        lambda: label(pump(), behind_mm=13.0),
        lambda: label(pump(), behind_mm=19.0),
        lambda: label(trimmed(pump()), behind_mm=60.0),
        lambda: label(pump(), behind_mm=90.0, left_out=True),
    ],
    "label-shrunk-early": [lambda: label(pump(), when="before final sizing"), lambda: label(trimmed(pump()))],
    "label-too-small": [lambda: pump().set("dress/height_mm", 2.0)],
    "label-too-long": [lambda: wordy(1.0), pump],
    "label-does-not-close": [pump],
    "hold-does-not-fit": [lambda: fat(25.0)],
}  # fmt: skip


@pytest.mark.parametrize(("code", "builder"), [(c, b) for c, many in SET_OFF.items() for b in many])
def test_check_is_set_off_and_speaks_plainly(code, builder):
    says_plainly(builder(), code)


@pytest.mark.parametrize(("code", "builder"), [(c, b) for c, many in QUIET.items() for b in many])
def test_a_harness_at_the_right_side_of_the_edge_is_left_alone(code, builder):
    assert code not in {f.code for f in builder().evaluate().findings}


@pytest.mark.parametrize(
    "code",
    [
        "cover-over-lock",
        "cover-holds-water",
        "loom-not-anchored",
        "label-misplaced",
        "label-shrunk-early",
        "barrel-open-in-wet",
    ],
)
def test_one_click_puts_it_right(code):
    builder = SET_OFF[code][0]()
    finding = next(f for f in builder.evaluate().findings if f.code == code)
    for operation in next(r for r in finding.remedies if r.operations).operations:
        builder.set(str(operation["path"]).strip("/"), operation["value"])
    assert code not in {f.code for f in builder.evaluate().findings}
