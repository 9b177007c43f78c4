"""Which sleeve or label sleeve goes over something: by what it must pass and what it must hold."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence

from inkthread.core.catalogue.coverings import LabelSleeve, Lettering, Shape, Sleeve, SleeveKind, Tube
from inkthread.core.dress.squares import square_side_mm
from inkthread.core.physics.coverings import braid_cut_factor, tube_cut_mm, tube_wall_mm
from inkthread.core.record import record
from inkthread.core.tolerances import HAIR_MM, WHOLE


def closed_wall_mm(tube: Tube, onto_mm: float) -> float:
    """Wall of a tube once it has closed on something, in mm."""
    return tube_wall_mm(tube.recovered_mm, tube.wall_mm, max(onto_mm, tube.recovered_mm))


def tube_to_cut_mm(tube: Tube, finished_mm: float, onto_mm: float) -> float:
    """Length of a tube to cut so that it is ``finished_mm`` long once shrunk onto something."""
    way = (tube.supplied_mm - max(onto_mm, tube.recovered_mm)) / (tube.supplied_mm - tube.recovered_mm)
    return tube_cut_mm(finished_mm, tube.change_percent, share=way)


def choose_shape(
    shapes: Iterable[Shape], body: tuple[float, float], legs: Sequence[tuple[float, float]]
) -> Shape | None:
    """The smallest moulded boot or transition whose body and every leg pass and close; None where none does.

    ``body`` and each leg are (the largest that it passes, the smallest that it closes on), in mm.
    Source: both bores of every opening, common practice.
    """

    def fits(shape: Shape) -> bool:
        ways = [(body, shape.body_supplied_mm, shape.body_recovered_mm)]
        ways += [(leg, shape.leg_supplied_mm, shape.leg_recovered_mm) for leg in legs]
        return all(supplied > over and recovered < onto for (over, onto), supplied, recovered in ways)

    fitting = [shape for shape in shapes if shape.legs == len(legs) and fits(shape)]
    return min(fitting, key=lambda shape: (shape.body_supplied_mm, shape.price), default=None)


@record
class SleeveChoice:
    """A sleeve for a bundle, or the nearest to one."""

    sleeve: Sleeve | None
    holds: bool
    """It lies close on the bundle."""
    passes: bool
    """It goes over what it must."""

    @property
    def fits(self) -> bool:
        """It goes on and lies close."""
        return self.sleeve is not None and self.holds and self.passes


def choose_sleeve(
    sleeves: Iterable[Sleeve],
    kind: SleeveKind,
    tight_mm: float,
    passes_mm: float,
    *,
    larger: bool = False,
    stands_c: float = -273.0,
) -> SleeveChoice:
    """The narrowest sleeve of a kind that passes the largest item and still holds the bundle.

    ``tight_mm`` is the bundle as tightly as it lies, ``passes_mm`` the largest item it goes over, the
    loose bundle at least. ``larger`` takes one size more, as for solid cores (common practice); ``stands_c``
    is the air that it has to stand. Where none fits, the narrowest that passes, or the widest.
    """
    ladder = sorted(
        (s for s in sleeves if s.kind == kind and s.temperature_c >= stands_c), key=lambda s: s.nominal_mm
    )
    if not ladder:
        return SleeveChoice(None, False, False)
    fitting = [s for s in ladder if s.least_mm <= tight_mm and s.most_mm >= passes_mm]
    if fitting:
        # In the lower part of its range a sleeve bunches: the one whose own width is nearest lies best.
        at = min(range(len(fitting)), key=lambda n: (fitting[n].nominal_mm < tight_mm, n))
        return SleeveChoice(fitting[min(at + int(larger), len(fitting) - 1)], True, True)
    passing = [s for s in ladder if s.most_mm >= passes_mm]
    nearest = passing[0] if passing else ladder[-1]
    return SleeveChoice(nearest, nearest.least_mm <= tight_mm, bool(passing))


def sleeve_cut_mm(sleeve: Sleeve, bundle_mm: float, span_mm: float) -> float:
    """Length of sleeve to cut to cover a span of a bundle, in mm.

    A braid that is opened grows shorter, one drawn out longer; a fabric shrinks in length as it closes.
    """
    if sleeve.kind == "braid":
        fitted = min(max(bundle_mm, sleeve.least_mm), sleeve.most_mm)
        return span_mm * braid_cut_factor(fitted, sleeve.nominal_mm, sleeve.angle_deg)
    return tube_cut_mm(span_mm, sleeve.change_percent)


@record
class Label:
    """A label as it is printed. Lengths in mm."""

    text: str
    lines: tuple[str, ...]
    sleeve: LabelSleeve | None
    fits: bool
    """Its sleeve passes and closes."""
    height_mm: float
    """Of its letters."""
    length_mm: float
    """Of the sleeve that is cut."""
    readable: bool
    """Its letters are high enough to be read at arm's length."""
    square_mm: float = 0.0
    """Of a square code beside its text; 0 where it has none, or the sleeve is too narrow for one."""


def make_label(
    sleeves: Iterable[LabelSleeve],
    lettering: Lettering,
    text: str,
    onto_mm: float,
    *,
    over_mm: float | None = None,
    height_mm: float | None = None,
    square: str = "",
) -> Label:
    """A label for a bundle of ``onto_mm``: the narrowest sleeve that passes and closes, its text one line
    long, or two where it is long and the sleeve is wide enough.

    ``over_mm`` is the largest item it goes over (the bundle itself when absent); ``height_mm`` is that of
    the letters, as the sleeve has room when absent, never too small to be read. ``square`` is what a square
    code beside it says (ISO/IEC 18004), as high as the sleeve can be printed.
    """
    ladder = sorted(sleeves, key=lambda s: s.supplied_mm)
    passing = [s for s in ladder if s.supplied_mm > max(over_mm or 0.0, onto_mm)]
    fitting = [s for s in passing if s.recovered_mm < onto_mm]
    sleeve = fitting[0] if fitting else (passing[0] if passing else (ladder[-1] if ladder else None))
    room = sleeve.print_mm if sleeve is not None else lettering.least_mm
    usual = min(max(lettering.least_mm, _OF_PRINT * room), _USUAL_MM)
    wanted = height_mm if height_mm is not None else usual
    height = min(wanted, room)
    lines = _in_lines(text, int((room - height) / (height * lettering.line) + 1 + WHOLE))
    longest = max((len(line) for line in lines), default=0)
    length = 2 * lettering.margin_mm + longest * lettering.advance * height
    side = square_side_mm(square, sleeve.print_mm) if square and sleeve is not None else 0.0
    length += side + (lettering.margin_mm if side else 0.0)
    return Label(
        text, lines, sleeve, bool(fitting), round(height, 3), round(math.ceil(length * 2 - WHOLE) / 2, 1),
        height >= lettering.least_mm - HAIR_MM, side,
    )  # fmt: skip


_OF_PRINT, _USUAL_MM = 0.7, 4.0
"""Letters are this share of what a sleeve can be printed with, and no higher unless asked (typical)."""
_LONG = 16
"""A text of more letters is set in two lines where there is room."""


def _in_lines(text: str, at_most: int) -> tuple[str, ...]:
    """A long text broken in two at the space nearest its middle."""
    if at_most < 2 or len(text) <= _LONG or " " not in text:
        return (text,)
    spaces = [n for n, letter in enumerate(text) if letter == " "]
    middle = min(spaces, key=lambda n: abs(n - len(text) / 2))
    return text[:middle], text[middle + 1 :]
