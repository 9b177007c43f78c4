"""An order as it goes to a supplier: CSV, and a page to print."""

from __future__ import annotations

import io
from collections.abc import Mapping, Sequence
from typing import Any

from inkthread.core.table import table_text
from inkthread.exchange.pages import PAPERS_PT

_HEAD = ("code", "colour", "description", "quantity", "unit", "pack", "packs", "price_each", "cost")


def _row(line: Mapping[str, Any]) -> tuple[Any, ...]:
    return tuple(line[name] for name in _HEAD)


def order_csv(order: Mapping[str, Any]) -> str:
    """Its lines under headings; sums are the reader's. Raises KeyError for what is no order."""
    return table_text([_HEAD, *(_row(line) for line in order["data"]["lines"])])


def order_pdf(order: Mapping[str, Any], harness: str, currency: str, paper: str = "A4") -> bytes:
    """Pages in black on white, headings on each, page of pages. Raises KeyError for what is no order."""
    from reportlab.lib import colors
    from reportlab.lib.styles import ParagraphStyle
    from reportlab.lib.units import mm
    from reportlab.platypus import Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle

    small = ParagraphStyle("small", fontName="Helvetica", fontSize=8.5, leading=11)
    title = ParagraphStyle("title", fontName="Helvetica-Bold", fontSize=16, leading=20)
    data = order["data"]
    money = f" {currency}" if currency else ""
    head = ["Part", "In words", "How many", "Packs", "Each", f"Cost{money}"]
    rows: list[Sequence[Any]] = [head]
    for line in data["lines"]:
        unit = " m" if line["unit"] == "m" else ""
        part = f"{line['code']} {line['colour']}".strip()
        rows.append(
            [
                Paragraph(_plain(part), small),
                Paragraph(_plain(line["description"]), small),
                f"{line['quantity']:g}{unit}",
                f"{line['packs']} of {line['pack']:g}{unit}" if line["pack"] != 1 else "",
                f"{line['price_each']:.2f}",
                f"{line['cost']:.2f}",
            ]
        )
    sums = [("Parts", data["parts_cost"]), ("Shipping", data["shipping"])]
    if data["to_minimum"]:
        sums.append(("To their least order", data["to_minimum"]))
    sums.append((f"To pay{money}", data["total"]))
    rows += [["", name, "", "", "", f"{amount:.2f}"] for name, amount in sums]
    table = Table(rows, colWidths=[42 * mm, 62 * mm, 20 * mm, 20 * mm, 16 * mm, 20 * mm], repeatRows=1)
    table.setStyle(
        TableStyle(
            [
                ("FONT", (0, 0), (-1, 0), "Helvetica-Bold", 9),
                ("FONT", (0, 1), (-1, -1), "Helvetica", 8.5),
                ("LINEBELOW", (0, 0), (-1, 0), 0.8, colors.black),
                ("LINEBELOW", (0, 1), (-1, -len(sums) - 1), 0.25, colors.black),
                ("LINEABOVE", (0, -len(sums)), (-1, -len(sums)), 0.8, colors.black),
                ("FONT", (0, -1), (-1, -1), "Helvetica-Bold", 9),
                ("ALIGN", (2, 0), (-1, -1), "RIGHT"),
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
            ]
        )
    )
    where = f"Order {order['id']} to {order['supplier']}, for {harness}, {order['at'][:10]}"
    buffer = io.BytesIO()
    pages = SimpleDocTemplate(
        buffer, pagesize=PAPERS_PT[paper][::-1], title=where, leftMargin=15 * mm, rightMargin=15 * mm,
        topMargin=18 * mm, bottomMargin=18 * mm,
    )  # fmt: skip
    pages.build(
        [
            Paragraph(_plain(f"Order {order['id']}"), title),
            Paragraph(_plain(f"To {order['supplier']}, for {harness}. Written {order['at'][:10]}."), small),
            Spacer(1, 5 * mm),
            table,
        ],
        canvasmaker=_numbered(where),
    )
    return buffer.getvalue()


def _plain(text: str) -> str:
    """Text without anything that markup would take for its own."""
    return text.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")


def _numbered(where: str) -> Any:
    """A canvas that writes what the page is of, and page of pages, at the foot of each."""
    from reportlab.pdfgen.canvas import Canvas

    class Numbered(Canvas):  # type: ignore[misc]
        def __init__(self, *args: Any, **kwargs: Any) -> None:
            super().__init__(*args, **kwargs)
            self._pages: list[dict[str, Any]] = []

        def showPage(self) -> None:  # noqa: N802
            self._pages.append(dict(self.__dict__))
            self._startPage()

        def save(self) -> None:
            for n, state in enumerate(self._pages, 1):
                self.__dict__.update(state)
                self.setFont("Helvetica", 8)
                self.drawString(42, 28, where)
                self.drawRightString(553, 28, f"page {n} of {len(self._pages)}")
                super().showPage()
            super().save()

    return Numbered
