"""What the rooms found out on the way to an evaluation: reckonings and studies ask for it."""

from __future__ import annotations

from inkthread.core.brief import BriefResult
from inkthread.core.build import Rooms
from inkthread.core.catalogue import Catalogue
from inkthread.core.circuits import CircuitsResult
from inkthread.core.context import Context
from inkthread.core.cut import CutResult
from inkthread.core.document.types import Document
from inkthread.core.dress import DressResult
from inkthread.core.ends import EndsResult
from inkthread.core.evaluation import Evaluation
from inkthread.core.parts import PartsResult
from inkthread.core.record import record
from inkthread.core.route import RouteResult
from inkthread.core.wire import WireResult


@record
class Workings:
    """The rooms' own results, kept for reckonings, and the evaluation they make."""

    context: Context
    """The document in it is without what is left out; the catalogue has what stands in for parts gone."""
    circuits: CircuitsResult
    route: RouteResult
    wire: WireResult
    ends: EndsResult
    cut: CutResult
    dress: DressResult
    parts: PartsResult
    evaluation: Evaluation
    stated: Document
    """The document as the builder states it."""
    catalogue_given: Catalogue
    """The catalogue as it was handed in."""
    unnamed: Document
    """The document as the rooms see it: without what its things are called."""

    @property
    def rooms(self) -> Rooms:
        """What the work at the bench is planned from."""
        return Rooms(self.context, self.route, self.wire, self.ends, self.cut, self.dress)

    @property
    def document(self) -> Document:
        """The document as it was worked out, without what is left out."""
        return self.context.document

    @property
    def catalogue(self) -> Catalogue:
        """Every part that the document names is in it."""
        return self.context.catalogue

    @property
    def brief(self) -> BriefResult:
        """The rules in force."""
        return self.context.brief
