"""The record of one piece on one page, for whoever has it in hands later."""

from __future__ import annotations

import io
import textwrap
from datetime import datetime
from typing import Any

from inkthread.core.measures import METRIC, Measures, format_temperature
from inkthread.core.table import table_text
from inkthread.exchange.pages import paper_pt

_MARGIN_PT = 42.0
_LINE_PT = 12.0
_QR_PT = 96.0
_SHOWN = 12
_TRIED = 5
_WIDE = 92


def record_pdf(
    record: dict[str, Any], sha256: str, signed_by: str, signed_at: datetime, address: str,
    paper: str = "A4", units: Measures = METRIC,
) -> bytes:  # fmt: skip
    """An upright page: what it is, what was read, how it differs, with what it was made, who signed; and a
    square code of its serial number and address. What one page does not take goes on the next.
    """
    import segno
    from reportlab.pdfgen.canvas import Canvas

    out = io.BytesIO()
    high, wide = paper_pt(paper)
    canvas = Canvas(out, pagesize=(wide, high), pageCompression=1)
    canvas.setTitle(f"{record['serial']}: record of {record['design']}")
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
    for bold, text in _lines(record, sha256, signed_by, signed_at, address, units):
        if y < _MARGIN_PT + _LINE_PT:
            canvas.showPage()
            y = high - _MARGIN_PT
        canvas.setFont("Helvetica-Bold" if bold else "Helvetica", 9)
        y -= 6 if bold else 0
        canvas.drawString(_MARGIN_PT, y, text)
        y -= _LINE_PT
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def _lines(
    record: dict[str, Any], sha256: str, signed_by: str, signed_at: datetime, address: str, units: Measures
) -> list[tuple[bool, str]]:
    """Headings and lines, about as many as a page takes; what is more is counted."""
    readings = record["readings"]
    opens = [r for r in readings if r["ohm"] is None]
    leads = record["leads_ohm"] * 1000
    bench = format_temperature(record["bench_c"], units)
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
        (
            False,
            f"Conductors at {bench}; leads of {leads:g} mohm taken off.",
        ),
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
    checks = record.get("checks", [])
    if checks:
        fine = [c["test"] for c in checks if c["fine"]]
        lines.append((True, f"Otherwise tried: {len(fine)} of {len(checks)} hold"))
        lines += _wrapped("; ".join(f"{c['test']}{_value(c)}" for c in checks))[:_TRIED]
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
    gauges = [f"{code} {own['result']} {own['on']}".strip() for code, own in record.get("gauges", {}).items()]
    lines += _wrapped("gauged: " + ", ".join(gauges))[:2] if gauges else []
    lines += _wrapped("wire: " + ", ".join(record["wires"]))[:4]
    batches = [f"{b['part']} {b['batch']}" for b in record.get("batches", [])]
    batches += [f"spool {spool}" for spool in record.get("spools", [])]
    lines += _wrapped("batches: " + ", ".join(batches))[:3] if batches else []
    photographs = sum(bool(h.get("photograph")) for h in record["as_built"])
    if photographs:
        lines += _wrapped(f"photographs kept with it: {photographs}")
    lines += _wrapped("made by " + (", ".join(record["made_by"]) or "nobody who gave a name"))
    lines += [(True, "Design"), (False, f"SHA-256 {sha256}"), (False, address)]
    return lines


def _value(check: dict[str, Any]) -> str:
    return "" if check["value"] is None else f" {check['value']:g}"


def record_csv(record: dict[str, Any], sha256: str, signed_by: str, signed_at: datetime) -> str:
    """The whole record as a table (RFC 4180): what a line is of, what, its figure, whether it holds, who."""
    rows: list[tuple[object, ...]] = [("of", "what", "value", "unit", "holds", "who")]
    for name in ("serial", "design", "machine", "number", "version"):
        rows.append(("piece", name, record[name], "", "", ""))
    rows.append(("piece", "sha256 of its design", sha256, "", "", ""))
    rows.append(("signed", f"{signed_at:%Y-%m-%d %H:%M} UTC", "", "", "", signed_by))
    rows.append(("bench", "conductors", record["bench_c"], "degC", "", ""))
    rows.append(("bench", "leads", record["leads_ohm"], "ohm", "", ""))
    for r in record["readings"]:
        between = f"{r['a']} to {r['b']}{' moved' if r['moved'] else ''}"
        rows.append(("reading", between, "OL" if r["ohm"] is None else r["ohm"], "ohm", "", r["who"]))
    rows += [("look", k["place"], "", "", _yes(k["fine"]), k["who"]) for k in record["looks"]]
    for c in record.get("checks", []):
        value = "" if c["value"] is None else c["value"]
        rows.append(("test", c["test"], value, "", _yes(c["fine"]), c["who"]))
    for h in record["as_built"]:
        rows.append((h["kind"], h["step"], h["note"], "", "", h["who"]))
    for t in record["tools"]:
        rows.append(("tool", t["tool"], f"{t['nest']} {t['depth']}".strip(" -"), "", "", t["contact"]))
    for code, own in record.get("gauges", {}).items():
        rows.append(("gauge", code, own["on"], "", _yes(own["result"] == "passed"), ""))
    rows += [("batch", b["part"], b["batch"], "", "", b["who"]) for b in record.get("batches", [])]
    rows += [("spool", spool, "", "", "", "") for spool in record.get("spools", [])]
    rows += [("part", part, "", "", "", "") for part in record.get("parts", record["wires"])]
    rows += [("made by", who, "", "", "", "") for who in record["made_by"]]
    return table_text(rows)


def _yes(fine: bool) -> str:
    return "yes" if fine else "no"


def _wrapped(text: str) -> list[tuple[bool, str]]:
    return [(False, line) for line in textwrap.wrap(text, _WIDE)]
