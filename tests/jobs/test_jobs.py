"""Whole jobs, as a builder types them: a machine each, its right wires, ends, cuts, bill and findings.

A job is a file of typed lines; what it must come to stands in its remarks:

``#= least 4`` the fewest lines that say it; ``#= wires 6``; ``#= gauge M1: 5 A, 8.3 m, 12.8 V, 3 %`` what the
wires of a load are worked out from by hand (there and back; a fuse where one is stated), and the size is to
be within one step of it;
``#= finds code`` and ``#= not code`` findings; ``#= quiet`` no stop and no fix.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import cache
from pathlib import Path

import pytest

from inkthread.catalogue import shipped_catalogue
from inkthread.core.document import parse_document
from inkthread.core.document.against_catalogue import require_known_parts
from inkthread.core.evaluate import work_out
from inkthread.core.route import SectionEnd
from inkthread.core.shop import EMPTY_SHOP
from inkthread.core.text import read_text
from inkthread.core.workings import Workings

CATALOGUE = shipped_catalogue()
JOBS = sorted((Path(__file__).parent / "lines").glob("*.txt"))

RHO_OHM_MM2_PER_M = 0.0172 * 1.12
"""Copper at 50 °C (IEC 60028: 0.01724 at 20 °C)."""
DENSITY = ((1.0, 11.0), (3.0, 9.0), (10.0, 6.5), (1e9, 4.5))
"""A per mm² up to an area, a wire alone or among few (common practice, no source)."""


@dataclass(frozen=True)
class Job:
    """A job: its lines, and what its remarks expect."""

    lines: tuple[str, ...]
    expects: dict[str, list[str]]
    workings: Workings


@pytest.fixture(params=JOBS, ids=lambda p: p.stem)
def job(request) -> Job:
    return read_job(request.param)


@cache
def read_job(path: Path) -> Job:
    """A job worked out, once for all that is asked of it."""
    text = path.read_text(encoding="utf-8")
    read = read_text(text, CATALOGUE)
    assert read.problems == ()
    document = parse_document(read.document)
    require_known_parts(document, CATALOGUE)
    expects: dict[str, list[str]] = {}
    for word, rest in re.findall(
        r"^#= (least|wires|gauge|finds|not|quiet)\b *(.*)$", text, flags=re.MULTILINE
    ):
        expects.setdefault(word, []).append(rest)
    typed = tuple(x for x in text.splitlines() if x.strip() and x[0] not in "#[")
    return Job(typed, expects, work_out(document, CATALOGUE, EMPTY_SHOP))


def test_there_are_jobs_of_every_practice():
    assert len(JOBS) >= 25
    practices = {re.search(r"^practice (\w+)", p.read_text(encoding="utf-8"), re.MULTILINE)[1] for p in JOBS}
    assert practices == {"motorsport", "aviation", "marine", "model", "vehicle", "equipment"}


def test_it_took_no_more_lines_than_it_must(job):
    assert len(job.lines) <= 1.5 * int(job.expects["least"][0])


def test_it_has_its_wires(job):
    assert len(job.workings.wire.wires) == int(job.expects["wires"][0])


FUSES_A = (1, 2, 3, 5, 7.5, 10, 15, 20, 25, 30, 40, 50, 60, 80, 100, 125, 150, 175, 200)
"""Ratings that fuses are made in (ISO 8820, from memory)."""


def worked_mm2(amps: float, metres: float, volts: float, percent: float, fuse: float | None = None) -> float:
    """Area that current, its fuse and drop ask for, by hand: I rho L / U, and amperes over a density. A fuse
    is loaded to three quarters (common practice).
    """
    by_drop = RHO_OHM_MM2_PER_M * metres * amps / (volts * percent / 100)
    fuse = fuse or next(a for a in FUSES_A if a >= amps / 0.75)
    by_fuse = next(a for a in (fuse / d if fuse / d <= up else None for up, d in DENSITY) if a is not None)
    return max(by_drop, by_fuse)


def ends_take_mm2(w: Workings, key: str) -> float:
    """The least copper that a contact at each end takes."""
    least = 0.0
    for end in (w.route.sections[key].a, w.route.sections[key].b):
        connector = w.document.ends.connectors.get(end.connector or "")
        if connector is not None:
            family = CATALOGUE.connectors[connector.family]
            contacts = family.contacts_for(connector.contact_gender, connector.stud)
            least = max(least, min(c.conductor_min_mm2 for c in contacts))
    return least


def test_its_gauges_are_within_a_step_of_those_worked_by_hand(job):
    w = job.workings
    strength = w.evaluation.brief.rules["least_area_mm2"].value
    for said in job.expects["gauge"]:
        load, figures = said.split(":")
        stated = [float(x) for x in re.findall(r"[\d.]+", figures)]
        amps = stated[0]
        needs = max(worked_mm2(*stated), strength)
        loop = w.wire.loops.get(load)
        keys = (
            loop.wires
            if loop is not None
            else [k for k in w.wire.wires if f"{load}." in k or load in _ends(w, k)]
        )
        assert keys, load
        # Copper goes where it saves most: the longest wire of the loop shows what was worked out.
        own = [k for k in keys if loop is None or abs(w.wire.wires[k].carries_a - amps) <= 0.13 * amps]
        for key in [max(own, key=lambda k: w.route.sections[k].length_mm)]:
            made = w.wire.wires[key]
            needs = max(needs, ends_take_mm2(w, key))
            sizes = [s.area_mm2 for s in w.wire.families[made.family].sizes]
            worked = next((n for n, a in enumerate(sizes) if a >= 0.98 * needs), len(sizes) - 1)
            chosen = sizes.index(made.area_mm2)
            assert abs(chosen - worked) <= 1, (key, made.gauge, round(needs, 3))


def _ends(w: Workings, key: str) -> str:
    made = w.wire.wires[key]
    return f"{made.from_text} {made.to_text}"


def test_its_findings_are_those_of_the_job(job):
    findings = job.workings.evaluation.findings
    codes = {f.code for f in findings}
    for expected in job.expects.get("finds", ()):
        assert set(expected.split()) <= codes
    for unwanted in job.expects.get("not", ()):
        assert not set(unwanted.split()) & codes
    if "quiet" in job.expects:
        assert [f.what for f in findings if f.severity != "consider"] == []


def test_every_wire_ends_in_something_and_is_cut_long_enough(job):
    w = job.workings
    for key, section in w.route.sections.items():
        for end in (section.a, section.b):
            if end.kind == "pin" and end.connector is not None:
                assert (end.id, key) in w.ends.contacts, (key, end.id)
    step = w.evaluation.brief.rules["cut_step_mm"].value
    for cut in w.evaluation.cut.cuts:
        assert cut.cut_mm >= cut.finished_mm >= cut.route_mm
        assert cut.cut_mm % step == pytest.approx(0, abs=1e-6) or cut.cable


def way_mm(job: Job, a: str, b: str) -> tuple[float, float]:
    """Length and slack along the branches between two points, by search: not by the program's tree."""
    document = job.workings.document
    usual = job.workings.evaluation.brief.rules["slack_per_branch_mm"].value
    best: dict[str, tuple[float, float]] = {a: (0.0, 0.0)}
    queue = [a]
    while queue:
        here = queue.pop()
        for branch in document.route.branches.values():
            for one, other in ((branch.from_point, branch.to_point), (branch.to_point, branch.from_point)):
                if one != here:
                    continue
                own = branch.slack_mm if branch.slack_mm is not None else usual
                to = (best[here][0] + branch.length_mm, best[here][1] + own)
                if other not in best or to[0] < best[other][0] - 1e-9:
                    best[other] = to
                    queue.append(other)
    # Between two ends at one place there is still enough to move it.
    return best[b] if a != b else (0.0, usual)


