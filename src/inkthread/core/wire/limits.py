"""The five limits of every candidate: current, drop, fuse, strength, ends.

A limit is a ratio: what is asked over what is allowed. It passes at 1 or below. ``ends`` is a
window, so it can fail from either side. Arrays are (n, k): wires by the candidates of their chains.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from inkthread.core.catalogue import ConnectorFamily, Contact, WireSize
from inkthread.core.physics.conductor import BoolArray, FloatArray, IntArray
from inkthread.core.record import record
from inkthread.core.tolerances import HOLDS

LIMITS = ("current", "drop", "fuse", "strength", "ends")

OVERLOAD_LONG = 1.10
"""A blade fuse carries 110 % for 100 h (ISO 8820-3, from memory)."""
OVERLOAD_SHORT = 1.35
"""A blade fuse may carry 135 % for up to 600 s (ISO 8820-3, from memory)."""


@record
class EndFit:
    """How every candidate size fits one kind of end. Arrays of shape (s,)."""

    ratio: FloatArray
    too_small: BoolArray
    too_large: BoolArray
    contact_a: FloatArray
    """What the best contact carries on each size."""


def end_fit(
    sizes: tuple[WireSize, ...],
    connector: ConnectorFamily,
    gender: str,
    stud: str | None,
    fixed: str | None = None,
) -> EndFit:
    """Judge sizes against the contacts and seals of a connector family, or one contact that is fixed.

    Conductor area must lie in a contact's range, nominal outside diameter in that contact's
    insulation range, and least and largest outside diameter in a seal's window.
    """
    contacts = connector.contacts_for(gender, stud, fixed)
    best = [_best_end(size, connector, contacts) for size in sizes]
    ratio, small, large, contact_a = zip(*best, strict=True) if best else ((), (), (), ())
    return EndFit(np.array(ratio), np.array(small), np.array(large), np.array(contact_a, dtype=float))


def _best_end(
    size: WireSize, connector: ConnectorFamily, contacts: tuple[Contact, ...]
) -> tuple[float, bool, bool, float]:
    """Ratio, too small, too large and amperes of the contact that fits a size best."""
    best = (np.inf, False, False, np.inf)
    sealed = min((s.miss(size) for s in connector.seals), key=lambda m: m.worst, default=None)
    for c in contacts:
        miss = c.miss(size) if sealed is None else c.miss(size).also(sealed)
        if miss.worst < best[0]:
            best = (miss.worst, miss.below > 1, miss.above > 1, c.current_a(size.area_mm2))
    return best


@dataclass(slots=True)
class Judgement:
    """Ratios of the limits that do not depend on the loops, shape (n, k), and what they allow."""

    current: FloatArray
    fuse: FloatArray
    strength: FloatArray
    ends: FloatArray
    too_small: BoolArray
    too_large: BoolArray
    allowed_a: FloatArray
    """Current allowed where the wire lies."""
    free_air_a: FloatArray
    """Current allowed alone in still air."""

    def passes(self) -> BoolArray:
        """Whether current, fuse and strength hold, and it is not too thin for its ends."""
        return (self.current <= HOLDS) & (self.fuse <= HOLDS) & (self.strength <= HOLDS) & ~self.too_small


def ratios_at(judgement: Judgement, drop_ratio: FloatArray, chosen: IntArray) -> FloatArray:
    """What is asked of every wire over what is allowed at its chosen candidate, (n, limits) as ``LIMITS``."""
    rows = np.arange(len(chosen))
    by_limit = (judgement.current, drop_ratio, judgement.fuse, judgement.strength, judgement.ends)
    return np.stack([of[rows, chosen] if len(chosen) else np.zeros(0) for of in by_limit], axis=1)


@record
class Asked:
    """What is asked of each wire, shape (n,) but for the current. Zero where nothing is."""

    current_a: FloatArray
    """(n, k): the current that heats it as much as what it carries, at each candidate."""
    fuse_single_a: FloatArray
    """Rating of the one fuse that protects it, the limit of a supply that no fuse clears, or what the
    protection behind it lets through."""
    fuse_sum_a: FloatArray
    """Sum of the ratings of all the fuses that feed a shared return."""
    least_area_mm2: FloatArray
    ahead: BoolArray
    """Whether it lies ahead of the first protection."""

    def unless(self, ambient_above_rating: BoolArray) -> Asked:
        """The same with nothing asked of the heat of the wires marked (n,)."""
        kept = ~ambient_above_rating
        return Asked(
            self.current_a * kept[:, None],
            self.fuse_single_a * kept,
            self.fuse_sum_a * kept,
            self.least_area_mm2,
            self.ahead,
        )

    def heating_a(self, chosen: IntArray) -> FloatArray:
        """The heating current of each wire at its chosen candidate. (n,)."""
        return np.asarray(self.current_a[np.arange(len(chosen)), chosen]) if len(chosen) else np.zeros(0)


@record
class WorstEnds:
    """Worst fit of both ends of every wire, all (n, k)."""

    ratio: FloatArray
    too_small: BoolArray
    too_large: BoolArray
    contact_a: FloatArray


def judge(
    asked: Asked,
    allowed_a: FloatArray,
    free_air_a: FloatArray,
    strength_mm2: FloatArray,
    ends: WorstEnds,
) -> Judgement:
    """Judge every candidate (all (n, k)). ``strength_mm2`` is what each counts as against its least size.

    One fuse is held to 110 % where the wire lies and to 135 % alone. The sum of the fuses feeding
    a shared return is held to its free-air current.
    """
    single, total = asked.fuse_single_a[:, None], asked.fuse_sum_a[:, None]
    with np.errstate(divide="ignore", invalid="ignore"):
        current = np.where(asked.current_a > 0, asked.current_a / allowed_a, 0.0)
        one = np.where(
            single > 0,
            np.maximum(OVERLOAD_LONG * single / allowed_a, OVERLOAD_SHORT * single / free_air_a),
            0.0,
        )
        shared = np.where(total > 0, total / free_air_a, 0.0)
        # A thicker wire lets a contact carry more; where none lets it carry enough, that is the
        # connector's fault and said of it.
        for ratio, asks in ((current, asked.current_a), (one, single)):
            at_contact = np.where(asks > 0, asks / ends.contact_a, 0.0)
            helps = ((at_contact <= 1) & ~ends.too_large).any(axis=1, keepdims=True)
            np.maximum(ratio, np.where(helps, at_contact, 0.0), out=ratio)
    strength = asked.least_area_mm2[:, None] / strength_mm2
    return Judgement(
        current,
        np.maximum(one, shared),
        strength,
        ends.ratio,
        ends.too_small,
        ends.too_large,
        allowed_a,
        free_air_a,
    )


def next_that_fits(ends: WorstEnds, length: IntArray) -> IntArray:
    """For every candidate, itself, or the next larger that its ends take where they leave a gap. (n, k).

    Ranges of contacts are no hull: a size between two of them fits neither. Beyond the last that fits,
    each stands for itself.
    """
    width = ends.ratio.shape[1]
    place = np.arange(width)
    fits = (ends.ratio <= HOLDS) & (place[None, :] < length[:, None])
    onward = np.where(fits, place[None, :], width)
    onward = np.minimum.accumulate(onward[:, ::-1], axis=1)[:, ::-1]
    return np.where(onward < width, onward, place[None, :]).astype(np.intp)


def worst_ends(fits: list[tuple[EndFit, ...]], index: npt.NDArray[np.intp], sizes: int) -> WorstEnds:
    """Worst fit of both ends of every wire; few kinds of end serve many wires."""
    n = len(fits)
    kinds: dict[int, int] = {}
    distinct: list[EndFit] = []
    rows = np.zeros((2, n), dtype=np.intp)
    for i, pair in enumerate(fits):
        for side, fit in enumerate(pair):
            at = kinds.get(id(fit))
            if at is None:
                distinct.append(fit)
                at = kinds[id(fit)] = len(distinct)
            rows[side, i] = at
    none = np.zeros((1, sizes))
    ratio = np.concatenate([none, *(f.ratio[None, :] for f in distinct)])
    small = np.concatenate([none > 0, *(f.too_small[None, :] for f in distinct)])
    large = np.concatenate([none > 0, *(f.too_large[None, :] for f in distinct)])
    a, b = rows[0][:, None], rows[1][:, None]
    contact_a = np.concatenate([none + np.inf, *(f.contact_a[None, :] for f in distinct)])
    return WorstEnds(
        np.maximum(ratio[a, index], ratio[b, index]),
        small[a, index] | small[b, index],
        large[a, index] | large[b, index],
        np.minimum(contact_a[a, index], contact_a[b, index]),
    )
