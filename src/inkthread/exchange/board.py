"""The board at 1:1 as SVG, as PDF on one sheet or on tiles of paper, and as DXF by layers."""

from __future__ import annotations

import io
import math
from collections.abc import Callable, Sequence
from dataclasses import replace
from html import escape
from typing import Any

from inkthread.core.build.board import LAYERS, Board, Layer
from inkthread.core.record import record

PAPERS_MM: dict[str, tuple[float, float]] = {
    "A4": (210.0, 297.0),
    "A3": (297.0, 420.0),
    "Letter": (215.9, 279.4),
    "Tabloid": (279.4, 431.8),
}
"""Width and height (ISO 216; ANSI/ASME Y14.1, from memory)."""
WHOLE = "one sheet"
RULER_MM = 100.0
_EDGE_MM, _OVERLAP_MM, _FOOT_MM = 10.0, 10.0, 12.0
"""What a printer leaves white, what tiles share, and room for the ruler and the name."""
_SHEET_AT_MOST_MM = 5080.0
"""The longest page that readers of PDF show: 14,400 points (ISO 32000-1, annex C, from memory)."""
_PT = 72 / 25.4
_WIDTHS_MM: dict[Layer, float] = {"bundles": 0.35, "connectors": 0.5, "middles": 0.13, "ticks": 0.25}
_THIN_MM = 0.25
_INK = "#1a2433"
_NAME_PT = 7.0
"""Letters of connectors' names in a board drawn in small."""
_BOLDER = 3.5
"""So much thicker are lines, and larger are letters, that are looked at in small."""


class NoBoard(ValueError):
    """It cannot be drawn so. The message says what to do."""


def board_svg(board: Board, name: str, *, small: bool = False) -> str:
    """The board in mm, a group for each layer, black on white. To be looked at in ``small``, its lines are
    thicker, and only connectors are named.
    """
    bolder, letters = (_BOLDER, _BOLDER) if small else (1.0, 1.0)
    groups = []
    for layer in LAYERS:
        width = _WIDTHS_MM.get(layer, _THIN_MM) * bolder
        parts = [
            _svg_line(line.points, closed=line.closed, dashed=line.dashed)
            for line in board.lines
            if line.layer == layer
        ]
        parts += [
            f'<circle cx="{r.middle[0]:g}" cy="{r.middle[1]:g}" r="{r.radius_mm:g}"/>'
            for r in board.rounds
            if r.layer == layer
        ]
        parts += [
            f'<text transform="translate({w.middle[0]:g} {w.middle[1]:g}) rotate({w.turn_deg:.2f})" '
            f'font-size="{w.height_mm * letters:g}" text-anchor="middle" fill="{_INK}" stroke="none">'
            f"{escape(w.text)}</text>"
            for w in board.words
            if w.layer == layer and (not small or layer == "connectors")
        ]
        groups.append(
            f'<g id="{layer}" fill="none" stroke="{_INK}" stroke-width="{width:g}">{"".join(parts)}</g>'
        )
    return (
        '<svg xmlns="http://www.w3.org/2000/svg" '
        f'width="{board.width_mm:g}mm" height="{board.height_mm:g}mm" '
        f'viewBox="0 0 {board.width_mm:g} {board.height_mm:g}" font-family="monospace" role="img">'
        f"<title>{escape(name)}: the board at 1:1</title>{''.join(groups)}</svg>"
    )


def _svg_line(points: tuple[tuple[float, float], ...], *, closed: bool, dashed: bool) -> str:
    spots = " ".join(f"{x:g},{y:g}" for x, y in points)
    dash = ' stroke-dasharray="4 2"' if dashed else ""
    return f'<{"polygon" if closed else "polyline"} points="{spots}"{dash}/>'


