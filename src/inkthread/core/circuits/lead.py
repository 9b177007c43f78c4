"""A lead or an extension, of which only its ways are known: what each is, and what it carries."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from inkthread.core.catalogue import Catalogue, ConnectorFamily
from inkthread.core.circuits.figures import Ratings, read_figures
from inkthread.core.circuits.new_device import add_device, put_connector
from inkthread.core.circuits.typed_ratings import load_fields, source_fields
from inkthread.core.document.draft import Draft, LineError
from inkthread.core.document.values import PinRole
from inkthread.core.record import record
from inkthread.core.typed.grammar import LEAD_ROLES, misread, parse_line

if TYPE_CHECKING:
    from lark import Token, Tree


def lead_statement(draft: Draft, catalogue: Catalogue, text: str) -> None:
    """A lead between two connectors, of which nobody knows the devices: what each way is and carries.

    ``lead P1 SR16 > P2: 1 supply 5 A 12 V fuse 10 A, 2 return, 3 signal``. What is fed lies beyond the second
    end. Raises LineError.
    """
    tree = parse_line("lead", text)
    ends: list[Any] = [t for t in tree.children if getattr(t, "type", "") in ("POINT", "FAMILY")]
    names = [t for t in ends if t.type == "POINT"]
    families = _families_of(catalogue, ends)
    ways = list(tree.find_data("lead_way"))
    volts = float(draft.at("brief", "supply_working_v") or 0) or 12.0
    ways.sort(key=lambda w: int(w.children[0].start_pos or 0))  # type: ignore[union-attr]
    said = [_LeadWay.of(w, text, volts) for w in ways]
    for side, (token, family) in enumerate(zip(names, families, strict=True)):
        device = str(token)
        if device in draft.at("circuits", "devices") or device in draft.at("ends", "connectors"):
            raise misread(f"There is {device} already. Take another id.", token)
        add_device(draft, catalogue, device, f"what {device} plugs into", "other", pins=False, end=False)
        for n, way in enumerate(said, 1):
            pin = {"order": float(n), "role": way.roles[side], "name": _ROLE_NAMES[way.roles[0]]}
            draft.put(pin, "circuits", "devices", device, "pins", way.name)
        _lead_end(draft, family, device, [conductor.name for conductor in said], plug=side == 1)
    near, far = (str(t) for t in names)
    if families[0] is families[1]:
        draft.put(near, "ends", "connectors", far, "same_as")
    back = next((conductor.name for conductor in said if conductor.roles[0] == "ground"), None)
    for way in said:
        circuit = {
            "order": draft.next_order("circuits", "circuits"),
            "name": _ROLE_NAMES[way.roles[0]],
            "ends": {f"{near}.{way.name}": {"order": 1.0}, f"{far}.{way.name}": {"order": 2.0}},
        }
        draft.put(circuit, "circuits", "circuits", draft.free_id("C", "circuits", "circuits"))
        if way.roles[0] == "supply_out":
            if back is None:
                raise misread("A way that feeds needs one that returns: 2 return.", way.token)
            _lead_feeds(draft, (near, far), way.name, back, way.said)


@record
class _LeadWay:
    """A way of a lead: its name, its role at both ends, what is said of it, and where it stands."""

    name: str
    roles: tuple[PinRole, PinRole]
    said: Ratings
    token: Token

    @classmethod
    def of(cls, tree: Tree[Token], text: str, volts: float) -> _LeadWay:
        name, role = (t for t in tree.children if getattr(t, "type", "") in ("WAY_NAME", "LEAD_ROLE"))
        words = " ".join(str(role).lower().split())
        return cls(str(name), LEAD_ROLES[words], read_figures(tree, text, volts), name)  # type: ignore[arg-type]


_ROLE_NAMES = {
    "supply_out": "feed",
    "ground": "return",
    "sensor_return": "signal return",
    "signal": "signal",
    "data": "data",
    "drain": "shield",
}


def _families_of(catalogue: Catalogue, ends: list[Any]) -> list[ConnectorFamily]:
    """The families of both ends; of one that is not said, the other's."""
    families: list[ConnectorFamily | None] = []
    for token in ends:
        if token.type == "POINT":
            families.append(None)
            continue
        family = next((f for c, f in catalogue.connectors.items() if c.lower() == str(token).lower()), None)
        if family is None:
            raise misread(f"There is no connector family {token}.", token)
        families[-1] = family
    known = next((f for f in families if f is not None), None)
    if known is None:
        raise misread(
            f"Say what it plugs in by: lead {ends[0]} SR16 > {ends[1]}: 1 supply 5 A, 2 return.", ends[0]
        )
    return [f or known for f in families]


def _lead_end(draft: Draft, family: ConnectorFamily, device: str, ways: list[str], *, plug: bool) -> None:
    """The connector at one end of a lead, its ways by their names, else in order.

    What is live when the lead is unplugged carries sockets: that is the end that feeds on.
    """
    housing = next((h for h in family.housings if set(ways) <= h.face.cavities.keys()), None)
    housing = housing or next((h for h in family.housings if h.ways >= len(ways)), None)
    if housing is None:
        counts = ", ".join(str(h.ways) for h in family.housings)
        raise LineError(f"{family.code} has no {len(ways)} ways. It is made with {counts}.")
    shell = "none" if family.loose else "plug" if plug else "receptacle"
    gender = family.gender_for(shell) or ("socket" if plug else "pin")
    put_connector(draft, device, family, housing.ways, shell, gender=gender, stud=family.usual_stud)
    named = set(ways) <= housing.face.cavities.keys()
    for way, cavity in zip(ways, ways if named else list(housing.face.cavities), strict=False):
        order = draft.next_order("ends", "pinout")
        entry = {"order": order, "connector": device, "cavity": cavity}
        draft.put(entry, "ends", "pinout", f"{device}.{way}")


def _lead_feeds(draft: Draft, ends: tuple[str, str], way: str, back: str, said: Ratings) -> None:
    """What feeds a way at one end, and draws from it at the other."""
    near, far = ends
    sources, loads = draft.at("circuits", "sources"), draft.at("circuits", "loads")
    order = draft.next_order("circuits", "sources")
    volts = {"nominal_v": said.rated_v} if said.rated_v else {}
    source = {"order": order, "device": near, "supply_pin": way, "return_pin": back, "kind": "protected feed"}
    source_id = near if near not in sources else draft.free_id("S", "circuits", "sources")
    draft.put({**source, **source_fields(said), **volts}, "circuits", "sources", source_id)
    load_id = far if far not in loads else draft.free_id("L", "circuits", "loads")
    load = {
        "order": draft.next_order("circuits", "loads"),
        "device": far,
        "supply_pin": way,
        "return_pin": back,
    }
    draft.put(
        {**load, "current_a": 0.0, "service": "continuous", **load_fields(said)}, "circuits", "loads", load_id
    )
