"""Types of the design document: every collection maps ids to entries, each with its ``order``."""

from __future__ import annotations

from dataclasses import field
from typing import Annotated, Final, Literal

from pydantic import Field, Strict

from inkthread.core.document.choices import (
    BuildChoices,
    CutChoices,
    DressChoices,
    Ends,
    PartsChoices,
    WireChoices,
)
from inkthread.core.document.values import (
    STRICT,
    AltitudeM,
    CapacityAh,
    Currency,
    CurrentA,
    Day,
    EngineBond,
    Entries,
    FaultA,
    Fitted,
    Flag,
    GroupKind,
    Id,
    Job,
    LengthMm,
    LoadKind,
    MeasuredHow,
    Name,
    Note,
    Order,
    Paper,
    PathKind,
    Percent,
    PinData,
    PinId,
    PinRefText,
    PinRole,
    PointEdge,
    PointKind,
    Practice,
    RadiantWPerM2,
    ResistanceMohm,
    Service,
    ShareOfMode,
    Sheath,
    ShieldRule,
    SourceKind,
    Switching,
    TemperatureC,
    Threading,
    TimeS,
    VoltageV,
)
from inkthread.core.measures import LengthUnits, MassUnits, Measures, TemperatureUnits, measured_in
from inkthread.core.record import record

FORMAT: Final = "inkthread-design"
FORMAT_NUMBER: Final = 2


@record
class Zone:
    """An environment that stretches of branch lie in."""

    __pydantic_config__ = STRICT
    order: Order
    name: Name
    ambient_c: TemperatureC
    wet: Flag = False
    jets: Flag = False
    """Washed down with jets of water."""
    immersed: Flag = False
    """Under water for a time."""
    vibration: Flag = False
    salt: Flag = False
    flex: Flag = False
    """Wires here bend as the machine works."""
    engine_space: Flag = False
    noisy: Flag = False
    """Ignition or switching noise near by."""
    sensitive: Flag = False
    """A compass, a receiver or another instrument near by."""
    no_structure: Flag = False
    """Wood or plastic: nothing here to return a current through."""
    radiant_w_per_m2: RadiantWPerM2 = 0.0
    """Sun or a hot part shining on the harness."""
    fluids: Name = ""
    """What may splash here, commas between: ``fuel, brake fluid``."""
    least_c: TemperatureC | None = None
    """The coldest it gets here; not judged when absent."""
    dust: Flag = False
    abrasion: Flag = False
    """The harness rubs here."""
    immersed_m: Annotated[float, Strict(), Field(gt=0, le=1_000)] | None = None
    """How deep under water; up to 1 m when absent."""
    immersed_min: Annotated[float, Strict(), Field(gt=0, le=1_000_000)] | None = None
    """For how long, in minutes; up to half an hour when absent."""

    @property
    def has_water(self) -> bool:
        """Whether water gets at the harness here: rain, salt spray, jets, or standing in it."""
        return self.wet or self.salt or self.jets or self.immersed


@record
class HouseRule:
    """A house rule set against the preset's value, with the builder's reason."""

    __pydantic_config__ = STRICT
    order: Order
    value: Annotated[float, Strict(), Field(ge=0, le=100_000)]
    reason: Note = ""


@record
class ReadyMade:
    """A lead that can be bought made: how long it is and what it costs."""

    __pydantic_config__ = STRICT
    order: Order
    length_mm: LengthMm
    name: Name = ""
    price: Annotated[float, Strict(), Field(ge=0, le=1e6)] = 0.0
    chosen: Flag = False
    """Whether it is bought instead of making one."""
    reason: Note = ""


