"""How a figure explains itself: rule, inputs with units, steps, source, and what governed.

Reckonings are rendered when asked for, from the rooms' own results; the evaluation keeps numbers.
"""

from __future__ import annotations

from collections.abc import Callable

from inkthread.core.reckoning.ends import bill, contact_of, cut, mass
from inkthread.core.reckoning.form import Candidate, Reckoning, Step, UnknownFigure, candidates_of
from inkthread.core.reckoning.protection import fuse_of
from inkthread.core.reckoning.route import branch
from inkthread.core.reckoning.wires import ampacity_of, drop, gauge
from inkthread.core.workings import Workings

__all__ = ["Candidate", "Reckoning", "Step", "UnknownFigure", "candidates_of", "reckon"]

_MAKERS: dict[str, Callable[[Workings, str], Reckoning]] = {
    "gauge": gauge,
    "drop": drop,
    "ampacity": ampacity_of,
    "cut": cut,
    "fuse": fuse_of,
    "contact": contact_of,
    "bill": bill,
    "mass": mass,
    "branch": branch,
}


def reckon(w: Workings, kind: str, figure: str) -> Reckoning:
    """Render one reckoning. Kinds: those of ``_MAKERS``. Raises UnknownFigure."""
    maker = _MAKERS.get(kind)
    if maker is None:
        raise UnknownFigure(f"There is no reckoning {kind!r}. Ask for one of {', '.join(_MAKERS)}.")
    return maker(w, figure)
