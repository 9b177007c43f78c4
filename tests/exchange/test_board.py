"""The board at 1:1, read back: lengths in SVG, PDF and DXF, the ruler on paper, tiles that leave nothing out."""

from __future__ import annotations

import io
import itertools
import json
import math
import re

import ezdxf
import pypdf
import pytest

from inkthread.cli import main
from inkthread.core.build import CannotFold, board_of, folded
from inkthread.demo import DEMOS, demo_document
from inkthread.exchange.board import (
    PAPERS_MM,
    RULER_MM,
    NoBoard,
    board_dxf,
    board_pdf,
    board_svg,
    tiling_of,
)
from tests.conftest import HarnessBuilder
from tests.core.dress.test_dress import fork

WORKED = {name: HarnessBuilder(plain=demo_document(name)).workings() for name in DEMOS}
BOARDS = {name: board_of(w.rooms) for name, w in WORKED.items()}
POINT_MM = 25.4 / 72


def middles(board):
    return [line.points for line in board.lines if line.layer == "middles"]


@pytest.mark.parametrize("name", DEMOS)
def test_every_branch_is_as_long_as_it_was_measured(name):
    lengths = sorted(b.length_mm for b in WORKED[name].document.route.branches.values() if b.length_mm)
    drawn = sorted(math.dist(*points) for points in middles(BOARDS[name]))
    assert drawn == pytest.approx(lengths, abs=0.01)


def crosses(a, b) -> bool:
    """Whether two stretches cross anywhere but at their ends: by the sign of areas."""

    def side(p, q, r):
        return (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0])

    tiny = 1e-3
    return (
        side(*a, b[0]) * side(*a, b[1]) < -tiny
        and side(*b, a[0]) * side(*b, a[1]) < -tiny
        and min(math.dist(p, q) for p in a for q in b) > 0.01
    )


@pytest.mark.parametrize("name", DEMOS)
def test_no_branch_crosses_another_and_all_lies_on_the_board(name):
    board = BOARDS[name]
    assert not any(crosses(a, b) for a, b in itertools.combinations(middles(board), 2))
    for x, y in (spot for line in board.lines for spot in line.points):
        assert 0 <= x <= board.width_mm
        assert 0 <= y <= board.height_mm
    assert all(-90 < w.turn_deg <= 90 for w in board.words), "nothing is read upside down"


def test_what_is_marked_is_where_the_rooms_have_it():
    """Ticks each 100 mm, clamps by count, a bundle as thick as its cover, every connector named once."""
    w = fork().workings()
    board = board_of(w.rooms)
    branches = w.document.route.branches
    ticks = [line for line in board.lines if line.layer == "ticks"]
    assert len(ticks) == sum(math.ceil(b.length_mm / 100) - 1 for b in branches.values())
    assert sum(line.layer == "clamps" for line in board.lines) == sum(
        b.clamps for b in w.dress.bundles.values()
    )
    outside = w.dress.outside_mm()
    thick = sorted(math.dist(s.points[1], s.points[2]) for s in board.lines if s.layer == "bundles")
    assert thick == pytest.approx(sorted(outside[b] for b in branches), abs=0.01)
    names = [x.text for x in board.words if x.layer == "connectors"]
    assert sorted(names) == sorted(w.ends.connectors)
    ends = sum(2 for c in w.dress.covers if c.code)
    assert sum(line.layer == "covers" for line in board.lines) == ends


def test_the_svg_is_in_millimetres():
    board = BOARDS["larkspur"]
    svg = board_svg(board, "Lark & spur")
    head = re.search(r'width="([\d.]+)mm" height="([\d.]+)mm" viewBox="0 0 ([\d.]+) ([\d.]+)"', svg)
    assert head is not None
    assert head[1] == head[3] == f"{board.width_mm:g}"
    assert head[2] == head[4] == f"{board.height_mm:g}"
    assert "Lark &amp; spur" in svg
    small = board_svg(board, "Larkspur", small=True)
    assert ">A1<" in small
    assert "braid" in svg
    assert "braid" not in small


def pages(pdf: bytes):
    return pypdf.PdfReader(io.BytesIO(pdf)).pages


