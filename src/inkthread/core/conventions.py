"""A shop's conventions, kept across designs: its colours by role and by circuit, and the ends of its devices.

``colours supply: RD OG``, ``colours "fuel pump": OG/BK``, ``ends three-wire sensor: SS15 1=1 2=3 3=2``.
"""

from __future__ import annotations

import re
from dataclasses import replace

from inkthread.core.catalogue import Catalogue
from inkthread.core.circuits.kind_of_name import guess_kind
from inkthread.core.document.draft import Draft, LineError
from inkthread.core.record import record
from inkthread.core.text.brief_lines import brief_into
from inkthread.core.wire.lines import wire_statement

_ENDS = re.compile(
    r"ends\s+(?P<kind>[^:]+?)\s*:\s*(?P<family>\S+)(?P<ways>(?:\s+\S+=\S+)*)\s*", re.IGNORECASE
)


@record
class EndConvention:
    """What the connectors of a kind of device begin as."""

    family: str
    ways: tuple[tuple[str, str], ...]
    """(pin, way), where they are said."""


@record
class Conventions:
    """Typed lines of colours, and ends by kind of device."""

    colours: tuple[str, ...]
    shown_in: tuple[str, ...]
    """Lines of the brief: units, paper and money."""
    ends: dict[str, EndConvention]


NONE = Conventions((), (), {})


def read_conventions(catalogue: Catalogue, text: str) -> Conventions:
    """The conventions that lines say, ``#`` for comments. Raises LineError with the number of the line."""
    colours: list[str] = []
    shown_in: list[str] = []
    ends: dict[str, EndConvention] = {}
    draft = Draft({"wire": {}, "brief": {}})
    for number, whole in enumerate(text.splitlines(), 1):
        line = re.sub(r"(^|\s)#.*$", "", whole).strip()
        if not line:
            continue
        try:
            word = line.split(maxsplit=1)[0].lower()
            if word == "colours":
                wire_statement(draft, catalogue, line)
                _known_colours(catalogue, line)
                colours.append(line)
            elif word in ("units", "money"):
                brief_into(draft, catalogue, line)
                shown_in.append(line)
            elif word == "ends":
                kind, convention = _ends(catalogue, line)
                ends[kind] = convention
            else:
                raise LineError(
                    f"{word!r} is not understood. A convention begins with colours, ends, units or money: "
                    'colours "fuel pump": OG/BK, ends three-wire sensor: SS15, units inch, oz, F, Letter.'
                )
        except LineError as error:
            raise LineError(f"Line {number}: {error}") from None
    return Conventions(tuple(colours), tuple(shown_in), ends)


def _known_colours(catalogue: Catalogue, line: str) -> None:
    for code in line.rpartition(":")[2].upper().split():
        for part in code.split("/"):
            if part not in catalogue.colours:
                raise LineError(f"There is no colour {part!r}. Known are {', '.join(catalogue.colours)}.")


def _ends(catalogue: Catalogue, line: str) -> tuple[str, EndConvention]:
    said = _ENDS.fullmatch(line)
    if said is None:
        raise LineError(f"{line!r} is not understood. Write ends three-wire sensor: SS15 1=1 2=3 3=2.")
    named = said["kind"].lower()
    kind_id = next((k for k, kind in catalogue.kinds.items() if named in (k, kind.label.lower())), None)
    kind_id = kind_id or guess_kind(catalogue, named, "")
    if kind_id == "other":
        raise LineError(f"There is no kind of device {said['kind']!r}.")
    kind = catalogue.kinds[kind_id]
    code = next((c for c in catalogue.connectors if c.lower() == said["family"].lower()), None)
    if code is None:
        raise LineError(f"There is no connector family {said['family']!r}.")
    family = catalogue.connectors[code]
    ways: list[tuple[str, str]] = []
    for pair in said["ways"].split():
        pin, _, way = pair.partition("=")
        pin_id = next((p.id for p in kind.pins if pin.lower() in (p.id.lower(), p.name.lower())), None)
        if pin_id is None:
            raise LineError(
                f"A {kind.label} has no pin {pin!r}. It has {', '.join(p.id for p in kind.pins)}."
            )
        ways.append((pin_id, way))
    wanted = {way for _, way in ways}
    if len(wanted) < len(ways):
        raise LineError("Two pins have one way. Give each its own.")
    if not any(h.ways >= len(kind.pins) and wanted <= h.face.cavities.keys() for h in family.housings):
        raise LineError(
            f"{code} has no housing with those ways for the {len(kind.pins)} pins of a {kind.label}."
        )
    return kind_id, EndConvention(code, tuple(ways))


def with_conventions(catalogue: Catalogue, conventions: Conventions) -> Catalogue:
    """A catalogue whose kinds begin with the shop's ends, and which knows its colours."""
    kinds = {
        k: replace(kind, connector=conventions.ends[k].family, ways=conventions.ends[k].ways)
        if k in conventions.ends
        else kind
        for k, kind in catalogue.kinds.items()
    }
    return replace(catalogue, kinds=kinds, conventions=conventions.colours, shown_in=conventions.shown_in)


def colours_into(draft: Draft, catalogue: Catalogue) -> None:
    """Put the shop's colours into a draft, in place of what it says of the same roles and circuits."""
    for line in catalogue.conventions:
        wire_statement(draft, catalogue, line)


def shown_in_into(draft: Draft, catalogue: Catalogue) -> None:
    """Put the shop's units, paper and money into the brief of a draft."""
    for line in catalogue.shown_in:
        brief_into(draft, catalogue, line)