def board_dxf(board: Board) -> str:
    """The board as DXF R2010 in mm, y upward, a layer for each kind of thing."""
    import ezdxf
    from ezdxf.enums import TextEntityAlignment

    drawing = ezdxf.new("R2010", units=4)
    space = drawing.modelspace()
    drawing.linetypes.add("MIDDLE", [6.0, 4.0, -2.0])
    for layer in LAYERS:
        drawing.layers.add(layer.upper())

    def up(spot: tuple[float, float]) -> tuple[float, float]:
        return spot[0], board.height_mm - spot[1]

    for line in board.lines:
        looks = {"layer": line.layer.upper()} | ({"linetype": "MIDDLE"} if line.dashed else {})
        space.add_lwpolyline([up(p) for p in line.points], close=line.closed, dxfattribs=looks)
    for own in board.rounds:
        space.add_circle(up(own.middle), own.radius_mm, dxfattribs={"layer": own.layer.upper()})
    for words in board.words:
        text = space.add_text(
            words.text,
            height=words.height_mm,
            rotation=-words.turn_deg,
            dxfattribs={"layer": words.layer.upper()},
        )
        text.set_placement(up(words.middle), align=TextEntityAlignment.MIDDLE_CENTER)
    out = io.StringIO()
    drawing.write(out)
    return out.getvalue()


@record
class Tiling:
    """How a board is parted on sheets of paper: sheets across and down, what each shows of it in mm."""

    page_mm: tuple[float, float]
    shows_mm: tuple[float, float]
    across: int
    down: int

    def corner_mm(self, column: int, row: int) -> tuple[float, float]:
        """The top left corner of what a sheet shows, on the board."""
        return column * (self.shows_mm[0] - _OVERLAP_MM), row * (self.shows_mm[1] - _OVERLAP_MM)

    @staticmethod
    def name(column: int, row: int) -> str:
        """``B3``: second column, third row."""
        letters = ""
        while column >= 0:
            letters, column = chr(ord("A") + column % 26) + letters, column // 26 - 1
        return f"{letters}{row + 1}"


def tiling_of(board: Board, paper: str, scale: float = 1.0) -> Tiling:
    """The sheets of a paper that a board takes, upright or across, whichever are fewer.

    ``scale`` is what a printer that prints too small is corrected by. Raises NoBoard for a paper not known.
    """
    if paper not in PAPERS_MM:
        raise NoBoard(f"There is no paper {paper!r} here. Take one of {', '.join(PAPERS_MM)}, or {WHOLE}.")
    best: Tiling | None = None
    for wide, high in (PAPERS_MM[paper], PAPERS_MM[paper][::-1]):
        shows = (wide - 2 * _EDGE_MM) / scale, (high - 2 * _EDGE_MM - _FOOT_MM) / scale
        across, down = (
            max(1, math.ceil((whole - _OVERLAP_MM) / (part - _OVERLAP_MM)))
            for whole, part in ((board.width_mm, shows[0]), (board.height_mm, shows[1]))
        )
        tiling = Tiling((wide, high), shows, across, down)
        if best is None or across * down < best.across * best.down:
            best = tiling
    assert best is not None
    return best


def board_pdf(board: Board, name: str, paper: str = WHOLE, measured_mm: float = RULER_MM) -> bytes:
    """The board at 1:1: one sheet as large as it is, or tiles with a map of them first.

    ``measured_mm`` is what the printed ruler of 100 mm measured: all is drawn so much larger or smaller that
    it comes out right. Raises NoBoard where that is no ruler's length, or one sheet is too long for a page.
    """
    from reportlab.pdfgen.canvas import Canvas

    if not 50 <= measured_mm <= 200:
        raise NoBoard(
            f"A ruler of 100 mm does not measure {measured_mm:g} mm. Type what it measures, 98.7 say."
        )
    scale = RULER_MM / measured_mm
    out = io.BytesIO()
    if paper == WHOLE:
        page = [(side + 2 * _EDGE_MM) * scale for side in (board.width_mm, board.height_mm)]
        page[1] += _FOOT_MM * scale
        if max(page) > _SHEET_AT_MOST_MM:
            raise NoBoard(
                f"One sheet would be {max(page) / 1000:.1f} m long, and a page can be "
                f"{_SHEET_AT_MOST_MM / 1000:.2f} m. "
                "Print it on tiles, or take the SVG or the DXF to a plotter."
            )
        canvas = Canvas(out, pagesize=(page[0] * _PT, page[1] * _PT), pageCompression=1)
        canvas.setTitle(f"{name}: the board at 1:1")
        _sheet(canvas, board, (0.0, 0.0), (board.width_mm, board.height_mm), page[1], scale, name)
        canvas.showPage()
    else:
        tiling = tiling_of(board, paper, scale)
        canvas = Canvas(out, pagesize=tuple(side * _PT for side in tiling.page_mm), pageCompression=1)
        canvas.setTitle(f"{name}: the board at 1:1")
        _map(canvas, board, tiling, name)
        canvas.showPage()
        for row in range(tiling.down):
            for column in range(tiling.across):
                last = tiling.name(tiling.across - 1, tiling.down - 1)
                said = f"{name}, sheet {tiling.name(column, row)} of {last}"
                corner = tiling.corner_mm(column, row)
                _sheet(canvas, board, corner, tiling.shows_mm, tiling.page_mm[1], scale, said)
                _crosses(canvas, tiling, column, row, scale)
                canvas.showPage()
    canvas.save()
    return out.getvalue()