def strokes(page):
    """Straight strokes of a page as (x0, y0, x1, y1) in points, read from its content."""
    text = page.get_contents().get_data().decode("latin-1")
    return [tuple(map(float, m)) for m in re.findall(r"([\d.-]+) ([\d.-]+) m ([\d.-]+) ([\d.-]+) l", text)]


@pytest.mark.parametrize(
    ("paper", "measured_mm"), [("A4", 100.0), ("Tabloid", 98.7), ("one sheet", 101.3), ("A3", 100)]
)
def test_the_printed_ruler_comes_out_right_by_what_the_printer_does(paper, measured_mm):
    """In the PDF's own points: the ruler, printed as this printer prints, is 100 mm within 0.3 %."""
    for page in list(pages(board_pdf(BOARDS["dawdler"], "Dawdler", paper, measured_mm)))[-2:]:
        level = [s for s in strokes(page) if s[1] == s[3] == pytest.approx(6 / POINT_MM)]
        longest = max((abs(s[2] - s[0]) for s in level), default=0.0)
        assert longest * POINT_MM * measured_mm / 100 == pytest.approx(RULER_MM, rel=0.003)


def test_a_branch_on_the_sheet_measures_what_it_is():
    board = BOARDS["dawdler"]
    (page,) = pages(board_pdf(board, "Dawdler"))
    drawn = [math.dist(s[:2], s[2:]) * POINT_MM for s in strokes(page)]
    for points in middles(board):
        length = math.dist(*points)
        assert min(abs(length - d) for d in drawn) < 0.003 * length + 0.02


@pytest.mark.parametrize("paper", PAPERS_MM)
@pytest.mark.parametrize("name", ["larkspur", "mushroom"])
def test_tiles_leave_nothing_out_and_share_a_strip(paper, name):
    board = BOARDS[name]
    tiling = tiling_of(board, paper)
    shown = [
        (*tiling.corner_mm(c, r), *tiling.shows_mm) for c in range(tiling.across) for r in range(tiling.down)
    ]
    for x, y in (spot for line in board.lines for spot in line.points):
        assert any(left <= x <= left + w and top <= y <= top + h for left, top, w, h in shown)
    if tiling.across > 1:
        assert tiling.corner_mm(1, 0)[0] == pytest.approx(tiling.shows_mm[0] - 10)
    assert len(pages(board_pdf(board, name, paper))) == tiling.across * tiling.down + 1, "and a map of them"


def test_the_dxf_is_sound_and_as_large_as_the_harness():
    board = BOARDS["larkspur"]
    drawing = ezdxf.read(io.StringIO(board_dxf(board)))
    assert not drawing.audit().has_errors
    assert drawing.units == ezdxf.units.MM
    lines = drawing.modelspace().query('LWPOLYLINE[layer=="MIDDLES"]')
    drawn = sorted(math.dist(*[p[:2] for p in line.get_points()]) for line in lines)
    assert drawn == pytest.approx(sorted(math.dist(*points) for points in middles(board)), abs=0.01)
    texts = [t.dxf.text for t in drawing.modelspace().query("TEXT")]
    assert "A1" in texts


def long_harness(metres: float) -> HarnessBuilder:
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > M1 pump 5 A > B1")
    return builder.run(f"B1 100 > F1 {metres} m > M1")


def test_a_board_wider_than_any_page_says_what_to_do():
    board = board_of(long_harness(5.2).workings().rooms)
    with pytest.raises(NoBoard, match=r"tiles"):
        board_pdf(board, "long")
    assert len(pages(board_pdf(board, "long", "A4"))) > 15
    assert len(pages(board_pdf(board_of(long_harness(4.8).workings().rooms), "long"))) == 1


def test_an_empty_board_is_a_sheet():
    board = board_of(HarnessBuilder("vehicle").workings().rooms)
    assert len(pages(board_pdf(board, "nothing", "A4"))) == 2


@pytest.mark.parametrize(
    ("out", "more", "named"),
    [
        ("b.png", [], ".svg, .pdf or .dxf"),
        ("b.pdf", ["--paper", "A0"], "A4, A3"),
        ("b.pdf", ["--ruler", "0"], "ruler"),
        ("b.pdf", ["--ruler", "nan"], "ruler"),
    ],
)
def test_what_cannot_be_drawn_is_told_on_standard_error(capsys, tmp_path, out, more, named):
    from tests.web.test_cli import LARKSPUR

    assert main(["board", LARKSPUR, str(tmp_path / out), *more]) == 2
    assert named in capsys.readouterr().err
    assert not (tmp_path / out).exists()