def service_mm(job: Job, wire: str, end: SectionEnd) -> float:
    """Slack that the house rule's re-terminations lack at an end, counted anew from the document."""
    document, rules = job.workings.document, job.workings.evaluation.brief.rules
    contact = job.workings.ends.contacts[end.id, wire]
    if contact.factory or document.route.points[end.point].slack_mm is not None:
        return 0.0
    branches = [
        document.route.branches[b]
        for b in job.workings.route.sections[wire].branches
        if end.point in (document.route.branches[b].from_point, document.route.branches[b].to_point)
    ]
    usual = rules["slack_per_branch_mm"].value
    lies = usual if not branches or branches[0].slack_mm is None else branches[0].slack_mm
    asked = rules["reterminations"].value * (contact.strip_mm + rules["recut_mm"].value)
    return max(asked - lies, 0.0)


def test_its_wires_are_cut_as_long_as_the_way_between_their_ends_asks(job):
    """Way + slack + what each end takes up, rounded up to the cutting step; a twist by hand takes more."""
    w = job.workings
    step = w.evaluation.brief.rules["cut_step_mm"].value
    spliced = set(w.route.splices)
    for cut in w.evaluation.cut.cuts:
        section = w.route.sections[cut.wire]
        if cut.cable or {section.a.id, section.b.id} & spliced:
            continue
        along, slack = way_mm(job, section.a.point, section.b.point)
        assert cut.route_mm == pytest.approx(along, abs=0.01)
        takes = sum(w.ends.contacts[end.id, cut.wire].allowance_mm for end in (section.a, section.b))
        takes += sum(service_mm(job, cut.wire, end) for end in (section.a, section.b))
        least = along + slack + takes
        twist = w.evaluation.wire.wires[cut.wire].cable is not None
        # In rings a wire leans by pi times its pitch circle over a turn of 12 diameters: 3.4 % at most.
        rings = any(branch in w.dress.lays for branch in section.branches)
        most = least * (1.2 if twist else 1) + (along * 0.034 if rings else 0)
        assert least - 0.01 <= cut.cut_mm <= most + step + 0.01, cut.label
        assert cut.cut_mm % step == pytest.approx(0, abs=1e-6)