@record
class Brief:
    """What is made, under which practice, from what supply, in what zones."""

    __pydantic_config__ = STRICT
    name: Name
    practice: Practice
    machine: Name = ""
    job: Job = "new"
    """What kind of job: all but a new one and a trial lead must meet what is there already."""
    quantity: Annotated[int, Strict(), Field(ge=1, le=10_000)] = 1
    supply_nominal_v: VoltageV = 12.0
    supply_working_v: VoltageV = 13.2
    supply_least_v: VoltageV | None = None
    """The least the supply falls to in use; a tenth below working when absent."""
    supply_most_v: VoltageV | None = None
    """The most the supply rises to in use; what charges it, or the working voltage, when absent."""
    altitude_m: AltitudeM = 0.0
    mass_budget_g: Annotated[float, Strict(), Field(gt=0, le=1e6)] | None = None
    """What one harness may weigh; no limit when absent."""
    units: LengthUnits = "metric"
    mass_unit: MassUnits = "g"
    temperature_unit: TemperatureUnits = "C"
    currency: Currency = ""
    """Of prices, as it is written; without one when empty."""
    currency_first: Flag = False
    paper: Paper = "A4"
    """What is printed on, unless another is asked for."""
    engine: EngineBond = "not said"
    zones: Entries[Id, Zone] = field(default_factory=dict)
    house_rules: Entries[Id, HouseRule] = field(default_factory=dict)
    ready_made: Entries[Id, ReadyMade] = field(default_factory=dict)
    """Leads that can be bought instead of made."""

    @property
    def measures(self) -> Measures:
        """The units that its figures are shown in."""
        return measured_in(self.units, self.mass_unit, self.temperature_unit)


@record
class DevicePin:
    """A terminal of a device."""

    __pydantic_config__ = STRICT
    order: Order
    role: PinRole
    name: Name = ""
    group: Name = ""
    """Pins of a device with the same group must be joined."""
    switching: Switching = "not said"
    """How an electronic output switches, or which kind an input takes: sourcing is PNP, sinking NPN."""


@record
class InternalPath:
    """Current may cross a device from one pin to another along this path.

    A fuse's or breaker's rating is derived unless ``rating_a`` fixes it. A regulator or supply makes
    ``out_v`` at its far end, to ``limit_a`` where it is limited; without an efficiency it is linear,
    and as much current goes in as comes out.
    """

    __pydantic_config__ = STRICT
    order: Order
    from_pin: PinId
    to_pin: PinId
    kind: PathKind = "link"
    rating_a: Annotated[float, Strict(), Field(gt=0, le=2_000)] | None = None
    reason: Note = ""
    resistance_mohm: ResistanceMohm | None = None
    """Of a closed switch, relay or fuse; the part's own, or none, when absent."""
    contact_a: CurrentA | None = None
    """What a switch, relay or contactor may carry."""
    out_v: VoltageV | None = None
    efficiency_percent: Percent | None = None
    limit_a: CurrentA | None = None
    throw: Name = ""
    """Paths of a device with the same throw are never closed together (a changeover switch)."""
    parallel: Name = ""
    """Fuses or breakers with the same word here are meant to share one load."""


@record
class Device:
    """Something the harness connects: its pins and the paths inside it."""

    __pydantic_config__ = STRICT
    order: Order
    name: Name
    kind: Name = "other"
    moving: Flag = False
    structure: Flag = False
    """True where the device is the machine's structure used as a return (a ground stud)."""
    structure_mohm: ResistanceMohm = 0.0
    """Resistance of the structure from here to where the source is tied to it."""
    fitted: Fitted = "connector"
    lead_mm: LengthMm | None = None
    """Length of flying leads."""
    lead_gauge: Name | None = None
    """Gauge of flying leads."""
    polarised: Flag = False
    """Of a two-wire switch: it works one way round only."""
    pin_data: PinData = "not known"
    pin_document: Name = ""
    pin_page: Name = ""
    pin_date: Day = ""
    slope_mv: Annotated[float, Strict(), Field(gt=0, le=1e6)] | None = None
    """Signal in mV for one unit of what a sensor measures."""
    slope_unit: Name = ""
    pins: Entries[PinId, DevicePin] = field(default_factory=dict)
    paths: Entries[Id, InternalPath] = field(default_factory=dict)


@record
class ModeShare:
    """How much of a load runs in an operating mode (the entry's key)."""

    __pydantic_config__ = STRICT
    order: Order
    percent: ShareOfMode


