"""Pages for the bench: headed, numbered, readable in black and white, by ReportLab."""

from __future__ import annotations

import io
import unicodedata
from collections.abc import Callable, Iterator, Sequence
from typing import Any, NamedTuple

from inkthread.core.ends import FacePair
from inkthread.core.record import record
from inkthread.core.table import Row

PAPERS_PT: dict[str, tuple[float, float]] = {"A4": (841.89, 595.28), "Letter": (792.0, 612.0)}
"""Width and height, lying (ISO 216; ANSI/ASME Y14.1, from memory)."""
_EDGE_PT, _HEAD_PT, _FOOT_PT = 34.0, 26.0, 18.0
_LETTERS_PT = 8.0
_MM = 72 / 25.4
_GAP_PT = 8.0
_SAID = str.maketrans({"→": ">", "−": "-", "Ω": "ohm", "≥": "at least ", "≤": "at most ", "✓": "x"})


class NoPaper(ValueError):
    """There is no such paper, or no such section. The message says which there are."""


@record
class Heading:
    """A section begins, on a page of its own."""

    text: str
    cover: bool = False
    """Whether the list of sections stands beside it."""


@record
class Line:
    """A line of text, wrapped; bold where it heads what follows."""

    text: str
    bold: bool = False


@record
class TableOf:
    """A table with a head that is repeated on every page. Empty columns are left out."""

    rows: Sequence[Row]


@record
class Faces:
    """Both faces of a connector, the used ways filled."""

    faces: FacePair
    used: frozenset[str]


@record
class Drawn:
    """A drawing of so many points by so many: what draws it is given the canvas, its left and its top."""

    wide_pt: float
    high_pt: float
    draw: Callable[[Any, float, float], None]


Block = Heading | Line | TableOf | Faces | Drawn


@record
class Headed:
    """What every page says at its head."""

    harness: str
    revision: str
    day: str


def latin(text: object) -> str:
    """Text as the built-in fonts of PDF can show it (WinAnsi, ISO 32000-1 annex D): accents are taken off
    letters that they have no form of.

    >>> latin("4 Ω → Łódź")
    '4 ohm > ?ódz'
    """
    said = str(text).translate(_SAID)
    try:
        said.encode("cp1252")
        return said
    except UnicodeEncodeError:
        return "".join(_shown(letter) for letter in said)


def _shown(letter: str) -> str:
    for form in (letter, unicodedata.normalize("NFKD", letter)[:1]):
        try:
            form.encode("cp1252")
            return form
        except UnicodeEncodeError:
            continue
    return "?"


def paper_pt(paper: str) -> tuple[float, float]:
    """Width and height of a paper in points. Raises NoPaper."""
    if paper not in PAPERS_PT:
        raise NoPaper(f"There is no paper {paper!r} here. Take one of {', '.join(PAPERS_PT)}.")
    return PAPERS_PT[paper]


def pages_pdf(headed: Headed, blocks: Iterator[Block], paper: str = "A4") -> bytes:
    """Blocks on pages, each headed by harness, revision and page of pages; sections are bookmarked, and where
    there is more than one, listed on the first page. Raises NoPaper.
    """
    from reportlab import rl_config
    from reportlab.platypus import BaseDocTemplate, Frame, PageTemplate

    wide, high = paper_pt(paper)
    rl_config.useA85 = 0  # bytes as they are: half the time, the file a fifth smaller
    out = io.BytesIO()
    starts: list[_Start] = []
    document = BaseDocTemplate(
        out, pagesize=(wide, high), title=latin(headed.harness), author="", pageCompression=1
    )
    frame = Frame(
        _EDGE_PT, _EDGE_PT + _FOOT_PT, wide - 2 * _EDGE_PT, high - 2 * _EDGE_PT - _HEAD_PT - _FOOT_PT,
        leftPadding=0, rightPadding=0, topPadding=0, bottomPadding=0,
    )  # fmt: skip
    document.addPageTemplates(PageTemplate(frames=[frame]))
    story = _story(blocks, wide - 2 * _EDGE_PT, high - 2 * _EDGE_PT - _HEAD_PT - _FOOT_PT, starts)
    document.build(story, canvasmaker=_canvas_maker(headed, starts, (wide, high)))
    return out.getvalue()


