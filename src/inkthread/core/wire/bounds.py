"""How far the size of each wire may go: by what holds, by what the builder fixed, by cores as sold."""

from __future__ import annotations

import numpy as np

from inkthread.core.document.problems import pointer
from inkthread.core.document.types import Document
from inkthread.core.findings import FindingBook, Place, PutRight, phrase
from inkthread.core.physics.conductor import IntArray
from inkthread.core.quantity import QuantityError, parse_gauge
from inkthread.core.record import record
from inkthread.core.wire.families import CandidateTable, Chains
from inkthread.core.wire.limits import Judgement


@record
class Bounds:
    """Lowest and highest place in each wire's chain, (n,)."""

    lowest: IntArray
    highest: IntArray
    stuck: frozenset[int]
    """Wires that fit nowhere."""
    fixed: frozenset[int]
    """Wires that the builder fixed."""


def bounds_of(
    document: Document,
    judgement: Judgement,
    keys: list[str],
    chains: Chains,
    table: CandidateTable,
    cores: dict[str, str],
    book: FindingBook,
) -> Bounds:
    """Lowest and highest candidate of each wire.

    ``cores`` are wires whose gauge is that of a core as it is sold. What the builder fixed and cannot be
    is a finding.
    """
    if not keys:
        none = np.zeros(0, dtype=np.intp)
        return Bounds(none, none, frozenset(), frozenset())
    lowest, highest, stuck = _by_judgement(judgement, chains)
    fixed: set[int] = set()
    index = {k: i for i, k in enumerate(keys)}
    for key, choice in document.wire.fixed.items():
        if key not in index:
            book.add("fixed-orphan", Place("wire", "wire", key), wire=key, mechanical=_let_go(key))
            continue
        if choice.gauge is None:
            continue
        i = index[key]
        chain = chains.index[i, : chains.length[i]].tolist()
        called = {choice.gauge, _named(choice.gauge)}
        stated = next((n for n, c in enumerate(chain) if table.sizes[c].gauge in called), None)
        if stated is None or (key in cores and table.sizes[chain[stated]].gauge != cores[key]):
            made_in = sorted({table.families[int(table.family_of[c])].code for c in chain})
            book.add(
                "fixed-unknown",
                Place("wire", "wire", key),
                wire=key,
                value=choice.gauge,
                family=" or ".join(made_in),
                mechanical=_let_go(key),
            )
            continue
        lowest[i] = highest[i] = stated
        fixed.add(i)
        stuck.discard(i)
    for key, gauge in cores.items():
        i = index[key]
        chain = chains.index[i, : chains.length[i]].tolist()
        lowest[i] = highest[i] = next(n for n, c in enumerate(chain) if table.sizes[c].gauge == gauge)
    return Bounds(lowest.astype(np.intp), highest.astype(np.intp), frozenset(stuck), frozenset(fixed))


def _by_judgement(judgement: Judgement, chains: Chains) -> tuple[IntArray, IntArray, set[int]]:
    """The first that holds and the last that the ends take, and the wires for which none holds."""
    width = chains.index.shape[1]
    counts = np.arange(width)[None, :] < chains.length[:, None]
    ok = judgement.passes() & counts
    top = chains.length - 1
    whole = ok & ~judgement.too_large
    lowest = np.where(
        whole.any(axis=1), whole.argmax(axis=1), np.where(ok.any(axis=1), ok.argmax(axis=1), top)
    )
    stuck = {int(i) for i in np.nonzero(~ok.any(axis=1))[0]}
    fits = ~judgement.too_large & counts
    largest_fit = np.where(fits.any(axis=1), width - 1 - fits[:, ::-1].argmax(axis=1), top)
    # Another family is for currents the first cannot carry, not for a last tenth of a volt.
    kept = np.where(lowest < chains.first, chains.first - 1, top)
    highest = np.maximum(lowest, np.minimum(largest_fit, kept))
    # Where only the ends ask for more than the family has, the best fit is nearer than the largest.
    for i in stuck:
        last = int(top[i]) + 1
        electric = (
            (judgement.current[i, :last] <= 1)
            & (judgement.fuse[i, :last] <= 1)
            & (judgement.strength[i, :last] <= 1)
        )
        if electric.any():
            first = int(electric.argmax())
            lowest[i] = first + int(judgement.ends[i, first:last].argmin())
            highest[i] = lowest[i]
    return lowest, highest, stuck


def _let_go(key: str) -> PutRight:
    return phrase("choose"), ({"op": "remove", "path": pointer(["wire", "fixed", key])},)


def _named(text: str) -> str:
    """What a gauge that somebody typed is called; itself where it is none."""
    try:
        return parse_gauge(text).name
    except QuantityError:
        return text
