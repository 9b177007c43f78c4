"""What is shown of the branches as bundles."""

from __future__ import annotations

from dataclasses import dataclass

from inkthread.core.dress.room import BranchBundle


@dataclass(frozen=True, slots=True)
class DressView:
    """Every branch as a bundle."""

    bundles: dict[str, BranchBundle]