def _sheet(
    canvas: Any,
    board: Board,
    corner_mm: tuple[float, float],
    shows_mm: tuple[float, float],
    page_high_mm: float,
    scale: float,
    said: str,
) -> None:
    """A part of the board on one page, its name and a ruler below it."""
    one = _PT * scale
    top = page_high_mm * _PT - _EDGE_MM * _PT

    def place(spot: tuple[float, float]) -> tuple[float, float]:
        return _EDGE_MM * _PT + (spot[0] - corner_mm[0]) * one, top - (spot[1] - corner_mm[1]) * one

    canvas.saveState()
    path = canvas.beginPath()
    path.rect(_EDGE_MM * _PT, top - shows_mm[1] * one, shows_mm[0] * one, shows_mm[1] * one)
    canvas.clipPath(path, stroke=0)
    _draw(canvas, _shown(board, corner_mm, shows_mm), place, one)
    canvas.restoreState()
    canvas.setFont("Helvetica", 9)
    canvas.drawString(_EDGE_MM * _PT + 112 * one, 5 * _PT, _latin(said))
    _ruler(canvas, one)


def draw_board(canvas: Any, board: Board, left_pt: float, top_pt: float, one_pt: float) -> None:
    """The outlines of a board with its connectors' names, ``one_pt`` points for a mm, from its left top."""
    small = _outlines(board)
    names = tuple(replace(w, height_mm=_NAME_PT / _PT) for w in board.words if w.layer == "connectors")
    named = Board(small.width_mm, small.height_mm, small.lines, (), names)
    _draw(canvas, named, lambda spot: (left_pt + spot[0] * one_pt, top_pt - spot[1] * one_pt), one_pt)


def _draw(
    canvas: Any, board: Board, place: Callable[[tuple[float, float]], tuple[float, float]], one: float
) -> None:
    for line in board.lines:
        canvas.setLineWidth(_WIDTHS_MM.get(line.layer, _THIN_MM) * _PT)
        canvas.setDash(4 * _PT, 2 * _PT) if line.dashed else canvas.setDash()
        path = canvas.beginPath()
        path.moveTo(*place(line.points[0]))
        for spot in line.points[1:]:
            path.lineTo(*place(spot))
        if line.closed:
            path.close()
        canvas.drawPath(path)
    canvas.setDash()
    for own in board.rounds:
        canvas.setLineWidth(_THIN_MM * _PT)
        canvas.circle(*place(own.middle), own.radius_mm * one)
    for words in board.words:
        canvas.saveState()
        canvas.translate(*place(words.middle))
        canvas.rotate(-words.turn_deg)
        canvas.setFont("Helvetica", words.height_mm * _PT)
        canvas.drawCentredString(0, 0, _latin(words.text))
        canvas.restoreState()


def _ruler(canvas: Any, one: float) -> None:
    """100 mm to lay a ruler on: what it measures is typed in where the printer does not print true."""
    left, low = _EDGE_MM * _PT, 6 * _PT
    canvas.setLineWidth(0.25 * _PT)
    canvas.line(left, low, left + RULER_MM * one, low)
    for mm in range(0, int(RULER_MM) + 1, 5):
        canvas.line(left + mm * one, low, left + mm * one, low + (4 if mm % 10 == 0 else 2.5) * _PT)
    canvas.setFont("Helvetica", 6)
    for mm in range(0, int(RULER_MM) + 1, 20):
        canvas.drawCentredString(left + mm * one, low - 2.6 * _PT, f"{mm}")


