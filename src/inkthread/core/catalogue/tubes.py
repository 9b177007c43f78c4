"""Which shrink tube goes over something: by both bores, what it must pass and what it must close on."""

from __future__ import annotations

from collections.abc import Iterable

from inkthread.core.catalogue.coverings import Tube
from inkthread.core.record import record


@record
class TubeChoice:
    """A shrink tube for a place, or the nearest to one, with what would do instead."""

    tube: Tube | None
    passes: bool
    closes: bool
    instead: str = ""
    """Where it does not fit: which ratio, order or split piece would."""

    @property
    def fits(self) -> bool:
        """It passes what it must, and closes on what it must."""
        return self.tube is not None and self.passes and self.closes


def standing_tubes(tubes: Iterable[Tube], air_c: float | None) -> tuple[Tube, ...]:
    """Of tubes those that stand air of ``air_c`` (deg C); all where none does, or it is not known."""
    every = tuple(tubes)
    standing = tuple(t for t in every if air_c is None or t.temperature_c >= air_c)
    return standing or every


def choose_tube(
    tubes: Iterable[Tube],
    over_mm: float,
    onto_mm: float,
    *,
    ratio: str | None = None,
    lined: bool | None = None,
) -> TubeChoice:
    """The narrowest tube that passes ``over_mm`` as supplied and closes on ``onto_mm`` when recovered; of
    equal ones that which has to shrink least, plain before lined.

    Where none does, the narrowest that passes, and what else would do. Source: both bores, common practice.
    """
    every = sorted(tubes, key=lambda t: (t.supplied_mm, -t.recovered_mm, t.lined))
    allowed = [
        t for t in every if (ratio is None or t.ratio == ratio) and (lined is None or t.lined == lined)
    ]
    fitting = [t for t in allowed if t.supplied_mm > over_mm and t.recovered_mm < onto_mm]
    if fitting:
        return TubeChoice(fitting[0], True, True)
    passing = [t for t in allowed if t.supplied_mm > over_mm]
    nearest = passing[0] if passing else (allowed[-1] if allowed else None)
    return TubeChoice(
        nearest, bool(passing), nearest is not None and nearest.recovered_mm < onto_mm,
        _instead(every, allowed, over_mm, onto_mm),
    )  # fmt: skip


def _instead(every: list[Tube], allowed: list[Tube], over_mm: float, onto_mm: float) -> str:
    """What would do where no tube of those allowed fits."""
    other = next((t for t in every if t.supplied_mm > over_mm and t.recovered_mm < onto_mm), None)
    if other is not None:
        return f"{other.code} ({other.ratio}, {'lined' if other.lined else 'plain'}) passes and closes"
    before = next((t for t in allowed or every if t.supplied_mm > onto_mm > t.recovered_mm), None)
    if before is not None:
        return f"put it on before the thicker piece is fitted: {before.code} then closes on the bundle"
    return "no tube held here does: wind tape, or use a split piece"
