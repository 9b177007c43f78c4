"""What every room may read besides the rooms before it."""

from __future__ import annotations

from inkthread.core.brief import BriefResult
from inkthread.core.catalogue import Catalogue
from inkthread.core.catalogue.coverings import Coverings, Tube
from inkthread.core.document.only import only
from inkthread.core.document.types import Document
from inkthread.core.memo import Memo, OfParts
from inkthread.core.record import record
from inkthread.core.shop import Shop


@record
class Context(OfParts):
    """A harness as stated, the parts there are, the rules in force, and the shop that makes it."""

    document: Document
    catalogue: Catalogue
    brief: BriefResult
    shop: Shop
    memo: Memo
    """What was worked out before of this harness: it changes no figure."""

    def parts(self) -> tuple[object, ...]:
        """All that it consists of, but for the memo: that changes nothing."""
        return self.document, self.catalogue, self.brief, self.shop

    def tubes(self) -> tuple[Tube, ...]:
        """Every shrink tube, the narrowest first."""
        return self.memo.get(Coverings.tubes, self.catalogue.coverings)

    def only(self, *parts: str) -> Context:
        """The same with some parts of the document alone: for a step that reads no others."""
        return Context(only(self.document, *parts), self.catalogue, self.brief, self.shop, self.memo)
