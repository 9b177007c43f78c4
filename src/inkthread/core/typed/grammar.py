"""The grammar of typed lines: one for the add lines of the rooms, a harness as text, and pasted lists.

It says what may follow what. What a word means, and which things there are, is the rooms' business. Units
are those of ``quantity``: a figure is cut out here, and read there.
"""

from __future__ import annotations

import re
from functools import cache
from typing import TYPE_CHECKING, Any, Literal

from inkthread.core.document.draft import LineError
from inkthread.core.document.values import PinRole

if TYPE_CHECKING:
    from lark import Lark, Token, Tree

Start = Literal[
    "feed",
    "run",
    "zone",
    "connector",
    "circuit",
    "pin",
    "path",
    "load",
    "source",
    "lead",
    "cable",
    "wire",
    "fixed",
]

ROLE_WORDS: dict[str, PinRole] = {
    "supply out": "supply_out",
    "supply in": "supply_in",
    "ground": "ground",
    "high-side output": "output_high",
    "low-side output": "output_low",
    "sensor return": "sensor_return",
    "signal": "signal",
    "trigger": "trigger",
    "data": "data",
    "dry contact": "dry_contact",
    "drain": "drain",
    "ignition": "ignition",
}
"""Roles of pins as they are typed."""

LEAD_ROLES: dict[str, tuple[PinRole, PinRole]] = {
    "supply": ("supply_out", "supply_in"),
    "feed": ("supply_out", "supply_in"),
    "signal return": ("sensor_return", "sensor_return"),
    "return": ("ground", "ground"),
    "ground": ("ground", "ground"),
    "signal": ("signal", "signal"),
    "data": ("data", "data"),
    "shield": ("drain", "drain"),
    "drain": ("drain", "drain"),
}
"""What a way of a lead is, as it is typed: the role at the end it is fed from, and at the other."""

_NUM = r"(?:\d+[.,]\d+|[.,]\d+|\d+)"
_FRACTION = rf"(?:{_NUM}(?:[ \t-]+\d+/\d+|[ \t]*[½¼¾⅛⅜⅝⅞])|\d+/\d+|[½¼¾⅛⅜⅝⅞]|{_NUM})"
_END = r"(?![^\s,;:>()])"
"""A figure ends where its word does."""
_A = r"(?:m|u|µ|k)?A(?:mps?|mperes?|dc|ac)?|milliamps"
_W = r"(?:m|k)?W|watts?"
_AMOUNT = rf"(?:\d+\s*[x×]\s*)?{_NUM}\s*(?:{_A}|{_W}){_END}"
_TIME = rf"{_NUM}\s*(?:ms|milliseconds|s|secs?|seconds?|mins?|minutes?|h|hrs?|hours?){_END}"
_FEET = rf"{_NUM}\s*(?:ft|foot|feet|'(?!')|′)(?:\s*{_FRACTION}\s*(?:in|inch|inches|\"|″|'')?{_END})?"
_UNIT = (
    r"(?:mm|cm|dm|km|um|µm|metres?|meters?|millimetres?|millimeters|centimetres|centimeters|m|inches|inch|in"
    r"|\"|″|''|yards?|yd|thou|mils?)"
)
_LENGTH = rf"(?:{_FEET}|{_NUM}\s*m\s+{_NUM}\s*(?:cm|mm)|{_FRACTION}\s*{_UNIT}){_END}"
_PEAK = r"(?:peaks?|stalls?|stalled|starting|cranking)"