class _Start(NamedTuple):
    """A section's heading and the page that it stands on."""

    heading: Heading
    page: int


def _canvas_maker(headed: Headed, starts: list[_Start], page_pt: tuple[float, float]) -> type:
    """A canvas that keeps its pages back until it knows how many there are."""
    from reportlab.pdfgen.canvas import Canvas

    class Numbered(Canvas):  # type: ignore[misc]
        def __init__(self, *args: Any, **kwargs: Any) -> None:
            super().__init__(*args, **kwargs)
            self._kept: list[dict[str, Any]] = []

        def showPage(self) -> None:  # noqa: N802
            self._kept.append(dict(self.__dict__))
            self._startPage()

        def save(self) -> None:
            count = len(self._kept)
            for n, page in enumerate(self._kept, 1):
                self.__dict__.update(page)
                _head(self, headed, n, count, page_pt)
                if n == 1 and starts and starts[0].heading.cover:
                    _contents(self, starts[1:], page_pt)
                super().showPage()
            super().save()

    return Numbered


def _head(canvas: Any, headed: Headed, page: int, pages: int, page_pt: tuple[float, float]) -> None:
    wide, high = page_pt
    top = high - _EDGE_PT
    canvas.setFont("Helvetica-Bold", 9)
    canvas.drawString(_EDGE_PT, top, latin(headed.harness))
    canvas.setFont("Helvetica", 9)
    canvas.drawCentredString(wide / 2, top, latin(f"{headed.revision}, {headed.day}"))
    canvas.drawRightString(wide - _EDGE_PT, top, f"page {page} of {pages}")
    canvas.setLineWidth(0.6)
    canvas.line(_EDGE_PT, top - 5, wide - _EDGE_PT, top - 5)


_CONTENTS_WIDE_PT = 250.0


def _contents(canvas: Any, starts: list[_Start], page_pt: tuple[float, float]) -> None:
    """The list of sections, at the right of the first page."""
    wide, high = page_pt
    left, y = wide - _EDGE_PT - _CONTENTS_WIDE_PT, high - _EDGE_PT - _HEAD_PT - 14
    canvas.setFont("Times-Bold", 13)
    canvas.drawString(left, y, "In this book")
    canvas.setFont("Helvetica", 9)
    for heading, page in starts:
        text = heading.text
        y -= 15
        canvas.drawString(left, y, latin(text))
        canvas.drawRightString(wide - _EDGE_PT, y, str(page))
        canvas.setDash(0.5, 2.5)
        canvas.setLineWidth(0.5)
        begin = left + canvas.stringWidth(latin(text), "Helvetica", 9) + 4
        canvas.line(begin, y, wide - _EDGE_PT - 18, y)
        canvas.setDash()


def _story(blocks: Iterator[Block], wide_pt: float, high_pt: float, starts: list[_Start]) -> list[Any]:
    from reportlab.lib.styles import ParagraphStyle
    from reportlab.platypus import Flowable, PageBreak, Paragraph, Spacer

    plain = ParagraphStyle("plain", fontName="Helvetica", fontSize=9, leading=12, spaceAfter=3)
    bold = ParagraphStyle("bold", parent=plain, fontName="Helvetica-Bold", fontSize=10, spaceBefore=7)
    bold.keepWithNext = 1

    class Begin(Flowable):  # type: ignore[misc]
        """The heading of a section, which notes where it begins."""

        def __init__(self, heading: Heading) -> None:
            super().__init__()
            self.heading, self.width, self.height = heading, wide_pt, 26.0

        def draw(self) -> None:
            canvas, text = self.canv, self.heading.text
            starts.append(_Start(self.heading, canvas.getPageNumber()))
            canvas.bookmarkPage(text)
            canvas.addOutlineEntry(latin(text), text, 0)
            canvas.setFont("Times-Bold", 17)
            canvas.drawString(0, 8, latin(text))

    class Shape(Flowable):  # type: ignore[misc]
        """Anything that draws itself on a canvas from its left top."""

        def __init__(self, own: Drawn) -> None:
            super().__init__()
            self.own, self.width, self.height = own, own.wide_pt, own.high_pt

        def draw(self) -> None:
            self.own.draw(self.canv, 0.0, self.height)

    narrow = _CONTENTS_WIDE_PT + 20.0
    beside = ParagraphStyle("beside", parent=plain, rightIndent=narrow)
    bold_beside = ParagraphStyle("bold beside", parent=bold, rightIndent=narrow)
    cover = False
    story: list[Any] = []
    for block in blocks:
        if isinstance(block, Heading):
            story += [PageBreak()] if story else []
            story.append(Begin(block))
            cover = block.cover
        elif isinstance(block, Line):
            style = (bold_beside if cover else bold) if block.bold else beside if cover else plain
            story.append(Paragraph(_escaped(block.text), style))
        elif isinstance(block, TableOf):
            story += [_table(block, wide_pt), Spacer(1, 6)] if len(block.rows) > 1 else []
        elif isinstance(block, Faces):
            story.append(Shape(_face_drawing(block, wide_pt)))
        else:
            shrink = min(1.0, wide_pt / block.wide_pt, (high_pt - 40) / block.high_pt)
            story.append(Shape(_shrunk(block, shrink)))
    return story