def test_its_ends_hold_the_wires_they_are_given(job):
    """The copper within the barrel's range, the insulation within its wings and seal, a way for every pin."""
    w = job.workings
    doubtful = {
        p.id for f in w.evaluation.findings if f.code in ("conductor-outside-contact", "insulation-too-thin")
        for p in f.places
    }  # fmt: skip
    for (ref, key), contact in w.ends.contacts.items():
        if ref in doubtful or key in doubtful:
            continue
        size = w.wire.size(key)
        assert contact.conductor_min_mm2 <= size.area_mm2 <= contact.conductor_max_mm2, (ref, key)
        seal = w.ends.seals.get((ref, key))
        if seal is not None:
            assert seal.od_min_mm <= size.od_mm <= seal.od_max_mm, (ref, key)
    for connector_id, connector in w.document.ends.connectors.items():
        used = {e.cavity for e in w.document.ends.pinout.values() if e.connector == connector_id}
        assert len(used) <= connector.ways
        family = CATALOGUE.connectors[connector.family]
        assert used <= set(family.housing(connector.ways).face.cavities)


def test_its_bill_is_what_its_cuts_and_ends_come_to(job):
    w = job.workings
    bill = w.evaluation.parts.lines
    many = w.document.brief.quantity
    metres = sum(x.quantity for x in bill if x.group == "wire")
    cut = sum(c.cut_mm for c in w.evaluation.cut.cuts if not c.cable)
    cut += sum(c.cut_mm for c in w.evaluation.cut.cables)
    assert metres == pytest.approx(cut * many / 1000, abs=0.001 * len(bill))
    ends = sum(c.wire is not None and not c.shared for k in w.ends.connectors.values() for c in k.cavities)
    assert sum(x.quantity for x in bill if x.group in ("contact", "terminal")) == ends * many
    housings = [k for k, c in w.document.ends.connectors.items() if not CATALOGUE.connectors[c.family].loose]
    assert sum(x.quantity for x in bill if x.group == "housing") == len(housings) * many
    splices = [s for s in w.route.splices.values() if s.kind == "splice"]
    pigtails = sum(e.shield.startswith("pigtail") and e.part != "" for c in w.cut.cables for e in c.ends)
    assert sum(x.quantity for x in bill if x.group == "splice") == (len(splices) + pigtails) * many
    assert sum(x.cost for x in bill) == pytest.approx(w.evaluation.parts.cost_total, abs=0.01)
    assert all(x.quantity > 0 for x in bill)
