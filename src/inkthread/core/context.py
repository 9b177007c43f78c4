"""What every room may read besides the rooms before it."""

from __future__ import annotations

from dataclasses import dataclass

from inkthread.core.brief import BriefResult
from inkthread.core.catalogue import Catalogue
from inkthread.core.document.types import Document
from inkthread.core.memo import Memo
from inkthread.core.shop import Shop


@dataclass(frozen=True, slots=True)
class Context:
    """A harness as stated, the parts there are, the rules in force, and the shop that makes it."""

    document: Document
    catalogue: Catalogue
    brief: BriefResult
    shop: Shop
    memo: Memo
    """What was worked out before of this harness: it changes no figure."""