def _shrunk(own: Drawn, scale: float) -> Drawn:
    if scale == 1.0:
        return own

    def draw(canvas: Any, left: float, top: float) -> None:
        canvas.saveState()
        canvas.translate(left, top)
        canvas.scale(scale, scale)
        own.draw(canvas, 0.0, 0.0)
        canvas.restoreState()

    return Drawn(own.wide_pt * scale, own.high_pt * scale, draw)


def _escaped(text: object) -> str:
    return latin(text).replace("**", "").replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")


_WRAPS_PT = 46.0
"""A column is never narrower than this, where its text wraps."""


def _table(block: TableOf, wide_pt: float) -> Any:
    from reportlab.lib.styles import ParagraphStyle
    from reportlab.pdfbase.pdfmetrics import stringWidth
    from reportlab.platypus import LongTable, Paragraph, TableStyle

    head, *rows = [[_cell(value) for value in row] for row in block.rows]
    kept = [n for n, name in enumerate(head) if any(row[n] for row in rows) or not name.strip()]
    head, rows = [head[n] for n in kept], [[row[n] for n in kept] for row in rows]
    needs = [
        max(
            stringWidth(head[n], "Helvetica-Bold", _LETTERS_PT),
            *(stringWidth(row[n], "Helvetica", _LETTERS_PT) for row in rows),
        )
        + _GAP_PT
        for n in range(len(head))
    ]
    widths = _shared_out(needs, wide_pt)
    wraps = ParagraphStyle("cell", fontName="Helvetica", fontSize=_LETTERS_PT, leading=9.5)
    bold = ParagraphStyle("head", parent=wraps, fontName="Helvetica-Bold")
    cells: list[list[Any]] = [
        [Paragraph(_escaped(text), bold) if needs[n] > widths[n] else text for n, text in enumerate(head)]
    ]
    for row in rows:
        cells.append(
            [
                Paragraph(_escaped(text), wraps)
                if stringWidth(text, "Helvetica", _LETTERS_PT) + _GAP_PT > widths[n] + 0.01
                else text
                for n, text in enumerate(row)
            ]
        )
    table = LongTable(cells, colWidths=widths, repeatRows=1, hAlign="LEFT")
    table.setStyle(
        TableStyle(
            [
                ("FONT", (0, 0), (-1, 0), "Helvetica-Bold", _LETTERS_PT),
                ("FONT", (0, 1), (-1, -1), "Helvetica", _LETTERS_PT),
                ("LEADING", (0, 0), (-1, -1), 9.5),
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
                ("LEFTPADDING", (0, 0), (-1, -1), 3),
                ("RIGHTPADDING", (0, 0), (-1, -1), 3),
                ("TOPPADDING", (0, 0), (-1, -1), 2),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 2),
                ("LINEBELOW", (0, 0), (-1, 0), 0.8, "black"),
                ("LINEBELOW", (0, 1), (-1, -1), 0.2, "black"),
            ]
        )
    )
    return table


def _cell(value: object) -> str:
    if isinstance(value, float):
        return f"{value:.4g}" if abs(value) < 1000 else f"{value:.0f}"
    return latin("" if value is None else value)