_RULES = """
feed: step (">" step)*
step: (PLACE | RAIL)? _said*
_said: word | figure | SEP
word: WORD | NUMBER | RANGE | QUOTED
?figure: AMOUNT -> current
    | AMOUNT FOR SEP? THEN AMOUNT -> settles
    | PEAK AMOUNT FOR? -> peak
    | AMOUNT PEAK_AFTER FOR? -> peak
    | INRUSH AMOUNT FOR? -> inrush
    | AMOUNT INRUSH_AFTER FOR? -> inrush
    | TURNS -> turns
    | PERCENT DUTY? CYCLE? -> duty
    | CAPACITY -> capacity
    | VOLTS -> volts
    | OHMS -> ohms
    | SERVICE -> service
    | LOAD_KIND -> load_kind
    | LEAST VOLTS -> least
    | OF AMOUNT -> amount_of
    | OF OHMS -> ohms_of
    | (LEADS | WITH) -> leads
    | LENGTH -> length
    | GAUGE -> gauge
    | TIME -> time
    | BRACKET -> bracket

run: stop (">" stop)*
stop: POINT (word | measure | SEP | BRACKET)*
?measure: MEASURE -> measure
    | PLUS_MINUS MEASURE -> plus_minus
    | PLUS MEASURE -> slack
    | SLACK MEASURE -> slack
    | MEASURE SLACK_AFTER -> slack
    | HOW -> how
    | ON DAY -> measured_on
    | SEPARATORS -> separators
    | HELD MEASURE -> held
    | APART MEASURE -> apart
    | SHEATH -> sheath

zone: (word | coldest | ZONE_TEMPERATURE | TEMPERATURES | MEASURE | TIME | SEP)+
coldest: COLDEST ZONE_TEMPERATURE

connector: POINT (word | connector_part | SEP)*
?connector_part: WAYS -> ways
    | AT WORD -> at
    | CAVITY -> cavity
    | BRACKET -> bracket

circuit: "circuit" POINT QUOTED? ":" PLACE (SEP? PLACE)* (SEP? circuit_said)*
circuit_said: FAMILY_IS FAMILY -> family
    | THREADING -> threading
    | "at" POINT -> hub
    | "for later" -> optional
    | "left out" -> left_out
pin: "pin" PLACE ROLE QUOTED?
path: "path" POINT ":" POINT "to" POINT PATH_KIND (path_said | SEP)* because?
path_said: AMOUNT -> rating
    | "contact" AMOUNT -> contact
    | "makes" VOLTS -> makes
    | "limit" AMOUNT -> limit
    | PERCENT -> efficiency
    | OHMS -> inside
    | "throw" POINT -> throw
load: "load" PLACE "to" PLACE (figure | SEP)*
source: "source" PLACE "to" PLACE SOURCE_KIND? (figure | SEP)*
lead: "lead" POINT FAMILY? ">" POINT FAMILY? ":" lead_way (SEP lead_way)*
lead_way: WAY_NAME LEAD_ROLE figure*
cable: CABLE_KIND POINT QUOTED? ":" (POINT | PLACE) (SEP? (POINT | PLACE))* (SEP? cable_said)*
cable_said: SHIELD_IS POINT -> shield
    | SHIELD_RULE -> shield_rule
    | DRAIN_TO PLACE -> drain
    | OPEN_AT POINT -> shield_open
    | FAMILY_IS FAMILY -> family
    | LAY_IS MEASURE -> lay
wire: "family" FAMILY -> wire_family
    | "also" FAMILY -> wire_also
    | OBJECTIVE -> wire_objective
    | "scheme" POINT -> wire_scheme
    | "colours" POINT ":" COLOUR+ -> wire_colours
    | "colours" QUOTED ":" COLOUR+ -> wire_colours
fixed: "fix" KEY (fixed_said | SEP)* because?
fixed_said: GAUGE -> gauge
    | "colour" COLOUR -> colour
    | "family" FAMILY -> family
because: "because" REST?

SEP: /[,;]/

%ignore /[ \t]+/
"""