def _crosses(canvas: Any, tiling: Tiling, column: int, row: int, scale: float) -> None:
    """A cross in the middle of what neighbouring sheets share: lay one on the other."""
    one = _PT * scale
    top = (tiling.page_mm[1] - _EDGE_MM) * _PT
    low, high = _OVERLAP_MM / 2, (tiling.shows_mm[0] - _OVERLAP_MM / 2, tiling.shows_mm[1] - _OVERLAP_MM / 2)
    canvas.setLineWidth(0.15 * _PT)
    for x in (low, high[0]):
        for y in (low, high[1]):
            px, py = _EDGE_MM * _PT + x * one, top - y * one
            canvas.line(px - 3 * _PT, py, px + 3 * _PT, py)
            canvas.line(px, py - 3 * _PT, px, py + 3 * _PT)


def _map(canvas: Any, board: Board, tiling: Tiling, name: str) -> None:
    """All sheets in small, each with its name, the board beneath."""
    wide, high = (side - 2 * _EDGE_MM for side in tiling.page_mm)
    whole = [tiling.corner_mm(tiling.across, tiling.down)[n] + _OVERLAP_MM for n in (0, 1)]
    small = min(wide / whole[0], (high - 25) / whole[1], 1.0)
    one, top = _PT * small, (tiling.page_mm[1] - _EDGE_MM - 18) * _PT
    canvas.setFont("Helvetica-Bold", 14)
    canvas.drawString(_EDGE_MM * _PT, (tiling.page_mm[1] - _EDGE_MM - 6) * _PT, _latin(name))
    canvas.setFont("Helvetica", 9)
    canvas.drawString(
        _EDGE_MM * _PT, (tiling.page_mm[1] - _EDGE_MM - 12) * _PT,
        f"{tiling.across * tiling.down} sheets. Print at 100 %, measure the ruler, "
        "lay each cross on its neighbour's.",
    )  # fmt: skip

    def place(spot: tuple[float, float]) -> tuple[float, float]:
        return _EDGE_MM * _PT + spot[0] * one, top - spot[1] * one

    _draw(canvas, _outlines(board), place, one)
    canvas.setLineWidth(0.15 * _PT)
    for row in range(tiling.down):
        for column in range(tiling.across):
            x, y = place(tiling.corner_mm(column, row))
            canvas.rect(x, y - tiling.shows_mm[1] * one, tiling.shows_mm[0] * one, tiling.shows_mm[1] * one)
            canvas.drawString(x + 2 * _PT, y - 4 * _PT, tiling.name(column, row))


def _shown(board: Board, corner_mm: tuple[float, float], shows_mm: tuple[float, float]) -> Board:
    """What of a board lies on one sheet, whole or in part."""
    (left, top), (wide, high) = corner_mm, shows_mm

    def meets(spots: Sequence[tuple[float, float]], about_mm: float) -> bool:
        across, down = [x for x, _ in spots], [y for _, y in spots]
        return (
            min(across) - about_mm <= left + wide
            and max(across) + about_mm >= left
            and min(down) - about_mm <= top + high
            and max(down) + about_mm >= top
        )

    return Board(
        board.width_mm,
        board.height_mm,
        tuple(line for line in board.lines if meets(line.points, 1.0)),
        tuple(r for r in board.rounds if meets([r.middle], r.radius_mm)),
        tuple(w for w in board.words if meets([w.middle], len(w.text) * w.height_mm)),
    )


def _outlines(board: Board) -> Board:
    """The board without what cannot be read in small."""
    kept = tuple(line for line in board.lines if line.layer in ("bundles", "connectors"))
    return Board(board.width_mm, board.height_mm, kept, (), ())


def _latin(text: str) -> str:
    """What the built-in fonts of PDF can show."""
    return text.encode("latin-1", "replace").decode("latin-1")
