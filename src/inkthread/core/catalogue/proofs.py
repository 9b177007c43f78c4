"""Types of what is proved: sorts of test, the mistakes they find, the faults that readings speak of."""

from __future__ import annotations

from dataclasses import field

from inkthread.core.catalogue.ends import DATA
from inkthread.core.record import record


@record
class Band:
    """How far a conductor lies below the most that its size may have (IEC 60228), and its joints."""

    __pydantic_config__ = DATA
    least_share: float = 0.88
    usual_share: float = 0.95
    most_share: float = 1.03
    """Over one: what a wire that is cut long adds."""
    joint_usual_share: float = 0.5
    """Of the resistance that contacts and splices are reckoned with."""


@record
class TestSort:
    """One sort of test, its wording with places in braces, and the mistakes that it finds."""

    __pydantic_config__ = DATA
    words: str
    catches: tuple[str, ...]


@record
class FaultSort:
    """One sort of fault: how likely it is beside the others, how it is worded, what is done."""

    __pydantic_config__ = DATA
    likely: float
    words: str
    do: str
    far: float = 1.0
    """How much less likely it is between cavities that are not beside each other."""


@record
class Symptom:
    """What a device does that fails, and which part of its usual volts it gets then."""

    __pydantic_config__ = DATA
    words: tuple[str, ...]
    least: float
    most: float
    moves: bool = False
    """Whether it comes and goes: what shakes and flexes is likelier then."""


@record
class LaterSort:
    """What fails on a machine: how likely beside the others, how it is worded, what is opened."""

    __pydantic_config__ = DATA
    likely: float
    wet: float
    """So many times as likely where there is water."""
    moving: float
    """And where it shakes or flexes."""
    words: str
    open: str
    dead: float = 1.0
    """So many times as likely to be open all the time as to be poor: a fuse blows, a lamp burns out."""


@record
class Later:
    """What is said of a harness that fails on its machine."""

    __pydantic_config__ = DATA
    symptoms: tuple[Symptom, ...] = ()
    sorts: dict[str, LaterSort] = field(default_factory=dict)
    next: str = ""
    next_none: str = ""
    none: str = ""
    sure_v: float = 0.1
    """A reading is good to this, in V, or to ``sure_share`` of what it should be."""
    sure_share: float = 0.025
    sources: str = ""
    shorts: dict[str, float] = field(default_factory=dict)
    """How likely a short is: of a metre of wire, a connector, a device, a bare edge; what zones do."""
    short_words: dict[str, str] = field(default_factory=dict)


@record
class ZoneUpkeep:
    """What a condition does to a harness on its machine: how much sooner one looks, and for what."""

    __pydantic_config__ = DATA
    share: float
    look: str


@record
class UpkeepData:
    """What is looked at on the machine, and how often (common practice, no source)."""

    __pydantic_config__ = DATA
    zones: dict[str, ZoneUpkeep] = field(default_factory=dict)
    look: str = ""


@record
class Proofs:
    """Everything that is said of tests, mistakes and faults."""

    __pydantic_config__ = DATA
    band: Band = field(default_factory=Band)
    kinds: dict[str, TestSort] = field(default_factory=dict)
    mistakes: dict[str, str] = field(default_factory=dict)
    faults: dict[str, FaultSort] = field(default_factory=dict)
    later: Later = field(default_factory=Later)
    upkeep: UpkeepData = field(default_factory=UpkeepData)