_TERMINALS: tuple[tuple[str, int, str], ...] = (
    (
        "PLACE",
        9,
        rf"(?=[A-Za-z0-9_+\-]*[A-Za-z])[A-Za-z0-9][A-Za-z0-9_+\-]*\.[A-Za-z0-9_+\-]+(?:/[A-Za-z0-9_+\-]+)?{_END}|[A-Za-z]{{1,3}}\d{{1,3}}(?:/[A-Za-z0-9_+\-]+)?{_END}",
    ),
    ("RAIL", 9, rf"\+\s*{_NUM}\s*(?:V|volts?)?{_END}"),
    ("AMOUNT", 7, rf"{_AMOUNT}"),
    ("FOR", 6, rf"(?:for|in)\s+{_TIME}"),
    ("THEN", 6, r"(?:and\s+)?then(?=\s)"),
    ("PEAK", 6, rf"{_PEAK}(?:\s+(?:at|to|of))?(?=\s+{_AMOUNT})"),
    ("PEAK_AFTER", 6, rf"{_PEAK}(?=\s*(?:$|[,;>(]|(?:for|in)\s+{_NUM}))"),
    ("INRUSH", 6, rf"inrush(?:\s+of)?(?=\s+{_AMOUNT})"),
    ("INRUSH_AFTER", 5, rf"inrush{_END}"),
    (
        "TURNS",
        8,
        rf"{_TIME}\s*(?:on\s*)?(?:in|of|every)\s*(?:every\s+|each\s+|a\s+)?(?:{_TIME}|hour|minute){_END}",
    ),
    ("PERCENT", 7, rf"(?:at\s+)?{_NUM}\s*%{_END}"),
    ("DUTY", 6, rf"duty(?:\s+cycle)?{_END}|of\s+the\s+time{_END}"),
    ("CYCLE", 6, rf"(?:of|in|every)\s+(?:a\s+)?{_TIME}(?:\s*(?:cycle|turn)s?{_END})?"),
    ("CAPACITY", 8, rf"{_NUM}\s*m?Ah{_END}"),
    ("VOLTS", 7, rf"{_NUM}\s*(?:k|m)?(?:V(?:dc|ac)?|volts?)(?:\s+[da]c)?{_END}"),
    ("OHMS", 7, rf"{_NUM}\s*(?:m|k|meg)?(?:ohms?|Ω|Ω){_END}"),
    ("TIME", 8, rf"{_TIME}"),
    ("SERVICE", 6, rf"(?:intermittent|continuous){_END}"),
    (
        "OF",
        6,
        rf"(?:coil|contacts?|fault|short|limit|fused?|fuse\s+of|limited\s+to)(?:\s+(?:at|of|to))?(?=\s+(?:{_AMOUNT}|{_NUM}\s*(?:m|k)?(?:ohms?|Ω|Ω){_END}))",
    ),
    ("GAUGE", 8, rf"(?:#\s*\d+|\d+(?:/0)?\s*AWG|AWG\s*\d+|{_NUM}\s*(?:mm2|mm²|mm\^2|sqmm|qmm)){_END}"),
    ("LENGTH", 6, rf"{_LENGTH}"),
    ("WITH", 6, rf"(?:with|on)(?=\s+(?:{_NUM}\s*(?:AWG|mm2|mm²)|#|{_LENGTH}))"),
    (
        "LEADS",
        6,
        rf"(?:with\s+)?(?:flying\s+)?(?:leads?|tails?|pigtails?)(?:\s+of)?(?=\s*(?:$|[,;>(]|{_NUM}|#))",
    ),
    ("RANGE", 8, rf"{_NUM}\s*(?:-|\.\.|to|–)\s*{_NUM}\s*(?:mA|A|V|bar|psi|kPa|°?C){_END}"),
    ("BRACKET", 9, r"\([^()>]*\)"),
    ("POINT", 9, rf"[A-Za-z0-9][A-Za-z0-9_+\-]*{_END}"),
    ("MEASURE", 7, rf"{_LENGTH}|{_FRACTION}{_END}"),
    ("PLUS_MINUS", 9, r"\+\s*[-−/]+|±"),
    ("PLUS", 8, r"\+(?=\s*[\d.,½¼¾⅛⅜⅝⅞])"),
    ("SLACK", 8, r"(?:with\s+)?(?:slack|spare)(?:\s+of)?(?=\s+[\d.,½¼¾⅛⅜⅝⅞])"),
    ("SLACK_AFTER", 8, rf"(?:of\s+)?(?:slack|spare){_END}"),
    (
        "HOW",
        8,
        rf"(?:measured\s+)?(?:laid\s+in\s+place|laid|old\s+part|copied|by\s+tape|tape|from\s+(?:a\s+)?model|model|by\s+guess|guess(?:ed)?){_END}",
    ),
    ("HELD", 8, r"(?:clamped|clamps|held|supported)\s+every(?=\s+[\d.,½¼¾⅛⅜⅝⅞])"),
    ("APART", 8, r"(?:kept\s+)?apart(?:\s+by)?(?=\s+[\d.,½¼¾⅛⅜⅝⅞])"),
    ("SHEATH", 8, rf"(?:in\s+(?:a\s+)?)?(?:sheath(?:ed)?|conduit|enclosed|enclosure){_END}"),
    ("SEPARATORS", 8, rf"(?:with\s+)?separators?{_END}"),
    ("ON", 8, r"on(?=\s+\d{4}-)"),
    ("DAY", 8, rf"\d{{4}}-\d{{2}}-\d{{2}}{_END}"),
    (
        "TEMPERATURES",
        9,
        rf"(?:from\s+)?[-−]?{_NUM}\s*(?:°\s*|deg(?:rees?)?\s*)?[CFK]?\s*(?:to|\.\.|…)\s*[-−+]?{_NUM}\s*(?:°\s*|deg(?:rees?)?\s*)?[CFK]{_END}",
    ),
    ("COLDEST", 9, r"(?:down\s+to|lowest|coldest|cold\s+to|least)(?=\s+[-−]?\d)"),
    ("ZONE_TEMPERATURE", 8, rf"[-−]?{_NUM}\s*(?:°\s*|deg(?:rees?)?\s*)?[CFK]{_END}"),
    ("WAYS", 8, rf"\d+[ -]*(?:way|ways|pole|poles){_END}"),
    ("AT", 7, r"at(?=\s)"),
    ("CAVITY", 8, rf"[A-Za-z0-9_+\-]+\s*=\s*[A-Za-z0-9][A-Za-z0-9_+\-]*\.[A-Za-z0-9_+\-]+{_END}"),
    ("QUOTED", 9, r"\"[^\"]*\""),
    ("ROLE", 9, rf"(?:{'|'.join(ROLE_WORDS)}){_END}"),
    ("SHIELD_IS", 10, rf"shield(?!\s+(?:to|open)\s){_END}"),
    ("DRAIN_TO", 10, rf"(?:drain|shield|screen)\s+(?:wire\s+)?(?:landed\s+)?(?:to|at|on){_END}"),
    ("OPEN_AT", 10, rf"(?:(?:shield|screen|drain)\s+)?(?:left\s+)?open\s+at{_END}"),
    ("FAMILY_IS", 10, rf"family{_END}"),
    ("LAY_IS", 10, rf"lay{_END}"),
    ("THREADING", 10, rf"(?:cascade|star|daisy\s+chain|block|home\s+runs){_END}"),
    ("LOAD_KIND", 8, rf"(?:constant\s+power|constant\s+current|resistive){_END}"),
    ("LEAST", 8, rf"(?:least|down\s+to|needs)(?=\s+{_NUM}\s*m?V{_END})"),
    ("WAY_NAME", 8, rf"[A-Za-z0-9_+\-]+{_END}"),
    ("LEAD_ROLE", 9, rf"(?:{'|'.join(LEAD_ROLES)}){_END}"),
    ("PATH_KIND", 9, rf"(?:fuse|breaker|switch|relay|contactor|link|diode|regulator|supply){_END}"),
    (
        "SOURCE_KIND",
        9,
        rf"(?:battery|alternator|charger|solar\s+panel|limited\s+supply|protected\s+feed){_END}",
    ),
    (
        "CABLE_KIND",
        9,
        rf"(?:shielded\s+single|shielded\s+pair|shielded\s+three|pair|three|cable){_END}",
    ),
    ("SHIELD_RULE", 9, rf"(?:one\s+end|both\s+ends|each\s+section){_END}"),
    ("OBJECTIVE", 9, rf"(?:least\s+copper|lightest|cheapest|fewest\s+parts){_END}"),
    ("FAMILY", 8, rf"[A-Za-z0-9][A-Za-z0-9/_.\-]*{_END}"),
    ("COLOUR", 8, rf"[A-Za-z]{{2}}(?:/[A-Za-z]{{2}})*{_END}"),
    ("KEY", 9, r"[^\s,;]+"),
    ("REST", 1, r"\S.*"),
    ("NUMBER", 2, rf"[-−]?{_NUM}{_END}"),
    ("WORD", 0, r"[^\s,;>()]+"),
)
"""Terminals: name, how early it is looked for, and how it is written in small letters or large."""

