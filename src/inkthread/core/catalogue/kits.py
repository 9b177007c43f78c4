"""Kits: an assortment of parts sold as one."""

from __future__ import annotations

from inkthread.core.catalogue.ends import DATA
from inkthread.core.record import record


@record
class Kit:
    """What lies in a box that is bought whole: part codes, each with how many of it."""

    __pydantic_config__ = DATA
    code: str
    description: str
    price: float
    contents: dict[str, int]
    source: str = "invented, typical of its kind"