@pytest.mark.parametrize("out", ["b.svg", "b.pdf", "b.dxf"])
def test_the_command_writes_each_form(capsys, tmp_path, out):
    from tests.web.test_cli import LARKSPUR

    assert main(["board", LARKSPUR, str(tmp_path / out)]) == 0
    assert (tmp_path / out).stat().st_size > 1000
    assert "mm" in capsys.readouterr().out


@pytest.mark.parametrize(("name", "wide_mm"), [("dawdler", 1200.0), ("glider", 4100.0), ("mushroom", 7100.0)])
def test_a_folded_board_is_as_narrow_as_asked_and_every_branch_as_long_as_before(name, wide_mm):
    board = BOARDS[name]
    narrow = folded(board, wide_mm)
    assert narrow.width_mm <= wide_mm
    assert len(narrow.lines) > len(board.lines)
    for before, after in zip(board.lines, narrow.lines, strict=False):
        assert before.layer == after.layer
        if before.layer == "middles":
            long = [
                sum(math.dist(a, b) for a, b in itertools.pairwise(own.points)) for own in (before, after)
            ]
            assert long[1] == pytest.approx(long[0], rel=2e-3)  # chords of a bend
    for own in (*(p for line in narrow.lines for p in line.points), *(w.middle for w in narrow.words)):
        assert -1 <= own[0] <= narrow.width_mm + 1
        assert -1 <= own[1] <= narrow.height_mm + 1
    assert all(-90 < w.turn_deg <= 90 for w in narrow.words)
    marks = [w.text for w in narrow.words if w.text.startswith("fold ")]
    assert marks
    assert [m.split(":")[0] for m in marks] == [f"fold {n}" for n in range(1, len(marks) + 1)]


def test_what_lies_beyond_a_fold_is_turned_and_not_mirrored():
    """Three corners of every closed outline go round the same way as before."""

    def sense(points) -> float:
        (ax, ay), (bx, by), (cx, cy) = points[:3]
        return (bx - ax) * (cy - ay) - (by - ay) * (cx - ax)

    board = BOARDS["dawdler"]
    narrow = folded(board, 1200.0)
    outlines = [
        (a, b)
        for a, b in zip(board.lines, narrow.lines, strict=False)
        if a.closed and a.layer == "connectors"
    ]
    assert outlines
    for before, after in outlines:
        assert len(before.points) + 1 == len(after.points) or len(before.points) == len(after.points)
        assert sense(before.points) * sense(after.points) > 0


def test_rows_of_a_folded_board_lie_apart():
    """Connectors of one row stand clear of branches of another."""
    narrow = folded(board_of(long_harness(5.2).workings().rooms), 1500.0)
    level = sorted(
        {
            round(a[1])
            for line in narrow.lines
            if line.layer == "middles"
            for a, b in itertools.pairwise(line.points)
            if abs(a[1] - b[1]) < 0.01 and math.dist(a, b) > 200
        }
    )
    assert len(level) == 4
    assert all(b - a >= 100 for a, b in itertools.pairwise(level))


def test_a_board_that_is_narrow_enough_stays_and_one_that_cannot_be_folded_says_why():
    board = BOARDS["dawdler"]
    assert folded(board, board.width_mm) is board
    with pytest.raises(CannotFold, match="alone and level"):
        folded(BOARDS["larkspur"], 1600.0)
    with pytest.raises(CannotFold, match="at least 300 mm"):
        folded(board, 299.9)


def test_the_command_folds_it(tmp_path, capsys):
    file, out = tmp_path / "dawdler.json", tmp_path / "board.svg"
    file.write_text(json.dumps(demo_document("dawdler")))
    assert main(["board", str(file), str(out), "--wide", "1200"]) == 0
    assert float(re.search(r'width="([\d.]+)mm"', out.read_text())[1]) <= 1200
    assert main(["board", str(file), str(out), "--wide", "200"]) == 2
    assert "at least 300 mm" in capsys.readouterr().err