def _shared_out(needs: list[float], wide_pt: float) -> list[float]:
    """Widths of columns: what each needs where all have room; else the widest give way, the narrow stay."""
    if sum(needs) <= wide_pt:
        return needs
    fixed: set[int] = set()
    while True:
        left = wide_pt - sum(needs[n] for n in fixed)
        rest = [n for n in range(len(needs)) if n not in fixed]
        each = left / max(len(rest), 1)
        fitting = [n for n in rest if needs[n] <= each]
        if not fitting or not rest:
            break
        fixed.update(fitting)
    total = sum(needs[n] for n in rest)
    least = min(_WRAPS_PT, each)
    spread = [max(least, left * needs[n] / total) for n in rest]
    scale = left / sum(spread)
    return [needs[n] if n in fixed else spread[rest.index(n)] * scale for n in range(len(needs))]


_SMALLEST_PT = 6.5
"""Letters in a way of a face are never smaller than this."""
_FACE_APART_PT = 250.0
"""From the left of one view to the left of the other, for its caption."""


def _face_drawing(block: Faces, wide_pt: float) -> Drawn:
    """Two views side by side, as large as life where the ways can be read so, else so many times larger."""
    faces = block.faces
    spots = list(faces.wire_side.cavities.values())
    pitch_mm = min(
        (
            max(abs(x - u), abs(y - v))
            for n, (x, y) in enumerate(spots)
            for u, v in spots[:n]
            if (x, y) != (u, v)
        ),
        default=faces.cavity_diameter_mm * 2,
    )
    longest = max((len(name) for name in faces.wire_side.cavities), default=1)
    wanted = (longest * 0.62 * _SMALLEST_PT + 3) / (max(pitch_mm, faces.cavity_diameter_mm) * _MM)
    room = (wide_pt / 2 - 20) / max(faces.width_mm * _MM, 1.0)
    scale = next((s for s in (1.0, 1.5, 2.0, 3.0, 4.0) if s >= wanted), 4.0)
    scale = min(scale, room)
    one = _MM * scale
    high = faces.height_mm * one
    apart = max(faces.width_mm * one + 20, _FACE_APART_PT)

    def draw(canvas: Any, left: float, top: float) -> None:
        for n, (view, marks) in enumerate(
            ((faces.wire_side, faces.wire_marks), (faces.mating_side, faces.mating_marks))
        ):
            begin = left + n * apart
            middle = begin + faces.width_mm * one / 2 + 2
            level = top - high / 2 - 4
            canvas.setLineWidth(0.9)
            _outline(canvas, faces, middle, level, one)
            canvas.setLineWidth(0.6)
            for mark in marks:
                canvas.rect(
                    middle + (mark.x_mm - mark.width_mm / 2) * one,
                    level + (mark.y_mm - mark.height_mm / 2) * one,
                    mark.width_mm * one,
                    mark.height_mm * one,
                )
            for name, (x, y) in view.cavities.items():
                canvas.setLineWidth(1.4 if name in block.used else 0.4)
                radius = max(faces.cavity_diameter_mm / 2 * one, 1.0)
                canvas.circle(middle + x * one, level + y * one, radius)
                letters = max(_SMALLEST_PT, min(radius, 10.0))
                canvas.setFont("Helvetica-Bold" if name in block.used else "Helvetica", letters)
                canvas.drawCentredString(middle + x * one, level + y * one - letters * 0.35, latin(name))
            canvas.setFont("Helvetica", 7)
            side = "wire side" if view.side == "wire" else "mating side"
            canvas.drawString(begin, level - high / 2 - 10, f"{side}: {latin(view.caption)}")
        canvas.setFont("Helvetica", 7)
        says = "as large as life" if abs(scale - 1) < 0.001 else f"{scale:.2g} times as large as life"
        canvas.drawString(left, top - high - 26, f"{says}; ways with a wire are thick")

    return Drawn(2 * apart, high + 30, draw)


def _outline(canvas: Any, faces: FacePair, middle: float, level: float, one: float) -> None:
    wide, high = faces.width_mm * one, faces.height_mm * one
    if faces.outline == "round":
        canvas.circle(middle, level, max(wide, high) / 2)
    else:
        canvas.roundRect(middle - wide / 2, level - high / 2, wide, high, min(wide, high) * 0.08)