@record
class Mode:
    """An operating mode: which loads run together."""

    __pydantic_config__ = STRICT
    order: Order
    name: Name


@record
class Source:
    """What feeds the harness at a device pin. What is absent is the brief's, or not known."""

    __pydantic_config__ = STRICT
    order: Order
    device: Id
    supply_pin: PinId
    return_pin: PinId
    kind: SourceKind = "battery"
    nominal_v: VoltageV | None = None
    least_v: VoltageV | None = None
    most_v: VoltageV | None = None
    internal_mohm: ResistanceMohm | None = None
    fault_a: FaultA | None = None
    """Current into a short; from voltage and internal resistance when absent."""
    limit_a: CurrentA | None = None
    """What it gives at most: a limited supply, an alternator, a charger, a panel."""
    capacity_ah: CapacityAh | None = None
    fuse_a: Annotated[float, Strict(), Field(gt=0, le=2_000)] | None = None
    """Rating of the fuse that the machine has ahead of a feed that comes protected."""
    feed_gauge: Name | None = None
    """Gauge of the wire by which that feed comes."""
    modes: Entries[Id, ModeShare] = field(default_factory=dict)
    """Share of what it can give that is there in a mode; all of it where none is named."""


@record
class Load:
    """Current drawn by a device between a supply pin and a return pin.

    ``current_a`` is at ``rated_v`` (the working voltage when absent). It runs in every mode in full
    unless ``modes`` says otherwise.
    """

    __pydantic_config__ = STRICT
    order: Order
    device: Id
    supply_pin: PinId
    return_pin: PinId
    current_a: CurrentA
    service: Service = "continuous"
    kind: LoadKind = "constant current"
    rated_v: VoltageV | None = None
    least_v: VoltageV | None = None
    """Below this it does not work."""
    duty_percent: Percent = 100.0
    cycle_s: TimeS | None = None
    """How long one turn of on and off takes; taken as on for good when absent."""
    peak_a: CurrentA | None = None
    """Stall, crank or transmit current."""
    peak_s: TimeS | None = None
    peak_repeats: Annotated[int, Strict(), Field(ge=1, le=100)] = 1
    peak_pause_s: TimeS = 0.0
    inrush_a: FaultA | None = None
    inrush_s: TimeS | None = None
    critical: Flag | None = None
    """Whether one relies on it; by what it is when absent."""
    starts_with: Name = ""
    """Loads with the same word here start at the same moment."""
    modes: Entries[Id, ModeShare] = field(default_factory=dict)


@record
class CircuitEnd:
    """One device pin of a circuit (the pin is the entry's key)."""

    __pydantic_config__ = STRICT
    order: Order


@record
class Circuit:
    """A set of device pins that are electrically one."""

    __pydantic_config__ = STRICT
    order: Order
    name: Name = ""
    ends: Entries[PinRefText, CircuitEnd] = field(default_factory=dict)
    threading: Threading | None = None
    """How it is joined where it has more than two ends; a cascade of splices when absent."""
    hub: Id | None = None
    """The point of its block or star splice; the program's choice when absent."""
    family: Name | None = None
    """Its own wire family; the harness's when absent."""
    optional: Flag = False
    """For a future need: laid only where ``laid``."""
    laid: Flag = True
    old_colour: Name = ""
    """Of a replacement: the colour of the wire that it takes the place of."""
    old_mark: Name = ""
    """How that wire was told from others of its colour before it was cut."""


@record
class WireGroup:
    """Circuits that run together: a twisted pair, a shielded three, a cable."""

    __pydantic_config__ = STRICT
    order: Order
    kind: GroupKind
    name: Name = ""
    members: Entries[Id, CircuitEnd] = field(default_factory=dict)
    """Circuits, the entry's key."""
    shield: Id | None = None
    """The circuit that lands the shield."""
    shield_rule: ShieldRule = "one end"
    shield_open: Id | None = None
    """The connector at which the shield is cut back and insulated."""
    family: Name | None = None
    lay_mm: Annotated[float, Strict(), Field(gt=0, le=10_000)] | None = None
    """Length of one turn, where wires are twisted by hand; by their gauge when absent."""


