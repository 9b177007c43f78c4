"""Contacts that were taken out of their cavity and put in again: looked at first, and once only."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping

from inkthread.core.brief import BriefResult
from inkthread.core.build.operations import Operation
from inkthread.core.findings import FindingBook, Place, phrase

NEVER = 2
"""What the house rule on contacts that were taken out means."""


def find_reused(
    steps: Mapping[str, Operation],
    happened: Iterable[tuple[str, str]],
    done: Collection[str],
    brief: BriefResult,
    book: FindingBook,
) -> None:
    """Contacts that are in again though they were taken out. ``happened`` has kind and step, oldest first.

    By the house rule one that was looked at may go in again once, or none may; a new contact begins anew.
    Source: tangs weaken (common practice).
    """
    never = int(brief.value("reused_contacts")) == NEVER
    taken: dict[str, int] = {}
    looked_at: dict[str, bool] = {}
    for kind, step in happened:
        own = steps.get(step)
        if own is None or not own.end:
            continue
        end = f"{own.place}-{own.cavity}"
        if kind == "taken out":
            taken[end], looked_at[end] = taken.get(end, 0) + 1, False
        elif kind == "looked at":
            looked_at[end] = True
        elif kind == "spoiled":
            taken.pop(end, None)
    filled = {
        f"{o.place}-{o.cavity}": step for step, o in steps.items() if o.work == "insert" and step in done
    }
    for end, count in taken.items():
        if end not in filled:
            continue
        why = "never" if never else "twice" if count > 1 else "unseen" if not looked_at[end] else ""
        if why:
            book.add("contact-reused", Place("build", "step", filled[end]), end=end, why=phrase(why))