_SAYS: dict[str, str] = {
    "$END": "the end of the line",
    "MORETHAN": ">",
    "PLACE": "a device like M1 or F1.out",
    "RAIL": "+12",
    "WORD": "a name",
    "NUMBER": "a number",
    "AMOUNT": "a current like 5 A or 60 W",
    "POINT": "an id of letters and digits",
    "MEASURE": "a length like 310 mm or 7 5/8 in",
    "FOR": "for how long, like for 2 s",
    "THEN": "then what it draws after, like then 2 A",
    "ZONE_TEMPERATURE": "a temperature like 85 C",
    "WAYS": "how many ways, like 6 way",
    "DAY": "a day like 2026-03-31",
}


class TypedError(LineError):
    """A typed line is not understood. ``start`` and ``end`` count the letters that are meant; what is
    offered would stand in their place.
    """

    def __init__(
        self,
        message: str,
        start: int,
        end: int,
        *,
        offer: str | None = None,
        offers: str = "",
        partly: bool = False,
    ) -> None:
        super().__init__(message)
        self.start = start
        self.end = end
        self.offer = offer
        self.offers = offers
        """What taking the offer does, in words."""
        self.shifted = False
        """Whether the letters are counted from behind an id and ``=``."""
        self.partly = partly
        """Whether the rest of the line means what it would without these letters."""


