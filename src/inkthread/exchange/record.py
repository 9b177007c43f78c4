"""The record of one piece on one page, for whoever has it in hands later."""

from __future__ import annotations

import io
import textwrap
from datetime import datetime
from typing import Any

_PAGE_PT = (595.28, 841.89)
_MARGIN_PT = 42.0
_LINE_PT = 12.0
_QR_PT = 96.0
_SHOWN = 14
_WIDE = 92


def record_pdf(
    record: dict[str, Any], sha256: str, signed_by: str, signed_at: datetime, address: str
) -> bytes:
    """One A4 page: what it is, what was read, how it differs, with what it was made, who signed; and a square
    code of its serial number and address.
    """
    import segno
    from reportlab.pdfgen.canvas import Canvas

    out = io.BytesIO()
    canvas = Canvas(out, pagesize=_PAGE_PT, pageCompression=1)
    canvas.setTitle(f"{record['serial']}: record of {record['design']}")
    wide, high = _PAGE_PT
    y = high - _MARGIN_PT
    canvas.setFont("Times-Bold", 20)
    canvas.drawString(_MARGIN_PT, y - 8, str(record["serial"]))
    modules = list(segno.make(f"{record['serial']} {address}", error="m", micro=False).matrix_iter(border=2))
    side = _QR_PT / len(modules)
    for n, row in enumerate(modules):
        for m, dark in enumerate(row):
            if dark:
                canvas.rect(
                    wide - _MARGIN_PT - _QR_PT + m * side, y - (n + 1) * side, side, side, stroke=0, fill=1
                )
    y -= 30
    for bold, text in _lines(record, sha256, signed_by, signed_at, address):
        canvas.setFont("Helvetica-Bold" if bold else "Helvetica", 9)
        y -= 6 if bold else 0
        canvas.drawString(_MARGIN_PT, y, text)
        y -= _LINE_PT
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def _lines(
    record: dict[str, Any], sha256: str, signed_by: str, signed_at: datetime, address: str
) -> list[tuple[bool, str]]:
    """Headings and lines, as many as a page takes; what is more is counted."""
    readings = record["readings"]
    opens = [r for r in readings if r["ohm"] is None]
    leads = record["leads_ohm"] * 1000
    ohms = [r for r in readings if r["ohm"] is not None]
    lines: list[tuple[bool, str]] = [
        (False, f"{record['design']}{', ' + record['machine'] if record['machine'] else ''}"),
        (False, f"harness {record['number']}, built to revision {record['version']}"),
        (False, f"signed by {signed_by}, {signed_at:%Y-%m-%d %H:%M} UTC"),
        (True, "Read"),
        (
            False,
            f"{len(readings)} readings hold: {len(ohms)} in ohm, {len(opens)} open where they should be.",
        ),
        (False, f"Conductors at {record['bench_c']:g} °C; leads of {leads:g} mohm taken off."),
    ]
    shown = sorted(ohms, key=lambda r: -r["ohm"])[:_SHOWN]
    for r in shown:
        moved = " moved" if r["moved"] else ""
        lines.append((False, f"    {r['a'][:30]} to {r['b'][:30]}: {r['ohm']:.4g} ohm{moved}"))
    if len(ohms) > len(shown):
        lines.append((False, f"    and {len(ohms) - len(shown)} more, all lower"))
    looks = [k["place"] for k in record["looks"] if k["fine"]]
    lines.append((True, "Looked at"))
    lines += _wrapped(", ".join(looks) or "nothing")
    lines.append((True, "Otherwise than designed, and noted"))
    notes = [f"{h['kind']}: {h['step']} {h['note']}".strip() for h in record["as_built"]]
    lines += [line for note in notes[:_SHOWN] for line in _wrapped(note)] or [(False, "nothing")]
    if len(notes) > _SHOWN:
        lines.append((False, f"and {len(notes) - _SHOWN} more"))
    lines.append((True, "Made with"))
    tools = [
        " ".join(str(t[k]) for k in ("tool", "nest", "depth") if t[k] not in ("", "-"))
        for t in record["tools"]
    ]
    lines += _wrapped("; ".join(dict.fromkeys(tools)) or "no crimp tool")[:4]
    lines += _wrapped("wire: " + ", ".join(record["wires"]))[:4]
    lines += _wrapped("made by " + (", ".join(record["made_by"]) or "nobody who gave a name"))
    lines += [(True, "Design"), (False, f"SHA-256 {sha256}"), (False, address)]
    return lines


def _wrapped(text: str) -> list[tuple[bool, str]]:
    return [(False, line) for line in textwrap.wrap(text, _WIDE)]