@record
class Bus:
    """A data bus: its circuits, its standard and the devices that hold terminators."""

    __pydantic_config__ = STRICT
    order: Order
    standard: Name
    name: Name = ""
    circuits: Entries[Id, CircuitEnd] = field(default_factory=dict)
    terminators: Entries[Id, CircuitEnd] = field(default_factory=dict)
    """Devices, the entry's key."""


@record
class Circuits:
    """Devices, sources, loads, modes, circuits, and circuits that belong together."""

    __pydantic_config__ = STRICT
    devices: Entries[Id, Device] = field(default_factory=dict)
    loads: Entries[Id, Load] = field(default_factory=dict)
    circuits: Entries[Id, Circuit] = field(default_factory=dict)
    sources: Entries[Id, Source] = field(default_factory=dict)
    modes: Entries[Id, Mode] = field(default_factory=dict)
    groups: Entries[Id, WireGroup] = field(default_factory=dict)
    buses: Entries[Id, Bus] = field(default_factory=dict)
    future_in: Flag = True
    """One switch for all optional circuits: in the harness, or out of it."""


@record
class Point:
    """A place on the route."""

    __pydantic_config__ = STRICT
    order: Order
    name: Name = ""
    kind: PointKind = "breakout"
    zone: Id | None = None
    """The zone it lies in; that of the hottest branch that ends here when absent."""
    opening_mm: LengthMm | None = None
    """Diameter of the opening here."""
    edge: PointEdge = "not said"
    after_terminating: Flag = False
    """Whether what passes the opening has its connectors on."""
    slack_mm: LengthMm | None = None
    """Slack kept at this breakout or end, for every wire that passes it."""
    datum: Flag = False
    """Stations along the harness are counted from here."""


@record
class Stretch:
    """A part of a branch that lies in a zone, from its first point."""

    __pydantic_config__ = STRICT
    order: Order
    zone: Id
    from_mm: LengthMm
    to_mm: LengthMm


@record
class Branch:
    """A stretch of harness between two points."""

    __pydantic_config__ = STRICT
    order: Order
    from_point: Id
    to_point: Id
    length_mm: LengthMm
    measured: MeasuredHow = "tape"
    zone: Id | None = None
    slack_mm: LengthMm | None = None
    """Slack of this branch; the house rule's when absent."""
    measured_on: Day = ""
    uncertainty_mm: LengthMm | None = None
    """The measure may be this much off either way; by its method when absent."""
    separators: Flag = False
    """Ignition leads are kept apart here by combs that do not conduct."""
    apart_mm: LengthMm | None = None
    """How far ignition and switching are kept from signals along it; not known when absent."""
    support_mm: LengthMm | None = None
    """How far apart its clamps are, as fitted; by the house rule when absent."""
    bend_deg: Annotated[float, Strict(), Field(ge=0, le=3600)] = 0.0
    """All its bends together, as it lies."""
    sheath: Sheath = "none"
    rerouted_on: Day = ""
    """The day its way was changed."""
    stretches: Entries[Id, Stretch] = field(default_factory=dict)
    """Stretches that lie in other zones than the branch's own."""


@record
class Route:
    """Points and measured branches: a tree."""

    __pydantic_config__ = STRICT
    points: Entries[Id, Point] = field(default_factory=dict)
    branches: Entries[Id, Branch] = field(default_factory=dict)


@record
class Document:
    """A design document: one harness as its builder states it."""

    __pydantic_config__ = STRICT
    format: Literal["inkthread-design"]
    format_number: Literal[2]
    brief: Brief
    circuits: Circuits = field(default_factory=Circuits)
    route: Route = field(default_factory=Route)
    wire: WireChoices = field(default_factory=WireChoices)
    ends: Ends = field(default_factory=Ends)
    cut: CutChoices = field(default_factory=CutChoices)
    dress: DressChoices = field(default_factory=DressChoices)
    parts: PartsChoices = field(default_factory=PartsChoices)
    build: BuildChoices = field(default_factory=BuildChoices)
