"""The typed line of a lead that can be bought made: ``"stock lead" 900 mm at 11, bought``."""

from __future__ import annotations

import re

from inkthread.core.document.draft import Draft, LineError, next_order
from inkthread.core.measures import measures_of
from inkthread.core.quantity import parse_length_mm, parse_number


def ready_made_into(draft: Draft, text: str) -> None:
    """Put a lead that can be bought into a draft. Raises LineError or QuantityError."""
    said = re.fullmatch(
        r'(?:([A-Za-z][\w+-]*)\s+)?(?:"([^"]*)"\s+)?([\d.,½¼¾⅛⅜⅝⅞].*?)(?:\s+at\s+([\d.,]+))?(,\s*bought)?',
        text,
    )
    if said is None:
        raise LineError('Write its name, length and price: "stock lead" 900 mm at 11')
    offers = draft.at("brief", "ready_made")
    offer_id = said[1] or next(f"L{n}" for n in range(1, len(offers) + 2) if f"L{n}" not in offers)
    draft.put(
        {
            "order": next_order(offers),
            "name": said[2] or "",
            "length_mm": parse_length_mm(said[3], measures_of(draft.plain["brief"])),
            "price": parse_number(said[4]) if said[4] else 0.0,
            "chosen": said[5] is not None,
            "reason": "",
        },
        "brief",
        "ready_made",
        offer_id,
    )