def misread(message: str, token: Any) -> TypedError:
    """The error of a word that is not understood where it stands."""
    return TypedError(message, int(token.start_pos or 0), int(token.end_pos or 0))


@cache
def _parser(start: Start) -> Lark:
    from lark import Lark

    terminals = "\n".join(
        f"{name}.{rank}: /{pattern.replace('/', chr(92) + '/')}/i" for name, rank, pattern in _TERMINALS
    )
    return Lark(f"{_RULES}\n{terminals}\n", parser="lalr", lexer="contextual", start=start)


def parse_line(start: Start, text: str) -> Tree[Token]:
    """The parts of a typed line. Raises TypedError at the letter where what stands cannot."""
    from lark.exceptions import UnexpectedCharacters, UnexpectedEOF, UnexpectedToken

    try:
        return _parser(start).parse(text)
    except UnexpectedToken as error:
        at = len(text) if error.token.type == "$END" else int(error.token.start_pos or 0)
        known = error.accepts or error.expected
        met = "" if error.token.type == "$END" else str(error.token)
    except UnexpectedCharacters as error:
        at, known = int(error.pos_in_stream or 0), error.allowed
        met = (re.match(r"\S+", text[at:]) or [""])[0]
    except UnexpectedEOF as error:
        at, known, met = len(text), set(error.expected), ""
    says = [says for name, says in _SAYS.items() if name in (known or ())]
    what = f"{met!r} cannot stand here" if met else "The line ends too soon"
    raise TypedError(
        f"{what}. There could be {_or(says)}." if says else f"{what}.", at, at + max(len(met), 1)
    )


def steps_apart(text: str, example: str) -> None:
    """Refuse a line with nothing between two ``>``. Raises TypedError."""
    empty = re.search(r"(?:^|>)\s*(>|$)", text)
    if empty is not None:
        at = empty.start(1) if empty[1] else max(text.rfind(">"), 0)
        raise TypedError(f"There is nothing between two >. Write {example}.", at, at + 1)


def could_stand(start: Start, text: str) -> frozenset[str]:
    """Terminals of the grammar that could stand after what is typed so far; none where it is wrong before."""
    from lark.exceptions import UnexpectedInput

    try:
        steps = _parser(start).parse_interactive(text)
        for _ in steps.iter_parse():
            pass
        return frozenset(steps.accepts())  # type: ignore[no-untyped-call]
    except UnexpectedInput:
        return frozenset()


def _or(words: list[str]) -> str:
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} or {words[-1]}"
