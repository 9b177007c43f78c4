"""How many more of a part are bought than are used: spares, and pieces to practise on."""

from __future__ import annotations

import math

from inkthread.core.context import Context
from inkthread.core.parts.groups import Group
from inkthread.core.tolerances import WHOLE

_SPARED: tuple[Group, ...] = ("contact", "terminal", "seal", "cavity plug")
_PRACTISED: tuple[Group, ...] = ("contact", "terminal", "splice")


class Spares:
    """The house rules on spares, and what is new to the shop."""

    def __init__(self, context: Context) -> None:
        self._one_in = context.brief.value("spare_one_in")
        self._practice = int(context.brief.value("practice_pieces"))
        self._fuses = int(context.brief.value("spare_fuses"))
        self._known = {contact for contact, _ in context.shop.proven}
        catalogue = context.catalogue
        self._fuse_codes = {f.code for f in catalogue.fuses}
        self._factory = {c.code for f in catalogue.connectors.values() for c in f.contacts if c.factory}

    def of(self, group: Group, code: str, quantity: float) -> float:
        """Pieces beside those that are used."""
        if code in self._factory or quantity <= 0:
            return 0.0
        spares = 0
        if group in _SPARED and self._one_in > 0:
            spares += math.ceil(quantity / self._one_in - WHOLE)
        if group in _PRACTISED and code not in self._known:
            spares += self._practice
        if code in self._fuse_codes:
            spares += self._fuses
        return float(spares)
