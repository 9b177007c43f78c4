"""The board at 1:1, read back: lengths in SVG, PDF and DXF, the ruler on paper, tiles that leave nothing out."""

from __future__ import annotations

import io
import itertools
import math
import re

import ezdxf
import pypdf
import pytest

from inkthread.cli import main
from inkthread.core.build import board_of
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
