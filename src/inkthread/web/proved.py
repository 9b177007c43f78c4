"""Settings that worked at the bench, noted as proved here: nests, depths and positioners, notches."""

from __future__ import annotations

import re

from inkthread.core.build import Operation
from inkthread.core.ends.tools import STRIPPED, nest_refused
from inkthread.core.workings import Workings
from inkthread.web.views import workshop


def prove_setting(w: Workings, own: Operation, note: str) -> str:
    """A setting is noted as proved here, for the next time; what is said of it. What the note names goes
    before what the card says: ``nest 18, depth 3``, ``notch 18``.
    """
    key = own.wires[0] if own.wires else ""
    if own.work == "strip" and own.tool:
        return _proved_notch(w, own, key, note)
    crimp = w.ends.crimps.get((own.end, key))
    if own.work not in ("crimp", "tug") or crimp is None:
        return "Noted. A nest is proved at a crimp, a notch where one strips."
    shop, sized = workshop(), w.wire.wires[key]
    contact = w.ends.contacts[own.end, key].code
    nest, depth = _named(note, "nest|die") or crimp.nest, _named(note, "depth|positioner") or crimp.depth
    wire = f"{sized.family} {sized.gauge}"
    refused = nest_refused(w.catalogue, contact, wire, crimp.tool, nest)
    if refused is not None:
        return f"Noted, and not as proved: {refused[1]} {refused[2]}"
    shop.shop.prove_nest(contact, wire, {"tool": crimp.tool, "nest": nest, "depth": depth, "note": note})
    shop.stock_up()
    said = ", ".join(part for part in (f"nest {nest}", depth) if part)
    return f"{crimp.tool}, {said}: proved here for {contact} on {wire}."


def _proved_notch(w: Workings, own: Operation, key: str, note: str) -> str:
    """A stripper's notch is noted as proved here for a wire part."""
    shop, sized = workshop(), w.wire.wires[key]
    notch = _named(note, "notch") or _named(own.setting, "notch")
    tool = w.catalogue.tools.get(own.tool)
    if tool is not None and tool.nests and notch not in tool.nests:
        return f"Noted, and not as proved: {own.tool} has the notches {', '.join(tool.nests)}."
    wire = f"{sized.family} {sized.gauge}"
    shop.shop.prove_nest(STRIPPED, wire, {"tool": own.tool, "nest": notch, "depth": "", "note": note})
    shop.stock_up()
    return f"{own.tool}, notch {notch}: proved here for {wire}."


def _named(text: str, words: str) -> str:
    """What stands after a word: ``18`` after notch."""
    match = re.search(rf"\b(?:{words})\s+([\w\-/.]+)", text, re.IGNORECASE)
    return match[1].rstrip(".") if match else ""
